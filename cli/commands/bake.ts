import { basename, join } from 'node:path';
import { zlibSync } from 'fflate';
import sharp from 'sharp';
import { filled } from '#core/numbers/filled.ts';
import { encodeExr } from '#core/images/encodeExr.ts';
import { BITS, endingOf, type Bits } from '#core/images/encodePicture.ts';
import { CHANNELS } from '#core/images/image.ts';
import { lossIn } from '#core/images/lossIn.ts';
import { reachOf } from '#core/numbers/reach.ts';
import { bakeValue, LARGEST_BAKE, type Baked } from '#core/taps/bakeValue.ts';
import { tablePictures } from '#core/taps/evaluatePoints.ts';
import { numbersFor } from '#core/time/values.ts';
import type { Finding } from '../answer.ts';
import { listOf, needFile, Refusal, textOf, type Command, type Given } from '../command.ts';
import { filesAt, idOf } from '../documents.ts';
import { createOutputs, isPicture, writeFile } from '../outputs.ts';
import { missingPictures, pictureBytes, readPictures } from '../readPictures.ts';
import { readText } from '../readDocument.ts';
import { chosenValues } from '../values.ts';
import { bakeTextures } from './bakeTextures.ts';
import { computable } from './evaluate.ts';

interface Size {
  readonly width: number;
  readonly height: number;
}

/** Numbers as floats of 32 bits, whatever they are; one number a pixel as grey. */
const asExr = ({ channels, numbers }: Baked, { width, height }: Size): Uint8Array => {
  const data = filled(new Float32Array(width * height * CHANNELS), (i) => {
    const [pixel, c] = [Math.floor(i / CHANNELS), i % CHANNELS];
    if (c < 3) return numbers[pixel * channels + (channels === 1 ? 0 : c)]!;
    return channels === 4 ? numbers[pixel * channels + 3]! : 1;
  });
  return encodeExr({ width, height, data }, zlibSync, 'numbers');
};
const asPng = ({ channels, numbers }: Baked, { width, height }: Size, bits: 8 | 16): Promise<Buffer> => {
  const most = bits === 8 ? 255 : 65535;
  const kept = numbers.map((x) => Math.round(Math.min(Math.max(Number.isNaN(x) ? 0 : x, 0), 1) * most));
  const raw = { width, height, channels };
  const image = bits === 8 ? sharp(Uint8Array.from(kept), { raw }) : sharp(Uint16Array.from(kept), { raw });
  const space = channels === 1 ? (bits === 8 ? 'b-w' : 'grey16') : bits === 8 ? 'srgb' : 'rgb16';
  // The numbers are written as they are: no curve is put on them.
  return image.toColourspace(space).png().toBuffer();
};

const readSize = (text: string): Size => {
  const [, width, height = width] = /^(\d+)(?:x(\d+))?$/.exec(text) ?? [];
  const size = { width: Number(width ?? 0), height: Number(height ?? 0) };
  if (Object.values(size).every((n) => n >= 1 && n <= LARGEST_BAKE)) return size;
  throw new Refusal(
    `--size is a whole number from 1 to ${LARGEST_BAKE}, or two with an x between, not “${text}”.`,
    2,
  );
};

const readBits = (text: string): Bits => {
  const bits = BITS.find((each) => String(each) === text);
  if (!bits) throw new Refusal(`--bits is 8, 16 or 32, not “${text}”.`, 2);
  return bits;
};

interface Made {
  readonly out: string;
  readonly result: Readonly<Record<string, unknown>>;
  readonly findings: readonly Finding[];
  readonly said: string;
}

/** Bakes one strand of one shader, unless its picture stands already. */
const bakeOne = async (
  given: Given,
  file: string,
  strand: string,
  out: string,
  outputs: ReturnType<typeof createOutputs> | null,
): Promise<Made | null> => {
  const size = readSize(textOf(given, 'size') ?? '512');
  const bits = readBits(textOf(given, 'bits') ?? '8');
  const { shader, valueOf } = computable(file);
  const value = valueOf(strand);
  const chosen = chosenValues(given, file, shader.parameters);
  const made = [readText(file), strand, size, bits, chosen, pictureBytes(chosen.pictures)];
  if (outputs?.isFresh(basename(out), made)) return null;
  const authored = { values: chosen.values, shared: chosen.shared };
  let baked: Baked;
  try {
    baked = bakeValue(value, {
      ...size,
      parameters: numbersFor(shader.parameters, authored),
      pictures: new Map([
        ...(await readPictures(chosen.pictures, shader.parameters, chosen.sampling)),
        ...tablePictures(shader.parameters, authored),
      ]),
      onProgress: (share) => {
        if (process.stderr.isTTY) process.stderr.write(`\r${Math.round(share * 100)} %`);
      },
    });
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw new Refusal(`${file}: ${(error as Error).message}.`);
  }
  if (process.stderr.isTTY) process.stderr.write('\r');
  writeFile(out, bits === 32 ? asExr(baked, size) : await asPng(baked, size, bits));
  outputs?.note(basename(out), made);
  const reach = reachOf(baked.numbers, baked.channels);
  const { low: least, high: greatest, broken } = reach;
  const loss = lossIn(reach, bits);
  return {
    out,
    result: { out, strand, ...size, bits, channels: baked.channels, least, greatest, broken },
    findings: [
      ...missingPictures(value, chosen.pictures, file),
      ...(loss ? [{ severity: 'note', file, strand, message: loss } as const] : []),
    ],
    said: `${out}: ${size.width} × ${size.height}, ${bits} bits, values from ${least.toPrecision(4)} to ${greatest.toPrecision(4)}.`,
  };
};

export const bake: Command = {
  usage:
    'bake PATH --strand NAME --out DIR|x.png|x.exr [--size 512|512x256] [--bits 8|16|32] [--material NAME] [--parameter NAME=VALUE] [--picture NAME=FILE.png] [--force] [--watch]',
  summary:
    'Computes strands over a square of uv, or the textures of a project, and writes them as PNG or OpenEXR.',
  help: `PATH is a shader, or a folder of them, of which those are baked that have the strand. --strand may be given several times;
then --out is a folder, and each picture is called SHADER-STRAND.png, or .exr of 32 bits, which are floats as they are. What has not changed since is not baked again, unless
there is --force. Values begin with the shader's defaults, then --material's, then --parameter's. What lies outside 0–1 is
held at its ends and said, and with --strict ends with 1. --size is at most ${LARGEST_BAKE} each way. Numbers are written as they are, with no sRGB curve.
With --texture NAME or --all, PATH is what a project was exported to, as .zip or unpacked, and its textures are made, with the bits
that each is kept as where --bits tells none, and what those do not keep is said; with --check what is at
--out is compared with them, and nothing is written.

  veil bake curtain.shader.json --strand order --size 512 --bits 16 --out order.png
  veil bake demo/gallowglass --strand order --strand remains --size 256x128 --out maps/
  veil bake playhouse.zip --all --out textures/`,
  options: {
    strand: { type: 'string', multiple: true },
    out: { type: 'string' },
    size: { type: 'string' },
    bits: { type: 'string' },
    material: { type: 'string' },
    parameter: { type: 'string', multiple: true },
    picture: { type: 'string', multiple: true },
    force: { type: 'boolean' },
    texture: { type: 'string' },
    all: { type: 'boolean' },
    check: { type: 'boolean' },
  },
  most: 1,
  run: async (given) => {
    if (textOf(given, 'texture') !== undefined || given.values['all'] === true) {
      const bits = textOf(given, 'bits');
      return bakeTextures(given, bits === undefined ? bits : readBits(bits));
    }
    const path = needFile(given);
    const files = filesAt(path, /\.shader\.json$/);
    readSize(textOf(given, 'size') ?? '512');
    const ending = endingOf(readBits(textOf(given, 'bits') ?? '8'));
    const strands = listOf(given, 'strand');
    const out = textOf(given, 'out');
    if (out === undefined) throw new Refusal(`Where to? Usage: veil ${given.usage}`, 2);
    if (!strands.length) computable(files[0]!).valueOf(undefined);
    const single = isPicture(out, ending);
    if (single && (files.length > 1 || strands.length > 1))
      throw new Refusal(`${out}: several pictures need a folder to go to.`, 2);
    const outputs = single ? null : createOutputs(out, given.values['force'] === true);
    const made: Made[] = [];
    let left = 0;
    for (const file of files)
      for (const strand of strands) {
        if (files.length > 1 && !computable(file).has(strand)) continue;
        const to = single ? out : join(out, `${idOf(file)}-${strand}.${ending}`);
        const one = await bakeOne(given, file, strand, to, outputs);
        if (one) made.push(one);
        else left += 1;
      }
    outputs?.keep();
    if (!made.length && !left) throw new Refusal(`No shader in ${path} has ${strands.join(' or ')}.`, 2);
    return {
      result: { baked: made.map((each) => each.result) },
      findings: made.flatMap((each) => each.findings),
      remarks: [...made.map((each) => each.said), ...(left ? [`${left} unchanged.`] : [])],
    };
  },
};
