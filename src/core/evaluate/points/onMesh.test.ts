import assert from 'node:assert/strict';
import { test } from 'node:test';
import { sketchShader } from '../../document/sketch.ts';
import { lowerShader } from '../../lower/lowerShader.ts';
import { makeMesh } from '../../meshes/makeMesh.ts';
import { inputsAt, onPicture, standCorners, type Lens, type Standing } from './onMesh.ts';
import { nearestSpot, spotsOver } from './spots.ts';

/** Four metres in front of the middle, looking along −z, through a square picture of 100 pixels and 90°. */
const LENS: Lens = {
  ...{ position: [0, 0, 4], right: [1, 0, 0], up: [0, 1, 0], back: [0, 0, 1] },
  ...{ fieldOfView: 90, width: 100, height: 100 },
};
/** Turned by 90° about x, so that z comes to −y and y to z; twice as wide; one metre down. */
const TURNED = [2, 0, 0, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, -1, 0, 1];
const STILL = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
const NOTHING = { parameters: new Map(), knobs: new Map() };
const plane = makeMesh({ kind: 'card', size: [2, 2], divisions: [2, 2] });
const standing = (placement: readonly number[]): Standing => ({
  ...{ mesh: plane, placement, lens: LENS, time: 0.5, timeStep: 1 / 60 },
});
const near = (found: ArrayLike<number>, wanted: readonly number[]) =>
  wanted.forEach((x, i) =>
    assert.ok(Math.abs(found[i]! - x) < 1e-5, `${[...Array.from(found)].join()} is not ${wanted.join()}`),
  );

test('the spot nearest to a point lies on the mesh, between its corners or on an edge', () => {
  const at = (point: readonly [number, number, number]) => {
    const { corners, weights } = nearestSpot(plane, point)!;
    return [0, 1, 2].map((c) =>
      [0, 1, 2].reduce((sum, k) => sum + weights[k]! * plane.positions[corners[k]! * 3 + c]!, 0),
    );
  };
  near(at([0.3, -0.2, 0.7]), [0.3, -0.2, 0]);
  near(at([5, 0.4, 1]), [1, 0.4, 0]);
  near(at([-3, 9, -2]), [-1, 1, 0]);
  assert.equal(nearestSpot({ ...plane, indices: new Uint32Array() }, [0, 0, 0]), null);
});

test('a spot is given what its placement makes of the mesh', () => {
  const spot = nearestSpot(plane, [0.5, -0.25, 0])!;
  const { count, inputs } = inputsAt(
    standCorners(standing(TURNED), spot.corners, undefined, NOTHING),
    spot,
    false,
  );
  assert.equal(count, 1);
  near(inputs.position!, [1, -1, -0.25]);
  near(inputs.uv!, [0.75, 0.375]);
  near(inputs.objectPosition!, [0.5, -0.25, 0]);
  near(inputs.objectNormal!, [0, 0, 1]);
  // It faces down now, and is seen from above: towards the camera is up.
  near(inputs.normal!, [0, 1, 0]);
  assert.deepEqual([...Array.from(inputs.frontFacing!)], [0]);
  near(inputs.tangent!, [-1, 0, 0]);
  near(
    inputs.viewDirection!,
    [-1, 1, 4.25].map((x) => x / Math.hypot(1, 1, 4.25)),
  );
  near(inputs.viewPosition!, [1, -1, -4.25]);
  // At 4.25 m and 90° the picture is 8.5 m wide.
  near(inputs.screenUv!, [0.5 + 1 / 8.5, 0.5 - 1 / 8.5]);
  near(onPicture(LENS, [0, 0, 6]).slice(2), [-2]);
});

test('where what is computed is told, what that reads is the same, and nothing else is worked out', () => {
  const outputs = {
    baseColor: 'vec3(uv2, screenUv.y) + bitangent',
    vertexOffset: 'vec3(0.0, 0.0, uv.x * 0.1)',
  };
  const { program } = lowerShader(sketchShader({}, outputs), new Map());
  const spots = spotsOver(plane, TURNED, 40);
  const corners = standCorners(standing(TURNED), spots.corners, program.outputs['vertexOffset'], NOTHING);
  for (const quads of [false, true]) {
    const all = inputsAt(corners, spots, quads).inputs;
    const few = inputsAt(corners, spots, quads, [program.outputs['baseColor']!]).inputs;
    for (const name of ['uv2', 'screenUv', 'bitangent'] as const) assert.deepEqual(few[name], all[name]);
    assert.ok(all['normal'] && all['viewDirection'] && !few['normal'] && !few['viewDirection']);
  }
});

test('its neighbours on the picture are a pixel away, on the same plane', () => {
  const spot = nearestSpot(plane, [0.5, -0.25, 0])!;
  const { count, inputs } = inputsAt(
    standCorners(standing(STILL), spot.corners, undefined, NOTHING),
    spot,
    true,
  );
  assert.equal(count, 4);
  // Four metres away the picture is eight wide: a pixel is 8 cm.
  near(inputs.position!, [0.5, 0.58, 0.5, 0.58, -0.25, -0.25, -0.17, -0.17, 0, 0, 0, 0]);
  near(inputs.frontFacing!, [1, 1, 1, 1]);
});

test('spots lie evenly over the area of a mesh as it is placed', () => {
  const cloud = spotsOver(plane, TURNED, 4000);
  const counts = [0, 0, 0, 0];
  for (let i = 0; i < cloud.count; i += 1) {
    const at = [0, 1].map((c) =>
      [0, 1, 2].reduce(
        (sum, k) => sum + cloud.weights[i * 3 + k]! * plane.positions[cloud.corners[i * 3 + k]! * 3 + c]!,
        0,
      ),
    );
    counts[(at[0]! > 0 ? 1 : 0) + (at[1]! > 0 ? 2 : 0)]! += 1;
  }
  for (const each of counts) assert.ok(Math.abs(each - 1000) < 20, counts.join());
  assert.deepEqual(spotsOver(plane, TURNED, 4000), cloud);
  assert.throws(
    () => spotsOver({ ...plane, positions: plane.positions.map(() => 0) }, STILL, 8),
    /no triangle/,
  );
});
