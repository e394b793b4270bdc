import { REQUIREMENT_NAMES } from '../../program/inputs.ts';
import { shadingOf } from '../../program/value.ts';
import { requirementsOf } from '../requirements.ts';
import type { Check, Found } from '../scene.ts';

const BEHIND = ['sceneDepth', 'sceneColor', 'sceneLevels'] as const;

export const missingScene: Check = {
  name: 'missing-scene',
  title: 'Scene depth or copy that is not there',
  why: 'A surface that reads what is behind it needs that drawn before it, into something it can read.',
  of: 'set',
  look: ({ subjects, set }) =>
    subjects.flatMap(({ shader, program, worn }): Found[] => {
      const needs = requirementsOf(program);
      const part = shader.id;
      const behind = needs.filter((each) => (BEHIND as readonly string[]).includes(each));
      const names = behind.map((each) => REQUIREMENT_NAMES[each]).join(' and ');
      const found: Found[] = [];
      const prop = worn.find((each) => each.prop)?.prop;
      if (needs.includes('instances') && prop)
        found.push({
          ...{ part, place: { kind: 'prop', prop: prop.id } },
          message: `${shader.name} reads ${REQUIREMENT_NAMES.instances}, which the layers of a flourish give and a prop does not: all that ${prop.name} shows is the first instance.`,
        });
      if (!behind.length) return found;
      if (
        shadingOf(program).alphaMode === 'opaque' &&
        shader.body.surface.depthWrite &&
        worn.some(({ prop }) => prop)
      )
        found.push({
          ...{ part, place: { kind: 'part' } },
          message: `${shader.name} reads ${names} and is opaque: it is left out of what others read behind them, and a game that draws what is opaque first has nothing to give it.`,
          fix: {
            ...{ label: 'Draw it with what blends', part },
            patches: [{ op: 'replace', path: ['surface', 'alphaMode'], value: 'blended' }],
          },
        });
      if (!set) return found;
      const { props } = set.body;
      const own = new Set(worn.flatMap(({ prop }) => prop?.id ?? []));
      const others = props.filter(({ id, hidden }) => !own.has(id) && !hidden);
      const seen = others.filter(({ uncopied }) => !uncopied);
      if (own.size && others.length && !seen.length)
        found.push({
          ...{ part: set.id, place: { kind: 'prop', prop: others[0]!.id } },
          message: `${shader.name} reads ${names}, and every other prop of ${set.name} is left out of that.`,
          fix: {
            ...{ label: `Let it read ${others[0]!.name}`, part: set.id },
            patches: [
              {
                op: 'remove',
                path: ['props', props.findIndex(({ id }) => id === others[0]!.id), 'uncopied'],
              },
            ],
          },
        });
      return found;
    }),
};
