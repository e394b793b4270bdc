import type { Builder } from '../../program/builder.ts';
import { fail, type Span } from '../../language/mistake.ts';
import { nearestName } from '../../language/nearest.ts';
import type { Expression, Index, Member } from '../../language/syntax.ts';
import {
  choose,
  componentsOf,
  fromComponents,
  memberOf,
  one,
  shape,
  spelled,
  vectorType,
  withMember,
  type GlslValue,
} from './glslValue.ts';
import { coerce } from './conversions.ts';

/** Which components letters name. */
const picksOf = (type: string, size: number, e: Member): number[] => {
  const set = ['xyzw', 'rgba', 'stpq'].find((letters) =>
    [...e.member].every((each) => letters.includes(each)),
  );
  if (!set || e.member.length > 4)
    return fail(e.memberAt, `“.${e.member}” is not a component; use up to four of xyzw, rgba or stpq.`);
  const picks = [...e.member].map((letter) => set.indexOf(letter));
  const beyond = picks.find((pick) => pick >= size);
  if (beyond !== undefined)
    return fail(
      e.memberAt,
      `A ${type} has no .${set[beyond]!}; it has ${[...set.slice(0, size)].map((letter) => `.${letter}`).join(', ')}.`,
    );
  return picks;
};
/** Which of a structure's fields a name is. */
const fieldOf = (source: GlslValue, e: Member): number => {
  const members = shape(source).members!;
  const found = members.findIndex((each) => each.name === e.member);
  if (found >= 0) return found;
  const near = nearestName(
    e.member,
    members.map((each) => each.name),
  );
  return fail(
    e.memberAt,
    `${spelled(source.type)} has no field ${e.member}.${near ? ` Did you mean ${near}?` : ''}`,
    near ? { label: `change to ${near}`, text: near } : undefined,
  );
};
/** @param spreads true where a float counts as a vector of one */
export const readMember = (b: Builder, source: GlslValue, e: Member, spreads = false): GlslValue => {
  const { base, form, size } = shape(source);
  if (form === 'structure') return memberOf(source, fieldOf(source, e));
  if (spreads && source.type === 'float') {
    return one(b.swizzle(source.parts[0]!, 'x'.repeat(picksOf(source.type, size, e).length)));
  }
  if (form !== 'vector' && form !== 'wholes')
    return fail(e.memberAt, `A ${spelled(source.type)} has no components.`);
  const picks = picksOf(source.type, size, e);
  if (form === 'vector') return one(b.swizzle(source.parts[0]!, picks.map((pick) => 'xyzw'[pick]).join('')));
  return { type: vectorType(base, picks.length), parts: picks.map((pick) => source.parts[pick]!) };
};
/**
 * The element that is known beforehand, or null. One past the ends is a mistake only where it is written as a number:
 * in a loop that is written out it may stand behind a guard. Then it is beyond, which reads the last and changes none.
 */
const constantIndex = (source: GlslValue, index: GlslValue, size: number, at: Expression): number | null => {
  const [value] = index.parts;
  if (index.type !== 'int' && index.type !== 'uint') return fail(at, 'What stands in [ ] is a whole number.');
  if (value!.op !== 'constant') return null;
  const at0 = (value!.payload as readonly number[])[0]!;
  if (at0 >= 0 && at0 < size) return at0;
  const written = at.kind === 'literal' || (at.kind === 'unary' && at.operand.kind === 'literal');
  if (written)
    return fail(
      at,
      `${article(spelled(source.type))} has ${shape(source).form === 'array' ? 'elements' : 'components'} 0 to ${size - 1}; there is no ${at0}.`,
    );
  return BEYOND;
};
const article = (type: string): string => `${/^[aeiou]/.test(type) ? 'An' : 'A'} ${type}`;
const BEYOND = -1;
const elementsOf = (b: Builder, source: GlslValue, at: Span): GlslValue[] => {
  const { form } = shape(source);
  if (form === 'array') return shape(source).members!.map((_, i) => memberOf(source, i));
  if (form === 'matrix') return source.parts.map((part) => one(part));
  if (form === 'vector' || form === 'wholes') return componentsOf(b, source).map((part) => one(part));
  return fail(at, `A ${spelled(source.type)} has nothing to choose by [ ].`);
};
export const readIndex = (b: Builder, source: GlslValue, index: GlslValue, e: Index): GlslValue => {
  const elements = elementsOf(b, source, e.object);
  const fixed = constantIndex(source, index, elements.length, e.index);
  if (fixed !== null) return elements[fixed] ?? elements.at(-1)!;
  const at = index.parts[0]!;
  if (elements[0]!.type === 'sampler2D')
    return fail(e.index, 'Which of the textures is read has to be known beforehand.');
  const number = (i: number) => b.constant(at.type, [i]);
  return elements.reduceRight((rest, each, i) => choose(b, b.equal(at, number(i)), each, rest));
};

/** The whole that a change of some components makes: v.xy = value. */
export const putMember = (b: Builder, before: GlslValue, value: GlslValue, target: Member): GlslValue => {
  const { size, form, base } = shape(before);
  if (form === 'structure') {
    const field = fieldOf(before, target);
    return withMember(
      before,
      field,
      coerce(b, value, memberOf(before, field).type, target, 'What is put here'),
    );
  }
  if (form !== 'vector' && form !== 'wholes')
    return fail(target.memberAt, `A ${spelled(before.type)} has no components.`);
  const picks = picksOf(before.type, size, target);
  const fitted = coerce(b, value, vectorType(base, picks.length), target, 'What is put here');
  const given = componentsOf(b, fitted);
  const all = componentsOf(b, before);
  picks.forEach((pick, i) => (all[pick] = given[i]!));
  return fromComponents(b, before.type, all);
};

/** The whole that a change of one element makes: v[i] = value. */
export const putIndex = (
  b: Builder,
  before: GlslValue,
  index: GlslValue,
  value: GlslValue,
  target: Index,
): GlslValue => {
  const elements = elementsOf(b, before, target.object);
  const fixed = constantIndex(before, index, elements.length, target.index);
  const fitted = coerce(b, value, elements[0]!.type, target, 'What is put here');
  const at = index.parts[0]!;
  const changed = elements.map((each, i) =>
    fixed !== null
      ? i === fixed
        ? fitted
        : each
      : choose(b, b.equal(at, b.constant(at.type, [i])), fitted, each),
  );
  const parts = changed.flatMap((each) => each.parts);
  return ['matrix', 'array'].includes(shape(before).form)
    ? { type: before.type, parts }
    : fromComponents(b, before.type, parts);
};
