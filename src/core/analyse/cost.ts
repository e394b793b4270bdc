import { READS_TEXTURE } from '../program/primitives.ts';
import { reachable, type ProgramFunction, type Value } from '../program/value.ts';

/** What work comes to on a graphics card: arithmetic, in units of one addition, and reads of textures. */
export interface Cost {
  readonly arithmetic: number;
  readonly textures: number;
}

/**
 * What an operation takes for each component, in additions: roughly what full-rate, quarter-rate and emulated
 * instructions take on the graphics cards of phones.
 */
const WEIGHTS: Readonly<Partial<Record<Value['op'], number>>> = {
  ...{ constant: 0, knob: 0, parameter: 0, input: 0, argument: 0, swizzle: 0, construct: 0, texture: 0 },
  ...{ divide: 4, mod: 6, sqrt: 4, inversesqrt: 4, normalize: 3, length: 6, distance: 7 },
  ...{
    sin: 4,
    cos: 4,
    tan: 9,
    asin: 12,
    acos: 12,
    atan: 12,
    atan2: 16,
    pow: 9,
    exp: 5,
    log: 5,
    exp2: 4,
    log2: 4,
  },
  ...{ textureWidth: 1, textureHeight: 1, bitcast: 0 },
  ...{ packHalf2x16: 4, packSnorm2x16: 4, packUnorm2x16: 4 },
  ...{ unpackHalf2x16: 4, unpackSnorm2x16: 4, unpackUnorm2x16: 4 },
  ...{ smoothstep: 8, mix: 2, clamp: 2, step: 1, cross: 6, reflect: 6, quotient: 16, remainder: 18 },
};

const sizeOf = (value: Value): number => ({ vec2: 2, vec3: 3, vec4: 4, mat3: 9 })[value.type as string] ?? 1;

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
    } else if (READS_TEXTURE.has(value.op)) textures += 1;
    else if (value.op === 'dot') arithmetic += 2 * sizeOf(value.inputs[0]!) - 1;
    else arithmetic += (WEIGHTS[value.op] ?? 1) * sizeOf(value);
  }
  return { arithmetic, textures };
};
