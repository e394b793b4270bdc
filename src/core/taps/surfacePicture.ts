import type { Parameter } from '../document/shader.ts';
import type { Picture } from '../evaluate/points/points.ts';
import { drawn, type Image } from '../images/image.ts';
import type { Program, Value } from '../program/value.ts';
import { numbersFor, type Authored } from '../time/values.ts';
import { bakeValue, type Baked } from './bakeValue.ts';
import { tablePictures } from './evaluatePoints.ts';
import { lackOf } from './lackOf.ts';

export interface SurfaceAsk {
  readonly program: Program;
  readonly parameters: readonly Parameter[];
  readonly authored: Authored;
  readonly pictures: ReadonlyMap<string, Picture>;
  /** A strand’s id; else all that the surface shows. */
  readonly strand?: string | undefined;
  readonly size: readonly [number, number];
  readonly time: number;
}

/** A number as it is kept in a picture: what is none is nothing. */
const kept = (x: number | undefined): number => (x !== undefined && Number.isFinite(x) ? x : 0);

/**
 * What a surface shows over the square of uv, without light: its colour with what it gives off, and its opacity; or a strand
 * of it, one number as grey.
 * @throws Error that says why it cannot be computed
 */
export const surfacePicture = (ask: SurfaceAsk): Image => {
  const { program, parameters, authored, strand, time } = ask;
  const [width, height] = ask.size;
  const bake = (value: Value | undefined): Baked | null => {
    if (!value) return null;
    const lack = lackOf(value);
    if (lack) throw new Error(lack);
    return bakeValue(value, {
      ...{ width, height, time, parameters: numbersFor(parameters, authored) },
      pictures: new Map([...ask.pictures, ...tablePictures(parameters, authored)]),
    });
  };
  const at = (baked: Baked | null, i: number, c: number): number => {
    if (!baked) return 0;
    const { channels, numbers } = baked;
    return kept(channels === 1 ? numbers[i] : numbers[i * channels + c]);
  };
  if (strand !== undefined) {
    const value = program.taps.findLast((each) => each.strand === strand)?.value;
    if (!value)
      throw new Error('The strand that this reads is not there any more, or has no step that works.');
    const baked = bake(value)!;
    return drawn(width, height, (x, y, to, place) => {
      const i = y * width + x;
      for (let c = 0; c < 3; c += 1) to[place + c] = at(baked, i, c);
      to[place + 3] = baked.channels === 4 ? at(baked, i, 3) : 1;
    });
  }
  const { baseColor, emission, opacity } = program.outputs;
  if (!baseColor && !emission) throw new Error('This surface shows no colour; choose one of its strands.');
  const [colour, glow, cover] = [baseColor, emission, opacity].map(bake) as [
    Baked | null,
    Baked | null,
    Baked | null,
  ];
  return drawn(width, height, (x, y, to, place) => {
    const i = y * width + x;
    for (let c = 0; c < 3; c += 1) to[place + c] = at(colour, i, c) + at(glow, i, c);
    to[place + 3] = cover ? Math.min(Math.max(at(cover, i, 0), 0), 1) : 1;
  });
};
