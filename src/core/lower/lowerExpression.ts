import { OPERATORS } from '../operators/catalogue.ts';
import type { Operator, OperatorInput } from '../operators/declare.ts';
import { TypeMistake, type Builder } from '../program/builder.ts';
import { baseOf, componentsOf, floatType, isFloating, isScalar, type Type } from '../program/types.ts';
import type { Value } from '../program/value.ts';
import { fail, SourceError, type Span } from '../language/mistake.ts';
import { nearestName } from '../language/nearest.ts';
import type { Binary, Call, Expression, Index, Member, Name, Unary } from '../language/syntax.ts';

/** What names mean where an expression stands. */
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

/** Built-in functions of GLSL that no operator is called by, by how many arguments they take. */
const BUILT_IN: Readonly<
  Record<string, readonly [least: number, most: number, lower: (b: Builder, args: readonly Value[]) => Value]>
> = {
  pow: [2, 2, (b, [x, y]) => b.pow(x!, y!)],
  isnan: [1, 1, (b, [x]) => b.isnan(x!)],
  texture: [2, 3, (b, args) => b.texture(...args)],
  textureLod: [3, 3, (b, args) => b.textureLod(...args)],
};

const CONSTRUCTORS: ReadonlySet<string> = new Set(['float', 'int', 'uint', 'bool', 'vec2', 'vec3', 'vec4']);

/** Every function an expression can call, for completion and suggestions. */
export const FUNCTION_NAMES: readonly string[] = [
  ...OPERATORS.keys(),
  ...Object.keys(BUILT_IN),
  ...CONSTRUCTORS,
];

const rank = (type: Type): number => ['bool', 'int', 'uint'].indexOf(type);

/** int becomes uint, and both become float, where the other side asks for it. */
export const promote = (b: Builder, value: Value, base: 'int' | 'uint' | 'float'): Value =>
  baseOf(value.type) !== base && rank(value.type) > 0 && isScalar(value.type)
    ? b.convert(base, value)
    : value;

const unify = (b: Builder, values: readonly Value[]): Value[] => {
  const bases = values.map((value) => baseOf(value.type));
  const base = bases.includes('float') ? 'float' : bases.includes('uint') ? 'uint' : 'int';
  return values.map((value) => promote(b, value, base));
};

/**
 * Brings a value to a wanted type where that loses nothing: whole numbers to float, a float spread over a vector.
 * @throws SourceError that says how to choose
 */
export const coerce = (b: Builder, value: Value, wanted: Type, at: Span, what: string): Value => {
  if (value.type === wanted) return value;
  if (isFloating(wanted)) {
    const float = promote(b, value, 'float');
    if (float.type === wanted) return float;
    if (float.type === 'float') return b.construct(wanted, float);
    if (isFloating(float.type) && componentsOf(float.type) > componentsOf(wanted)) {
      const pick = wanted === 'float' ? 'x' : 'xyzw'.slice(0, componentsOf(wanted));
      return fail(
        at,
        `${what} takes a ${wanted}, and this is a ${value.type}; choose components, such as .${pick}.`,
      );
    }
  }
  if ((wanted === 'uint' && value.type === 'int') || (wanted === 'int' && value.type === 'uint'))
    return b.convert(wanted, value);
  if ((wanted === 'int' || wanted === 'uint') && value.type === 'float')
    return fail(at, `${what} takes a whole number; write ${wanted}(…) around it to drop the fraction.`);
  return fail(at, `${what} takes a ${wanted}, and this is a ${value.type}.`);
};

/** A value given for an input, and where it stands. */
export interface Given {
  readonly value: Value;
  readonly at: Span;
}

/** Brings all of an operator's `any` inputs to one size: the largest among them. Choices have no value. */
export const coerceInputs = (
  b: Builder,
  operator: Pick<Operator, 'name' | 'inputs'>,
  given: Readonly<Record<string, Given>>,
): Record<string, Value> => {
  let size = 1;
  for (const name in operator.inputs) {
    const own = operator.inputs[name]!.type === 'any' ? componentsOf(given[name]!.value.type) : 1;
    if (own <= 4) size = Math.max(size, own);
  }
  const largest = floatType(size);
  const coerced: Record<string, Value> = {};
  for (const name in operator.inputs) {
    const input = operator.inputs[name]!;
    if (input.type === 'choice') continue;
    const { value, at } = given[name]!;
    // A strand may hold a condition for those below it.
    const isCondition = input.type === 'any' && value.type === 'bool' && operator.name === 'value';
    if (value.type === input.type || isCondition) coerced[name] = value;
    else if (input.type === 'any') coerced[name] = coerceToAny(b, value, largest, at, operator.name, name);
    else coerced[name] = coerce(b, value, input.type, at, `${operator.name}’s ${name}`);
  }
  return coerced;
};

/** A number, or a vector of the size that is the largest beside it. */
const coerceToAny = (
  b: Builder,
  value: Value,
  largest: Type,
  at: Span,
  operator: string,
  name: string,
): Value => {
  const float = promote(b, value, 'float');
  if (!isFloating(float.type))
    return fail(at, `${operator}’s ${name} takes a number or a vector, and this is a ${value.type}.`);
  if (float.type === 'float' || float.type === largest) return float;
  return fail(
    at,
    `${operator}’s ${name} is a ${value.type} beside a ${largest}; bring both to one size, as with .${'xyzw'.slice(0, componentsOf(float.type))} or vec${componentsOf(largest)}(…).`,
  );
};

/** Turns a parsed expression into values of the program. @throws SourceError at the part that has no meaning */
export const lowerExpression = (b: Builder, expression: Expression, scope: Scope): Value => {
  const lower = (e: Expression): Value => {
    try {
      return lowerOne(e);
    } catch (error) {
      if (error instanceof TypeMistake) return fail(e, `${error.message}.`);
      throw error;
    }
  };

  const lowerOne = (e: Expression): Value => {
    switch (e.kind) {
      case 'literal':
        return b.constant(e.type, [e.type === 'int' ? e.value | 0 : e.value]);
      case 'name':
        return lowerName(e);
      case 'member':
        return lowerMember(e);
      case 'index':
        return lowerIndex(e);
      case 'call':
        return lowerCall(e);
      case 'unary':
        return lowerUnary(e);
      case 'binary':
        return lowerBinary(e);
      case 'conditional': {
        const condition = coerce(b, lower(e.condition), 'bool', e.condition, 'A condition');
        const [yes, no] = unify(b, [lower(e.yes), lower(e.no)]) as [Value, Value];
        const size = Math.max(componentsOf(yes.type), componentsOf(no.type));
        const wide = (value: Value) =>
          value.type === 'float' && size > 1 ? b.construct(floatType(size), value) : value;
        return b.select(condition, wide(yes), wide(no));
      }
      case 'assignment':
        return fail(
          e,
          `An argument only computes a value; ${e.sign} would change one. To compare, write ==.`,
        );
      case 'postfix':
        return fail(
          e,
          `An argument only computes a value; ${e.sign} would change one. Write + 1 or − 1 instead.`,
        );
      case 'sequence':
        return fail(
          e,
          'Two values stand here with a comma between; an argument takes one. For a vector write vec2(…).',
        );
    }
  };

  const lowerName = (e: Name): Value => {
    const value = scope.resolve(e.name);
    if (value) return value;
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

  const lowerMember = (e: Member): Value => {
    const member = e.object.kind === 'name' ? scope.member?.(e.object.name, e.member) : null;
    if (member) return member;
    const source = lower(e.object);
    const sets = ['xyzw', 'rgba', 'stpq'];
    const set = sets.find((letters) => [...e.member].every((letter) => letters.includes(letter)));
    if (!set || e.member.length > 4)
      return fail(e.memberAt, `“.${e.member}” is not a component; use up to four of xyzw, rgba or stpq.`);
    if (!isFloating(source.type)) return fail(e.memberAt, `A ${source.type} has no components.`);
    const size = componentsOf(source.type);
    const beyond = [...e.member].find((letter) => set.indexOf(letter) >= size);
    if (beyond)
      return fail(
        e.memberAt,
        `A ${source.type} has no .${beyond}; it has ${[...set.slice(0, size)].map((l) => `.${l}`).join(', ')}.`,
      );
    return b.swizzle(source, [...e.member].map((letter) => 'xyzw'[set.indexOf(letter)]).join(''));
  };

  const lowerIndex = (e: Index): Value => {
    const source = lower(e.object);
    const size = componentsOf(source.type);
    if (!isFloating(source.type) || size === 1)
      return fail(e.object, `A ${source.type} has no components to choose by [ ].`);
    if (e.index.kind !== 'literal' || e.index.type === 'float' || e.index.type === 'bool')
      return fail(e.index, 'A component is chosen by a whole number, such as [0].');
    if (e.index.value >= size)
      return fail(e.index, `A ${source.type} has components 0 to ${size - 1}; there is no ${e.index.value}.`);
    return b.swizzle(source, 'xyzw'[e.index.value]!);
  };

  const lowerUnary = (e: Unary): Value => {
    if (e.sign === '++' || e.sign === '--')
      return fail(e, `An argument only computes a value; ${e.sign} would change one.`);
    const x = lower(e.operand);
    if (e.sign === '!') return b.not(coerce(b, x, 'bool', e.operand, 'The sign !'));
    if (e.sign === '~') return b.bitNot(x);
    if (x.type === 'bool') return fail(e.operand, `A bool has no sign; write float(…) around it.`);
    return e.sign === '-' ? b.negate(x) : x;
  };

  const lowerBinary = (e: Binary): Value => {
    const left = lower(e.left);
    const right = lower(e.right);
    if (e.sign === '&&' || e.sign === '||' || e.sign === '^^') {
      const side = (value: Value, at: Expression) => coerce(b, value, 'bool', at, `Either side of ${e.sign}`);
      const [x, y] = [side(left, e.left), side(right, e.right)];
      return e.sign === '&&' ? b.and(x, y) : e.sign === '||' ? b.or(x, y) : b.xor(x, y);
    }
    const shifts = e.sign === '<<' || e.sign === '>>';
    const [x, y] = (shifts ? [left, right] : unify(b, [left, right])) as [Value, Value];
    const sizes = [componentsOf(x.type), componentsOf(y.type)];
    if (sizes[0] !== sizes[1] && Math.min(...sizes) > 1)
      return fail(
        e,
        `${e.sign} has a ${x.type} on its left and a ${y.type} on its right; bring both to one size.`,
      );
    const float = baseOf(x.type) === 'float';
    switch (e.sign) {
      case '+':
        return b.add(x, y);
      case '-':
        return b.subtract(x, y);
      case '*':
        return x.type === 'mat3' ? b.transform(x, y) : b.multiply(x, y);
      case '/':
        return float ? b.divide(x, y) : b.quotient(x, y);
      case '%':
        return float
          ? fail(e, 'In GLSL % is for whole numbers; for floats write mod(a, b).')
          : b.remainder(x, y);
      case '<':
        return b.less(x, y);
      case '>':
        return b.less(y, x);
      case '<=':
        return b.lessEqual(x, y);
      case '>=':
        return b.lessEqual(y, x);
      case '==':
        return b.equal(x, y);
      case '!=':
        return b.not(b.equal(x, y));
      case '&':
        return b.bitAnd(x, y);
      case '|':
        return b.bitOr(x, y);
      case '^':
        return b.bitXor(x, y);
      case '<<':
        return b.shiftLeft(x, y);
      default:
        return b.shiftRight(x, y);
    }
  };

  const lowerCall = (e: Call): Value => {
    const known = OPERATORS.get(e.callee);
    if (known) return applyOperator(e, known);
    const args = e.args.map((arg) => ({ value: lower(arg), at: arg as Span }));
    if (CONSTRUCTORS.has(e.callee))
      return construct(
        e,
        e.callee as Type,
        args.map((arg) => arg.value),
      );
    if (Object.hasOwn(BUILT_IN, e.callee)) {
      const [least, most, build] = BUILT_IN[e.callee]!;
      if (args.length < least || args.length > most)
        return fail(
          e,
          `${e.callee} takes ${least === most ? least : `${least} or ${most}`} ${most === 1 ? 'argument' : 'arguments'}, not ${args.length}.`,
        );
      return build(
        b,
        args.map((arg) => promote(b, arg.value, 'float')),
      );
    }
    const near = nearestName(e.callee, FUNCTION_NAMES);
    return fail(
      e.calleeAt,
      scope.resolve(e.callee)
        ? `“${e.callee}” is a value, not a function; to multiply, write *.`
        : `There is no function “${e.callee}”.${near ? ` Did you mean ${near}?` : ''}`,
      near ? { label: `change to ${near}`, text: near } : undefined,
    );
  };

  const construct = (e: Call, type: Type, args: readonly Value[]): Value => {
    if (isScalar(type)) {
      if (args.length !== 1) return fail(e, `${type}(…) takes one value, not ${args.length}.`);
      const first = isFloating(args[0]!.type) ? b.swizzle(args[0]!, 'x') : args[0]!;
      return b.convert(type, first);
    }
    const floats = args.map((value) => (isScalar(value.type) ? b.convert('float', value) : value));
    const size = componentsOf(type);
    if (floats.length === 1 && isFloating(floats[0]!.type) && componentsOf(floats[0]!.type) >= size)
      return b.swizzle(floats[0]!, 'xyzw'.slice(0, size));
    return b.construct(type, ...floats);
  };

  const applyOperator = (e: Call, known: Operator): Value => {
    const names = Object.keys(known.inputs);
    if (e.args.length > names.length)
      return fail(
        e,
        `${known.name} takes at most ${names.length} arguments (${names.join(', ')}), not ${e.args.length}.`,
      );
    const given: Record<string, Given> = {};
    const chosen: Record<string, string> = {};
    names.forEach((name, i) => {
      const arg = e.args[i];
      const input = known.inputs[name]!;
      if (input.type === 'choice')
        chosen[name] = arg ? wordOf(arg, input, `${known.name}’s ${name}`) : input.options![0]!;
      else
        given[name] = arg ? { value: lower(arg), at: arg } : { value: defaultOf(b, known, name, e), at: e };
    });
    return known.lower(b, coerceInputs(b, known, given), chosen);
  };

  try {
    return lower(expression);
  } catch (error) {
    if (error instanceof SourceError) throw error;
    if (error instanceof TypeMistake) return fail(expression, `${error.message}.`);
    throw error;
  }
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

/** An input's default as a constant, or as what the shader is given. @throws SourceError where the author must choose */
export const defaultOf = (
  b: Builder,
  known: Pick<Operator, 'name' | 'inputs'>,
  name: string,
  at: Span,
): Value => {
  const { type, default: start, reads } = known.inputs[name]!;
  if (typeof start === 'string') return b.input(start);
  if (type === 'sampler2D')
    return fail(
      at,
      `${known.name}’s ${name} needs a ${reads ?? 'texture'} parameter; make one and name it here.`,
    );
  return b.constant(type === 'any' ? floatType(start.length) : (type as Type), start);
};
