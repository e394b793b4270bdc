import { toast } from 'svelte-sonner';
import type { Parameter, ParameterValue } from '#core/document/shader.ts';
import { setValue } from '#core/edits/materialEdits.ts';
import { changeParameter } from '#core/edits/shaderEdits.ts';
import type { Session } from './state/session.svelte.ts';

/** A motif's inputs are shown at their defaults; a shared value is the project's; the rest is the material's. */
const author = (session: Session, parameter: Parameter, value: ParameterValue): void => {
  const { openMotif: motif, shared, material } = session;
  if (motif)
    session.apply({
      ...changeParameter(motif.id, motif.body, { ...parameter, default: value }),
      merge: `default ${parameter.id}`,
    });
  else if (parameter.scope !== 'shared') session.apply(setValue(material!.id, parameter, value));
  else if (shared) session.apply(setValue(shared.id, parameter, value));
  else
    void session
      .ensureShared()
      .then((id) => session.apply(setValue(id, parameter, value)))
      .catch((error: unknown) => toast.error((error as Error).message));
};

/** Sets what a parameter of the material in hand stands at. What is driven is held by hand meanwhile, over its driver. */
export const dragValue = (session: Session, parameter: Parameter, value: ParameterValue): void => {
  const { material, openMotif } = session;
  if (material && !openMotif && session.values.of(material.id).has(parameter.name))
    session.values.drive('hand', [{ material: material.id, parameter: parameter.name, value }]);
  author(session, parameter, value);
};

/** Ends a drag: its driver has it again. */
export const settleValue = (session: Session): void => {
  session.values.clear('hand');
  session.settle();
};
