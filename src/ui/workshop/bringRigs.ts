import type { StageDocument } from '#core/document/project.ts';
import { readGlb } from '#core/meshes/glb.ts';
import { arrive } from '#core/meshes/imported.ts';
import { rigOf } from '#core/rigs/rig.ts';
import { rigsWanted } from '#script/startOf.ts';

/** The meshes that others hang on and that have not arrived yet. */
export const missingRigs = (props: StageDocument['props']): readonly string[] =>
  rigsWanted(props).filter((blob) => !rigOf(blob));

/** Brings meshes whose joints others hang on. @throws Error that says which is not there */
export const bringRigs = async (blobs: readonly string[]): Promise<void> => {
  await Promise.all(
    blobs.map(async (blob) => {
      const answer = await fetch(`/api/blobs/${blob}`);
      if (!answer.ok) throw new Error('A mesh that something hangs on is not kept here any more.');
      arrive(blob, readGlb(new Uint8Array(await answer.arrayBuffer())));
    }),
  );
};
