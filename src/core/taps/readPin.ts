import { prepare } from '../evaluate/columns/evaluate.ts';
import { inputsAt, spotsBeside, standCorners, type Given, type Standing } from '../evaluate/points/onMesh.ts';
import type { Points } from '../evaluate/points/points.ts';
import type { Spots } from '../evaluate/points/spots.ts';
import { triple, type Triple } from '../numbers/vectors.ts';
import type { InputName } from '../program/inputs.ts';
import { valueAt, type Column } from '../program/kernels/column.ts';
import type { Type } from '../program/types.ts';
import type { Program, Value } from '../program/value.ts';
import { lackOf, readsBehind } from './lackOf.ts';

/** What a step comes to at a pin. */
export interface Reading {
  readonly type: Type;
  /** Null where it cannot be computed outside the picture. */
  readonly numbers: readonly number[] | null;
  /** How far each goes within a sixteenth of a pixel: what is drawn may be from anywhere in it. */
  readonly spread?: readonly number[];
  /** True where a pixel drawn by itself does not know it either. */
  readonly isUndrawn?: boolean;
  /** Why not, as a sentence. */
  readonly why?: string;
}

/** Where a pin is, as its shader sees it. */
export interface PinPlace {
  readonly position: Triple;
  readonly normal: Triple;
  readonly uv: readonly number[];
  readonly isFront: boolean;
}

export interface PinReading {
  readonly place: PinPlace;
  /** In the order of the program's taps. */
  readonly readings: readonly Reading[];
}

/** Numbers of a spot and its quad. */
const QUAD = 4;
/** Graphics cards place corners on a grid of sixteenths of a pixel, or a finer one (OpenGL ES 3.0, SUBPIXEL_BITS). */
const NUDGES = [
  [1 / 16, 0],
  [0, 1 / 16],
] as const;
const apart = (column: Column): Omit<Reading, 'type'> => {
  const numbers = valueAt(column, 0);
  const others = NUDGES.map((_, k) => valueAt(column, QUAD * (k + 1)));
  return {
    numbers,
    spread: numbers.map((x, i) => Math.max(...others.map((other) => Math.abs(x - other[i]!)))),
  };
};

/**
 * Prepares a program's steps to be read at points of a mesh: what they come to there, computed as the reference means
 * it, slopes from the neighbouring pixels of the picture.
 */
export const preparePin = (program: Program) => {
  const made = new Map<boolean, ReturnType<typeof prepareTaps>>();
  /** @throws Error where the vertex offset reads what is not known here */
  return (standing: Standing, spot: Spots, given: Given): PinReading => {
    const knowsNear = standing.near !== undefined;
    const read = made.get(knowsNear) ?? prepareTaps(program, knowsNear);
    made.set(knowsNear, read);
    return read(standing, spot, given);
  };
};

const prepareTaps = (program: Program, knowsNear: boolean) => {
  const values = program.taps.map(({ value }) => value);
  const lacks = values.map((value) => lackOf(value, knowsNear));
  const known = values.filter((_, i) => lacks[i] === null);
  const offset = program.outputs['vertexOffset'];
  const together = prepare(known);
  const alone = new Map<Value, ReturnType<typeof prepare>>();

  const compute = (points: Points): ReadonlyMap<Value, Omit<Reading, 'type'>> => {
    try {
      const made = together(points);
      return new Map(known.map((value, i) => [value, apart(made[i]!)]));
    } catch {
      // One that cannot be computed leaves the others theirs.
      return new Map(known.map((value) => [value, computeAlone(value, points)]));
    }
  };
  const computeAlone = (value: Value, points: Points): Omit<Reading, 'type'> => {
    const run = alone.get(value) ?? prepare([value]);
    alone.set(value, run);
    try {
      return apart(run(points)[0]!);
    } catch (error) {
      return { numbers: null, why: `It cannot be computed here: ${(error as Error).message}.` };
    }
  };

  return (standing: Standing, spot: Spots, given: Given): PinReading => {
    const corners = standCorners(standing, spot.corners, offset, given);
    const points: Points = { ...inputsAt(corners, spotsBeside(corners, spot, NUDGES), true), ...given };
    const made = compute(points);
    const at = (name: InputName, c: number): number => points.inputs[name]![c * points.count]!;
    return {
      place: {
        position: triple((c) => at('position', c)),
        normal: triple((c) => at('normal', c)),
        uv: [at('uv', 0), at('uv', 1)],
        isFront: at('frontFacing', 0) === 1,
      },
      readings: values.map((value, i) => {
        const why = lacks[i];
        return {
          type: value.type,
          ...(why ? { numbers: null, why, isUndrawn: readsBehind(value) } : made.get(value)!),
        };
      }),
    };
  };
};
