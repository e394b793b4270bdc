import assert from 'node:assert/strict';
import { test } from 'node:test';
import type { BufferGeometry, Texture } from 'three';
import { makeMesh } from '#core/meshes/makeMesh.ts';
import { cross, dot, minus, tripleAt, type Triple } from '#core/numbers/vectors.ts';
import { toGeometry } from './scene/geometry.ts';
import { bandGeometry, meshGeometry, middleOf, setInstance, spritesGeometry } from './scene/layerGeometry.ts';
import { createNumbers } from './scene/numbers.ts';
import { isSameView } from './stage.ts';

/** A camera four metres ahead of the middle, looking at it. */
const camera = { position: [0, 0, 4], right: [1, 0, 0], up: [0, 1, 0], back: [0, 0, 1] } as const;
const attribute = (geometry: BufferGeometry, name: string): ArrayLike<number> =>
  geometry.getAttribute(name).array;
const triangles = (geometry: BufferGeometry): Triple[][] => {
  const [at, index] = [attribute(geometry, 'a_position'), geometry.getIndex()!.array];
  return Array.from({ length: geometry.drawRange.count / 3 }, (_, i) =>
    [0, 1, 2].map((c) => tripleAt(at, index[i * 3 + c]! * 3)),
  );
};
const fronts = (geometry: BufferGeometry, middle: Triple): boolean =>
  triangles(geometry).every(([a, b, c]) => {
    const normal = cross(minus(b!, a!), minus(c!, a!));
    return dot(normal, minus(camera.position, [a![0] + middle[0], a![1] + middle[1], a![2] + middle[2]])) > 0;
  });

const points: readonly Triple[] = [
  [-1, 0, 0],
  [0, 0.5, 0],
  [1, 0, 0],
];
const band = {
  ...{ points, ages: [0.3, 0.2, 0.1], widths: [0.2, 0.4, 0.2] },
  colors: [1, 0, 0, 1, 0, 1, 0, 0.5, 0, 0, 1, 0],
};

test('a ribbon faces the camera, as wide as it is told, its corners with their age, order and colour', () => {
  const middle = middleOf(points);
  const geometry = bandGeometry(null, band, { middle, seed: 7, camera });
  assert.equal(triangles(geometry).length, 4);
  assert.ok(fronts(geometry, middle));
  const at = attribute(geometry, 'a_position');
  const apart = (i: number) => Math.hypot(...minus(tripleAt(at, i * 6), tripleAt(at, i * 6 + 3)));
  for (const [i, width] of band.widths.entries()) assert.ok(Math.abs(apart(i) - width) < 1e-6);
  const near = (given: ArrayLike<number>, wanted: readonly number[]): void =>
    wanted.forEach((x, i) => assert.ok(Math.abs(given[i]! - x) < 1e-6, `${given[i]} is not ${x}`));
  near(attribute(geometry, 'a_instance'), [0.3, 0, 7, 0.3, 0, 7, 0.2, 0.5, 7]);
  near(attribute(geometry, 'a_uv'), [0, 0, 0, 1, 0.5, 0, 0.5, 1]);
  near(Array.from(attribute(geometry, 'a_color')).slice(8, 12), [0, 1, 0, 0.5]);
  // Seen from its own end it keeps a side, and is no number nowhere.
  const ahead: readonly Triple[] = [
    [0, 0, 2],
    [0, 0, 1],
    [0, 0, 0],
  ];
  const along = bandGeometry(geometry, { ...band, points: ahead }, { middle: [0, 0, 0], seed: 7, camera });
  assert.equal(along, geometry, 'the same room is written into');
  assert.ok(Array.from(attribute(along, 'a_position')).every(Number.isFinite));
});

test('sprites face the camera from far to near, and make room where there are more', () => {
  const near: Triple = [0.5, 0, 1];
  const far: Triple = [-0.5, 0, -3];
  const two = { points: [near, far], sizes: [0.2, 0.6], ages: [1, 2], orders: [0, 1], seeds: [5, 9] };
  const geometry = spritesGeometry(null, two, { middle: [0, 0, 0], camera });
  assert.ok(fronts(geometry, [0, 0, 0]));
  const instance = attribute(geometry, 'a_instance');
  assert.deepEqual(
    [...Array.from(instance).slice(0, 3), instance[12], instance[13], instance[14]],
    [2, 1, 9, 1, 0, 5],
  );
  const at = attribute(geometry, 'a_position');
  assert.ok(Math.abs(at[3]! - at[0]! - 0.6) < 1e-6, 'as large as it is told');
  const many = Array.from({ length: 9 }, (_, i) => i);
  const more = spritesGeometry(
    geometry,
    {
      points: many.map((i): Triple => [i, 0, 0]),
      ...{ sizes: many, ages: many, orders: many, seeds: many },
    },
    { middle: [0, 0, 0], camera },
  );
  assert.notEqual(more, geometry);
  assert.equal(triangles(more).length, 18);
});

test('a mesh layer tells its own age, and lets the mesh it is a copy of alone', () => {
  const of = toGeometry(makeMesh({ kind: 'plane', size: [1, 1], divisions: [2, 2] }));
  const [one, other] = [meshGeometry(of), meshGeometry(of)];
  setInstance(one, [0.5, 0, 3]);
  assert.deepEqual([...Array.from(attribute(one, 'a_instance'))], [0.5, 0, 3]);
  assert.deepEqual([...Array.from(attribute(other, 'a_instance'))], [0, 0, 0]);
  assert.equal(of.getAttribute('a_instance'), undefined);
  assert.notEqual(one.getAttribute('a_position'), of.getAttribute('a_position'));
});

test('a picture that takes another’s place is read once it is here; until then the one before it is', () => {
  const coming = new Set(['/a.png']);
  let kept: ReadonlySet<string> = new Set();
  const made = new Map<string, Texture>();
  const textureAt = (address: string): Texture => {
    const texture = made.get(address) ?? ({ name: address } as Texture);
    made.set(address, texture);
    return texture;
  };
  const numbers = createNumbers({
    ...{
      textureAt,
      isOnItsWay: (address) => coming.has(address),
      keepOnly: (addresses) => (kept = addresses),
    },
  });
  const reads = (address: string) => ({
    ...{ parameters: new Map(), knobs: new Map(), pictures: new Map([['map', address]]) },
  });
  const read = () => numbers.of('velvet')!.textures.get('map')!.name;
  numbers.set('velvet', reads('/a.png'));
  assert.equal(read(), '/a.png', 'nothing was read before');
  coming.delete('/a.png');
  numbers.arrived();
  coming.add('/b.png').add('/c.png');
  numbers.set('velvet', reads('/b.png'));
  numbers.keepOnly(() => true);
  assert.deepEqual([read(), [...kept].sort()], ['/a.png', ['/a.png', '/b.png']]);
  numbers.set('velvet', reads('/c.png'));
  coming.delete('/b.png');
  numbers.arrived();
  assert.equal(read(), '/a.png', 'what is not wanted any more is not read');
  coming.delete('/c.png');
  numbers.arrived();
  assert.deepEqual([read(), [...kept]], ['/c.png', ['/c.png']]);
});

test('numbers that are what they were, and a view that is, draw nothing again', () => {
  const asked: string[] = [];
  let kept: ReadonlySet<string> = new Set();
  const numbers = createNumbers({
    textureAt: (address) => {
      asked.push(address);
      return {} as Texture;
    },
    isOnItsWay: () => false,
    keepOnly: (addresses) => (kept = addresses),
  });
  const told = (glow: number, more: object = {}) => ({
    ...{ parameters: new Map([['glow', [glow]]]), knobs: new Map([['k', [1, 2]]]) },
    ...{
      tables: new Map([['rise', Float32Array.of(0, 1)]]),
      pictures: new Map([['map', '/a.png']]),
      ...more,
    },
  });
  assert.equal(numbers.set('velvet', told(1)), true);
  assert.equal(numbers.set('velvet', told(1)), false);
  assert.equal(numbers.set('velvet', told(2)), true);
  assert.equal(numbers.set('velvet', told(2, { knobs: new Map([['k', [1, 3]]]) })), true);
  assert.equal(numbers.set('velvet', told(2, { tables: new Map([['rise', Float32Array.of(0, 2)]]) })), true);
  assert.equal(numbers.set('velvet', told(2, { pictures: new Map([['map', '/b.png']]) })), true);
  assert.deepEqual(numbers.of('velvet')!.parameters.get('glow'), [2]);
  assert.equal(asked.at(-1), '/b.png');
  numbers.set('ash', told(0));
  numbers.keepOnly((id) => id === 'ash');
  assert.deepEqual([numbers.of('velvet'), [...kept]], [undefined, ['/a.png']]);
  assert.equal(numbers.set('velvet', told(2)), true, 'what was let go of is another');

  const view = { tap: 3, material: 'velvet' };
  assert.ok(isSameView(view, { ...view, judged: null }));
  assert.ok(!isSameView(view, { ...view, judged: 'range' }));
  assert.ok(isSameView({ ...view, costs: new Map([['a', 1]]) }, { ...view, costs: new Map([['a', 1]]) }));
  assert.ok(!isSameView({ ...view, costs: new Map([['a', 1]]) }, { ...view, costs: new Map([['a', 2]]) }));
});
