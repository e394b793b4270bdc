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
  type CodeValue,
} from './codeValue.ts';
import { coerce } from './conversions.ts';

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
/** Which of a structure's fields a name is. */
const fieldOf = (source: CodeValue, e: Member): number => {
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
export const readMember = (b: Builder, source: CodeValue, e: Member): CodeValue => {
  const { base, form, size } = shape(source);
  if (form === 'structure') return memberOf(source, fieldOf(source, e));
  if (form !== 'vector' && form !== 'wholes')
    return fail(e.memberAt, `A ${spelled(source.type)} has no components.`);
  const picks = picksOf(size, e);
  if (form === 'vector') return one(b.swizzle(source.parts[0]!, picks.map((pick) => 'xyzw'[pick]).join('')));
  return { type: vectorType(base, picks.length), parts: picks.map((pick) => source.parts[pick]!) };
};
/**
 * The element that is known beforehand, or null. One past the ends is a mistake only where it is written as a number:
 * in a loop that is written out it may stand behind a guard. Then it is beyond, which reads the last and changes none.
 */
const constantIndex = (index: CodeValue, size: number, at: Expression): number | null => {
  const [value] = index.parts;
  if (index.type !== 'int' && index.type !== 'uint') return fail(at, 'What stands in [ ] is a whole number.');
  if (value!.op !== 'constant') return null;
  const at0 = (value!.payload as readonly number[])[0]!;
  if (at0 >= 0 && at0 < size) return at0;
  const written = at.kind === 'literal' || (at.kind === 'unary' && at.operand.kind === 'literal');
  if (written) return fail(at, `There is no [${at0}] here; they run from 0 to ${size - 1}.`);
  return BEYOND;
};
const BEYOND = -1;
const elementsOf = (b: Builder, source: CodeValue, at: Span): CodeValue[] => {
  const { form } = shape(source);
  if (form === 'array') return shape(source).members!.map((_, i) => memberOf(source, i));
  if (form === 'matrix') return source.parts.map((part) => one(part));
  if (form === 'vector' || form === 'wholes') return componentsOf(b, source).map((part) => one(part));
  return fail(at, `A ${spelled(source.type)} has nothing to choose by [ ].`);
};
export const readIndex = (b: Builder, source: CodeValue, index: CodeValue, e: Index): CodeValue => {
  const elements = elementsOf(b, source, e.object);
  const fixed = constantIndex(index, elements.length, e.index);
  if (fixed !== null) return elements[fixed] ?? elements.at(-1)!;
  const at = index.parts[0]!;
  if (elements[0]!.type === 'sampler2D')
    return fail(e.index, 'Which of the textures is read has to be known beforehand.');
  const number = (i: number) => b.constant(at.type, [i]);
  return elements.reduceRight((rest, each, i) => choose(b, b.equal(at, number(i)), each, rest));
};

/** The whole that a change of some components makes: v.xy = value. */
export const putMember = (b: Builder, before: CodeValue, value: CodeValue, target: Member): CodeValue => {
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
  const picks = picksOf(size, target);
  const fitted = coerce(b, value, vectorType(base, picks.length), target, 'What is put here');
  const given = componentsOf(b, fitted);
  const all = componentsOf(b, before);
  picks.forEach((pick, i) => (all[pick] = given[i]!));
  return fromComponents(b, before.type, all);
};

/** The whole that a change of one element makes: v[i] = value. */
export const putIndex = (
  b: Builder,
  before: CodeValue,
  index: CodeValue,
  value: CodeValue,
  target: Index,
): CodeValue => {
  const elements = elementsOf(b, before, target.object);
  const fixed = constantIndex(index, elements.length, target.index);
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
