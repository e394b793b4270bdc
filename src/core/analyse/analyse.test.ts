import assert from 'node:assert/strict';
import { test } from 'node:test';
import { compileShader, programOf } from '../compileShader.ts';
import { sketchShader } from '../document/sketch.ts';
import { makeMesh } from '../meshes/makeMesh.ts';
import { tangentsOf } from '../meshes/tangents.ts';
import { requirementsOf } from './requirements.ts';
import { reachable } from '../program/value.ts';
import { costOfValues } from './cost.ts';
import { prepareMovedBounds } from './movedBounds.ts';

const floor = makeMesh({ kind: 'floor', size: [4, 2], divisions: [8, 4] });
const identity = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1];
const given = { parameters: new Map(), knobs: new Map(), inputs: { time: [1], cameraPosition: [0, 0, 0] } };

const offsetOf = (text: string) => {
  const { shader, diagnostics } = compileShader(sketchShader({}, { vertexOffset: text }));
  assert.ok(shader, JSON.stringify(diagnostics));
  return prepareMovedBounds(shader.program.outputs['vertexOffset']!);
};
const holds = (x: number, wanted: number, room: number) => Math.abs(x - wanted) <= room;

test('tangents follow u, stand square to the normal, and know how long a unit of uv is', () => {
  for (const mesh of [floor, makeMesh({ kind: 'plane', size: [4, 2], divisions: [3, 3] })]) {
    const { tangents, stretches } = tangentsOf(mesh);
    for (let i = 0; i < mesh.positions.length / 3; i += 1) {
      const t = tangents.subarray(i * 4, i * 4 + 3);
      const n = mesh.normals.subarray(i * 3, i * 3 + 3);
      assert.ok(Math.abs(t[0]! - 1) < 1e-6, 'u grows along x');
      assert.ok(Math.abs(t[0]! * n[0]! + t[1]! * n[1]! + t[2]! * n[2]!) < 1e-6);
      assert.equal(tangents[i * 4 + 3], 1);
      assert.ok(holds(stretches[i * 2]!, 4, 1e-3) && holds(stretches[i * 2 + 1]!, 2, 1e-3));
    }
  }
  const cloth = tangentsOf(
    makeMesh({ kind: 'cloth', size: [3, 2], divisions: [24, 8], folds: 4, depth: 0.2 }),
  );
  for (let i = 0; i < cloth.tangents.length; i += 4)
    assert.ok(holds(Math.hypot(...cloth.tangents.subarray(i, i + 3)), 1, 1e-5));
});

test('a mesh without uv still gets tangents of length 1, square to its normals', () => {
  for (const whole of [
    makeMesh({ kind: 'sphere', radius: 1, divisions: [24, 16] }),
    makeMesh({ kind: 'cylinder', radius: 0.4, taper: 0.5, height: 2, divisions: [12, 3] }),
  ]) {
    const { tangents: found } = tangentsOf({ ...whole, uvs: new Float32Array(whole.uvs.length) });
    for (let i = 0; i < whole.normals.length / 3; i += 1) {
      const [t, n] = [found.subarray(i * 4, i * 4 + 3), whole.normals.subarray(i * 3, i * 3 + 3)];
      assert.ok(holds(Math.hypot(...t), 1, 1e-5), `${i}: ${Math.hypot(...t)} long`);
      assert.ok(Math.abs(t[0]! * n[0]! + t[1]! * n[1]! + t[2]! * n[2]!) < 1e-5, `${i}`);
    }
  }

  const bare = { ...floor, uvs: new Float32Array(floor.uvs.length) };
  const { tangents, stretches } = tangentsOf(bare);
  assert.ok([...tangents, ...stretches].every(Number.isFinite));
});

test('bounds follow what an offset moves', () => {
  const still = offsetOf('vec3(0.0)')(floor, identity, given)!;
  assert.ok(holds(still.low[0], -2, 0.25) && holds(still.high[0], 2, 0.25) && holds(still.high[1], 0, 0.25));
  const lifted = offsetOf('vec3(0.0, 3.0 + uv.x, 0.0)')(floor, identity, given)!;
  assert.ok(holds(lifted.low[1], 3, 0.25) && holds(lifted.high[1], 4, 0.25));
  const along = offsetOf('normal * 0.5')(floor, identity, given)!;
  assert.ok(holds(along.high[1], 0.5, 0.25));
  const moved = [...identity.slice(0, 12), 10, 0, 0, 1];
  assert.ok(holds(offsetOf('vec3(position.x, 0.0, 0.0)')(floor, moved, given)!.high[0], 24, 0.5));
});

test('bounds are left alone where they cannot be known', () => {
  assert.equal(
    offsetOf('vec3(vertexColor.x)')(floor, identity, given),
    null,
    'an input that is not known here',
  );
  assert.equal(offsetOf('vec3(1.0 / (uv.x - uv.x))')(floor, identity, given), null, 'not a number');
});

test('requirements are read off the program', () => {
  const needs = (text: string) => requirementsOf(programOf(sketchShader({}, { baseColor: text })).program!);
  assert.deepEqual(needs('vec3(uv, 0.0)'), []);
  assert.deepEqual(needs('sceneColor(screenUv)'), ['sceneColor']);
  for (const read of ['sceneBlurred(screenUv, 0.5)', 'sceneLevel(screenUv, 2.0)'])
    assert.deepEqual(needs(read).toSorted(), ['sceneColor', 'sceneLevels']);
  assert.deepEqual(needs('vec3(depthGap(), instanceAge, surfaceNearness(0.2))').toSorted(), [
    'instances',
    'sceneDepth',
    'surfaceDistance',
  ]);
});

test('a value that is used twice is paid for once, a loop as often as it goes round', () => {
  const cost = (text: string) => {
    const { program } = programOf(sketchShader({}, { opacity: text }));
    return costOfValues(reachable([program!.outputs['opacity']!])).arithmetic;
  };
  assert.equal(cost('uv.x + 1.0'), 1);
  assert.equal(cost('(uv.x + 1.0) * (uv.x + 1.0)'), 2);
  assert.ok(cost('worley(uv)') > 9 * 20, 'nine cells');
  assert.ok(cost('fractal(uv, 8)') > cost('gradientNoise(uv)') * 4);
});

test('what a stage asks of columns and of the graphics card is told apart', () => {
  const { shader } = compileShader(
    sketchShader(
      { bent: [['value', { x: 'time * 2.0' }]] },
      { opacity: 'bent * uv.x', vertexOffset: 'vec3(bent)' },
    ),
  );
  const { vertex, fragment, layout } = shader!.live;
  assert.ok(
    layout.slots.length > 0 && !/\btime\b/.test(vertex + fragment),
    'time · 2 is computed once a frame',
  );
  assert.match(vertex, /live\[1\]/);
  assert.match(fragment, /live\[1\]/);
  assert.doesNotMatch(vertex, /\btap\b/);
});
