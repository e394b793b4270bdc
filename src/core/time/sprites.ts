import type { Sprites } from '../document/flourishes.ts';
import { curveAt } from '../numbers/curve.ts';
import { chanceOf, hashOf } from '../numbers/chance.ts';
import { cross, plus, times, tripleAt, unit, type Triple } from '../numbers/vectors.ts';

/** Numbers kept of each sprite: when it began, where, how fast, and its seed. In seconds and metres, in the world. */
export const BIRTH = 8;
/** Seeds are small enough to come through an interpolation unharmed. */
const SEEDS = 65536;

/** A way within a cone about another, even over its part of the sphere. */
const within = (way: Triple, degrees: number, [a, b]: readonly [number, number]): Triple => {
  const forward = unit(way);
  const side = unit(cross(Math.abs(forward[1]) < 0.99 ? [0, 1, 0] : [1, 0, 0], forward));
  const up = cross(forward, side);
  const cosine = 1 - a * (1 - Math.cos((degrees * Math.PI) / 180));
  const sine = Math.sqrt(Math.max(0, 1 - cosine * cosine));
  const turn = b * 2 * Math.PI;
  return plus(plus(times(forward, cosine), side, sine * Math.cos(turn)), times(up, sine * Math.sin(turn)));
};

/** How many have begun by an age of their layer, in seconds. */
export const bornBy = ({ count, rate }: Sprites, age: number, life: number): number =>
  rate === undefined ? count : Math.floor(Math.min(age, life) * rate + 1e-9) + 1;

/** A sprite that begins: the one of that number, from a place that moves. @param axes turns its way into the world */
export const birth = (
  sprites: Sprites,
  number: number,
  at: {
    readonly seed: number;
    readonly born: number;
    readonly place: Triple;
    readonly motion: Triple;
    readonly turned: (way: Triple) => Triple;
  },
): readonly number[] => {
  const { speed, spread, way, inherits } = sprites;
  const chance = (what: number): number => chanceOf(at.seed, number, what);
  const pace = speed[0] + (speed[1] - speed[0]) * chance(1);
  const velocity = plus(
    times(within(at.turned(way), spread, [chance(2), chance(3)]), pace),
    at.motion,
    inherits,
  );
  return [at.born, ...at.place, ...velocity, hashOf(at.seed, number, 4) % SEEDS];
};

/**
 * Where a sprite is at an age, under gravity and a drag in proportion to its speed:
 * v′ = g − k·v, so p = p₀ + (g/k)·t + (v₀ − g/k)·(1 − e^(−k·t))/k, and p₀ + v₀·t + g·t²/2 without drag.
 */
export const spriteAt = (
  { gravity, drag }: Sprites,
  born: ArrayLike<number>,
  at: number,
  age: number,
): Triple => {
  const [place, velocity] = [tripleAt(born, at + 1), tripleAt(born, at + 4)];
  const pull: Triple = [0, -gravity, 0];
  if (drag < 1e-6) return plus(plus(place, velocity, age), pull, (age * age) / 2);
  const goes = times(pull, 1 / drag);
  return plus(plus(place, goes, age), plus(velocity, goes, -1), (1 - Math.exp(-drag * age)) / drag);
};

/** Sprites as they are drawn: where, how large, and what their shader reads of each. */
export interface DrawnSprites {
  readonly points: readonly Triple[];
  readonly sizes: readonly number[];
  readonly ages: readonly number[];
  readonly orders: readonly number[];
  readonly seeds: readonly number[];
}

/** How large a sprite is: by its share of its own life, and by its place among them. */
export const sizeOf = (sprites: Sprites, share: number, order: number): number =>
  sprites.size *
  (sprites.sizes ? curveAt(sprites.sizes, share) : 1) *
  (sprites.byOrder ? curveAt(sprites.byOrder, order) : 1);

/** Those that live at an age of their layer. @param size what the layer's own size makes of them */
export const spritesNow = (
  sprites: Sprites,
  births: ArrayLike<number>,
  age: number,
  size: number,
): DrawnSprites => {
  const made = {
    points: [] as Triple[],
    sizes: [] as number[],
    ages: [] as number[],
    orders: [] as number[],
    seeds: [] as number[],
  };
  const most = births.length / BIRTH;
  for (let i = 0; i < most; i += 1) {
    const at = i * BIRTH;
    const own = age - births[at]!;
    if (own < 0 || own >= sprites.lasts) continue;
    const order = most > 1 ? i / (most - 1) : 0;
    made.points.push(spriteAt(sprites, births, at, own));
    made.sizes.push(sizeOf(sprites, own / sprites.lasts, order) * size);
    made.ages.push(own);
    made.orders.push(order);
    made.seeds.push(births[at + 7]!);
  }
  return made;
};
