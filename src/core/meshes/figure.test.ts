import assert from 'node:assert/strict';
import { test } from 'node:test';
import { figureField, FOOT } from './figureField.ts';
import { makeMesh } from './makeMesh.ts';
import { openEdges } from './openEdges.ts';

test('a figure lies on its field, is the same on both sides, closed, and has a nose in front and ears beside', () => {
  const height = 1.8;
  const mesh = makeMesh({ kind: 'figure', height, divisions: [96, 120] });
  assert.equal(openEdges(mesh), 0);
  const { positions, uvs } = mesh;
  const places = Array.from(
    { length: positions.length / 3 },
    (_, i) => [...positions.subarray(i * 3, i * 3 + 3)].map((x) => x / height) as [number, number, number],
  );
  // The foot's lid and its lowest ring apart, every corner lies where the field is 0.
  const onSide = places.filter(([, y]) => y > 0.011);
  assert.ok(onSide.length > 10_000);
  for (const p of onSide) assert.ok(Math.abs(figureField(p)) < 1e-4, `${p.join()}: ${figureField(p)}`);
  // Left is right: u and 1 − u are mirrored.
  const rows = 121;
  const first = places.length - 97 * rows;
  for (let row = 0; row < rows; row += 7)
    for (let k = 0; k <= 96; k += 5) {
      const [left, right] = [places[first + row * 97 + k]!, places[first + row * 97 + 96 - k]!];
      assert.ok(Math.hypot(left[0] + right[0], left[1] - right[1], left[2] - right[2]) < 1e-4);
    }
  const widest = (of: (p: readonly [number, number, number]) => number, low: number, high: number): number =>
    Math.max(...places.filter(([, y]) => y >= low && y <= high).map(of));
  assert.ok(Math.abs(widest(([x]) => x, 0, 0.04) - FOOT) < 1e-3);
  assert.ok(widest(([, , z]) => z, 0.8, 0.84) > widest(([, , z]) => z, 0.88, 0.92) + 0.02, 'a nose');
  const ear = widest(([x]) => x, 0.81, 0.84);
  assert.ok(ear > 0.1 && ear < 0.11 && ear > widest(([x]) => x, 0.88, 0.9) + 0.005, 'ears');
  assert.ok(Math.abs(widest(([, y]) => y, 0, 1) - 1) < 1e-6);
  assert.deepEqual([...uvs.slice(-2)], [1, 1]);
});
