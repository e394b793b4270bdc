import type { Edit } from '../document/patch.ts';
import { MOST_SEGMENTS, type Flourish, type FlourishLayer } from '../document/flourishes.ts';
import type { PartOf } from '../document/project.ts';
import { freeTitle } from './freeTitle.ts';
import { setList } from './stageEdits.ts';

type StageSet = PartOf<'stage'>;

/** Changes the flourishes of a set. */
export const setFlourishes = (set: StageSet, flourishes: readonly Flourish[], label: string): Edit =>
  setList(set, 'flourishes', flourishes, label);

/** Changes one flourish. @param merge joins a run of changes, such as a drag, to one that is undone at once */
export const changeFlourish = (
  set: StageSet,
  id: string,
  label: string,
  change: (flourish: Flourish) => Flourish,
  merge?: string,
): Edit => {
  const at = set.body.flourishes?.findIndex((each) => each.id === id) ?? -1;
  const flourish = set.body.flourishes?.[at];
  const changed = flourish && change(flourish);
  return {
    ...{ label, part: set.id },
    ...(merge === undefined ? {} : { merge: `flourish ${id} ${merge}` }),
    patches:
      changed && changed !== flourish ? [{ op: 'replace', path: ['flourishes', at], value: changed }] : [],
  };
};

export const changeLayer = (
  flourish: Flourish,
  id: string,
  change: (layer: FlourishLayer) => FlourishLayer,
): Flourish => ({
  ...flourish,
  layers: flourish.layers.map((each) => (each.id === id ? change(each) : each)),
});

/** A name that no other flourish of a set has. */
export const freeFlourishName = ({ body }: StageSet, wish: string): string =>
  freeTitle(wish, new Set(body.flourishes?.map((each) => each.name)));
export const freeLayerName = ({ layers }: Flourish, wish: string): string =>
  freeTitle(wish, new Set(layers.map((each) => each.name)));

/** A flourish beside the one it is a copy of: under another name, its layers with ids of their own. */
export const copyOfFlourish = (set: StageSet, flourish: Flourish, newId: () => string): Flourish => {
  const ids = new Map(flourish.layers.map(({ id }) => [id, `layer-${newId()}`]));
  return {
    ...flourish,
    ...{ id: `flourish-${newId()}`, name: freeFlourishName(set, flourish.name) },
    layers: flourish.layers.map((layer) => withAlong({ ...layer, id: ids.get(layer.id)! }, ids)),
  };
};
/** Sprites that sat on a layer sit on its copy. */
const withAlong = (layer: FlourishLayer, ids: ReadonlyMap<string, string>): FlourishLayer => {
  const along = ids.get(layer.sprites?.along ?? '');
  return along === undefined ? layer : { ...layer, sprites: { ...layer.sprites!, along } };
};

/** A layer right behind the one it is a copy of. */
export const copyLayer = (flourish: Flourish, id: string, newId: string): Flourish => {
  const at = flourish.layers.findIndex((each) => each.id === id);
  const layer = flourish.layers[at];
  if (!layer) return flourish;
  const copy = { ...layer, id: newId, name: freeLayerName(flourish, layer.name) };
  return { ...flourish, layers: flourish.layers.toSpliced(at + 1, 0, copy) };
};

/** A value that stays the same: a curve of one key. */
export const flat = (y: number): readonly number[] => [0, y, 0, 0];
/** A curve that goes straight from one number to another. */
export const ramp = (from: number, to: number): readonly number[] => [
  ...[0, from, to - from, to - from],
  ...[1, to, to - from, to - from],
];

/** What a new layer of a kind begins with. */
export const layerStarter = (
  kind: FlourishLayer['kind'],
  given: {
    readonly id: string;
    readonly name: string;
    readonly material: string;
    readonly mesh: NonNullable<FlourishLayer['mesh']>;
  },
): FlourishLayer => ({
  ...{ id: given.id, name: given.name, kind, material: given.material },
  ...{ start: 0, life: 1, at: [0, 0, 0], rotation: [0, 0, 0], size: 1 },
  ...{ spin: 0, spinAxis: [0, 0, 1], values: [] },
  ...(kind === 'mesh' ? { mesh: given.mesh } : {}),
  ...(kind === 'ribbon'
    ? {
        ribbon: {
          from: { at: [-0.5, 0, 0], way: [0.4, 0.6, 0] },
          to: { at: [0.5, 0, 0], way: [0.4, -0.6, 0] },
          ...{ segments: Math.min(32, MOST_SEGMENTS), width: 0.08 },
        },
      }
    : {}),
  ...(kind === 'sprites'
    ? {
        sprites: {
          ...{ count: 24, lasts: 0.8, speed: [0.6, 1.6], way: [0, 1, 0], spread: 40 },
          ...{ inherits: 0, gravity: 2, drag: 1, size: 0.06 },
          sizes: ramp(1, 0),
        },
      }
    : {}),
});
