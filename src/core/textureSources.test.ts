import assert from 'node:assert/strict';
import { test } from 'node:test';
import { emptyShader } from './document/shader.ts';
import type { Part } from './document/project.ts';
import { recipesOf } from './document/recipes.ts';
import { usersOf } from './document/users.ts';
import type { Image } from './images/image.ts';
import { createMaker } from './images/makeTexture.ts';
import { digestOf } from './images/recipe.ts';
import { createSources, sampledFrom } from './textureSources.ts';

const part = (kind: string, id: string, body: object): Part =>
  ({ kind, id, name: id, revision: 0, body }) as unknown as Part;
const strand = (name: string, x: string) => ({
  ...{ id: name, name, note: '' },
  steps: [{ id: `${name}-1`, operator: 'value', arguments: { x } }],
});
const number = (name: string, value: number) => ({
  ...{
    id: name,
    name,
    kind: 'float',
    default: [value],
    min: 0,
    max: 1,
    unit: '',
    group: '',
    description: '',
  },
});
const shader = part('shader', 'slope', {
  ...emptyShader(),
  parameters: [number('amount', 0.5), { ...number('map', 0), kind: 'texture', default: [] }],
  strands: [
    strand('across', 'uv.x * amount'),
    strand('seen', 'texture(map, uv).rgb'),
    strand('hid', 'sceneDepth()'),
  ],
  surface: {
    ...emptyShader().surface,
    lit: false,
    outputs: { baseColor: 'vec3(uv, time)', opacity: '0.25' },
  },
});
const steps = (step: string, words: object, numbers: object = {}) => [{ id: step, step, numbers, words }];
const texture = (id: string, made: readonly object[]): Part =>
  part('texture', id, { size: [8, 4], repeats: [true, true], holds: 'numbers', steps: made });
const chequer: Image = {
  ...{ width: 2, height: 1 },
  data: Float32Array.from([1, 0, 0, 1, 0, 1, 0, 1]),
};
const made = (parts: readonly Part[], id = 't', progress?: (share: number) => void) => {
  const bring = (sha: string): Image => {
    if (sha !== 'p') throw new Error(`${sha} is not here.`);
    return chequer;
  };
  const maker = createMaker(recipesOf(parts), createSources(parts, bring, progress));
  return maker.steps(id)[0]!;
};
const pixel = ({ data, width }: Image, x: number, y: number): number[] =>
  [...data.subarray((y * width + x) * 4, (y * width + x) * 4 + 4)].map((n) => Math.round(n * 1e6) / 1e6);

test('a shader, a strand of it, and a material’s values and pictures are laid out over the square of uv', () => {
  const of = (word: string, numbers: object = {}) =>
    made([shader, material, texture('t', steps('shader', { of: word }, numbers))]).image;
  const material = part('material', 'm', {
    shader: 'slope',
    values: { amount: [1] },
    pictures: { map: 'p' },
  });
  assert.deepEqual(pixel(of('slope', { time: [3] }), 5, 0), [5.5 / 8, 3.5 / 4, 3, 0.25]);
  assert.deepEqual(pixel(of('slope across'), 5, 2), [0.34375, 0.34375, 0.34375, 1]);
  assert.deepEqual(pixel(of('m across'), 5, 2), [0.6875, 0.6875, 0.6875, 1]);
  // Between the pixels as the stage samples them; where no picture is given, grey.
  assert.deepEqual(pixel(of('m seen'), 2, 0), [0.875, 0.125, 0, 1]);
  assert.deepEqual(pixel(of('slope seen'), 2, 0), [0.501961, 0.501961, 0.501961, 1]);
});

test('what is kept in more than eight bits is read as the half floats that the stage has of it', () => {
  const image: Image = { width: 1, height: 1, data: Float32Array.of(70000, -Infinity, 1 / 3, 2 ** -25) };
  const read = (bits?: 16 | 32) => [
    ...sampledFrom(image, { repeats: [true, true], filter: 'linear', ...(bits && { bits }) }).rgba,
  ];
  assert.deepEqual(read(32), [65504, -65504, 1365 / 4096, 0]);
  assert.deepEqual(read(16), read(32));
  assert.deepEqual(read(), [...image.data]);
});

test('what is named is followed: another shader is another digest, and what is gone or circular is told', () => {
  const reads = texture('t', steps('shader', { of: 'm seen' }));
  const material = (more: object) =>
    part('material', 'm', { shader: 'slope', pictures: { map: 'p' }, ...more });
  const parts = [shader, material({}), reads];
  const digest = (all: readonly Part[]) => digestOf('t', recipesOf(all));
  assert.equal(digest(parts), digest([...parts]));
  const other = part('shader', 'slope', {
    ...(shader.body as object),
    strands: [strand('seen', 'vec3(0.5)')],
  });
  assert.notEqual(digest([other, material({}), reads]), digest(parts));
  assert.notEqual(digest([shader, material({ values: { amount: [0.1] } }), reads]), digest(parts));
  // What an author promises or answers of a shader changes nothing of what it shows.
  const promised = part('shader', 'slope', { ...(shader.body as object), guarantees: [], silenced: [] });
  assert.equal(digest([promised, material({ presets: [] }), reads]), digest(parts));
  assert.deepEqual(usersOf(parts, 'm'), ['t']);
  assert.match(made([shader, material({ made: { map: 't' } }), reads]).mistake!, /made of itself: t → t/);
  assert.match(made([reads]).mistake!, /The shader that this reads was deleted/);
  assert.match(
    made([shader, texture('t', steps('shader', { of: 'slope gone' }))]).mistake!,
    /strand that this reads is not there/,
  );
  assert.match(
    made([shader, texture('t', steps('shader', { of: 'slope hid' }))]).mistake!,
    /reads what only the picture knows/,
  );
  assert.match(made([texture('t', steps('shader', {}))]).mistake!, /No shader is chosen yet/);
  assert.match(made([shader, material({ pictures: { map: 'q' } }), reads]).mistake!, /q is not here/);
  // A prop’s mesh is what is measured: where it stands is nothing to it.
  const set = (size: number[], position: number[]) =>
    part('stage', 's', {
      props: [{ id: 'p', name: 'Crate', mesh: { kind: 'plane', size, divisions: [1, 1] }, position }],
    });
  const map = texture('t', steps('meshMap', { of: 's p', map: 'position' }));
  const left = made([set([2, 1], [0, 0, 0]), map]).image;
  assert.deepEqual(pixel(left, 1, 0), [1.5 / 8, 3.5 / 4, 0, 1]);
  assert.equal(digest([set([2, 1], [0, 0, 0]), map]), digest([set([2, 1], [3, 0, 0]), map]));
  assert.notEqual(digest([set([2, 1], [0, 0, 0]), map]), digest([set([2, 2], [0, 0, 0]), map]));
  assert.match(made([map]).mistake!, /The prop that this reads was deleted/);
  // How far lines are cast is told, of a texture that another reads too: two steps, the first of which is cast.
  const cast = texture('cast', steps('meshMap', { of: 's p', map: 'occlusion' }, { rays: [4] }));
  const around = texture('t', [...steps('texture', { texture: 'cast' }), ...steps('invert', {})]);
  const shares: number[] = [];
  made([set([2, 1], [0, 0, 0]), cast, around], 't', (share) => shares.push(share));
  assert.deepEqual(shares, [0.125, 0.25, 0.375, 0.5]); // prettier-ignore
});
