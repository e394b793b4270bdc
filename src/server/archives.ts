import type { Knex } from 'knex';
import { findBlob, keepBlob, MESH_TYPE } from './blobs.ts';
import { runJob } from './jobs/threads.ts';
import { createProjectOf, partTexts, readHead } from './projects.ts';

/** Archives larger than this are refused unread. */
export const LARGEST_ARCHIVE = 256 * 1024 * 1024;

const ENDINGS: Readonly<Record<string, string>> = {
  ...{ 'image/png': 'png', 'image/jpeg': 'jpg', 'image/webp': 'webp' },
  ...{ 'image/vnd.radiance': 'hdr', 'image/x-exr': 'exr', [MESH_TYPE]: 'glb' },
};

/** A project as a zip, written in a thread: the same project gives the same bytes. @throws ApiError 404 */
export const packProject = async (
  db: Knex,
  id: string,
): Promise<{ readonly name: string; readonly bytes: Uint8Array<ArrayBuffer> }> => {
  const { name } = await readHead(db, id);
  const parts = await partTexts(db, id);
  // Whatever looks like one is fetched; the thread, which reads the parts, takes those that are named.
  const named = new Set(parts.flatMap(({ text }) => text.match(/(?<=")[0-9a-f]{64}(?=")/g) ?? []));
  const blobs: (readonly [string, Uint8Array, string])[] = [];
  for (const sha of named) {
    const { mediaType, bytes } = (await findBlob(db, sha)) ?? {};
    if (bytes) blobs.push([sha, bytes, ENDINGS[mediaType!] ?? 'bin']);
  }
  return { name, bytes: await runJob('packArchive', name, parts, blobs) };
};

/** Makes a project from an archive, whole or not at all; it is read in a thread. @throws ApiError 413 or 422 */
export const unpackProject = async (
  db: Knex,
  archive: Uint8Array,
): Promise<{ readonly id: string; readonly name: string }> => {
  const { name, parts, blobs } = await runJob('unpackArchive', archive);
  for (const bytes of blobs) await keepBlob(db, bytes);
  return createProjectOf(db, name, parts);
};
