import { createHash } from 'node:crypto';
import { zipSync } from 'fflate';
import sharp from 'sharp';
import { archiveFiles, readArchive, type PackedPart } from '#core/handover/archive.ts';
import { blobsIn } from '#core/document/blobsIn.ts';
import { readGlb } from '#core/meshes/glb.ts';
import { toSrgb } from '#core/numbers/colour.ts';
import { ApiError, notFound } from '../errors.ts';
import { readFloats, type Floats } from '../floatPictures.ts';
import { PART_REQUESTS, type Kinds } from '../requests/parts.ts';
import { excessOf } from '../requests/readJson.ts';
import { unzip } from './unzip.ts';

/** A part whose body is JSON already: it crosses threads, and goes into the database, as it is. */
export interface PartText {
  readonly id: string;
  readonly kind: PackedPart['kind'];
  readonly name: string;
  readonly text: string;
}

const shaOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');

/** Reads an archive through. @throws ApiError 413 or 422 with every problem */
const unpackArchive = (
  bytes: Uint8Array,
): {
  readonly name: string;
  readonly parts: readonly PartText[];
  /** The pictures and meshes that its parts name. */
  readonly blobs: readonly Uint8Array[];
} => {
  const read = readArchive(unzip(bytes), shaOf, excessOf);
  if ('problems' in read) {
    const [first] = read.problems;
    const more = read.problems.length - 1;
    throw new ApiError(
      422,
      'invalid',
      `The archive cannot be taken: ${first!.path}: ${first!.message}${more ? ` There ${more === 1 ? 'is one more problem' : `are ${more} more problems`}.` : ''}`,
      { problems: read.problems },
    );
  }
  const { name, parts, blobs } = read.project;
  return {
    name,
    parts: parts.map(({ body, ...part }) => ({ ...part, text: JSON.stringify(body) })),
    // Copies of their own, so that they cross threads without the archive they lie in.
    blobs: [...blobsIn(parts).keys()].map((sha) => blobs.get(sha)!.slice()),
  };
};

/** Writes a project as a zip: the same project gives the same bytes. */
const packArchive = (
  name: string,
  texts: readonly PartText[],
  blobs: readonly (readonly [sha: string, bytes: Uint8Array, ending: string])[],
): Uint8Array<ArrayBuffer> => {
  const parts = texts.map(
    ({ text, ...part }) => ({ ...part, body: JSON.parse(text) as unknown }) as PackedPart,
  );
  const fetched = new Map(blobs.map(([sha, bytes, ending]) => [sha, { bytes, ending }]));
  const named = [...blobsIn(parts).keys()].map((sha) => {
    const found = fetched.get(sha);
    if (!found) throw notFound('A picture or a mesh of this project');
    return [sha, found] as const;
  });
  const files = archiveFiles(name, parts, new Map(named));
  // Pictures are packed already.
  const stored = /^(pictures|meshes)\//;
  return zipSync(
    Object.fromEntries(
      [...files].map(([file, content]) => [
        file,
        [new Uint8Array(content), { level: stored.test(file) ? 0 : 6 }] as const,
      ]),
    ) as never,
    { mtime: new Date(1980, 0, 1) },
  ) as Uint8Array<ArrayBuffer>;
};

/** The longer side of the small picture that a page shows of a picture of floats. */
const LONGEST_SHOWN = 1024;

/** A picture of floats as pages can show it: light from 0 to 1 by sRGB’s curve, as a PNG no larger than that. */
const shownPng = async ({ width, height, samples }: Floats): Promise<Uint8Array> => {
  const by = Math.ceil(Math.max(width, height) / LONGEST_SHOWN);
  const [w, h] = [Math.ceil(width / by), Math.ceil(height / by)];
  const pixels = new Uint8Array(w * h * 4);
  for (let y = 0; y < h; y += 1)
    for (let x = 0; x < w; x += 1)
      for (let c = 0; c < 4; c += 1) {
        let [sum, count] = [0, 0];
        for (let v = y * by; v < Math.min((y + 1) * by, height); v += 1)
          for (let u = x * by; u < Math.min((x + 1) * by, width); u += 1) {
            const light = samples[(v * width + u) * 4 + c]!;
            sum += Math.min(Math.max(Number.isNaN(light) ? 0 : light, 0), 1);
            count += 1;
          }
        const mean = sum / count;
        pixels[(y * w + x) * 4 + c] = Math.round((c === 3 ? mean : toSrgb(mean)) * 255);
      }
  return sharp(pixels, { raw: { width: w, height: h, channels: 4 } })
    .png()
    .toBuffer();
};

const readFloatsOr422 = (bytes: Uint8Array): Floats => {
  try {
    return readFloats(bytes);
  } catch {
    throw new ApiError(422, 'invalid', 'This picture is damaged or cut short; it cannot be read to its end.');
  }
};

/** What threads do, by its name: whatever could hold the server for more than a moment. Each throws ApiError. */
export const JOBS = {
  unpackArchive,
  packArchive,
  readParts: (asked: keyof typeof PART_REQUESTS, bytes: Uint8Array, kinds: Kinds): unknown =>
    PART_REQUESTS[asked](bytes, kinds),
  /** Reads a picture of floats through, once. @returns the PNG that pages show of it */
  showFloats: (bytes: Uint8Array): Promise<Uint8Array> => shownPng(readFloatsOr422(bytes)),
  readFloats: readFloatsOr422,
  /** Reads a mesh through, as the stage will. */
  checkMesh: (bytes: Uint8Array): null => {
    try {
      readGlb(bytes);
      return null;
    } catch (error) {
      throw new ApiError(422, 'invalid', (error as Error).message);
    }
  },
} as const;
export type Jobs = typeof JOBS;
