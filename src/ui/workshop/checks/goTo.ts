import { tick } from 'svelte';
import type { Place } from '#core/analyse/scene.ts';
import type { Part } from '#core/document/project.ts';
import { openPart } from '../parts/doToPart.ts';
import { focusStop, parameterStop, propStop, rowStop } from '../score/stops.ts';
import type { Session } from '../state/session.svelte.ts';

/** Opens a shader by a material that stands on the set, where there is one. */
const openShader = (session: Session, part: Part): void => {
  if (session.shader?.id === part.id && !session.openMotif) return;
  const worn = session.stage?.body.props.map(({ material }) => material) ?? [];
  const found = [...worn, ...session.materials.map(({ id }) => id)].find((id) =>
    session.materials.some((each) => each.id === id && each.body.shader === part.id),
  );
  if (found === undefined) openPart(session, part);
  else session.showMaterial(found);
};

/** Shows a place that a check speaks of, where it can be changed, and puts the focus there. */
export const goTo = async (session: Session, partId: string, place: Place): Promise<void> => {
  const part = session.part(partId);
  if (!part) return;
  if (part.kind === 'shader') openShader(session, part);
  if (part.kind === 'motif' && session.openMotif?.id !== part.id) openPart(session, part);
  switch (place.kind) {
    case 'step':
    case 'strand':
    case 'output': {
      session.showTab('strands');
      await tick();
      if (place.kind === 'step') {
        session.select(place.step);
        focusStop(place.step);
      } else if (place.kind === 'strand') {
        const first = session.document?.strands.find(({ id }) => id === place.strand)?.steps[0];
        if (first) session.select(first.id);
        focusStop(first?.id ?? rowStop(place.strand));
      } else
        document
          .querySelector(`[data-output="${place.output}"]`)
          ?.querySelector<HTMLElement>('button:last-of-type')
          ?.focus();
      return;
    }
    case 'parameter': {
      const name = session.document?.parameters.find(({ id }) => id === place.parameter)?.name;
      await tick();
      return name === undefined ? undefined : focusStop(parameterStop(name));
    }
    case 'prop':
      session.showTab('stage');
      session.holdProps([place.prop]);
      await tick();
      return focusStop(propStop(place.prop));
    case 'cue':
      return session.showTab('cues');
    case 'line':
      return session.showScript(partId);
    case 'part':
      return session.showTab(part.kind === 'stage' ? 'stage' : 'strands');
  }
};
