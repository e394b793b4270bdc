import assert from 'node:assert/strict';
import { test } from 'node:test';
import sharp from 'sharp';
import { createMaker, type Sources } from '../images/makeTexture.ts';
import { planeOf } from '../images/image.ts';
import { faceNamed } from './faces.ts';
import { layLines } from './layLines.ts';

const none = () => {
  throw new Error('There is none.');
};
const SOURCES: Sources = { picture: none, surface: none, mesh: none, face: faceNamed };
const SIDE = 128;
/** What a text step comes to, on a square of so many pixels. */
const written = (
  words: string,
  numbers: Readonly<Record<string, readonly number[]>>,
  { face = 'sans', align = 'middle', side = SIDE } = {},
): Float32Array => {
  const step = { id: 's', step: 'text', numbers, words: { words, face, align } };
  const recipe = {
    ...{ name: 'T', size: [side, side] as const, repeats: [false, false] as const, steps: [step] },
  };
  return planeOf(createMaker(new Map([['t', recipe]]), SOURCES).image('t'), 0);
};

test('letters cover what the same outlines cover drawn by a library, in every face', async () => {
  for (const [face, words] of [
    ['sans', 'Qu&8'],
    ['bold', 'Åge\n“t”'],
    ['mono', 'i%g'],
  ] as const) {
    const size = 40;
    const laid = layLines(faceNamed(face), words, { align: 'middle', leading: 1.2, tracking: 0 });
    const place = (x: number, y: number): string =>
      `${(SIDE / 2 + (x * size) / 1000).toFixed(5)} ${(SIDE / 2 - (y * size) / 1000).toFixed(5)}`;
    const path = laid
      .flatMap(({ glyph, x, y }) =>
        glyph.outline.map(
          ({ from, bends }) =>
            `M${place(x + from[0], y + from[1])}${bends
              .map(([a, b, c, d]) => `Q${place(x + a, y + b)} ${place(x + c, y + d)}`)
              .join('')}Z`,
        ),
      )
      .join('');
    const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="${SIDE}" height="${SIDE}"><rect width="100%" height="100%" fill="#000"/><path fill="#fff" d="${path}"/></svg>`;
    const drawn = await sharp(Buffer.from(svg)).removeAlpha().extractChannel(0).raw().toBuffer();
    const mine = written(words, { size: [size] }, { face });
    let [sum, most, inked] = [0, 0, 0];
    mine.forEach((x, i) => {
      const apart = Math.abs(x - drawn[i]! / 255);
      sum += apart;
      most = Math.max(most, apart);
      inked += x;
    });
    assert.ok(inked > 300, `${face}: ${inked} pixels of ink`);
    // The library looks at fifteen rows of a pixel.
    assert.ok(sum / inked < 0.02 && most < 0.1, `${face}: ${sum / inked} a pixel of ink, ${most} at most`);
  }
});

test('a bar covers its own area wherever it stands, and what leaves the frame is cut', () => {
  // The bar’s outline is a rectangle; its area is told by its corners.
  const { outline } = faceNamed('sans').glyphs.get('|')!;
  const corners = [outline[0]!.from, ...outline[0]!.bends.map(([, , x, y]) => [x, y] as const)];
  const [xs, ys] = [corners.map(([x]) => x), corners.map(([, y]) => y)];
  const [wide, high] = [Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)];
  for (const [at, turn] of [
    [[0.5, 0.5], 0],
    [[0.503, 0.47], 31],
  ] as const) {
    const ink = written('|', { size: [60], at, turn: [turn] }).reduce((sum, x) => sum + x, 0);
    const wanted = wide * high * 0.06 ** 2;
    assert.ok(Math.abs(ink - wanted) < wanted * 1e-5, `${ink} pixels, and not ${wanted}`);
  }
  // On a frame three times as large, the same letters in the same place are the same in the part that both show.
  for (const at of [-0.02, 1.03]) {
    const [small, large] = [
      written('&', { size: [90], at: [at, at] }),
      written('&', { size: [90], at: [(at + 1) / 3, (at + 1) / 3] }, { side: 3 * SIDE }),
    ];
    let cut = 0;
    for (let y = 0; y < SIDE; y += 1)
      for (let x = 0; x < SIDE; x += 1) {
        const whole = large[(y + SIDE) * 3 * SIDE + x + SIDE]!;
        cut += whole;
        assert.ok(Math.abs(small[y * SIDE + x]! - whole) < 1e-6, `at ${x}, ${y}`);
      }
    assert.ok(cut > 100, 'some of it is seen');
  }
});

test('lines share a side, pairs stand nearer, letters are spread; what the face has not is named', () => {
  const face = faceNamed('sans');
  const lay = (text: string, align: string, tracking = 0) =>
    layLines(face, text, { align, leading: 1.5, tracking });
  const wide = (letters: string): number =>
    [...letters].reduce((sum, each) => sum + face.glyphs.get(each)!.advance, 0);
  const [i, , m] = lay('I\nmm', 'left') as [{ x: number; y: number }, unknown, { x: number; y: number }];
  assert.equal(i.x, -wide('mm') / 2);
  assert.equal(i.y - m.y, 1500);
  assert.equal(lay('I\nmm', 'right')[0]!.x, wide('mm') / 2 - wide('I'));
  const gap = (text: string, tracking = 0) => {
    const [a, b] = lay(text, 'left', tracking);
    return b!.x - a!.x;
  };
  assert.ok(gap('AV') < face.glyphs.get('A')!.advance - 20, 'A and V stand nearer');
  assert.equal(gap('HH', 250), face.glyphs.get('H')!.advance + 250);
  assert.throws(() => lay('a漢b漢', 'left'), /no “漢”/);
  assert.throws(() => written('☂', {}), /This face has no “☂”/);
  assert.ok(written('', {}).every((x) => x === 0));
});
