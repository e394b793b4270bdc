import { worldOf } from '../../document/parents.ts';
import type { Prop } from '../../document/project.ts';
import { makeMesh } from '../../meshes/makeMesh.ts';
import { propsAsking } from '../propsAsking.ts';
import type { Check, Found } from '../scene.ts';

type Box = { readonly low: readonly number[]; readonly high: readonly number[] };
/** The box, along the world's axes, round a prop. */
const boxOf = (props: readonly Prop[], { id, mesh: recipe }: Prop): Box => {
  const m = worldOf(props, id);
  const { positions } = makeMesh(recipe);
  const [low, high] = [[0, 0, 0].map(() => Infinity), [0, 0, 0].map(() => -Infinity)];
  for (let i = 0; i < positions.length; i += 3)
    for (let r = 0; r < 3; r += 1) {
      const x =
        m[r]! * positions[i]! + m[3 + r]! * positions[i + 1]! + m[6 + r]! * positions[i + 2]! + m[9 + r]!;
      low[r] = Math.min(low[r]!, x);
      high[r] = Math.max(high[r]!, x);
    }
  return { low, high };
};
const size = ({ low, high }: Box): number => low.reduce((all, x, i) => all * Math.max(high[i]! - x, 1e-3), 1);
const shared = (a: Box, b: Box): number => {
  const low = a.low.map((x, i) => Math.max(x, b.low[i]!));
  const high = a.high.map((x, i) => Math.min(x, b.high[i]!));
  return high.every((x, i) => x >= low[i]!) ? size({ low, high }) : 0;
};
/** What lies in the other by so much of itself is a part of it, not a thing beside it. */
const INSIDE = 0.8;

export const ownDistance: Check = {
  name: 'own-distance',
  title: 'A prop in its own distance field',
  why: 'What belongs to a prop and fills it stands at distance 0 from it: the whole of it counts as near.',
  of: 'set',
  look: ({ subjects, set }) => {
    if (!set) return [];
    const { props } = set.body;
    const asking = propsAsking(subjects, props);
    return asking.flatMap((prop): Found[] =>
      props.flatMap((other, at): Found[] => {
        const belongs = other.parent === prop.id || prop.parent === other.id;
        // A mesh that a file has is not here to be looked at.
        const isHere = [prop, other].every(({ mesh }) => mesh.kind !== 'imported');
        if (!belongs || other.fieldless || other.hidden || !isHere) return [];
        const [mine, theirs] = [boxOf(props, prop), boxOf(props, other)];
        if (shared(mine, theirs) < INSIDE * Math.min(size(mine), size(theirs))) return [];
        return [
          {
            ...{ part: set.id, place: { kind: 'prop', prop: other.id } },
            message: `${other.name} belongs to ${prop.name}, lies within it, and counts as a surface near it.`,
            fix: {
              ...{ label: `Leave ${other.name} out of the distances`, part: set.id },
              patches: [{ op: 'add', path: ['props', at, 'fieldless'], value: true }],
            },
          },
        ];
      }),
    );
  },
};
