import assert from 'node:assert/strict';
import { test } from 'node:test';
import { BufferAttribute, BufferGeometry, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import { makeMesh, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import { openEdges } from '#core/meshes/openEdges.ts';
import { bakeVolume, OpenMeshError } from './bakeVolume.ts';
import { distanceIn, placeAt } from '#core/meshes/volume.ts';

type Three = readonly [number, number, number];
const meshOf = (recipe: MeshRecipe) => makeMesh(recipe);
const BOX = { kind: 'box', size: [1.2, 0.8, 2], divisions: [3, 2, 4], pivot: [0.5, 0.5, 0.5] } as const;
/** How far a point is from a box about the origin, below 0 inside. */
const toBox = ([x, y, z]: Three): number => {
  const over = [Math.abs(x) - 0.6, Math.abs(y) - 0.4, Math.abs(z) - 1];
  return (
    Math.hypot(...over.map((each) => Math.max(each, 0))) + Math.min(Math.max(over[0]!, over[1]!, over[2]!), 0)
  );
};
/** Points in and far around a box of so many metres, the same every time. */
const points = (reach: number): Three[] =>
  Array.from({ length: 3000 }, (_, i) =>
    [2, 3, 5].map((base) => {
      let [x, part, n] = [0, 1 / base, i + 1];
      for (; n > 0; n = Math.floor(n / base), part /= base) x += (n % base) * part;
      return (x * 2 - 1) * reach;
    }),
  ) as unknown as Three[];

test('a baked volume tells distances to a box and to a sphere: at its places exactly, between and beyond nearly', () => {
  const shares: number[] = [];
  const box = bakeVolume(meshOf(BOX), undefined, (share) => shares.push(share));
  assert.ok(box.signed && shares.at(-1) === 1);
  const [nx, ny] = box.size;
  box.values.forEach((found, at) => {
    const index = [at % nx, Math.floor(at / nx) % ny, Math.floor(at / nx / ny)];
    const place = index.map((i, c) =>
      placeAt(box.low[c]!, box.high[c]!, box.size[c]!, i),
    ) as unknown as Three;
    assert.ok(Math.abs(found - toBox(place)) < 1e-5, `${place.join()}: ${found}, not ${toBox(place)}`);
  });
  const step = (box.high[2] - box.low[2]) / box.size[2];
  const worst = (reach: number, found: (point: Three) => number, exact: (point: Three) => number): number =>
    Math.max(...points(reach).map((each) => Math.abs(found(each) - exact(each))));
  // Where two sides are as near, what lies between places is off by a part of a step; far out, by no more.
  assert.ok(worst(1, (p) => distanceIn(box, p), toBox) < step * 0.6);
  assert.ok(worst(5, (p) => distanceIn(box, p), toBox) < step);

  const sphere = bakeVolume(meshOf({ kind: 'sphere', radius: 0.7, divisions: [96, 64] }));
  const toSphere = (p: Three) => Math.hypot(...p) - 0.7;
  assert.ok(worst(4, (p) => distanceIn(sphere, p), toSphere) < 0.02);
});

test('the distances at the places of a grid are what another library finds, of triangles of every shape', () => {
  // Needles, slivers, large and small ones, one over another, and some that are a point.
  const drawn = points(1).slice(0, 360);
  const positions = Float32Array.from(
    drawn.flatMap((corner, i) => {
      const first = drawn[i - (i % 3)]!;
      const share = [1, 0.3, 0.02, 0][Math.floor(i / 3) % 4]!;
      return corner.map((x, c) => first[c]! + (x - first[c]!) * share);
    }),
  );
  const indices = Uint32Array.from({ length: 360 }, (_, i) => i);
  const soup = bakeVolume({ positions, indices, unsigned: true }, 21);
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  geometry.setIndex(new BufferAttribute(indices.slice(), 1));
  const bvh = new MeshBVH(geometry);
  const [nx, ny] = soup.size;
  soup.values.forEach((found, at) => {
    const index = [at % nx, Math.floor(at / nx) % ny, Math.floor(at / nx / ny)];
    const place = index.map((i, c) => placeAt(soup.low[c]!, soup.high[c]!, soup.size[c]!, i));
    const { distance } = bvh.closestPointToPoint(new Vector3().fromArray(place))!;
    assert.ok(Math.abs(found - distance) < 1e-6, `${place.join()}: ${found}, not ${distance}`);
  });
});

test('an open mesh is refused by how many edges, and taken unsigned where that is asked for; one without triangles or with no number is refused', () => {
  for (const [recipe, edges] of [
    [BOX, 0],
    [{ kind: 'sphere', radius: 1, divisions: [12, 8] }, 0],
    [{ kind: 'cylinder', radius: 1, taper: 0.5, height: 1, divisions: [12, 2] }, 0],
    [{ kind: 'card', size: [1, 1], divisions: [3, 2] }, 10],
  ] as const)
    assert.equal(openEdges(meshOf(recipe)), edges, recipe.kind);
  const liquid = meshOf({
    ...{ kind: 'liquid', height: 1, foot: 0.2, belly: 0.4, bellyAt: 0.3, neck: 0.1, neckAt: 0.8, lip: 0.2 },
    ...{ divisions: [24, 12], gap: 0.01 },
  });
  assert.equal(openEdges(liquid), 0);
  const open = meshOf({ kind: 'card', size: [1, 1], divisions: [1, 1] });
  assert.throws(() => bakeVolume(open, 24), OpenMeshError);
  assert.throws(() => bakeVolume(open, 24), /^Error: 4 edges of its mesh are open, so it has no inside$/);
  const card = bakeVolume({ ...open, unsigned: true }, 24);
  assert.ok(!card.signed && card.values.every((each) => each >= 0));
  assert.ok(Math.abs(distanceIn(card, [0.2, 0.1, -3]) - 3) < 0.03);
  assert.throws(
    () => bakeVolume({ positions: new Float32Array(9), indices: new Uint32Array() }),
    /no triangle/,
  );
  const broken = Float32Array.of(0, 0, 0, 1, 0, 0, 0, NaN, 0);
  assert.throws(() => bakeVolume({ positions: broken, indices: Uint32Array.of(0, 1, 2) }), /no number/);
});
