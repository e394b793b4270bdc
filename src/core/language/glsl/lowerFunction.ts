import { evaluateConstant } from '../../emit/columns/interpret.ts';
import type { Builder, Operand } from '../../program/builder.ts';
import { TypeMistake } from '../../program/builder.ts';
import { floatType, type Type } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';
import { fail, type Span } from '../mistake.ts';
import { nearestName } from '../nearest.ts';
import { childrenOf, type Binary, type Call, type Expression, type Index, type Member } from '../syntax.ts';
import { BUILT_IN_NAMES, callBuiltIn, isBuiltIn } from './builtIns.ts';
import {
  choose,
  componentsOf,
  fromComponents,
  one,
  programType,
  shape,
  shapeOf,
  vectorType,
  zeroOf,
  type CodeValue,
} from './codeValue.ts';
import { opaque } from './opaque.ts';
import type { FunctionSource, Statement, TypeName } from './syntax.ts';

/** Operations one function may come to when its loops are written out. */
export const MOST_OPERATIONS = 20_000;
/** Times a loop may go round. */
export const MOST_ROUNDS = 4096;

/** What surrounds a function: names from outside, constants beside it, and the functions it may call. */
export interface Surroundings {
  readonly outside: (name: string) => CodeValue | null;
  readonly names: () => Iterable<string>;
  readonly constant: (name: string) => { readonly type: TypeName; readonly value: Expression | null } | null;
  readonly functionOf: (name: string) => FunctionSource | null;
  /** Calls a function of the module as one of the program, or gives null where it has to be written out. */
  readonly callWhole: (b: Builder, name: string, args: readonly CodeValue[]) => CodeValue | null;
  /** Folds a function of the module: state = f(i, state, …) for i from 0, or gives null as above. */
  readonly foldWhole: (
    b: Builder,
    name: string,
    count: Value,
    args: readonly CodeValue[],
  ) => CodeValue | null;
}

/** A flag of the flow: known to be so or not, or a bool of the program. */
type Flag = boolean | Value;

/** What variables hold at a place in the flow. Branches copy it and are merged again. */
interface State {
  readonly values: Map<number, CodeValue>;
  returned: Flag;
  broken: Flag;
  continued: Flag;
  result: CodeValue | null;
  /** What the function being run gives back. */
  returns: TypeName;
}

interface Variable {
  readonly key: number;
  readonly type: string;
  readonly isConst: boolean;
}
type ScopeChain = readonly Map<string, Variable>[];

const hasEffects = (e: Expression): boolean =>
  e.kind === 'assignment' ||
  e.kind === 'postfix' ||
  (e.kind === 'unary' && (e.sign === '++' || e.sign === '--')) ||
  childrenOf(e).some(hasEffects);

/**
 * Runs a function's body through the builder: branches become choices, loops are written out, variables become values.
 * @throws SourceError where the code is wrong, Opaque where it is right but the program cannot hold it
 */
export const lowerBody = (
  b: Builder,
  source: FunctionSource,
  args: readonly CodeValue[],
  around: Surroundings,
): CodeValue => {
  let keys = 0;
  let operations = 0;

  /** Computes what depends on constants alone at once, so that loops and branches on them are settled. */
  const settle = (value: Value, at: Span): Value => {
    operations += 1;
    if (operations > MOST_OPERATIONS)
      opaque(at, `written out it comes to more than ${MOST_OPERATIONS} operations`);
    if (value.op === 'constant' || !value.inputs.length || value.type === 'sampler2D') return value;
    if (value.op === 'call' || value.op === 'iterate' || value.op === 'texture') return value;
    if (value.inputs.some((input) => input.op !== 'constant')) return value;
    return b.constant(value.type, evaluateConstant(value));
  };
  const settled = (value: CodeValue, at: Span): CodeValue => ({
    type: value.type,
    parts: value.parts.map((part) => settle(part, at)),
  });

  const flagOf = (value: Value): Flag =>
    value.op === 'constant' ? (value.payload as readonly number[])[0] !== 0 : value;
  const asValue = (flag: Flag): Value =>
    typeof flag === 'boolean' ? b.constant('bool', [Number(flag)]) : flag;
  const or = (x: Flag, y: Flag): Flag =>
    x === true || y === true ? true : x === false ? y : y === false ? x : b.or(x, y);
  const andNot = (x: Flag, not: Flag): Flag =>
    x === false || not === true ? false : not === false ? x : b.and(asValue(x), b.not(not));

  const copyOf = (state: State): State => ({ ...state, values: new Map(state.values) });
  /** Takes over what a copy came to, where `condition` holds, into `state`, which holds what was so otherwise. */
  const merge = (state: State, condition: Value, then: State, otherwise: State): void => {
    for (const key of state.values.keys()) {
      const [x, y] = [then.values.get(key)!, otherwise.values.get(key)!];
      if (x !== y) state.values.set(key, choose(b, condition, x, y));
    }
    const flag = (x: Flag, y: Flag): Flag =>
      x === y ? x : flagOf(settle(b.select(condition, asValue(x), asValue(y)), source.nameAt));
    state.returned = flag(then.returned, otherwise.returned);
    state.broken = flag(then.broken, otherwise.broken);
    state.continued = flag(then.continued, otherwise.continued);
    state.result =
      then.result && otherwise.result
        ? choose(b, condition, then.result, otherwise.result)
        : (then.result ?? otherwise.result);
  };

  const typeNamed = (type: TypeName, isArray: boolean): string => {
    if (isArray || type.isArray) opaque(type, 'it uses an array');
    if (type.name === 'void') fail(type, 'Nothing can be of type void.');
    if (!shapeOf(type.name)) opaque(type, `the program has no ${type.name}`);
    return type.name.replace(/^mat(\d)x\1$/, 'mat$1');
  };

  const find = (scope: ScopeChain, name: string): Variable | undefined => {
    for (let i = scope.length - 1; i >= 0; i -= 1) {
      const found = scope[i]!.get(name);
      if (found) return found;
    }
    return undefined;
  };
  const declare = (
    state: State,
    scope: ScopeChain,
    name: string,
    value: CodeValue,
    isConst: boolean,
  ): void => {
    const key = (keys += 1);
    scope[scope.length - 1]!.set(name, { key, type: value.type, isConst });
    state.values.set(key, value);
    const [part] = value.parts;
    if (value.parts.length === 1 && part!.inputs.length && !b.locals.has(part!)) b.name(name, part!);
  };

  // ---- expressions

  const promote = (value: CodeValue, base: string): CodeValue => {
    const from = shape(value);
    if (from.base === base || from.base === 'bool' || from.form === 'sampler') return value;
    if (from.form === 'scalar' && (base === 'float' || base === 'uint'))
      return one(b.convert(base as 'float', value.parts[0]!));
    return value;
  };
  const unify = (x: CodeValue, y: CodeValue): [CodeValue, CodeValue] => {
    const bases = [shape(x).base, shape(y).base];
    const base = bases.includes('float') ? 'float' : bases.includes('uint') ? 'uint' : 'int';
    return [promote(x, base), promote(y, base)];
  };
  const coerce = (value: CodeValue, type: string, at: Span, what: string): CodeValue => {
    const wanted = type.replace(/^mat(\d)x\1$/, 'mat$1');
    if (value.type === wanted) return value;
    const promoted = shapeOf(wanted)?.form === 'scalar' ? promote(value, shapeOf(wanted)!.base) : value;
    if (promoted.type === wanted) return settled(promoted, at);
    return fail(at, `${what} is a ${wanted}, and this is a ${value.type}.`);
  };

  const evaluate = (e: Expression, state: State, scope: ScopeChain): CodeValue => {
    try {
      return settled(evaluateOne(e, state, scope), e);
    } catch (error) {
      if (error instanceof TypeMistake) return fail(e, `${error.message}.`);
      throw error;
    }
  };

  const evaluateOne = (e: Expression, state: State, scope: ScopeChain): CodeValue => {
    const sub = (part: Expression) => evaluate(part, state, scope);
    switch (e.kind) {
      case 'literal':
        return one(b.constant(e.type, [e.value]));
      case 'name':
        return readName(e.name, e, state, scope);
      case 'member':
        return readMember(sub(e.object), e);
      case 'index':
        return readIndex(sub(e.object), sub(e.index), e);
      case 'call':
        return call(e, state, scope);
      case 'sequence':
        sub(e.first);
        return sub(e.second);
      case 'conditional': {
        if (hasEffects(e.yes) || hasEffects(e.no)) opaque(e, 'a choice here changes a variable on the way');
        const condition = coerce(sub(e.condition), 'bool', e.condition, 'A condition').parts[0]!;
        const [yes, no] = unify(sub(e.yes), sub(e.no));
        if (yes.type !== no.type)
          fail(e, `One choice is a ${yes.type}, the other a ${no.type}; both must be of one type.`);
        return choose(b, condition, yes, no);
      }
      case 'assignment': {
        const value = sub(e.value);
        const before = e.sign === '=' ? null : sub(e.target);
        const next = before ? infix(e.sign.slice(0, -1), before, value, e) : value;
        return assign(e.target, next, state, scope);
      }
      case 'postfix': {
        const before = sub(e.operand);
        assign(e.operand, step(e.sign, before, e), state, scope);
        return before;
      }
      case 'unary': {
        const x = sub(e.operand);
        if (e.sign === '++' || e.sign === '--') return assign(e.operand, step(e.sign, x, e), state, scope);
        if (e.sign === '+') return x;
        if (e.sign === '!') return one(b.not(coerce(x, 'bool', e.operand, 'What ! turns').parts[0]!));
        if (shape(x).base === 'bool') return fail(e.operand, 'A bool has no sign.');
        return {
          type: x.type,
          parts: x.parts.map((part) => (e.sign === '~' ? b.bitNot(part) : b.negate(part))),
        };
      }
      case 'binary':
        return binary(e, state, scope);
    }
  };

  const step = (sign: '++' | '--', x: CodeValue, at: Span): CodeValue => {
    const { base, form } = shape(x);
    if (base === 'bool' || form === 'matrix') return fail(at, `${sign} counts numbers, not a ${x.type}.`);
    const unit: CodeValue = one(b.constant(base as Type, [1]));
    return infix(sign === '++' ? '+' : '-', x, unit, at);
  };

  const readName = (name: string, at: Span, state: State, scope: ScopeChain): CodeValue => {
    const variable = find(scope, name);
    if (variable) return state.values.get(variable.key)!;
    const constant = around.constant(name);
    if (constant) {
      const type = typeNamed(constant.type, false);
      if (!constant.value) return opaque(at, `${name} is a variable beside the functions`);
      return coerce(evaluate(constant.value, state, [new Map()]), type, constant.value, name);
    }
    const given = around.outside(name);
    if (given) return given;
    if (isBuiltIn(name) || around.functionOf(name))
      return fail(at, `${name} is a function; give it arguments in brackets.`);
    const near = nearestName(name, [...scope.flatMap((each) => [...each.keys()]), ...around.names()]);
    return fail(
      at,
      `Nothing is called “${name}” here.${near ? ` Did you mean ${near}?` : ''}`,
      near ? { label: `change to ${near}`, text: near } : undefined,
    );
  };

  /** Which components letters name. */
  const picksOf = (size: number, e: Member): number[] => {
    const set = ['xyzw', 'rgba', 'stpq'].find((letters) =>
      [...e.member].every((each) => letters.includes(each)),
    );
    if (!set || e.member.length > 4)
      return fail(e.memberAt, `“.${e.member}” is not a component; use up to four of xyzw, rgba or stpq.`);
    const picks = [...e.member].map((letter) => set.indexOf(letter));
    const beyond = picks.find((pick) => pick >= size);
    if (beyond !== undefined)
      return fail(e.memberAt, `There is no .${set[beyond]!} here; there are ${size} components.`);
    return picks;
  };
  const readMember = (source: CodeValue, e: Member): CodeValue => {
    const { base, form, size } = shape(source);
    if (form !== 'vector' && form !== 'wholes')
      return fail(e.memberAt, `A ${source.type} has no components.`);
    const picks = picksOf(size, e);
    if (form === 'vector')
      return one(b.swizzle(source.parts[0]!, picks.map((pick) => 'xyzw'[pick]).join('')));
    return { type: vectorType(base, picks.length), parts: picks.map((pick) => source.parts[pick]!) };
  };
  const constantIndex = (index: CodeValue, size: number, at: Span): number | null => {
    const [value] = index.parts;
    if (index.type !== 'int' && index.type !== 'uint')
      return fail(at, 'What stands in [ ] is a whole number.');
    if (value!.op !== 'constant') return null;
    const at0 = (value!.payload as readonly number[])[0]!;
    if (at0 < 0 || at0 >= size) return fail(at, `There is no [${at0}] here; they run from 0 to ${size - 1}.`);
    return at0;
  };
  const elementsOf = (source: CodeValue, at: Span): CodeValue[] => {
    const { form } = shape(source);
    if (form === 'matrix') return source.parts.map((part) => one(part));
    if (form === 'vector' || form === 'wholes') return componentsOf(b, source).map((part) => one(part));
    return fail(at, `A ${source.type} has nothing to choose by [ ].`);
  };
  const readIndex = (source: CodeValue, index: CodeValue, e: Index): CodeValue => {
    const elements = elementsOf(source, e.object);
    const fixed = constantIndex(index, elements.length, e.index);
    if (fixed !== null) return elements[fixed]!;
    const at = index.parts[0]!;
    const number = (i: number) => b.constant(at.type, [i]);
    return elements.reduceRight((rest, each, i) => choose(b, b.equal(at, number(i)), each, rest));
  };

  /** Puts a value where an expression names a place, and gives it back. */
  const assign = (target: Expression, value: CodeValue, state: State, scope: ScopeChain): CodeValue => {
    switch (target.kind) {
      case 'name': {
        const variable = find(scope, target.name);
        if (!variable) {
          if (around.constant(target.name))
            opaque(target, `it changes ${target.name}, which lies beside the functions`);
          return fail(
            target,
            around.outside(target.name)
              ? `${target.name} comes from outside and cannot be changed here.`
              : `Nothing is called “${target.name}” here.`,
          );
        }
        if (variable.isConst) return fail(target, `${target.name} is a constant.`);
        const fitted = coerce(value, variable.type, target, target.name);
        state.values.set(variable.key, fitted);
        return fitted;
      }
      case 'member': {
        const before = evaluate(target.object, state, scope);
        const { size, form } = shape(before);
        if (form !== 'vector' && form !== 'wholes')
          return fail(target.memberAt, `A ${before.type} has no components.`);
        const picks = picksOf(size, target);
        const given = componentsOf(b, promoteTo(value, before, picks.length, target));
        const all = componentsOf(b, before);
        picks.forEach((pick, i) => (all[pick] = given[i]!));
        assign(target.object, fromComponents(b, before.type, all), state, scope);
        return value;
      }
      case 'index': {
        const before = evaluate(target.object, state, scope);
        const elements = elementsOf(before, target.object);
        const index = evaluate(target.index, state, scope);
        const fixed = constantIndex(index, elements.length, target.index);
        const fitted = coerce(value, elements[0]!.type, target, 'What is put here');
        const at = index.parts[0]!;
        const changed = elements.map((each, i) =>
          fixed !== null
            ? i === fixed
              ? fitted
              : each
            : choose(b, b.equal(at, b.constant(at.type, [i])), fitted, each),
        );
        const parts = changed.map((each) => each.parts[0]!);
        const whole =
          shape(before).form === 'matrix'
            ? { type: before.type, parts }
            : fromComponents(b, before.type, parts);
        assign(target.object, whole, state, scope);
        return value;
      }
      default:
        return fail(target, 'Nothing can be put here; on the left of = stands a variable.');
    }
  };
  const promoteTo = (value: CodeValue, like: CodeValue, size: number, at: Span): CodeValue =>
    coerce(value, vectorType(shape(like).base, size), at, 'What is put here');

  const SIGNS: Readonly<Record<string, (x: Operand, y: Operand) => Value>> = {
    '+': (x, y) => b.add(x, y),
    '-': (x, y) => b.subtract(x, y),
    '*': (x, y) => b.multiply(x, y),
    '/': (x, y) => b.divide(x, y),
    '%': (x, y) => b.remainder(x, y),
    '&': (x, y) => b.bitAnd(x, y),
    '|': (x, y) => b.bitOr(x, y),
    '^': (x, y) => b.bitXor(x, y),
    '<<': (x, y) => b.shiftLeft(x, y),
    '>>': (x, y) => b.shiftRight(x, y),
  };

  /** One of + − * / % & | ^ << >>. */
  const infix = (sign: string, left: CodeValue, right: CodeValue, at: Span): CodeValue => {
    const shifts = sign === '<<' || sign === '>>';
    const [x, y] = shifts ? [left, right] : unify(left, right);
    const [p, q] = [shape(x), shape(y)];
    if (p.base === 'bool' || q.base === 'bool')
      return fail(at, `${sign} works on numbers, not on ${x.type} and ${y.type}.`);
    if (p.base !== q.base && !shifts)
      return fail(
        at,
        `${sign} has a ${x.type} on its left and a ${y.type} on its right; bring both to one type.`,
      );
    if (p.form === 'matrix' || q.form === 'matrix') return withMatrix(sign, x, y, at);
    if (p.base === 'float' && '%&|^<<>>'.includes(sign))
      return fail(at, `${sign} works on whole numbers; for floats write mod(a, b).`);
    const work =
      sign === '/' && p.base !== 'float' ? (u: Operand, v: Operand) => b.quotient(u, v) : SIGNS[sign]!;
    if (p.form === 'scalar' && q.form === 'scalar') return one(work(x.parts[0]!, y.parts[0]!));
    if (p.size > 1 && q.size > 1 && p.size !== q.size)
      return fail(
        at,
        `${sign} has a ${x.type} on its left and a ${y.type} on its right; bring both to one size.`,
      );
    if (p.base === 'float') return one(work(x.parts[0]!, y.parts[0]!));
    const size = Math.max(p.size, q.size);
    const part = (value: CodeValue, i: number) => value.parts[value.parts.length === 1 ? 0 : i]!;
    return {
      type: vectorType(p.base, size),
      parts: Array.from({ length: size }, (_, i) => work(part(x, i), part(y, i))),
    };
  };

  /** m·v as the sum of columns weighted by components. */
  const weighted = (m: CodeValue, v: Value): Value =>
    m.parts
      .map((column, i) => b.multiply(column, b.swizzle(v, 'xyzw'[i]!)))
      .reduce((sum, each) => b.add(sum, each));
  const withMatrix = (sign: string, x: CodeValue, y: CodeValue, at: Span): CodeValue => {
    const [p, q] = [shape(x), shape(y)];
    if (p.size > 1 && q.size > 1 && p.size !== q.size)
      return fail(at, `${x.type} and ${y.type} differ in size.`);
    if (sign === '*' && p.form === 'matrix' && q.form === 'matrix')
      return { type: x.type, parts: y.parts.map((column) => weighted(x, column)) };
    if (sign === '*' && p.form === 'matrix' && q.form === 'vector') return one(weighted(x, y.parts[0]!));
    if (sign === '*' && p.form === 'vector')
      return one(b.construct(floatType(q.size), ...y.parts.map((column) => b.dot(x.parts[0]!, column))));
    if (!'+-*/'.includes(sign) || p.form === 'vector' || q.form === 'vector')
      return fail(at, `${sign} does not work on ${x.type} and ${y.type}.`);
    const column = (value: CodeValue, i: number) => value.parts[value.parts.length === 1 ? 0 : i]!;
    const type = p.form === 'matrix' ? x.type : y.type;
    return {
      type,
      parts: Array.from({ length: Math.max(p.size, q.size) }, (_, i) =>
        SIGNS[sign]!(column(x, i), column(y, i)),
      ),
    };
  };

  const binary = (e: Binary, state: State, scope: ScopeChain): CodeValue => {
    const left = evaluate(e.left, state, scope);
    if (e.sign === '&&' || e.sign === '||' || e.sign === '^^') {
      if (hasEffects(e.right)) opaque(e.right, `the right of ${e.sign} changes a variable on the way`);
      const x = coerce(left, 'bool', e.left, `The left of ${e.sign}`).parts[0]!;
      const y = coerce(evaluate(e.right, state, scope), 'bool', e.right, `The right of ${e.sign}`).parts[0]!;
      return one(e.sign === '&&' ? b.and(x, y) : e.sign === '||' ? b.or(x, y) : b.xor(x, y));
    }
    const right = evaluate(e.right, state, scope);
    if (!['<', '>', '<=', '>=', '==', '!='].includes(e.sign)) return infix(e.sign, left, right, e);
    const [x, y] = unify(left, right);
    if (x.type !== y.type)
      return fail(e, `${e.sign} compares two values of one type, not a ${x.type} with a ${y.type}.`);
    if (e.sign === '==' || e.sign === '!=') {
      const same = x.parts.map((part, i) => b.equal(part, y.parts[i]!)).reduce((p, q) => b.and(p, q));
      return one(e.sign === '==' ? same : b.not(same));
    }
    if (shape(x).form !== 'scalar')
      return fail(e, `${e.sign} compares single numbers; for vectors write lessThan(a, b) and the like.`);
    const [p, q] = [x.parts[0]!, y.parts[0]!];
    switch (e.sign) {
      case '<':
        return one(b.less(p, q));
      case '>':
        return one(b.less(q, p));
      case '<=':
        return one(b.lessEqual(p, q));
      default:
        return one(b.lessEqual(q, p));
    }
  };

  // ---- calls

  const convertScalar = (value: Value, base: Type): Value =>
    value.type === base ? value : b.convert(base, value);

  const construct = (e: Call, type: string, values: readonly CodeValue[]): CodeValue => {
    const wanted = shapeOf(type);
    if (!wanted) return opaque(e, `the program has no ${type}`);
    if (!values.length) return fail(e, `${type}(…) needs something between its brackets.`);
    const { base, form, size } = wanted;
    const name = type.replace(/^mat(\d)x\1$/, 'mat$1');
    const [first] = values;
    if (form === 'sampler') return fail(e, 'A sampler cannot be made.');
    if (form === 'matrix' && values.length === 1) {
      const from = shape(first!);
      if (from.form === 'scalar') {
        const x = convertScalar(first!.parts[0]!, 'float');
        return fromComponents(
          b,
          name,
          Array.from({ length: size * size }, (_, i) => (i % (size + 1) ? b.float(0) : x)),
        );
      }
      if (from.form === 'matrix') {
        const cells = Array.from({ length: size * size }, (_, i) => {
          const [c, r] = [Math.floor(i / size), i % size];
          return c < from.size && r < from.size
            ? b.swizzle(first!.parts[c]!, 'xyzw'[r]!)
            : b.float(c === r ? 1 : 0);
        });
        return fromComponents(b, name, cells);
      }
    }
    if (values.length === 1 && form === 'vector' && first!.type === name) return first!;
    if (values.length === 1 && form === 'vector' && shape(first!).form === 'scalar')
      return one(b.construct(name as Type, convertScalar(first!.parts[0]!, 'float')));
    if (
      form === 'vector' &&
      values.every((each) => shape(each).form === 'scalar' || shape(each).form === 'vector')
    ) {
      const given = values.reduce((sum, each) => sum + shape(each).size, 0);
      if (given === size)
        return one(
          b.construct(
            name as Type,
            ...values.map((each) =>
              shape(each).form === 'scalar' ? convertScalar(each.parts[0]!, 'float') : each.parts[0]!,
            ),
          ),
        );
    }
    const scalars = values
      .flatMap((each) => componentsOf(b, each))
      .map((each) => convertScalar(each, base as Type));
    const needed = form === 'matrix' ? size * size : size;
    if (form === 'wholes' && scalars.length === 1)
      return { type: name, parts: new Array<Value>(size).fill(scalars[0]!) };
    if (
      scalars.length < needed ||
      (values.length > 1 && scalars.length > needed && shape(values.at(-1)!).size === 1)
    )
      return fail(e, `${type} needs ${needed} numbers and was given ${scalars.length}.`);
    return fromComponents(b, name, scalars.slice(0, needed));
  };

  const call = (e: Call, state: State, scope: ScopeChain): CodeValue => {
    if (e.callee.endsWith('[]')) return opaque(e, 'it uses an array');
    const user = around.functionOf(e.callee);
    if (user) return callFunction(e, user, state, scope);
    const args = e.args.map((arg) => evaluate(arg, state, scope));
    if (shapeOf(e.callee)) return construct(e, e.callee, args);
    if (!isBuiltIn(e.callee)) {
      const near = nearestName(e.callee, BUILT_IN_NAMES);
      return fail(
        e.calleeAt,
        `There is no function “${e.callee}” here.${near ? ` Did you mean ${near}?` : ''}`,
        near ? { label: `change to ${near}`, text: near } : undefined,
      );
    }
    const bases = args.map((arg) => shape(arg).base);
    const mixed = bases.includes('float') && bases.some((base) => base === 'int' || base === 'uint');
    return callBuiltIn(b, e.callee, mixed ? args.map((arg) => promote(arg, 'float')) : args, e);
  };

  const callFunction = (e: Call, user: FunctionSource, state: State, scope: ScopeChain): CodeValue => {
    if (e.args.length !== user.parameters.length)
      return fail(e, `${user.name} takes ${user.parameters.length} arguments, not ${e.args.length}.`);
    const values = user.parameters.map((parameter, i) => {
      const type = typeNamed(parameter.type, parameter.isArray);
      return parameter.way === 'out'
        ? zeroOf(b, type)
        : coerce(evaluate(e.args[i]!, state, scope), type, e.args[i]!, `${user.name}’s ${parameter.name}`);
    });
    if (user.parameters.every((each) => each.way === 'in')) {
      const whole = around.callWhole(b, user.name, values);
      if (whole) return whole;
    }
    const { returned, broken, continued, result, returns } = state;
    Object.assign(state, {
      returned: false,
      broken: false,
      continued: false,
      result: null,
      returns: user.returns,
    });
    const inner = new Map<string, Variable>();
    user.parameters.forEach((parameter, i) => declare(state, [inner], parameter.name, values[i]!, false));
    runAll(user.body, state, [inner, new Map()]);
    const made = state.result;
    Object.assign(state, { returned, broken, continued, result, returns });
    user.parameters.forEach((parameter, i) => {
      if (parameter.way !== 'in')
        assign(e.args[i]!, state.values.get(inner.get(parameter.name)!.key)!, state, scope);
    });
    if (user.returns.name === 'void') return zeroOf(b, 'float');
    return made ?? zeroOf(b, typeNamed(user.returns, false));
  };

  // ---- statements

  const runAll = (statements: readonly Statement[], state: State, scope: ScopeChain): void => {
    for (let i = 0; i < statements.length; i += 1) {
      const stopped = or(or(state.returned, state.broken), state.continued);
      if (stopped === true) return;
      if (stopped !== false) return runRest(statements.slice(i), state, scope, stopped);
      run(statements[i]!, state, scope);
    }
  };
  /** Runs on where the flow may already have left: what follows counts only where it has not. */
  const runRest = (rest: readonly Statement[], state: State, scope: ScopeChain, stopped: Value): void =>
    onlyWhere(state, stopped, (then) => runAll(rest, then, scope));
  const onlyWhere = (state: State, stopped: Value, work: (then: State) => void): void => {
    const before = copyOf(state);
    const then: State = { ...copyOf(state), returned: false, broken: false, continued: false };
    work(then);
    const after: State = {
      ...then,
      returned: or(before.returned, andNot(then.returned, stopped)),
      broken: or(before.broken, andNot(then.broken, stopped)),
      continued: or(before.continued, andNot(then.continued, stopped)),
    };
    const flags = { returned: after.returned, broken: after.broken, continued: after.continued };
    merge(state, stopped, before, then);
    Object.assign(state, flags);
  };

  const run = (statement: Statement, state: State, scope: ScopeChain): void => {
    switch (statement.kind) {
      case 'empty':
        return;
      case 'declaration':
        for (const each of statement.names) {
          const type = typeNamed(statement.type, each.isArray);
          const value = each.value
            ? coerce(evaluate(each.value, state, scope), type, each.value, each.name)
            : zeroOf(b, type);
          declare(state, scope, each.name, value, statement.isConst);
        }
        return;
      case 'expression':
        evaluate(statement.expression, state, scope);
        return;
      case 'block':
        return runAll(statement.body, state, [...scope, new Map()]);
      case 'return': {
        const { name } = state.returns;
        if (statement.value && name === 'void')
          fail(statement, 'A function of type void gives nothing back.');
        if (statement.value)
          state.result = coerce(
            evaluate(statement.value, state, scope),
            typeNamed(state.returns, false),
            statement.value,
            'What the function gives back',
          );
        else if (name !== 'void') fail(statement, `Here a ${name} should be given back.`);
        state.returned = true;
        return;
      }
      case 'break':
        state.broken = true;
        return;
      case 'continue':
        state.continued = true;
        return;
      case 'discard':
        return opaque(statement, 'it discards pixels');
      case 'switch':
        return opaque(statement, 'it uses switch');
      case 'if': {
        const flag = flagOf(
          coerce(evaluate(statement.condition, state, scope), 'bool', statement.condition, 'A condition')
            .parts[0]!,
        );
        const inner = () => [...scope, new Map<string, Variable>()];
        if (flag === true) return runAll([statement.yes], state, inner());
        if (flag === false) return statement.no ? runAll([statement.no], state, inner()) : undefined;
        const [yes, no] = [copyOf(state), copyOf(state)];
        runAll([statement.yes], yes, inner());
        if (statement.no) runAll([statement.no], no, inner());
        return merge(state, flag, yes, no);
      }
      case 'loop':
        return loop(statement, state, [...scope, new Map()]);
    }
  };

  const loop = (statement: Extract<Statement, { kind: 'loop' }>, state: State, scope: ScopeChain): void => {
    if (fold(statement, state, scope)) return;
    if (statement.init) run(statement.init, state, scope);
    /** Rounds after one that may have left the loop; each is merged back when the last is done. */
    const maybe: { readonly outer: State; readonly before: State; readonly stopped: Value }[] = [];
    let now = state;
    const goesOn = (): boolean => {
      if (!statement.condition) return true;
      const flag = flagOf(
        coerce(evaluate(statement.condition, now, scope), 'bool', statement.condition, 'A condition')
          .parts[0]!,
      );
      if (typeof flag !== 'boolean')
        return opaque(statement.condition, 'how often a loop goes round depends on what it works on');
      return flag;
    };
    for (let round = 0; ; round += 1) {
      if (round > MOST_ROUNDS)
        fail(
          statement,
          `This loop goes round more than ${MOST_ROUNDS} times; a shader would never come to its end.`,
        );
      if (!(statement.bodyFirst && round === 0) && !goesOn()) break;
      runAll([statement.body], now, [...scope, new Map()]);
      now.continued = false;
      const left = or(now.returned, now.broken);
      if (left === true) break;
      if (left !== false) {
        const inner: State = { ...copyOf(now), returned: false, broken: false };
        maybe.push({ outer: now, before: copyOf(now), stopped: left });
        now = inner;
      }
      if (statement.step) evaluate(statement.step, now, scope);
    }
    for (const { outer, before, stopped } of maybe.reverse()) {
      const then = now;
      const returned = or(before.returned, andNot(then.returned, stopped));
      merge(outer, stopped, before, then);
      outer.returned = returned;
      outer.broken = or(before.broken, andNot(then.broken, stopped));
      outer.continued = false;
      now = outer;
    }
    state.broken = false;
  };

  /**
   * A loop that only folds, for (int i = 0; i < n; ++i) x = f(i, x, …), stays a loop, however often it goes round.
   * @returns false where the loop is of another kind
   */
  const fold = (
    { init, condition, step: counted, body, bodyFirst }: Extract<Statement, { kind: 'loop' }>,
    state: State,
    scope: ScopeChain,
  ): boolean => {
    const counter = init?.kind === 'declaration' && init.names.length === 1 ? init.names[0]! : null;
    const only = body.kind === 'block' && body.body.length === 1 ? body.body[0]! : body;
    const put = only.kind === 'expression' && only.expression.kind === 'assignment' ? only.expression : null;
    if (bodyFirst || !counter || counter.value?.kind !== 'literal' || counter.value.value !== 0) return false;
    if (condition?.kind !== 'binary' || condition.sign !== '<' || !counted || !put || put.sign !== '=')
      return false;
    const isCounter = (e: Expression | undefined) => e?.kind === 'name' && e.name === counter.name;
    if (!isCounter(condition.left) || !hasEffects(counted) || !isCounter(childrenOf(counted)[0]))
      return false;
    const { target, value } = put;
    if (target.kind !== 'name' || value.kind !== 'call' || !around.functionOf(value.callee)) return false;
    const [first, second, ...rest] = value.args;
    const reads = (e: Expression): boolean =>
      (e.kind === 'name' && (e.name === counter.name || e.name === target.name)) || childrenOf(e).some(reads);
    if (!isCounter(first) || second?.kind !== 'name' || second.name !== target.name) return false;
    if (rest.some((each) => reads(each) || hasEffects(each)) || reads(condition.right)) return false;
    const count = evaluate(condition.right, state, scope);
    if (count.type !== 'int') return false;
    const args = [evaluate(target, state, scope), ...rest.map((each) => evaluate(each, state, scope))];
    const made = around.foldWhole(b, value.callee, count.parts[0]!, args);
    if (!made) return false;
    assign(target, made, state, scope);
    return true;
  };

  const state: State = {
    ...{ values: new Map(), returned: false, broken: false, continued: false, result: null },
    returns: source.returns,
  };
  const scope = new Map<string, Variable>();
  source.parameters.forEach((parameter, i) => declare(state, [scope], parameter.name, args[i]!, false));
  runAll(source.body, state, [scope, new Map()]);
  const type = source.returns.name;
  if (!state.result)
    return fail(source.nameAt, `${source.name} gives nothing back; it should return a ${type}.`);
  if (!programType(type)) return opaque(source.returns, `it gives back a ${type}`);
  return state.result;
};
