import assert from 'node:assert/strict';
import { test } from 'node:test';
import { createMaker } from '../images/makeTexture.ts';
import { planeOf } from '../images/image.ts';
import { faceNamed } from '../letters/faces.ts';
import { lackingIn } from '../letters/layLines.ts';
import { makeMesh } from './makeMesh.ts';
import { meshStarter } from './meshStarter.ts';
import { openEdges } from './openEdges.ts';

const none = () => {
  throw new Error('There is none.');
};
const CAPITAL = 0.25;
const boardOf = (text: string, face: string, thickness = 0) => {
  faceNamed(face);
  return makeMesh({
    ...meshStarter('board'),
    ...{ kind: 'board', size: [2, 1], letter: CAPITAL, rise: 0.1, bends: 12, text, face, thickness },
  } as Parameters<typeof makeMesh>[0]);
};
/** Six times what triangles enclose, and the area of those that look along z. */
const measure = ({ positions, indices }: ReturnType<typeof boardOf>) => {
  let [volume, front] = [0, 0];
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => positions.subarray(indices[t + k]! * 3, indices[t + k]! * 3 + 3));
    const across = (b![0]! - a![0]!) * (c![1]! - a![1]!) - (b![1]! - a![1]!) * (c![0]! - a![0]!);
    // What a triangle and its shadow on z = 0 enclose.
    volume += (across / 2) * ((a![2]! + b![2]! + c![2]!) / 3);
    if (a![2] === b![2] && b![2] === c![2] && across > 0) front += across / 2;
  }
  return { volume, front };
};

test('letters have the area that their picture covers, are closed, and as deep as is asked', () => {
  for (const [face, text] of [
    ['sans', '8&@'],
    ['bold', 'ÅØ%\ntg'],
    ['mono', 'i{}'],
  ] as const) {
    const mesh = boardOf(text, face);
    const { volume, front } = measure(mesh);
    // The same letters as a picture, by areas that pixels are covered: four pixels a centimetre.
    const { height } = faceNamed(face);
    const words = { words: text, face, align: 'middle' };
    const numbers = { size: [(CAPITAL * 400 * 1000) / height], leading: [1.3] };
    const steps = [{ id: 's', step: 'text', numbers, words }];
    const recipe = { name: 'T', size: [800, 400] as const, repeats: [false, false] as const, steps };
    const made = createMaker(new Map([['t', recipe]]), {
      picture: none,
      surface: none,
      mesh: none,
      face: faceNamed,
    });
    const inked = planeOf(made.image('t'), 0).reduce((sum, x) => sum + x, 0) / 400 ** 2;
    assert.ok(Math.abs(front / inked - 1) < 0.005, `${face}: ${front} m², and not ${inked}`);
    assert.ok(Math.abs(volume / (front * 0.1) - 1) < 1e-4, `${face}: ${volume} m³`);
    assert.equal(openEdges(mesh), 0, `${face} is closed`);
  }
});

test('letters share the board’s uv, their sides fold outwards, and a board without them is a box', () => {
  const mesh = boardOf('O', 'sans');
  for (let i = 0; i < mesh.positions.length / 3; i += 1) {
    const [x, y, z] = mesh.positions.subarray(i * 3, i * 3 + 3) as unknown as [number, number, number];
    const [nx, ny] = mesh.normals.subarray(i * 3, i * 3 + 2) as unknown as [number, number];
    const out = 0.1 - z;
    assert.ok(Math.abs(mesh.uvs[i * 2]! - (x + nx * out) / 2 - 0.5) < 1e-6);
    assert.ok(Math.abs(mesh.uvs[i * 2 + 1]! - (y + ny * out) - 0.5) < 1e-6);
  }
  const plain = boardOf('', 'sans', 0.5);
  assert.equal(plain.indices.length, 36);
  assert.ok(Math.abs(measure(plain).volume - 2 * 1 * 0.5) < 1e-6);
  assert.equal(openEdges(boardOf('Bø!', 'bold', 0.5)), 0);
});

test('a letter that a face has not is left out and told of; the others stand', () => {
  assert.deepEqual(boardOf('a漢', 'sans').positions.length, boardOf('a', 'sans').positions.length);
  assert.match(lackingIn(faceNamed('sans'), 'a漢\n')!, /no “漢”/);
});
