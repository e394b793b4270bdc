import {
  flourishLength,
  layerLength,
  MOST_PLAYS,
  type Flourish,
  type FlourishLayer,
  type RibbonEnd,
} from '../document/flourishes.ts';
import { worldOf } from '../document/parents.ts';
import { parameterSize, type Parameter } from '../document/shader.ts';
import { curveAt } from '../numbers/curve.ts';
import { hashOf } from '../numbers/chance.ts';
import { after, affineOf, pointBy, wayBy, type Affine } from '../numbers/placement.ts';
import { cross, minus, times, tripleAt, unit, type Triple } from '../numbers/vectors.ts';
import { swayOf, TRACE } from './ribbons.ts';
import type { ParametersOf } from './slots.ts';
import { birth, BIRTH, bornBy } from './sprites.ts';
import { TICKS_PER_SECOND } from './tick.ts';
import type { World } from './world.ts';

/** Where a script or the author wants a flourish, in the world. */
export interface FlourishPlace {
  readonly point: Triple;
  /** What its y points along; upright where it is not told. */
  readonly up?: Triple;
}

/** A layer as it stands in a tick: all that drawing it takes besides its document. */
export interface LayerNow {
  /** The layer's id. */
  readonly layer: string;
  /** Which of the plays at the same time it is of. */
  readonly slot: number;
  /** Seconds. */
  readonly age: number;
  readonly seed: number;
  /** Its place in the world, twelve numbers, with its spin and size. */
  readonly place: Affine;
  /** Of sprites, how each began; of a ribbon, its ends or what was left behind. The same list where nothing changed. */
  readonly shape: readonly number[];
  /** What its lifetime parameters stand at, by name. */
  readonly values: ReadonlyMap<string, readonly number[]>;
}

interface LayerPlay {
  /** How many sprites have begun. */
  born: number;
  shape: readonly number[];
  /** Where its place was a tick ago. */
  before: Triple | null;
}

interface Play {
  readonly flourish: Flourish;
  readonly slot: number;
  /** Ticks since it began, and since it began anew. */
  whole: number;
  at: number;
  /** It was not seen yet: its first tick is still to come. */
  fresh: boolean;
  /** Where it stays; null until that is known, and where it follows. */
  fixed: Affine | null;
  readonly wanted: FlourishPlace | null;
  seed: number;
  readonly layers: Map<string, LayerPlay>;
}

/** What plays, and how often each flourish was started. */
interface Carried {
  readonly plays: readonly Play[];
  readonly counts: ReadonlyMap<string, number>;
}

export interface FlourishPlayer {
  /** @returns false where there is none of that id */
  readonly start: (id: string, place?: FlourishPlace) => boolean;
  readonly stop: (id: string) => void;
  /** Goes on by a tick. */
  readonly advance: () => void;
  /** What there is of all of them in this tick, with the set as it stands in it. */
  readonly now: (world: World) => readonly LayerNow[];
  /** Seconds into each that plays, the latest of several. */
  readonly standing: () => ReadonlyMap<string, number>;
  /** What plays, for who goes on from here with flourishes that were changed. */
  readonly carried: () => Carried;
}

const IDENTITY: Affine = [1, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0];
const UP: Triple = [0, 1, 0];

/** A map whose y points along a way. */
const upright = (point: Triple, up: Triple): Affine => {
  const y = unit(up);
  const x = unit(cross(y, Math.abs(y[2]) < 0.99 ? [0, 0, 1] : [1, 0, 0]));
  return [...x, ...y, ...cross(x, y), ...point];
};

/** What something is in the world, without its sizes; null where there is no such thing. */
const standsOn = (world: World, what: string | undefined): Affine | null => {
  if (what === undefined) return IDENTITY;
  if (what === 'pointer') return world.pointer && upright(world.pointer.point, world.pointer.normal);
  if (what === 'walker') return world.walker && upright(world.walker.position, UP);
  if (!world.props.some(({ id }) => id === what)) return null;
  const m = worldOf(world.props, what);
  return [...[0, 3, 6].flatMap((at) => unit(tripleAt(m, at))), ...tripleAt(m, 9)];
};
/** Pieces that a spin's force is summed over. */
const SPIN_PIECES = 32;
/** Degrees a layer has turned by an age: its spin, by how much of it there was till then. */
const spunBy = ({ spin, spinForce, life }: FlourishLayer, age: number): number => {
  if (!spinForce) return spin * age;
  let sum = 0;
  for (let i = 0; i < SPIN_PIECES; i += 1)
    sum += curveAt(spinForce, (((i + 0.5) / SPIN_PIECES) * age) / life);
  return (spin * age * sum) / SPIN_PIECES;
};

/** A turn about an axis by so many degrees (Rodrigues). */
const turnAbout = (axis: Triple, degrees: number): Affine => {
  const [x, y, z] = unit(axis);
  const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)];
  const t = 1 - c;
  return [
    ...[t * x * x + c, t * x * y + s * z, t * x * z - s * y],
    ...[t * x * y - s * z, t * y * y + c, t * y * z + s * x],
    ...[t * x * z + s * y, t * y * z - s * x, t * z * z + c],
    ...[0, 0, 0],
  ];
};

/** What a layer's whole size is multiplied by at an age. */
export const layerSize = ({ size, sizes, life }: FlourishLayer, age: number): number =>
  size * (sizes ? curveAt(sizes, age / life) : 1);

const placeOf = (layer: FlourishLayer, base: Affine, age: number): Affine => {
  const size = layerSize(layer, age);
  const own = affineOf({ position: layer.at, rotation: layer.rotation });
  const turned = layer.spin ? after(own, turnAbout(layer.spinAxis, spunBy(layer, age))) : own;
  const placed = after(base, turned);
  return [...placed.slice(0, 9).map((x) => x * size), ...placed.slice(9)];
};

/** What a layer's curves give at an age, by the names of the parameters they drive. */
const valuesOf = (
  layer: FlourishLayer,
  parameters: readonly Parameter[] | null,
  age: number,
): ReadonlyMap<string, readonly number[]> => {
  const share = Math.min(age / layer.life, 1);
  return new Map(
    layer.values.flatMap(({ parameter: id, curves }) => {
      const parameter = parameters?.find((each) => each.id === id);
      return parameter && curveProblem(parameter, curves.length) === null
        ? [[parameter.name, curves.map((each) => curveAt(each, share))] as const]
        : [];
    }),
  );
};

/** Why curves cannot drive a parameter, or null. */
export const curveProblem = (parameter: Parameter, curves: number): string | null =>
  parameter.scope !== 'lifetime'
    ? `${parameter.name} is no lifetime parameter; a layer’s curves drive those alone.`
    : parameterSize(parameter.kind) !== curves
      ? `${parameter.name} has ${parameterSize(parameter.kind)} numbers, and there are ${curves} curves here: they were made for another kind of parameter.`
      : null;

/** Plays the flourishes of a set, tick by tick; the same starts in the same ticks give the same numbers. */
export const createFlourishPlayer = (
  flourishes: readonly Flourish[],
  parametersOf: ParametersOf,
  before: Carried = { plays: [], counts: new Map() },
): FlourishPlayer => {
  const byId = new Map(flourishes.map((each) => [each.id, each]));
  // Those that are still there go on; a layer that was changed goes on as it is now.
  let plays: Play[] = before.plays.flatMap((play) => {
    const flourish = byId.get(play.flourish.id);
    return flourish ? [{ ...play, flourish }] : [];
  });
  /** How often each was started, so that no two plays share their chance. */
  const counts = new Map(before.counts);

  const seedFor = (flourish: Flourish): number => {
    const count = counts.get(flourish.id) ?? 0;
    counts.set(flourish.id, count + 1);
    return hashOf(flourish.seed, count);
  };
  const start = (id: string, place?: FlourishPlace): boolean => {
    const flourish = byId.get(id);
    if (!flourish) return false;
    const own = plays.filter((each) => each.flourish.id === id);
    // What goes on without end is started once.
    const gone = flourish.play === 'looped' && !place ? own : own.length >= MOST_PLAYS ? own.slice(0, 1) : [];
    plays = plays.filter((each) => !gone.includes(each));
    const taken = new Set(plays.filter((each) => each.flourish.id === id).map(({ slot }) => slot));
    const slot = Array.from({ length: MOST_PLAYS }, (_, i) => i).find((i) => !taken.has(i)) ?? 0;
    plays.push({
      ...{ flourish, slot, whole: 0, at: 0, fresh: true, fixed: null, wanted: place ?? null },
      ...{ seed: seedFor(flourish), layers: new Map() },
    });
    return true;
  };

  const baseOf = (play: Play, world: World): Affine | null => {
    const { flourish, wanted } = play;
    const on = wanted ? upright(wanted.point, wanted.up ?? UP) : standsOn(world, flourish.of);
    const base =
      on && after(on, affineOf({ position: wanted ? [0, 0, 0] : flourish.at, rotation: flourish.rotation }));
    if (flourish.follows) return base;
    return (play.fixed ??= base);
  };

  const endOf = (end: RibbonEnd, base: Affine, world: World, age: number): readonly number[] | null => {
    const on = end.of === undefined ? base : standsOn(world, end.of);
    if (!on) return null;
    const sway = swayOf(end, age);
    return [
      ...pointBy(on, [end.at[0] + sway[0], end.at[1] + sway[1], end.at[2] + sway[2]]),
      ...wayBy(on, end.way),
    ];
  };

  /** What of a ribbon there is now: its ends, or where its point was lately. */
  const bandOf = (
    layer: FlourishLayer,
    own: LayerPlay,
    [base, world, age]: readonly [Affine, World, number],
    swayed: number,
  ): readonly number[] => {
    const { from, to, lasts = 0.5 } = layer.ribbon!;
    const first = endOf(from, base, world, swayed);
    if (to) {
      const last = endOf(to, base, world, swayed);
      return first && last ? [...first, ...last] : [];
    }
    let traced = own.shape;
    while (traced.length && age - traced[3]! > lasts) traced = traced.slice(TRACE);
    if (!first || age > layer.life) return traced;
    const point = first.slice(0, 3);
    const [x, y, z] = traced.slice(-TRACE);
    const moved = x === undefined || Math.hypot(point[0]! - x, point[1]! - y!, point[2]! - z!) > 1e-4;
    return moved ? [...traced, ...point, age] : traced;
  };

  const showerOf = (
    play: Play,
    layer: FlourishLayer,
    own: LayerPlay,
    [place, age]: readonly [Affine, number],
  ): readonly number[] => {
    const sprites = layer.sprites!;
    if (sprites.along !== undefined) return own.shape;
    const at = tripleAt(place, 9);
    const motion = own.before ? times(minus(at, own.before), TICKS_PER_SECOND) : ([0, 0, 0] as const);
    own.before = at;
    const due = bornBy(sprites, age, layer.life);
    let births = own.shape;
    if (sprites.rate !== undefined)
      while (births.length && age - births[0]! >= sprites.lasts) births = births.slice(BIRTH);
    const made: number[] = [];
    const seed = hashOf(play.seed, play.flourish.layers.indexOf(layer));
    const size = layerSize(layer, age) || 1;
    for (; own.born < due; own.born += 1) {
      if ((births.length + made.length) / BIRTH >= sprites.count) continue;
      made.push(
        ...birth(sprites, own.born, {
          ...{ seed, born: age, place: at, motion },
          turned: (way) => times(wayBy(place, way), 1 / size),
        }),
      );
    }
    return made.length ? [...births, ...made] : births;
  };

  const layerNow = (play: Play, layer: FlourishLayer, base: Affine, world: World): LayerNow[] => {
    const ticks = play.at - Math.round(layer.start * TICKS_PER_SECOND);
    const age = ticks / TICKS_PER_SECOND;
    // A ribbon that is not drawn still goes where what sits on it is to be.
    const isAbsent =
      layer.off && !play.flourish.layers.some((each) => !each.off && each.sprites?.along === layer.id);
    if (isAbsent || ticks < 0 || age > layerLength(layer)) return [];
    const own = play.layers.get(layer.id) ?? { born: 0, shape: [], before: null };
    play.layers.set(layer.id, own);
    const place = placeOf(layer, base, age);
    if (layer.kind === 'ribbon')
      // What sways goes on swaying where the flourish begins anew.
      own.shape = bandOf(layer, own, [base, world, age], play.whole / TICKS_PER_SECOND);
    else if (layer.kind === 'sprites') own.shape = showerOf(play, layer, own, [place, age]);
    return [
      {
        ...{ layer: layer.id, slot: play.slot, age, place, shape: own.shape },
        seed: hashOf(play.seed, play.flourish.layers.indexOf(layer), 7) % 65536,
        values: valuesOf(layer, parametersOf(layer.material), age),
      },
    ];
  };

  return {
    start,
    stop: (id) => {
      plays = plays.filter((each) => each.flourish.id !== id);
    },
    advance: () => {
      plays = plays.filter((play) => {
        if (play.fresh) return true;
        play.whole += 1;
        play.at += 1;
        if (play.at <= Math.round(flourishLength(play.flourish) * TICKS_PER_SECOND)) return true;
        if (play.flourish.play !== 'looped') return false;
        play.at = 0;
        play.seed = seedFor(play.flourish);
        play.layers.clear();
        return true;
      });
    },
    now: (world) =>
      plays.flatMap((play) => {
        play.fresh = false;
        const base = baseOf(play, world);
        return base ? play.flourish.layers.flatMap((layer) => layerNow(play, layer, base, world)) : [];
      }),
    standing: () => new Map(plays.map(({ flourish, at }) => [flourish.id, at / TICKS_PER_SECOND])),
    carried: () => ({ plays, counts }),
  };
};
