import assert from 'node:assert/strict';
import { test } from 'node:test';
import { mesh as meshField } from '../document/mesh.ts';
import { createReader } from '../document/read.ts';
import { arriveHeights, readHeights } from './heights.ts';
import { broughtFor, makeMesh } from './makeMesh.ts';

const SHA = 'a1'.repeat(32);
/** What the server answers for samples in rows from the top. */
const packed = (width: number, samples: readonly number[]): ArrayBuffer => {
  const bytes = new ArrayBuffer(8 + samples.length * 2);
  const view = new DataView(bytes);
  view.setUint32(0, width, true);
  view.setUint32(4, samples.length / width, true);
  samples.forEach((x, i) => view.setUint16(8 + i * 2, x, true));
  return bytes;
};

test('a relief rises as its picture says, its normals square to it; flat until the picture is here', () => {
  const recipe = {
    ...({ kind: 'relief', picture: SHA, size: [4, 2], divisions: [40, 20], rise: 3 } as const),
  };
  assert.deepEqual(broughtFor(recipe), { what: 'heights', blob: SHA, isHere: false });
  assert.ok(makeMesh(recipe).positions.every((x, i) => i % 3 !== 1 || x === 0));
  // A ramp from left to right: sample i of 101 is i/100, at the middle of its pixel.
  const ramp = Array.from({ length: 101 * 5 }, (_, i) => Math.round(((i % 101) / 100) * 65535));
  arriveHeights(SHA, readHeights(packed(101, ramp)));
  assert.ok(broughtFor(recipe)?.isHere);
  const { positions, normals, uvs } = makeMesh(recipe);
  let compared = 0;
  for (let i = 0; i < positions.length / 3; i += 1) {
    const u = uvs[i * 2]!;
    const high = 3 * Math.min(Math.max((u * 101 - 0.5) / 100, 0), 1);
    assert.ok(Math.abs(positions[i * 3 + 1]! - high) < 1e-4, `${u}`);
    if (u < 0.02 || u > 0.98) continue;
    // 3 m over the 100 steps between middles, of 4 m / 101 each.
    const slope = 3 / ((4 * 100) / 101);
    const size = Math.hypot(slope, 1);
    assert.ok(Math.abs(normals[i * 3]! + slope / size) < 1e-3);
    assert.ok(Math.abs(normals[i * 3 + 1]! - 1 / size) < 1e-3);
    compared += 1;
  }
  assert.ok(compared > 500);
  // The picture's top is far away: a white top row lifts the edge at −z alone.
  const other = 'b2'.repeat(32);
  arriveHeights(other, readHeights(packed(2, [65535, 65535, 0, 0, 0, 0])));
  const far = makeMesh({ ...recipe, picture: other, divisions: [1, 2] });
  assert.deepEqual(
    [...far.positions].filter((_, i) => i % 3 === 1),
    [0, 0, 0, 0, 3, 3],
  );
  assert.ok(far.positions[3 * 4 + 2]! < 0);
});

test('heights that are cut short are told; a relief names its picture by its SHA-256, in a folder also by its file', () => {
  assert.throws(() => readHeights(packed(2, [1, 2, 3, 4]).slice(0, -1)), /cut short/);
  assert.throws(() => readHeights(new ArrayBuffer(3)), /cut short/);
  const problems = (picture: unknown, kind = 'relief', files = false): string[] => {
    const r = createReader();
    meshField.read(r, { kind, size: [1, 1], divisions: [2, 2], picture }, 'mesh', { files });
    return r.problems.map(({ path, message }) => `${path}: ${message}`);
  };
  assert.deepEqual(problems(SHA), []);
  assert.match(problems('hill-heights.png')[0]!, /mesh\.picture: A picture is named by the 64 hex digits/);
  assert.deepEqual(problems('hill-heights.png', 'relief', true), []);
  assert.match(problems('hills.hdr', 'relief', true)[0]!, /such as order\.png/);
  assert.match(problems(SHA, 'floor')[0]!, /picture/);
});
