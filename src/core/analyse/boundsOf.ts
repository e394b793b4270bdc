import { shaderNumbers } from '../document/shader.ts';
import type { Value } from '../program/value.ts';
import { ANY, intervalOf, intervalsOf, type Interval } from './intervals.ts';
import type { Subject } from './scene.ts';

/**
 * What a shader's values lie between with each parameter anywhere in its range.
 * @param held one that stands at a number
 */
export const boundsOf = (
  { shader, knobs }: Pick<Subject, 'shader' | 'knobs'>,
  values: readonly Value[],
  held?: { readonly name: string; readonly at: number },
): ReadonlyMap<Value, Interval> => {
  const parameters = new Map(shader.body.parameters.map((each) => [each.name, each]));
  return intervalsOf(values, {
    knob: (name) => intervalOf(knobs.get(name) ?? []),
    parameter: (name) => {
      const found = parameters.get(name);
      if (held && name === held.name) return { low: held.at, high: held.at };
      switch (found?.kind) {
        case 'float':
        case 'int':
        case 'vec2':
        case 'vec3':
        case 'vec4':
          return { low: found.min, high: found.max };
        case 'bool':
        case 'texture':
          return { low: 0, high: 1 };
        case 'color':
          // Red, green and blue may be any light; stops multiply.
          return { low: 0, high: Math.max(1, ...shaderNumbers('color', [1, 1, 1, found.max])) };
        default:
          return ANY;
      }
    },
  });
};
