import { toast } from 'svelte-sonner';
import {
  MOST_FLOURISHES,
  MOST_LAYERS,
  type Flourish,
  type FlourishLayer,
} from '#core/document/flourishes.ts';
import {
  changeFlourish,
  changeLayer,
  copyLayer,
  copyOfFlourish,
  freeFlourishName,
  freeLayerName,
  layerStarter,
  setFlourishes,
} from '#core/edits/flourishEdits.ts';
import { meshStarter } from '#core/meshes/meshStarter.ts';
import { newId } from '../../parts/newId.ts';
import type { Cueing } from '../cues/cueing.svelte.ts';
import type { Session } from '../state/session.svelte.ts';

export const doToFlourish = (
  session: Session,
  id: string,
  label: string,
  change: (flourish: Flourish) => Flourish,
  merge?: string,
): void => {
  if (!session.stage) return;
  session.apply(changeFlourish(session.stage, id, label, change, merge));
  if (merge === undefined) session.settle();
};

export const doToLayer = (
  session: Session,
  flourish: string,
  layer: string,
  label: string,
  change: (layer: FlourishLayer) => FlourishLayer,
  merge?: string,
): void =>
  doToFlourish(
    session,
    flourish,
    label,
    (each) => changeLayer(each, layer, change),
    merge === undefined ? undefined : `${layer} ${merge}`,
  );

const put = (session: Session, cueing: Cueing, flourish: Flourish, label: string): void => {
  const { stage } = session;
  if (!stage) return;
  const list = stage.body.flourishes ?? [];
  if (list.length >= MOST_FLOURISHES) {
    toast(`A set has up to ${MOST_FLOURISHES} flourishes; delete one first.`);
    return;
  }
  session.apply(setFlourishes(stage, [...list, flourish], label));
  session.settle();
  cueing.holdFlourish(flourish);
};

/** The material that a new layer wears: the one in hand, else the first. */
const materialFor = (session: Session): string | undefined =>
  session.material?.id ?? session.materials[0]?.id;

/** Begins a flourish of one layer, and asks for its name. */
export const addFlourish = (session: Session, cueing: Cueing): void => {
  const { stage } = session;
  const material = materialFor(session);
  if (!stage) return;
  if (material === undefined) {
    toast('A layer wears a material, and this project has none yet; begin a shader first.');
    return;
  }
  const flourish: Flourish = {
    ...{ id: `flourish-${newId()}`, name: freeFlourishName(stage, 'Flourish') },
    ...{ at: [0, 1, 0], rotation: [0, 0, 0], play: 'once', seed: 1, starts: [] },
    layers: [
      layerStarter('sprites', {
        ...{ id: `layer-${newId()}`, name: 'Sparks', material, mesh: meshStarter('arc') },
      }),
    ],
  };
  put(session, cueing, flourish, 'Add a flourish');
  cueing.name(flourish.id);
};

export const duplicateFlourish = (session: Session, cueing: Cueing, flourish: Flourish): void => {
  if (session.stage)
    put(session, cueing, copyOfFlourish(session.stage, flourish, newId), `Duplicate ${flourish.name}`);
};

export const deleteFlourish = (session: Session, { id, name }: Flourish): void => {
  if (!session.stage) return;
  const left = (session.stage.body.flourishes ?? []).filter((each) => each.id !== id);
  session.apply(setFlourishes(session.stage, left, `Delete the flourish ${name}`));
  session.settle();
};

const NAMES = { mesh: 'Sweep', ribbon: 'Ribbon', sprites: 'Sparks' } as const;
export const addLayer = (
  session: Session,
  cueing: Cueing,
  flourish: Flourish,
  kind: FlourishLayer['kind'],
): void => {
  const material = flourish.layers[0]?.material ?? materialFor(session);
  if (material === undefined) return;
  if (flourish.layers.length >= MOST_LAYERS) {
    toast(`A flourish has up to ${MOST_LAYERS} layers; delete one first.`);
    return;
  }
  const layer = layerStarter(kind, {
    ...{ id: `layer-${newId()}`, name: freeLayerName(flourish, NAMES[kind]), material },
    mesh: meshStarter('arc'),
  });
  doToFlourish(session, flourish.id, `Add ${layer.name}`, (each) => ({
    ...each,
    layers: [...each.layers, layer],
  }));
  cueing.holdFlourish(flourish, layer);
};

export const duplicateLayer = (
  session: Session,
  cueing: Cueing,
  flourish: Flourish,
  layer: FlourishLayer,
): void => {
  if (flourish.layers.length >= MOST_LAYERS) {
    toast(`A flourish has up to ${MOST_LAYERS} layers; delete one first.`);
    return;
  }
  const id = `layer-${newId()}`;
  doToFlourish(session, flourish.id, `Duplicate ${layer.name}`, (each) => copyLayer(each, layer.id, id));
  cueing.holdFlourish(flourish, { ...layer, id });
};

export const deleteLayer = (session: Session, flourish: Flourish, layer: FlourishLayer): void =>
  doToFlourish(session, flourish.id, `Delete ${layer.name}`, (each) => ({
    ...each,
    layers: each.layers.filter(({ id }) => id !== layer.id),
  }));

/** Draws a layer, or leaves it out. */
export const switchLayer = (session: Session, flourish: Flourish, layer: FlourishLayer): void =>
  doToLayer(
    session,
    flourish.id,
    layer.id,
    `${layer.off ? 'Show' : 'Hide'} ${layer.name}`,
    ({ off, ...each }) => (off ? each : { ...each, off: true }),
  );
