import sharp from 'sharp';
import { bakeValue, LARGEST_BAKE, type Baked } from '#core/exchange/bakeValue.ts';
import { tablePictures } from '#core/exchange/evaluatePoints.ts';
import { numbersFor } from '#core/rehearse/values.ts';
import { needFile, readArguments, Refusal, type Command } from '../command.ts';
import { readPictures } from '../readPictures.ts';
import { strandOf } from './evaluate.ts';

const USAGE =
  'bake FILE --strand NAME --out x.png [--size 512] [--bits 8|16] [--picture NAME=FILE.png] [--json]';

const writePng = async (
  { channels, numbers }: Baked,
  size: number,
  bits: 8 | 16,
  out: string,
): Promise<void> => {
  const most = bits === 8 ? 255 : 65535;
  const kept = numbers.map((x) => Math.round(Math.min(Math.max(Number.isNaN(x) ? 0 : x, 0), 1) * most));
  const raw = { width: size, height: size, channels };
  const image = bits === 8 ? sharp(Uint8Array.from(kept), { raw }) : sharp(Uint16Array.from(kept), { raw });
  const space = channels === 1 ? (bits === 8 ? 'b-w' : 'grey16') : bits === 8 ? 'srgb' : 'rgb16';
  // The numbers are written as they are: no curve is put on them.
  await image.toColourspace(space).png().toFile(out);
};

export const bake: Command = {
  usage: USAGE,
  summary: 'Computes a strand over a square of uv and writes it as a PNG.',
  help: `Parameters stand at their defaults. What lies outside 0–1 is held at its ends, and said. --bits is 8 unless told
otherwise; --size is at most ${LARGEST_BAKE}. Numbers are written as they are, with no sRGB curve.

  veil bake curtain.shader.json --strand order --size 512 --bits 16 --out order.png`,
  run: async (args) => {
    const { file: given, values } = readArguments(args, USAGE, {
      strand: { type: 'string' },
      out: { type: 'string' },
      size: { type: 'string' },
      bits: { type: 'string' },
      picture: { type: 'string', multiple: true },
    });
    const file = needFile(given, USAGE);
    const size = Number(values['size'] ?? 512);
    if (!Number.isInteger(size) || size < 1 || size > LARGEST_BAKE)
      throw new Refusal(
        `--size is a whole number from 1 to ${LARGEST_BAKE}, not “${String(values['size'])}”.`,
        2,
      );
    const bits = Number(values['bits'] ?? 8);
    if (bits !== 8 && bits !== 16)
      throw new Refusal(`--bits is 8 or 16, not “${String(values['bits'])}”.`, 2);
    const out = values['out'] as string | undefined;
    if (out === undefined) throw new Refusal(`Where to? Usage: veil ${USAGE}`, 2);
    const { shader, value } = strandOf(file, values['strand'] as string | undefined);
    const pictures = await readPictures(values['picture'] as string[] | undefined, shader.parameters);
    let baked: Baked;
    try {
      baked = bakeValue(value, {
        size,
        parameters: numbersFor(shader.parameters, { values: {}, shared: {} }),
        pictures: new Map([...pictures, ...tablePictures(shader.parameters, {})]),
        onProgress: (share) => {
          if (process.stderr.isTTY) process.stderr.write(`\r${Math.round(share * 100)} %`);
        },
      });
    } catch (error) {
      throw new Refusal(`${file}: ${(error as Error).message}.`);
    }
    if (process.stderr.isTTY) process.stderr.write('\r');
    await writePng(baked, size, bits, out).catch((error: unknown) => {
      throw new Refusal(`${out}: it cannot be written: ${(error as Error).message}.`);
    });
    let [least, greatest] = [Infinity, -Infinity];
    for (const x of baked.numbers) {
      if (x < least) least = x;
      if (x > greatest) greatest = x;
    }
    if (values['json'])
      console.log(JSON.stringify({ out, size, bits, channels: baked.channels, least, greatest }, null, 2));
    else {
      console.log(
        `${out}: ${size} × ${size}, ${bits} bits, values from ${least.toPrecision(4)} to ${greatest.toPrecision(4)}.`,
      );
      if (least < 0 || greatest > 1)
        console.log('What lies outside 0–1 was held at its ends; remap it to keep it.');
    }
    return 0;
  },
};
