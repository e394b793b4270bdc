import type { Operator, OperatorInput } from './declare.ts';

const typeText = ({ type, options }: OperatorInput): string =>
  type === 'choice' ? options!.join('|') : type === 'sampler2D' ? 'sampler2D' : type;

const defaultText = ({ default: start, type, options }: OperatorInput): string =>
  typeof start === 'string'
    ? start
    : type === 'choice'
      ? options![0]!
      : type === 'bool'
        ? String(start[0] === 1)
        : start.length > 1
          ? `(${start.join(', ')})`
          : (start[0]?.toString() ?? '');

/** An operator's inputs as one line: `smoothstep(low: any = 0, high: any = 1, x: any = 0)`. */
export const signatureText = ({ name, inputs }: Pick<Operator, 'name' | 'inputs'>): string => {
  const list = Object.entries(inputs).map(([key, input]) => {
    const start = defaultText(input);
    return `${key}: ${typeText(input)}${start ? ` = ${start}` : ''}`;
  });
  return `${name}(${list.join(', ')})`;
};

export { defaultText, typeText };
