import { createHash } from 'node:crypto';
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import { readArchive, type PackedPart } from '#core/handover/archive.ts';
import { readGlb } from '#core/meshes/glb.ts';
import { arrive } from '#core/meshes/imported.ts';
import { rigsWanted } from '#script/startOf.ts';
import { Refusal } from './command.ts';
import { filesAt } from './documents.ts';

/** The files of an exported project: an archive, or the folder it was unpacked to. */
const filesOf = (path: string): ReadonlyMap<string, Uint8Array> => {
  if (existsSync(join(path, 'project.json')))
    return new Map(
      filesAt(path, /./).map((file) => [file.slice(path.replace(/\/$/, '').length + 1), readFileSync(file)]),
    );
  if (!existsSync(path)) throw new Refusal(`${path}: there is no such file.`);
  try {
    return new Map(Object.entries(unzipSync(readFileSync(path))));
  } catch {
    throw new Refusal(
      `${path}: this is neither a project’s archive nor the folder one was unpacked to: there is no project.json in it.`,
    );
  }
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
