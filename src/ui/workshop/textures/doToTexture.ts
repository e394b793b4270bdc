import { tick } from 'svelte';
import type { PartOf, TextureStep } from '#core/document/project.ts';
import { changeStep, moveStep, setSteps } from '#core/edits/textureEdits.ts';
import { newId } from '../../parts/newId.ts';
import type { Session } from '../state/session.svelte.ts';

type Texture = PartOf<'texture'>;

/** The step that is worked on: the last one of the texture in hand, where none was chosen. */
export const stepInHand = ({ texture, textureStep }: Session): TextureStep | null =>
  texture?.body.steps.find(({ id }) => id === textureStep) ?? texture?.body.steps.at(-1) ?? null;

/** Takes a step in hand, and the keyboard to its card. */
const goTo = (session: Session, texture: Texture, id: string | null): void => {
  session.holdTexture(texture.id, id);
  void tick().then(() => document.querySelector<HTMLElement>(`[data-image-step="${id}"]`)?.focus());
};
const put = (session: Session, texture: Texture, label: string, steps: readonly TextureStep[]): void => {
  session.apply(setSteps(texture, label, steps));
  session.settle();
};

/** Adds a step behind the others. */
export const addStep = (session: Session, texture: Texture, step: string): void => {
  const made: TextureStep = { id: `step-${newId()}`, step, numbers: {}, words: {} };
  put(session, texture, `Add ${step}`, [...texture.body.steps, made]);
  session.holdTexture(texture.id, made.id);
};

/** A copy of a step right behind it. */
export const duplicateStep = (session: Session, texture: Texture, { id, ...rest }: TextureStep): void => {
  const { steps } = texture.body;
  const made = { ...rest, id: `step-${newId()}` };
  const at = steps.findIndex((each) => each.id === id);
  put(session, texture, `Duplicate ${rest.step}`, steps.toSpliced(at + 1, 0, made));
  goTo(session, texture, made.id);
};

export const deleteStep = (session: Session, texture: Texture, { id, step }: TextureStep): void => {
  const { steps } = texture.body;
  const at = steps.findIndex((each) => each.id === id);
  put(session, texture, `Delete ${step}`, steps.toSpliced(at, 1));
  goTo(session, texture, (steps[at - 1] ?? steps[at + 1])?.id ?? null);
};

/** Leaves a step out, or takes it in again. */
export const switchStep = (session: Session, texture: Texture, { id, step, off }: TextureStep): void => {
  session.apply(
    changeStep(texture, id, off ? `Take ${step} in` : `Leave ${step} out`, ({ off: _, ...each }) =>
      off ? each : { ...each, off: true },
    ),
  );
  session.settle();
};

export const shiftStep = (session: Session, texture: Texture, id: string, way: -1 | 1): void => {
  session.apply(moveStep(texture, id, way));
  session.settle();
  goTo(session, texture, id);
};
