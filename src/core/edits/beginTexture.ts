import type { TextureStep } from '../document/kinds/texture.ts';
import { newPart, type Part, type PartOf } from '../document/project.ts';
import { STARTERS } from '../document/starter.ts';
import { freePartName, type Begun } from './partEdits.ts';

/** Begins a texture with a step that begins it, such as a picture that was brought, or a strand. */
export const beginTexture = (
  parts: Iterable<Part>,
  wish: string,
  step: Pick<TextureStep, 'step' | 'words'>,
  kept: Partial<Pick<PartOf<'texture'>['body'], 'holds' | 'bits'>>,
  newId: () => string,
): Begun => {
  const [id, name] = [`texture-${newId()}`, freePartName(parts, 'texture', wish)];
  const steps = [{ id: `step-${newId()}`, numbers: {}, ...step }];
  const body = { ...STARTERS.texture(), ...kept, steps };
  return { id, name, changes: [{ op: 'add', part: newPart('texture', id, name, body) }] };
};
