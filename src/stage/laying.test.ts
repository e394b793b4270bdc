import assert from 'node:assert/strict';
import { test } from 'node:test';
import { Group, Mesh as MeshObject, Ray, Vector3 } from 'three';
import { makeMesh, type MeshRecipe } from '#core/meshes/makeMesh.ts';
import { reachBelow } from './reachBelow.ts';
import { toGeometry } from './scene/geometry.ts';
import type { PlacedProp } from './scene/props.ts';
import { surfaceUnder } from './surfaceUnder.ts';

const standing = (id: string, recipe: MeshRecipe, place: (node: Group) => void): PlacedProp => {
  const node = new Group();
  const object = new MeshObject(toGeometry(makeMesh(recipe)));
  node.add(object);
  // As props keep it: it has no place of its own in its node.
  object.matrixAutoUpdate = false;
  place(node);
  return {
    ...{ id, recipe, node, object, material: 'm', hidden: false, locked: false, solid: true, moved: null },
    asksNear: false,
  };
};
const BALL: MeshRecipe = { kind: 'sphere', radius: 0.5, divisions: [64, 48] };
const BOX: MeshRecipe = { kind: 'box', size: [1, 1, 1], divisions: [1, 1, 1], pivot: [0.5, 0, 0.5] };

test('what is laid reaches as far below its place as its mesh does, along a slope too', () => {
  const slope = new Vector3(1, 1, 0).normalize();
  const up = new Vector3(0, 1, 0);
  const ball = standing('ball', BALL, (node) => node.position.set(3, 4, 5));
  assert.ok(Math.abs(reachBelow(ball, up, makeMesh) - 0.5) < 1e-3);
  ball.node.position.set(-1, 0, 2);
  assert.ok(Math.abs(reachBelow(ball, up, makeMesh) - 0.5) < 1e-3, 'moved, and not drawn since');
  // A ball lies on a slope as on a floor; a box around it would float.
  assert.ok(Math.abs(reachBelow(ball, slope, makeMesh) - 0.5) < 2e-3);
  const box = standing('box', BOX, (node) => node.scale.setScalar(2));
  assert.ok(Math.abs(reachBelow(box, up, makeMesh)) < 1e-6, 'it stands on its place');
  assert.ok(Math.abs(reachBelow(box, slope, makeMesh) - Math.SQRT1_2) < 1e-6, 'by its edge, a metre aside');
  // Turned over, all of it hangs below its place.
  box.node.rotation.x = Math.PI;
  assert.ok(Math.abs(reachBelow(box, up, makeMesh) - 2) < 1e-6);
  const lid = standing('lid', { ...BOX, pivot: [0.5, -1, 0.5] } as MeshRecipe, () => undefined);
  assert.ok(Math.abs(reachBelow(lid, up, makeMesh) + 1) < 1e-6, 'all of it lies above its place');
});

test('the nearest surface along a ray is found as it stands, from either side, and not what is hidden', () => {
  const near = standing('near', BOX, (node) => {
    node.position.set(0, 0, 2);
    node.scale.set(1, 3, 1);
  });
  const far = standing('far', BALL, (node) => node.position.set(0, 1, -4));
  const down = new Ray(new Vector3(0, 1, 10), new Vector3(0, 0, -1));
  const met = surfaceUnder(down, [far, near], makeMesh)!;
  assert.equal(met.id, 'near');
  assert.ok(met.point.distanceTo(new Vector3(0, 1, 2.5)) < 1e-6);
  assert.ok(met.normal.distanceTo(new Vector3(0, 0, 1)) < 1e-6);
  near.node.position.y = 20;
  assert.equal(surfaceUnder(down, [far, near], makeMesh)!.id, 'far', 'moved, and not drawn since');
  near.node.position.y = 0;
  const behind = surfaceUnder(down, [far, { ...near, hidden: true }], makeMesh)!;
  assert.equal(behind.id, 'far');
  assert.ok(Math.abs(behind.point.z - -3.5) < 2e-3);
  const inside = surfaceUnder(new Ray(new Vector3(0, 1, 2), new Vector3(0, 1, 0)), [near], makeMesh)!;
  assert.ok(inside.point.distanceTo(new Vector3(0, 3, 2)) < 1e-6);
  assert.ok(inside.normal.distanceTo(new Vector3(0, -1, 0)) < 1e-6, 'towards who looks');
  assert.equal(
    surfaceUnder(new Ray(new Vector3(9, 9, 9), new Vector3(0, 1, 0)), [near, far], makeMesh),
    null,
  );
});
