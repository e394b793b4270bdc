import { MOST_ELEMENTS } from '../../language/glsl/limits.ts';
import { fail } from '../../language/mistake.ts';
import type { Call } from '../../language/syntax.ts';
import {
  arrayType,
  partCount,
  shapeOf,
  spelled,
  structureType,
  type GlslValue,
} from '../expression/glslValue.ts';
import { coerce } from '../expression/conversions.ts';
import type { State } from './flow.ts';
import { opaque } from '../expression/opaque.ts';
import type { Runner, ScopeChain } from './runner.ts';
import type { Brackets, TypeName } from '../../language/glsl/syntax.ts';

/** Values of the program that one array or structure may be. */
const MOST_VALUES = 256;

const plainType = (runner: Runner, type: TypeName, state: State, scope: ScopeChain): string => {
  if (type.name === 'void') fail(type, 'Nothing can be of type void.');
  const structure = runner.around.structure(type.name);
  if (!structure) {
    if (!shapeOf(type.name)) opaque(type, `the program has no ${type.name}`);
    return type.name.replace(/^mat(\d)x\1$/, 'mat$1');
  }
  const fields = structure.fields.map(
    (each) => [each.name, namedType(runner, each.type, each.brackets, state, scope)] as const,
  );
  if (fields.some(([, of]) => of.includes('sampler2D')))
    opaque(structure, 'it keeps a texture in a structure');
  if (fields.reduce((sum, [, of]) => sum + partCount(of), 0) > MOST_VALUES)
    opaque(structure, `the structure ${structure.name} is too large to be written out`);
  return structureType(structure.name, fields);
};

/** The type of an array, refused where it is too long to be written out. */
const arrayOf = (element: string, length: number, at: Brackets['length'] & object): string => {
  if (length > MOST_ELEMENTS)
    fail(
      at,
      `An array of ${length} elements is too long for a shader; at most ${MOST_ELEMENTS} are allowed.`,
    );
  if (length * partCount(element) > MOST_VALUES)
    opaque(at, `an array of ${length} ${spelled(element)} is too long to be written out`);
  return arrayType(element, length);
};

/**
 * A type as written, with the brackets beside it or beside the name that it declares.
 * @param open true where brackets may be empty, for a value tells how many there are
 */
export const namedType = (
  runner: Runner,
  type: TypeName,
  onName: Brackets | null,
  state: State,
  scope: ScopeChain,
  open = false,
): string => {
  const plain = plainType(runner, type, state, scope);
  const brackets = onName ?? type.brackets;
  if (!brackets) return plain;
  if (!brackets.length)
    return open
      ? `${plain}[]`
      : fail(type, `How long this array is has to stand in its brackets: ${type.name}[4].`);
  const [length] = runner.evaluate(brackets.length, state, scope).parts;
  if (length!.op !== 'constant' || (length!.type !== 'int' && length!.type !== 'uint'))
    return fail(brackets.length, 'How long an array is has to be a whole number that never changes.');
  const [count] = length!.payload as readonly [number];
  if (count < 1) return fail(brackets.length, `An array has 1 element or more, not ${count}.`);
  return arrayOf(plain, count, brackets.length);
};

/** float[](a, b), Ray[2](…). */
export const constructArray = (runner: Runner, e: Call, state: State, scope: ScopeChain): GlslValue => {
  const { b, evaluate } = runner;
  if (!e.args.length) return fail(e, 'An array needs at least one element between its brackets.');
  const name = e.callee.slice(0, -2);
  const element = plainType(runner, { ...e.calleeAt, name, brackets: null }, state, scope);
  const type = arrayOf(element, e.args.length, e);
  const elements = e.args.map((arg) =>
    coerce(b, evaluate(arg, state, scope), element, arg, `An element of ${name}[]`),
  );
  return { type, parts: elements.flatMap((each) => each.parts) };
};

/** Ray(a, b): a structure of its fields, in their order. */
export const constructStructure = (runner: Runner, e: Call, state: State, scope: ScopeChain): GlslValue => {
  const { b, evaluate } = runner;
  const type = plainType(runner, { ...e.calleeAt, name: e.callee, brackets: null }, state, scope);
  const { members = [] } = shapeOf(type)!;
  if (e.args.length !== members.length)
    return fail(e, `${e.callee} has ${members.length} fields and was given ${e.args.length}.`);
  const fields = members.map((each, i) =>
    coerce(b, evaluate(e.args[i]!, state, scope), each.type, e.args[i]!, `${e.callee}’s ${each.name}`),
  );
  return { type, parts: fields.flatMap((each) => each.parts) };
};
