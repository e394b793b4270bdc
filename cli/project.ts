import { createHash } from 'node:crypto';
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { join, relative } from 'node:path';
import { readArchive, type PackedPart } from '#core/handover/archive.ts';
import { readGlb } from '#core/meshes/glb.ts';
import { arrive } from '#core/meshes/imported.ts';
import { rigsWanted } from '#script/startOf.ts';
import { unzip } from '#server/jobs/unzip.ts';
import { Refusal } from './command.ts';

/** The files of an exported project: an archive, or the folder it was unpacked to. */
const filesOf = (path: string): ReadonlyMap<string, Uint8Array> => {
  if (!existsSync(path)) throw new Refusal(`${path}: there is no such file.`);
  const isFolder = statSync(path).isDirectory();
  if (isFolder && existsSync(join(path, 'project.json'))) return filesIn(path);
  try {
    if (!isFolder) return unzip(readFileSync(path));
  } catch (error) {
    throw new Refusal(`${path}: ${(error as Error).message}`);
  }
  throw new Refusal(`${path}: there is no project.json in this folder, so no project was unpacked here.`);
};

/** The folders of an unpacked project that its index names no file of: bytes by their SHA-256. */
const BYTES = ['pictures', 'meshes'];
/** The files of an unpacked project. A folder may hold anything else besides: only what its index names is read. */
const filesIn = (folder: string): ReadonlyMap<string, Uint8Array> => {
  const index = readFileSync(join(folder, 'project.json'));
  const named = ((): readonly unknown[] => {
    try {
      const { parts } = JSON.parse(index.toString('utf8')) as {
        readonly parts: { readonly file: unknown }[];
      };
      return parts.map(({ file }) => file);
    } catch {
      // What is wrong with it is said where it is read.
      return [];
    }
  })();
  const bytes = BYTES.flatMap((each) =>
    existsSync(join(folder, each)) ? readdirSync(join(folder, each)).map((file) => `${each}/${file}`) : [],
  );
  const files = [...named, ...bytes].filter(
    (file): file is string =>
      typeof file === 'string' &&
      !relative(folder, join(folder, file)).startsWith('..') &&
      (statSync(join(folder, file), { throwIfNoEntry: false })?.isFile() ?? false),
  );
  return new Map([
    ['project.json', index],
    ...files.map((file): [string, Uint8Array] => [file, readFileSync(join(folder, file))]),
  ]);
};

/** An exported project: its parts, and the bytes of its pictures and meshes by their SHA-256. @throws Refusal */
export const projectAt = (
  path: string,
): { readonly parts: readonly PackedPart[]; readonly blobs: ReadonlyMap<string, Uint8Array> } => {
  const found = readArchive(filesOf(path), (bytes) => createHash('sha256').update(bytes).digest('hex'));
  if ('problems' in found)
    throw new Refusal(
      found.problems.map((each) => `${each.path}: ${each.message}`).join('\n'),
      1,
      found.problems.map((each) => ({
        severity: 'mistake',
        file: path,
        message: `${each.path}: ${each.message}`,
      })),
    );
  // What moves a mesh is what others hang on.
  const { parts, blobs } = found.project;
  for (const each of parts)
    for (const blob of each.kind === 'stage' ? rigsWanted(each.body.props) : []) {
      const bytes = blobs.get(blob);
      if (bytes) arrive(blob, readGlb(bytes));
    }
  return { parts, blobs };
};
