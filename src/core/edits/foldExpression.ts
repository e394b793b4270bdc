import { parseExpression } from '../language/parseExpression.ts';
import { printExpression } from '../language/printExpression.ts';
import type { Call, Expression } from '../language/syntax.ts';
import { OPERATORS } from '../operators/catalogue.ts';
import type { Operator, OperatorInput } from '../operators/declare.ts';
import type { Argument, Step, Strand } from '../document/shader.ts';
import type { Edit } from '../document/patch.ts';

/** Why something cannot be done, as a sentence. */
export class EditRefusal extends Error {}

const literal = (x: number, whole: boolean): string =>
  whole ? String(Math.round(x)) : /[.e]/.test(String(x)) ? String(x) : `${x}.0`;

/** A number, or a few, as an expression of an input's type. */
const numbersText = (numbers: readonly number[], { type, options }: OperatorInput): string => {
  if (type === 'choice') return options![numbers[0] ?? 0]!;
  if (type === 'bool') return numbers[0] ? 'true' : 'false';
  const whole = type === 'int' || type === 'uint';
  const size = { vec2: 2, vec3: 3, vec4: 4 }[type as string] ?? (numbers.length > 1 ? numbers.length : 1);
  if (size === 1) return literal(numbers[0] ?? 0, whole);
  return `vec${size}(${numbers.map((x) => literal(x, false)).join(', ')})`;
};

/** An argument as an expression; the default where nothing is authored. */
export const argumentText = (given: Argument | undefined, input: OperatorInput): string => {
  if (typeof given === 'string') return given;
  if (typeof given === 'number') return numbersText([given], input);
  if (given) return numbersText(given, input);
  return typeof input.default === 'string' ? input.default : numbersText(input.default, input);
};

const callText = (step: Step, operator: Operator, left: string | null): string => {
  const names = Object.keys(operator.inputs);
  const isGiven = (name: string) =>
    step.arguments[name] !== undefined || (name === operator.flow && left !== null);
  const last = names.findLastIndex(isGiven);
  const args = names
    .slice(0, last + 1)
    .map((name) =>
      name === operator.flow && step.arguments[name] === undefined && left !== null
        ? left
        : argumentText(step.arguments[name], operator.inputs[name]!),
    );
  return `${operator.name}(${args.join(', ')})`;
};

/**
 * A strand's steps up to one of them, as one expression.
 * @throws EditRefusal where a step is code or a motif, which an expression cannot hold
 */
export const expressionOfSteps = (steps: readonly Step[]): string => {
  let text: string | null = null;
  for (const step of steps) {
    if (step.muted && text !== null) continue;
    const operator = OPERATORS.get(step.operator);
    if (!operator)
      throw new EditRefusal(
        `A step that is ${step.operator === 'motif' ? 'a motif' : step.operator} cannot be folded into an expression.`,
      );
    const plain = step.operator === 'value' && typeof step.arguments['x'] === 'string';
    text = plain ? `(${step.arguments['x'] as string})` : callText(step, operator, text);
  }
  const { expression } = parseExpression(text ?? '');
  if (!expression) throw new EditRefusal('A step here has a mistake; mend it before folding.');
  return printExpression(expression);
};

/** Folds the steps of a strand up to and with one of them into one expression. */
export const foldSteps = (part: string, at: number, strand: Strand, last: number, id: string): Edit => {
  const folded: Step = {
    id,
    operator: 'value',
    arguments: { x: expressionOfSteps(strand.steps.slice(0, last + 1)) },
  };
  return {
    label: 'Fold steps',
    part,
    patches: [
      { op: 'replace', path: ['strands', at, 'steps'], value: [folded, ...strand.steps.slice(last + 1)] },
    ],
  };
};

const SIGNS: Readonly<Record<string, string>> = {
  '+': 'add',
  '-': 'subtract',
  '*': 'multiply',
  '/': 'divide',
};

/** A part of an expression as an argument: a number where it is one. */
const asArgument = (e: Expression, input: OperatorInput): Argument => {
  const sign = e.kind === 'unary' && e.sign === '-' ? -1 : 1;
  const plain = e.kind === 'unary' ? e.operand : e;
  if (
    plain.kind === 'literal' &&
    plain.type !== 'bool' &&
    (sign === 1 || e.kind === 'unary') &&
    input.type !== 'bool'
  )
    return sign * plain.value;
  return printExpression(e);
};

/** The steps an expression is, left to right; what is no operator stays one expression. */
const stepsOf = (e: Expression, newId: () => string): Step[] => {
  const value = (): Step[] => [{ id: newId(), operator: 'value', arguments: { x: printExpression(e) } }];
  if (e.kind === 'binary' && SIGNS[e.sign]) {
    const operator = OPERATORS.get(SIGNS[e.sign]!)!;
    return [
      ...stepsOf(e.left, newId),
      { id: newId(), operator: operator.name, arguments: { y: asArgument(e.right, operator.inputs['y']!) } },
    ];
  }
  if (e.kind === 'unary' && e.sign === '-' && e.operand.kind !== 'literal')
    return [...stepsOf(e.operand, newId), { id: newId(), operator: 'negate', arguments: {} }];
  if (e.kind === 'call') return callSteps(e, newId) ?? value();
  return value();
};

const callSteps = (e: Call, newId: () => string): Step[] | null => {
  const operator = OPERATORS.get(e.callee === 'pow' ? 'power' : e.callee);
  if (!operator || operator.name === 'value') return null;
  const names = Object.keys(operator.inputs);
  const flowAt = operator.flow === null ? -1 : names.indexOf(operator.flow);
  const flow = flowAt >= 0 ? e.args[flowAt] : undefined;
  // A bare name on the left is the step's own argument, so that no card only repeats it.
  const before = flow && flow.kind !== 'name' && flow.kind !== 'literal' ? stepsOf(flow, newId) : [];
  const given = e.args.flatMap((arg, i): [string, Argument][] =>
    i === flowAt && before.length ? [] : [[names[i]!, asArgument(arg, operator.inputs[names[i]!]!)]],
  );
  return [...before, { id: newId(), operator: operator.name, arguments: Object.fromEntries(given) }];
};

/**
 * Unfolds a strand's first step, where it is an expression, into steps that mean the same.
 * @throws EditRefusal where it is no expression, or one that no operator stands for
 */
export const unfoldStep = (part: string, at: number, strand: Strand, newId: () => string): Edit => {
  const [first, ...rest] = strand.steps;
  const text = first?.operator === 'value' ? first.arguments['x'] : undefined;
  if (typeof text !== 'string')
    throw new EditRefusal('Only an expression at the head of its strand can be unfolded.');
  const { expression, mistake } = parseExpression(text);
  if (!expression) throw new EditRefusal(mistake.message);
  const steps = stepsOf(expression, newId);
  if (steps.length === 1 && steps[0]!.operator === 'value')
    throw new EditRefusal('No operator stands for this expression; it stays as it is.');
  return {
    label: 'Unfold expression',
    part,
    patches: [{ op: 'replace', path: ['strands', at, 'steps'], value: [...steps, ...rest] }],
  };
};
