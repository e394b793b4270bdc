import { OPERATORS } from '../operators/catalogue.ts';
import type { Operator, OperatorInput } from '../operators/declare.ts';
import type { Builder } from '../program/builder.ts';
import type { Value } from '../program/value.ts';
import { BUILT_IN_NAMES, isBuiltIn, SPLIT } from '../language/glsl/builtInNames.ts';
import { fail, SourceError } from '../language/mistake.ts';
import { nearestName } from '../language/nearest.ts';
import type { Call, Expression, Name } from '../language/syntax.ts';
import { coerceInputs, defaultOf, type ArgumentValue } from './coerceInputs.ts';
import { callBuiltIn } from './expression/builtIns.ts';
import { CONSTRUCTED, one, programType, shapeOf, spelled, type GlslValue } from './expression/glslValue.ts';
import { construct } from './expression/construct.ts';
import { lowerExpression, type Around, type Changing } from './expression/lowerExpression.ts';
import { Opaque } from './expression/opaque.ts';

/** What names mean where an argument stands. */
export interface Scope {
  /** The value of a name, or null. */
  readonly resolve: (name: string) => Value | null;
  /** The value of a member of something that has no value itself: `grain.seed`. */
  readonly member?: (name: string, member: string) => Value | null;
  /** Every name that has a value here, for suggestions. */
  readonly names: () => Iterable<string>;
  /** Why a known name has no value here: “it is written below”. `follows` where the fault is that name's own. */
  readonly explain?: (name: string) => { readonly message: string; readonly follows: boolean } | null;
}

/** Every function an argument can call, for completion and suggestions: operators, then what else GLSL has. */
export const FUNCTION_NAMES: readonly string[] = [
  ...new Set([...OPERATORS.keys(), ...BUILT_IN_NAMES.filter((each) => each !== SPLIT), ...CONSTRUCTED]),
];

const readName = (scope: Scope, e: Name): GlslValue => {
  const value = scope.resolve(e.name);
  if (value) return one(value);
  const why = scope.explain?.(e.name);
  if (why) throw new SourceError({ from: e.from, to: e.to, ...why });
  if (FUNCTION_NAMES.includes(e.name))
    return fail(e, `${e.name} is a function; give it arguments in brackets: ${e.name}(…).`);
  const near = nearestName(e.name, [...scope.names(), ...FUNCTION_NAMES]);
  return fail(
    e,
    `Nothing is called “${e.name}” here.${near ? ` Did you mean ${near}?` : ''}`,
    near ? { label: `change to ${near}`, text: near } : undefined,
  );
};

/** The value of the program that an operator or the argument itself asks for. @throws SourceError where it is several */
const single = (value: GlslValue, at: Expression, what: string): Value =>
  programType(value.type)
    ? value.parts[0]!
    : fail(at, `${what} takes a number or a vector of floats, and this is ${named(value.type)}.`);
const named = (type: string): string => `${/^[aeiou]/.test(type) ? 'an' : 'a'} ${spelled(type)}`;

const applyOperator = (
  b: Builder,
  e: Call,
  known: Operator,
  lower: (e: Expression) => GlslValue,
): GlslValue => {
  const names = Object.keys(known.inputs);
  if (e.args.length > names.length)
    return fail(
      e,
      `${known.name} takes at most ${names.length} arguments (${names.join(', ')}), not ${e.args.length}.`,
    );
  const isChoice = (i: number) => known.inputs[names[i]!]!.type === 'choice';
  const args = e.args.map((arg, i) => (isChoice(i) ? null : lower(arg)));
  // What only GLSL's own function of the name takes: matrices, vectors of whole numbers, of booleans, of another size.
  const isOther = (arg: GlslValue | null, i: number): boolean => {
    const { type } = known.inputs[names[i]!]!;
    return (
      arg !== null &&
      (!programType(arg.type) || (type.startsWith('vec') && /^vec/.test(arg.type) && arg.type !== type))
    );
  };
  if (isBuiltIn(e.callee) && args.some(isOther)) return callBuiltIn(b, e.callee, args as GlslValue[], e);
  const authored: Record<string, ArgumentValue> = {};
  const chosen: Record<string, string> = {};
  names.forEach((name, i) => {
    const arg = e.args[i];
    const what = `${known.name}’s ${name}`;
    if (isChoice(i))
      chosen[name] = arg ? wordOf(arg, known.inputs[name]!, what) : known.inputs[name]!.options![0]!;
    else
      authored[name] = arg
        ? { value: single(args[i]!, arg, what), at: arg }
        : { value: defaultOf(b, known, name, e), at: e };
  });
  return one(known.lower(b, coerceInputs(b, known, authored), chosen));
};

/** The word an argument chooses: written as it is, or by its number. @throws SourceError naming the choices */
const wordOf = (arg: Expression, input: OperatorInput, what: string): string => {
  const options = input.options!;
  if (arg.kind === 'name' && options.includes(arg.name)) return arg.name;
  if (arg.kind === 'literal' && options[arg.value] !== undefined) return options[arg.value]!;
  const near = arg.kind === 'name' ? nearestName(arg.name, options) : null;
  return fail(
    arg,
    `${what} is one of ${options.join(', ')}.${near ? ` Did you mean ${near}?` : ''}`,
    near ? { label: `change to ${near}`, text: near } : undefined,
  );
};

const callFunction = (b: Builder, scope: Scope, e: Call, lower: (e: Expression) => GlslValue): GlslValue => {
  const known = OPERATORS.get(e.callee);
  if (known) return applyOperator(b, e, known, lower);
  if (e.callee === SPLIT)
    return fail(
      e,
      `${SPLIT} puts a value elsewhere; an argument only computes one. Write trunc(x) or fract(x).`,
    );
  if (shapeOf(e.callee)) return construct(b, e, e.callee, e.args.map(lower));
  if (isBuiltIn(e.callee)) return callBuiltIn(b, e.callee, e.args.map(lower), e);
  const near = nearestName(e.callee, FUNCTION_NAMES);
  return fail(
    e.calleeAt,
    scope.resolve(e.callee)
      ? `“${e.callee}” is a value, not a function; to multiply, write *.`
      : `There is no function “${e.callee}”.${near ? ` Did you mean ${near}?` : ''}`,
    near ? { label: `change to ${near}`, text: near } : undefined,
  );
};

const refuseChange = (e: Changing): never => {
  switch (e.kind) {
    case 'sequence':
      return fail(
        e,
        'Two values stand here with a comma between; an argument takes one. For a vector write vec2(…).',
      );
    case 'assignment':
      return fail(e, `An argument only computes a value; ${e.sign} would change one. To compare, write ==.`);
    default:
      return fail(
        e,
        `An argument only computes a value; ${e.sign} would change one. Write + 1 or − 1 instead.`,
      );
  }
};

/** Turns an argument's expression into a value of the program. @throws SourceError at the part that has no meaning */
export const lowerArgument = (b: Builder, expression: Expression, scope: Scope): Value => {
  const around: Around = {
    b,
    name: (e) => readName(scope, e),
    member: ({ object, member }) => {
      const value = object.kind === 'name' ? scope.member?.(object.name, member) : null;
      return value ? one(value) : null;
    },
    call: (e, lower) => callFunction(b, scope, e, lower),
    change: refuseChange,
    branch: (_, [yes, no], each) => {
      const inside = (e: Expression) => lowerExpression(around, e);
      return [yes && each(yes, inside), no && each(no, inside)];
    },
    spreads: true,
  };
  try {
    return single(lowerExpression(around, expression), expression, 'An argument');
  } catch (error) {
    if (error instanceof Opaque) return fail(error.at, `An argument cannot hold this: ${error.why}.`);
    throw error;
  }
};
