import { addStrand } from '#core/edits/shaderEdits.ts';
import { newId } from '../../parts/newId.ts';
import type { Session } from '../state/session.svelte.ts';

/** A strand of one number, last or where it is asked for; the cursor goes into its name. */
export const newStrand = (session: Session, at?: number): void => {
  const { score } = session;
  if (!score) return;
  const taken = new Set([...score.body.strands, ...score.body.parameters].map((each) => each.name));
  let n = 1;
  while (taken.has(`strand${n}`)) n += 1;
  const id = `strand-${newId()}`;
  session.apply(
    addStrand(score.id, at ?? score.body.strands.length, {
      ...{ id, name: `strand${n}`, note: '' },
      steps: [{ id: `step-${newId()}`, operator: 'value', arguments: { x: 0.5 } }],
    }),
  );
  session.nameStrand(id);
};
