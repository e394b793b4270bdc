import { unzipSync, zipSync } from 'fflate';
import type { Knex } from 'knex';
import { blobsIn } from '#core/document/blobsIn.ts';
import { archiveFiles, readArchive } from '#core/handover/archive.ts';
import type { Project } from '#core/document/project.ts';
import { keepBlob, MESH_TYPE, readBlob, shaOf } from './blobs.ts';
import { ApiError } from './errors.ts';
import { createProject, readProject } from './projects.ts';

/** Archives larger than this are refused unread. */
export const LARGEST_ARCHIVE = 256 * 1024 * 1024;
/** Bytes and files an archive may hold once it is unpacked. */
const LARGEST_UNPACKED = 512 * 1024 * 1024;
const MOST_FILES = 6000;

const ENDINGS: Readonly<Record<string, string>> = {
  ...{ 'image/png': 'png', 'image/jpeg': 'jpg', 'image/webp': 'webp' },
  ...{ 'image/vnd.radiance': 'hdr', 'image/x-exr': 'exr', [MESH_TYPE]: 'glb' },
};

/** A project as a zip: the same project gives the same bytes. @throws ApiError 404 */
export const packProject = async (
  db: Knex,
  id: string,
): Promise<{ readonly name: string; readonly bytes: Uint8Array<ArrayBuffer> }> => {
  const { name, parts } = await readProject(db, id);
  const blobs = new Map<string, { bytes: Uint8Array; ending: string }>();
  for (const sha of blobsIn(parts).keys()) {
    const { mediaType, bytes } = await readBlob(db, sha);
    blobs.set(sha, { bytes, ending: ENDINGS[mediaType] ?? 'bin' });
  }
  const files = archiveFiles(name, parts, blobs);
  const entries = Object.fromEntries([...files].map(([file, bytes]) => [file, new Uint8Array(bytes)]));
  return { name, bytes: zipSync(entries, { level: 6, mtime: new Date(1980, 0, 1) }) };
};

const unpack = (bytes: Uint8Array): ReadonlyMap<string, Uint8Array> => {
  let size = 0;
  let count = 0;
  try {
    const entries = unzipSync(bytes, {
      // What an entry says of its size is believed only to refuse it: inflating stops at what was said.
      filter: ({ name, originalSize }) => {
        size += originalSize;
        count += 1;
        if (size > LARGEST_UNPACKED || count > MOST_FILES)
          throw new ApiError(
            413,
            'too-large',
            `The archive holds more than ${LARGEST_UNPACKED / 1024 / 1024} MB, or more than ${MOST_FILES} files.`,
          );
        return !name.endsWith('/');
      },
    });
    return new Map(Object.entries(entries));
  } catch (error) {
    if (error instanceof ApiError) throw error;
    throw new ApiError(422, 'invalid', 'This is not a zip archive, or it is damaged or cut short.');
  }
};

/** Makes a project from an archive, whole or not at all. @throws ApiError 413 or 422 */
export const unpackProject = async (db: Knex, bytes: Uint8Array): Promise<Project> => {
  const read = readArchive(unpack(bytes), shaOf);
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
  for (const sha of blobsIn(parts).keys()) await keepBlob(db, blobs.get(sha)!);
  return createProject(db, name, parts);
};

/** Another project of the same parts. @throws ApiError 404 */
export const copyProject = async (db: Knex, id: string): Promise<Project> => {
  const { name, parts } = await readProject(db, id);
  return createProject(db, `${name} copy`.slice(0, 120), parts);
};
