import assert from 'node:assert/strict';
import { test } from 'node:test';
import { LAYER_KINDS, layerLength, type Flourish } from '../document/flourishes.ts';
import { parsePart } from '../document/parsePart.ts';
import { applyPatches, type Edit } from '../document/patch.ts';
import { newPart, type PartOf, type StageDocument } from '../document/project.ts';
import { curveAt } from '../numbers/curve.ts';
import {
  changeFlourish,
  changeLayer,
  copyLayer,
  copyOfFlourish,
  flat,
  layerStarter,
  ramp,
  setFlourishes,
} from './flourishEdits.ts';

const mesh = { kind: 'plane', size: [1, 1], divisions: [1, 1] } as const;
const starter = (kind: (typeof LAYER_KINDS)[number], id: string) =>
  layerStarter(kind, { id, name: id, material: 'air', mesh });
const band = starter('ribbon', 'Band');
const grains = {
  ...starter('sprites', 'Grains'),
  sprites: { ...starter('sprites', '').sprites!, along: 'Band' },
};
const sweep: Flourish = {
  ...{ id: 'sweep', name: 'Sweep', at: [0, 1, 0], rotation: [0, 0, 0], play: 'once', seed: 1 },
  ...{ starts: [{ by: 'key', key: 'KeyF' }], layers: [band, grains] },
};
const body = {
  ...{ format: 'wicked-veil/stage', version: 1, props: [], lights: [], exposure: 1 },
  ...{ ambientUp: [0, 0, 0], ambientDown: [0, 0, 0], bloom: { threshold: 1, intensity: 0 } },
  camera: { position: [0, 1, 4], target: [0, 1, 0], fieldOfView: 40 },
} as unknown as StageDocument;
const setOf = (flourishes?: readonly Flourish[]) =>
  newPart('stage', 'hall', 'Hall', { ...body, ...(flourishes ? { flourishes } : {}) }) as PartOf<'stage'>;
const after = (set: PartOf<'stage'>, edit: Edit): StageDocument =>
  applyPatches(set.body, edit.patches).document;
let made = 0;
const newId = () => `n${(made += 1)}`;

test('every kind of layer begins as a document that reads back the same', () => {
  const layers = LAYER_KINDS.map((kind) => starter(kind, kind));
  const { document, problems } = parsePart('stage', { ...body, flourishes: [{ ...sweep, layers }] });
  assert.deepEqual(problems, []);
  assert.deepEqual((document as StageDocument).flourishes, [{ ...sweep, layers }]);
});

test('a copy has ids of its own: what sat on a ribbon sits on the ribbon’s copy, and starts with it', () => {
  const copy = copyOfFlourish(setOf([sweep]), sweep, newId);
  assert.equal(copy.name, 'Sweep 2');
  assert.deepEqual(copy.starts, sweep.starts);
  const ids = [sweep, copy].flatMap(({ id, layers }) => [id, ...layers.map((each) => each.id)]);
  assert.equal(new Set(ids).size, 6);
  assert.equal(copy.layers[1]!.sprites!.along, copy.layers[0]!.id);
  assert.equal(sweep.layers[1]!.sprites!.along, 'Band');
});

test('a layer’s copy stands behind it under another name; one that is not there is not copied', () => {
  const { layers } = copyLayer(sweep, 'Band', 'other');
  assert.deepEqual(
    layers.map(({ id, name }) => [id, name]),
    [
      ['Band', 'Band'],
      ['other', 'Band 2'],
      ['Grains', 'Grains'],
    ],
  );
  assert.equal(copyLayer(sweep, 'gone', 'other'), sweep);
});

test('an edit touches the flourish it names, joins a drag, and leaves nothing where none is left', () => {
  const other = { ...sweep, id: 'other', layers: [] };
  const set = setOf([other, sweep]);
  const longer = (each: Flourish) => changeLayer(each, 'Band', (layer) => ({ ...layer, life: 3 }));
  const edit = changeFlourish(set, 'sweep', 'Retime', longer, 'times');
  assert.deepEqual(
    edit.patches.map(({ path }) => path),
    [['flourishes', 1]],
  );
  assert.equal(edit.merge, changeFlourish(set, 'sweep', 'Retime', longer, 'times').merge);
  const now = after(set, edit);
  assert.equal(now.flourishes![1]!.layers[0]!.life, 3);
  assert.equal(now.flourishes![0], other);
  assert.deepEqual(changeFlourish(set, 'sweep', 'Nothing', (each) => each).patches, []);
  assert.deepEqual(changeFlourish(set, 'gone', 'Nothing', longer).patches, []);
  assert.equal('flourishes' in after(set, setFlourishes(set, [], 'Delete')), false);
});

test('curves that begin a layer stay, or go straight; a layer lasts until nothing of it is left', () => {
  for (const [x, y] of [
    [0, 4],
    [0.25, 2],
    [1, -4],
  ] as const)
    assert.equal(curveAt(ramp(4, -4), x), y);
  assert.equal(curveAt(flat(0.3), 0.7), 0.3);
  const free = starter('sprites', 's');
  const shower = (more: object, life = 1) => ({
    ...free,
    life,
    sprites: { ...free.sprites!, lasts: 0.5, ...more },
  });
  assert.deepEqual(
    [
      layerLength(shower({})),
      layerLength(shower({}, 0.1)),
      layerLength(shower({ rate: 9 })),
      layerLength(shower({ along: 'Band' })),
      layerLength({ ...band, ribbon: { ...band.ribbon!, lasts: 2 } }),
      layerLength({ ...band, ribbon: { from: band.ribbon!.from, segments: 4, width: 1, lasts: 2 } }),
    ],
    [1, 0.5, 1.5, 1, 1, 3],
  );
});
