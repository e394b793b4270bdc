import type { PartOf } from '#core/document/project.ts';
import type { Parameter } from '#core/document/shader.ts';
import { renameParameter } from '#core/edits/renameParameter.ts';
import { changeParameter } from '#core/edits/shaderEdits.ts';
import { renameParameterIn } from '#script/usesIn.ts';
import { commitDeed } from './parts/doToPart.ts';
import type { Session } from './state/session.svelte.ts';

/** Keeps a changed parameter. Scripts, takes and shared values follow a new name, in one undoable change. */
export const keepParameter = (
  session: Session,
  shader: PartOf<'shader'> | PartOf<'motif'>,
  parameter: Parameter,
): void => {
  const changes =
    shader.kind === 'shader' ? renameParameter(session.parts, shader, parameter, renameParameterIn) : [];
  const edit = changeParameter(shader.id, shader.body, parameter);
  if (changes.length < 2) session.apply(edit);
  else void commitDeed(session, edit.label, changes);
};
