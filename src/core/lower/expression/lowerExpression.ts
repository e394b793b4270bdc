import { TypeMistake, type Builder } from '../../program/builder.ts';
import { floatType } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';
import { fail, type Span } from '../../language/mistake.ts';
import type {
  Assignment,
  Binary,
  Call,
  Conditional,
  Expression,
  Member,
  Name,
  Postfix,
  Sequence,
  Unary,
} from '../../language/syntax.ts';
import { readIndex, readMember } from './access.ts';
import { choose, one, shape, spelled, type GlslValue } from './glslValue.ts';
import { coerce, unify } from './conversions.ts';
import { compare, infix } from './infix.ts';

/** What changes a variable, or is worked out only for what it changes. */
export type Changing = Assignment | Postfix | (Unary & { readonly sign: '++' | '--' }) | Sequence;

/** What stands around an expression: what its names and calls mean, and what it may change. */
export interface Around {
  readonly b: Builder;
  readonly name: (e: Name) => GlslValue;
  /** A member of a name that has no value itself: `grain.seed`. */
  readonly member: (e: Member) => GlslValue | null;
  readonly call: (e: Call, lower: (e: Expression) => GlslValue) => GlslValue;
  readonly change: (e: Changing) => GlslValue;
  /** Works out two ways of which one is taken where `condition` holds, with all that each changes. */
  readonly branch: <T>(
    condition: Value,
    ways: readonly [yes: Expression | null, no: Expression | null],
    each: (way: Expression, lower: (e: Expression) => GlslValue) => T,
  ) => readonly [T | null, T | null];
  /**
   * True where a number may stand for a vector of equal numbers, as in a field of the score; in code it may only where
   * GLSL lets it.
   */
  readonly spreads: boolean;
  /** Sees every value made, and where. */
  readonly note?: (at: Span) => void;
}

/**
 * What an expression comes to: the one meaning of GLSL's expressions, for arguments and for code.
 * @throws SourceError at the part that has no meaning
 */
export const lowerExpression = (around: Around, expression: Expression): GlslValue => {
  const { b } = around;
  const lower = (e: Expression): GlslValue => {
    try {
      const value = lowerOne(e);
      around.note?.(e);
      return value;
    } catch (error) {
      if (error instanceof TypeMistake) return fail(e, `${error.message}.`);
      throw error;
    }
  };

  const lowerOne = (e: Expression): GlslValue => {
    switch (e.kind) {
      case 'literal':
        return one(b.constant(e.type, [e.type === 'int' ? e.value | 0 : e.value]));
      case 'name':
        return around.name(e);
      case 'member':
        return around.member(e) ?? readMember(b, lower(e.object), e, around.spreads);
      case 'index':
        return readIndex(b, lower(e.object), lower(e.index), e);
      case 'call':
        return around.call(e, lower);
      case 'conditional':
        return conditional(e);
      case 'unary':
        return e.sign === '++' || e.sign === '--' ? around.change(e as Changing) : unary(e);
      case 'binary':
        return binary(e);
      case 'assignment':
      case 'postfix':
      case 'sequence':
        return around.change(e);
    }
  };

  const flag = (value: GlslValue, at: Expression, what: string): Value =>
    coerce(b, value, 'bool', at, what).parts[0]!;

  const conditional = (e: Conditional): GlslValue => {
    const condition = flag(lower(e.condition), e.condition, 'A condition');
    const both = around.branch(condition, [e.yes, e.no], (way, inside) => inside(way));
    const [yes, no] = sameSize(...unify(b, both[0]!, both[1]!));
    if (yes.type !== no.type)
      fail(
        e,
        `One choice is a ${spelled(yes.type)}, the other a ${spelled(no.type)}; both must be of one type.`,
      );
    return choose(b, condition, yes, no);
  };

  /** Where numbers spread, one beside a vector is that vector of it. */
  const sameSize = (x: GlslValue, y: GlslValue): [GlslValue, GlslValue] => {
    const size = Math.max(shape(x).size, shape(y).size);
    const wide = (value: GlslValue, other: GlslValue): GlslValue =>
      around.spreads && value.type === 'float' && shape(other).form === 'vector'
        ? one(b.construct(floatType(size), value.parts[0]!))
        : value;
    return [wide(x, y), wide(y, x)];
  };

  const unary = (e: Unary): GlslValue => {
    const x = lower(e.operand);
    if (e.sign === '!') return one(b.not(flag(x, e.operand, 'What ! turns')));
    if (['bool', 'none', 'sampler2D'].includes(shape(x).base))
      return fail(
        e.operand,
        `A ${spelled(x.type)} has no sign${x.type === 'bool' ? '; write float(…) around it' : ''}.`,
      );
    if (e.sign === '+') return x;
    return { type: x.type, parts: x.parts.map((part) => (e.sign === '~' ? b.bitNot(part) : b.negate(part))) };
  };

  const binary = (e: Binary): GlslValue => {
    const left = lower(e.left);
    if (e.sign === '&&' || e.sign === '||' || e.sign === '^^') {
      const x = flag(left, e.left, `Left of ${e.sign}`);
      const side = (way: Expression, inside: (e: Expression) => GlslValue) =>
        flag(inside(way), way, `Right of ${e.sign}`);
      // The right of && and || is worked out only where the left leaves it open.
      const y =
        e.sign === '^^'
          ? side(e.right, lower)
          : e.sign === '&&'
            ? around.branch(x, [e.right, null], side)[0]!
            : around.branch(x, [null, e.right], side)[1]!;
      return one(e.sign === '&&' ? b.and(x, y) : e.sign === '||' ? b.or(x, y) : b.xor(x, y));
    }
    const right = lower(e.right);
    return ['<', '>', '<=', '>=', '==', '!='].includes(e.sign)
      ? compare(b, e, left, right)
      : infix(b, e.sign, left, right, e);
  };

  return lower(expression);
};
