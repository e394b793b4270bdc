import { prepare } from '../../evaluate/columns/evaluate.ts';
import { inputsAt, standCorners } from '../../evaluate/points/onMesh.ts';
import { spotsOver } from '../../evaluate/points/spots.ts';
import { MESH_KINDS, makeMesh, type MeshRecipe } from '../../meshes/makeMesh.ts';
import { componentsOf } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';
import { lackOf } from '../../taps/lackOf.ts';
import type { Check, Found } from '../scene.ts';
import type { Worn } from '../worn.ts';

const SPOTS = 256;
/** How far, of the whole movement, a triangle's middle may be from where the offset would have it. */
const SHARE = 0.1;
const MOST_TRIES = 4;

/** How far the surface between its corners is, at worst but for a few, from where the offset puts it; as a share of how far it moves. */
const coarseness = (offset: Value, { standing, given }: Worn): number => {
  const spots = spotsOver(standing.mesh, standing.placement, SPOTS);
  const corners = standCorners(standing, spots.corners, undefined, given);
  const run = prepare([offset]);
  const numbersAt = (points: Parameters<typeof run>[0]): ((i: number, c: number) => number) => {
    const [{ data, stride, uniform }] = run(points) as [ReturnType<typeof run>[number]];
    return (i, c) => data[c * stride + (uniform ? 0 : i)]!;
  };
  const meant = numbersAt({ ...inputsAt(corners, spots, false, [offset]), ...given });
  // Each spot's three corners as spots of their own.
  const own = {
    count: SPOTS * 3,
    corners: Uint32Array.from(
      { length: SPOTS * 9 },
      (_, k) => spots.corners[Math.floor(k / 9) * 3 + (k % 3)]!,
    ),
    weights: Float32Array.from({ length: SPOTS * 9 }, (_, k) => (Math.floor((k % 9) / 3) === k % 3 ? 1 : 0)),
  };
  const stands = standCorners(standing, own.corners, undefined, given);
  const moved = numbersAt({ ...inputsAt(stands, own, false, [offset]), ...given });
  const size = componentsOf(offset.type);
  const wrong: number[] = [];
  const low = new Array<number>(size).fill(Infinity);
  const high = new Array<number>(size).fill(-Infinity);
  for (let i = 0; i < SPOTS; i += 1) {
    let away = 0;
    for (let c = 0; c < size; c += 1) {
      const x = meant(i, c);
      let between = 0;
      for (let k = 0; k < 3; k += 1) between += spots.weights[i * 3 + k]! * moved(i * 3 + k, c);
      away += (x - between) ** 2;
      low[c] = Math.min(low[c]!, x);
      high[c] = Math.max(high[c]!, x);
    }
    wrong.push(Math.sqrt(away));
  }
  const reach = Math.hypot(...low.map((x, c) => high[c]! - x));
  // One spot in fifty may lie on an edge of the offset, which no mesh follows.
  const worst = wrong.toSorted((a, b) => b - a)[Math.floor(SPOTS / 50)]!;
  return reach > 1e-6 ? worst / reach : 0;
};

/** The recipe with twice the divisions, or as many as there may be; null of what has none. */
const finer = (recipe: MeshRecipe): MeshRecipe | null => {
  const kind = recipe.kind === 'imported' ? undefined : MESH_KINDS.get(recipe.kind);
  const field = kind?.fields['divisions'];
  const given = (recipe as unknown as { readonly divisions?: number | readonly number[] }).divisions;
  if (!field || given === undefined) return null;
  const twice = (n: number): number => Math.min(n * 2, field.most);
  const divisions = typeof given === 'number' ? twice(given) : given.map(twice);
  return String(divisions) === String(given) ? null : ({ ...recipe, divisions } as unknown as MeshRecipe);
};

export const coarseMesh: Check = {
  name: 'coarse-mesh',
  title: 'A mesh too coarse for its offset',
  why: 'An offset moves corners alone; what lies between them is straight, and the shape shows its triangles.',
  of: 'set',
  look: ({ subjects, set }) =>
    subjects.flatMap(({ program, worn }): Found[] => {
      const offset = program.outputs['vertexOffset'];
      if (!offset || lackOf(offset) || !set) return [];
      return worn.flatMap((each): Found[] => {
        const at = set.body.props.findIndex(({ id }) => id === each.prop?.id);
        const prop = set.body.props[at];
        if (!prop) return [];
        try {
          const share = coarseness(offset, each);
          if (!(share > SHARE)) return [];
          let better: MeshRecipe | null = prop.mesh;
          for (let tries = 0; better && tries < MOST_TRIES; tries += 1) {
            better = finer(better);
            const mesh = better && makeMesh(better);
            if (mesh && coarseness(offset, { ...each, standing: { ...each.standing, mesh } }) <= SHARE) break;
          }
          return [
            {
              ...{ part: set.id, place: { kind: 'prop', prop: prop.id } },
              message: `Between its corners, ${prop.name} is up to ${Math.round(share * 100)} % of its movement away from where the offset would have it.`,
              ...(better
                ? {
                    fix: {
                      ...{ label: `Divide ${prop.name} more finely`, part: set.id },
                      patches: [{ op: 'replace', path: ['props', at, 'mesh'], value: better }],
                    },
                  }
                : {}),
            },
          ];
        } catch {
          // What cannot be computed outside the picture cannot be judged here.
          return [];
        }
      });
    }),
};
