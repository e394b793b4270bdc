import { materialsOn } from '#core/document/materialsOn.ts';
import type { StageDocument } from '#core/document/project.ts';
import type { LayerNow } from '#core/time/playFlourishes.ts';
import type { MovedSet } from '#core/time/rehearse.ts';
import { setNow } from '#core/time/setNow.ts';
import type { StageLayer } from '#stage/scene/layers.ts';
import { layersOn, type DrivenOf } from '../flourishes/layersOn.ts';
import type { Look } from '../../parts/drawSet.ts';
import { picturesNow, picturesOf } from '../picturesOf.ts';
import type { Session } from './session.svelte.ts';

/** What a material looks like as it stands; null while its shader has never worked. */
export const lookOf = (session: Session, material: string): Look | null => {
  const part = session.part(material);
  const shader = part?.kind === 'material' ? session.part(part.body.shader) : undefined;
  const state = shader && session.shaders.get(shader.id);
  if (part?.kind !== 'material' || shader?.kind !== 'shader' || !state?.good) return null;
  return {
    ...{ material, shader: state.good, settings: state.settings, knobs: state.knobs },
    parameters: shader.body.parameters,
    authored: session.authored(part.body.values),
    pictures: picturesOf(part.body, shader.body.parameters),
  };
};

/** What stands on the stage: a set, what its materials look like, and what there is of flourishes. */
export interface Scenery {
  readonly set: StageDocument;
  readonly looks: readonly Look[];
  readonly layers: readonly StageLayer[];
}

/** What of a set stands otherwise than it is authored. */
export interface Moved {
  readonly moved: MovedSet | null;
  readonly layers: readonly LayerNow[];
}

/** What stands on the stage where its materials are driven so; null where there is no set. */
export const sceneryOf = (session: Session, drivenOf: DrivenOf, { moved, layers }: Moved): Scenery | null => {
  const set = session.stage?.body;
  if (!set) return null;
  const looks = [...materialsOn(set)].flatMap((material) => {
    const look = lookOf(session, material);
    const part = session.part(material);
    if (!look || part?.kind !== 'material') return [];
    const driven = drivenOf(material);
    return [{ ...look, driven, pictures: picturesNow(part, look.parameters, set.choices, driven) }];
  });
  return { set: setNow(set, moved), looks, layers: layersOn(session, layers, drivenOf) };
};

/** What stands on the stage now, driven values and all; null where there is no set. */
export const sceneryNow = (session: Session, now: Moved = { moved: null, layers: [] }): Scenery | null =>
  sceneryOf(session, session.values.of, now);
