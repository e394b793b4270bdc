import { primitiveOf, readsTexture } from '../program/primitives.ts';
import { reachable, type ProgramFunction, type Value } from '../program/value.ts';

/** What work comes to on a graphics card: arithmetic, in units of one addition, and reads of textures. */
export interface Cost {
  readonly arithmetic: number;
  readonly textures: number;
}

const sizeOf = (value: Value): number => ({ vec2: 2, vec3: 3, vec4: 4, mat3: 9 })[value.type as string] ?? 1;

/** Leaves cost nothing. */
const arithmeticOf = (value: Value): number => {
  const cost = primitiveOf(value.op)?.cost ?? 0;
  return typeof cost === 'number' ? cost * sizeOf(value) : cost(sizeOf(value.inputs[0]!));
};

const functionCosts = new WeakMap<ProgramFunction, Cost>();
const functionCost = (fn: ProgramFunction): Cost => {
  const known = functionCosts.get(fn);
  if (known) return known;
  const made = fn.opaque
    ? { arithmetic: fn.opaque.source.length / 8, textures: 0 }
    : costOfValues(reachable([fn.result]));
  functionCosts.set(fn, made);
  return made;
};

/** A loop whose count is not known is taken to go round this often. */
const ROUNDS = 8;
const roundsOf = (value: Value): number => {
  const [count] = value.inputs;
  return count!.op === 'constant' ? (count!.payload as readonly number[])[0]! : ROUNDS;
};

/** The cost of computing values once, each of them once. */
export const costOfValues = (values: readonly Value[]): Cost => {
  let arithmetic = 0;
  let textures = 0;
  for (const value of values) {
    if (value.fn) {
      const once = functionCost(value.fn);
      const times = value.op === 'iterate' ? roundsOf(value) : 1;
      arithmetic += once.arithmetic * times;
      textures += once.textures * times;
    } else if (readsTexture(value.op)) textures += 1;
    else arithmetic += arithmeticOf(value);
  }
  return { arithmetic, textures };
};
