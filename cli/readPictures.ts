import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { shares } from '#core/numbers/filled.ts';
import { reachable, type Value } from '#core/program/value.ts';
import type { Finding } from './answer.ts';
import { heightSamples, pictureSamples } from '#server/pictureSamples.ts';
import type { Heights } from '#core/meshes/heights.ts';
import type { Parameter } from '#core/document/shader.ts';
import type { Picture } from '#core/evaluate/points/points.ts';
import type { Image } from '#core/images/image.ts';
import type { Sampling } from '#core/document/sampling.ts';
import { GREY, sampledFrom } from '#core/textureSources.ts';
import { Refusal } from './command.ts';

/** A picture’s numbers, unconverted from sRGB: four a pixel from 0 to 1, in rows from the top. */
export const numbersOf = async (picture: string | Uint8Array): Promise<Image> => {
  const { width, height, samples } = await pictureSamples(picture);
  if (samples instanceof Float32Array) return { width, height, data: samples, isLight: true };
  const whole = 2 ** (samples.BYTES_PER_ELEMENT * 8) - 1;
  return { width, height, data: shares(samples, whole) };
};

/** A picture as the heights of a relief. */
export const heightsOf = async (picture: Uint8Array): Promise<Heights> => {
  const { width, height, samples } = await heightSamples(picture);
  return { width, height, values: shares(samples, 65535) };
};

/** Reads a picture as a shader samples it. @throws Refusal */
const readPicture = async (file: string, sampling: Sampling | undefined): Promise<Picture> => {
  try {
    return sampledFrom(await numbersOf(file), sampling);
  } catch (error) {
    throw new Refusal(`${file}: this picture cannot be read: ${(error as Error).message}.`);
  }
};

/**
 * Reads NAME=FILE for each texture; textures without one are plain grey, as on the stage.
 * @param sampling how a material reads them, by their names
 * @throws Refusal
 */
export const readPictures = async (
  given: readonly string[] | undefined,
  parameters: readonly Parameter[],
  sampling: Readonly<Record<string, Sampling>> = {},
): Promise<Map<string, Picture>> => {
  const textures = parameters.filter((each) => each.kind === 'texture').map((each) => each.name);
  const found = new Map(textures.map((name) => [name, GREY]));
  for (const each of given ?? []) {
    const [, name, file] = /^([^=]+)=(.+)$/.exec(each) ?? [];
    if (!name || !file) throw new Refusal(`--picture takes NAME=FILE.png, not “${each}”.`, 2);
    if (!found.has(name))
      throw new Refusal(
        `There is no texture “${name}”; ${textures.length ? `there is ${textures.join(', ')}` : 'the shader has none'}.`,
        2,
      );
    found.set(name, await readPicture(file, sampling[name]));
  }
  return found;
};

/** Textures a value reads that no picture was given for: they are plain grey. */
export const missingPictures = (value: Value, given: readonly string[], file: string): Finding[] => {
  const known = new Set(given.map((each) => each.split('=')[0]));
  const tables = new Set(
    reachable([value]).flatMap((each) => (each.fn?.name === 'curveTable' ? each.inputs.slice(0, 1) : [])),
  );
  return reachable([value])
    .filter((each) => each.op === 'parameter' && each.type === 'sampler2D' && !tables.has(each))
    .map((each) => each.payload as string)
    .filter((name) => !known.has(name))
    .map((name) => ({
      ...{ severity: 'note', file },
      message: `No picture was given for the texture ${name}; it is plain grey. --picture ${name}=FILE.png gives it one.`,
    }));
};

/** What the pictures are, for telling whether they changed. */
export const pictureBytes = (given: readonly string[]): readonly string[] =>
  given.map((each) => {
    try {
      return createHash('sha256')
        .update(readFileSync(each.slice(each.indexOf('=') + 1)))
        .digest('hex');
    } catch {
      return '';
    }
  });
