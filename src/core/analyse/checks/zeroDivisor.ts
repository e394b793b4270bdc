import { reachable, rootsOf, type Value } from '../../program/value.ts';
import { boundsOf } from '../boundsOf.ts';
import { placeOf, wordOf } from '../placeOf.ts';
import type { Check, Found, Subject } from '../scene.ts';

const isSetFromOutside = (value: Value): boolean =>
  reachable([value]).every(({ op, payload }) =>
    op === 'input'
      ? payload === 'timeStep'
      : op !== 'argument' && !op.startsWith('texture') && op !== 'texelFetch',
  );

/** Divisors, and widths between two ends, that are set from outside and do not differ from point to point. */
export const divisorsIn = (roots: readonly Value[]): Value[] =>
  reachable(roots).flatMap(({ op, inputs }) =>
    op === 'divide' && isSetFromOutside(inputs[1]!) ? [inputs[1]!] : [],
  );

const read = (value: Value): string[] =>
  reachable([value]).flatMap(({ op, payload }) => (op === 'parameter' ? [payload as string] : []));

/** A parameter that is the divisor itself can begin a little above nothing. */
const fixOf = ({ shader }: Subject, divisor: Value): Found['fix'] => {
  if (divisor.op !== 'parameter') return undefined;
  const at = shader.body.parameters.findIndex(({ name }) => name === divisor.payload);
  const parameter = shader.body.parameters[at];
  if (!parameter || parameter.kind !== 'float' || parameter.min !== 0 || !(parameter.max > 0))
    return undefined;
  const min = Math.min(1e-3, parameter.max / 100);
  return {
    ...{ label: `Let ${parameter.name} begin at ${min}`, part: shader.id },
    patches: [
      {
        ...{ op: 'replace', path: ['parameters', at] },
        value: { ...parameter, min, default: parameter.default.map((x) => Math.max(x, min)) },
      },
    ],
  };
};

export const zeroDivisor: Check = {
  name: 'zero-divisor',
  title: 'A divisor or width that can be 0',
  why: 'What is divided by 0 has no value: the pixel is black, white or holes on one machine and not on another.',
  of: 'shader',
  look: ({ subjects }) =>
    subjects.flatMap((subject): Found[] => {
      const { shader, program, measured } = subject;
      const values = reachable(rootsOf(program));
      const bounds = boundsOf(subject, rootsOf(program));
      // What differs from point to point is looked at where it is measured: as what is not a number.
      const outside = new Set(divisorsIn(rootsOf(program)));
      const known = new Set<string>();
      return values.flatMap((value): Found[] =>
        (value.op === 'divide' ? [value.inputs[1]!] : []).flatMap((divisor): Found[] => {
          const { low, high } = bounds.get(divisor)!;
          if (!(low <= 0 && high >= 0) || !outside.has(divisor)) return [];
          // Bounds are wide where two sides of a difference move together: their ends are tried.
          const extent = measured(divisor);
          if (extent && !(extent.least <= 0 && extent.most >= 0)) return [];
          const names = read(divisor);
          const at = `${value.origin?.step} ${names.join()}`;
          if (known.has(at)) return [];
          known.add(at);
          const fix = fixOf(subject, divisor);
          return [
            {
              ...{ part: shader.id, place: placeOf(subject, value) },
              message: names.length
                ? `In ${wordOf(subject, value)}, ${names.join(' and ')} can make the divisor 0${names.length === 1 ? `: it goes from ${told(subject, names[0]!)}` : ''}.`
                : `In ${wordOf(subject, value)}, the divisor is 0.`,
              ...(fix ? { fix } : {}),
            },
          ];
        }),
      );
    }),
};
const told = ({ shader }: Subject, name: string): string => {
  const { min, max } = shader.body.parameters.find((each) => each.name === name) ?? { min: 0, max: 0 };
  return `${String(min).replace('-', '−')} to ${String(max).replace('-', '−')}`;
};
