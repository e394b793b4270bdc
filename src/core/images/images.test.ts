import assert from 'node:assert/strict';
import { test } from 'node:test';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { parsePart } from '../document/parsePart.ts';
import { CHANNELS, drawn, planeOf, type Image } from './image.ts';
import { IMAGE_STEPS } from './imageSteps.ts';
import { createMaker, type MadeStep } from './makeTexture.ts';
import { powersOfTwo } from './powersOfTwo.ts';
import { digestOf, type RecipeStep } from './recipe.ts';
import {
  WIDTH,
  HEIGHT,
  speckled,
  colours,
  stepOf,
  PICTURE,
  recipe,
  bringing,
  made,
  at,
  near,
} from './images.testing.ts';

test('tones: levels, curves, thresholds and the rest are what they say, and every step keeps what is told of it', () => {
  const one = (step: RecipeStep, x: number, c = 0): number => {
    const flat = drawn(2, 2, (_x, _y, to, place) => to.set([x, x / 2, x / 4, 1], place));
    return at(made(flat, [step], {}, { size: [2, 2] }), 0, 0, c);
  };
  for (const [step, x, y] of [
    [stepOf('levels', { black: [0.25], white: [0.75] }), 0.5, 0.5],
    [stepOf('levels', { black: [0.25], white: [0.75], gamma: [2] }), 0.375, 0.5],
    [stepOf('levels', { black: [0.5], white: [0.5] }), 0.6, 1],
    [stepOf('levels', { black: [0], white: [0.5], hold: [0] }), 0.75, 1.5],
    [stepOf('invert'), 0.3, 0.7],
    [stepOf('contrast', { amount: [2] }), 0.75, 1],
    [stepOf('threshold', { edge: [0.5] }), 0.5, 1],
    [stepOf('threshold', { edge: [0.5], soft: [0.2] }), 0.45, 0.25],
    [stepOf('posterise', { steps: [3] }), 0.6, 0.5],
    [stepOf('curves', { curve: [0, 1, -1, -1, 1, 0, -1, -1] }), 0.25, 0.75],
    [stepOf('grey', {}, { by: 'mean' }), 0.8, (0.8 + 0.4 + 0.2) / 3],
    [stepOf('grey', {}, { by: 'luminance' }), 1, 0.2126 + 0.7152 / 2 + 0.0722 / 4],
    [stepOf('unpack', {}, { channel: 'blue' }), 0.8, 0.2],
  ] as const)
    near(one(step, x), y, 1e-6, JSON.stringify(step));
  // A mean of what is dithered is what it was.
  const grey = drawn(64, 64, (_x, _y, to, place) => to.set([0.3, 0.3, 0.3, 1], place));
  const dots = planeOf(made(grey, [stepOf('dither')], {}, { size: [64, 64] }), 0);
  near(dots.reduce((sum, x) => sum + x, 0) / dots.length, 0.3, 1 / 64, 'dither');
  const packed = made(speckled, [stepOf('pack', {}, { into: 'blue', other: 'o', from: 'green' })], {
    o: colours,
  });
  assert.deepEqual([at(packed, 3, 4, 2), at(packed, 3, 4, 0)], [at(colours, 3, 4, 1), at(speckled, 3, 4)]);
  const mixed = made(speckled, [stepOf('mix', { amount: [0.5] }, { other: 'o', by: 'multiply' })], {
    o: colours,
  });
  near(at(mixed, 3, 4), at(speckled, 3, 4) * (0.5 + at(colours, 3, 4) / 2), 1e-6, 'multiply');
  // Opaque less opaque is opaque still, and no more than that where both are added.
  for (const [by, x] of [
    ['subtract', at(speckled, 3, 4) - at(colours, 3, 4)],
    ['add', at(speckled, 3, 4) + at(colours, 3, 4)],
    ['difference', Math.abs(at(speckled, 3, 4) - at(colours, 3, 4))],
  ] as const) {
    const joined = made(speckled, [stepOf('mix', { amount: [1] }, { other: 'o', by })], { o: colours });
    near(at(joined, 3, 4), x, 1e-6, by);
    assert.equal(at(joined, 3, 4, 3), 1, by);
  }
  const clear = drawn(WIDTH, HEIGHT, (_x, _y, to, place) => to.set([0, 0, 0, 0], place));
  near(
    at(made(speckled, [stepOf('mix', { amount: [0.25] }, { other: 'o' })], { o: clear }), 3, 4, 3),
    0.75,
    1e-6,
  );
  const still = drawn(WIDTH, HEIGHT, (_x, _y, to, place) => to.set([0.5, 0.5, 0.5, 1], place));
  assert.deepEqual(made(colours, [stepOf('warp', {}, { by: 'o' })], { o: still }).data, colours.data);
  const grown = made(speckled, [stepOf('spread', { radius: [1] })]);
  near(
    at(grown, 10, 10),
    Math.max(
      ...[
        [0, 0],
        [1, 0],
        [-1, 0],
        [0, 1],
        [0, -1],
      ].map(([x, y]) => at(speckled, 10 + x!, 10 + y!)),
    ),
    0,
  );
  const half = made(made(colours, [stepOf('halfOffset')]), [stepOf('halfOffset')]);
  assert.deepEqual(half.data, colours.data);
  const straight = made(colours, [stepOf('straighten')], {}, { repeats: [false, false] });
  straight.data.forEach((x, i) => near(x, colours.data[i]!, 1e-5, 'straight'));
  const frame = made(colours, [stepOf('crop', { frame: [0.25, 0.5, 0.5, 0.25] })]);
  assert.deepEqual([frame.width, frame.height, at(frame, 0, 0)], [24, 8, at(colours, 12, 16)]);
  const even = planeOf(made(speckled, [stepOf('evenOut', { radius: [4] })]), 0);
  near(
    even.reduce((sum, x) => sum + x, 0) / even.length,
    planeOf(speckled, 0).reduce((sum, x) => sum + x, 0) / even.length,
    1e-4,
  );
});

test('what cannot be made is said at its step, and what was before it is kept', () => {
  const recipes = new Map([
    ['a', recipe([stepOf('texture', {}, { texture: 'b' })], { name: 'A' })],
    ['b', recipe([stepOf('texture', {}, { texture: 'a' })], { name: 'B' })],
    [
      'c',
      recipe([
        stepOf('invert'),
        stepOf('noise'),
        stepOf('noise', { seed: [2] }),
        stepOf('mix', {}, { other: 'gone' }),
      ]),
    ],
    ['d', recipe([stepOf('picture')])],
    ['e', recipe([PICTURE, stepOf('straighten', { corners: [0, 0, 1, 0, 0.5, 0, 0.2, 0] })])],
  ]);
  const maker = createMaker(
    recipes,
    bringing(() => speckled),
  );
  const said = (id: string) => maker.steps(id).map(({ mistake }) => mistake);
  assert.match(said('a')[0]!, /It would be made of itself: A → B → A/);
  const wrong = said('c');
  assert.match(wrong[0]!, /there is none before it: begin with noise, ramp/);
  assert.equal(wrong[1], null);
  assert.match(wrong[2]!, /noise begins a texture/);
  assert.match(wrong[3]!, /was deleted/);
  assert.deepEqual(maker.steps('c')[3]!.image, maker.steps('c')[1]!.image);
  assert.match(said('d')[0]!, /No picture is chosen yet/);
  assert.match(said('e')[1]!, /lie on a line/);
  assert.throws(() => maker.image('c'), /T cannot be made: invert changes a picture/);
  // What reads another follows it; the same recipe is told by the same digest.
  const follows = new Map([
    ['x', recipe([stepOf('texture', {}, { texture: 'y' })])],
    ['y', recipe([stepOf('noise')])],
  ]);
  const changed = new Map(follows).set('y', recipe([stepOf('noise', { seed: [3] })]));
  assert.equal(digestOf('x', follows), digestOf('x', new Map(follows)));
  assert.notEqual(digestOf('x', follows), digestOf('x', changed));
});

test('a long recipe holds no more pictures than a short one, and what is remembered is told in pixels', () => {
  setFlagsFromString('--expose-gc');
  const collect = runInNewContext('gc') as () => void;
  const side = 256;
  const picture = side * side * CHANNELS * 4;
  const recipes = new Map([
    [
      't',
      recipe([stepOf('noise'), ...Array.from({ length: 12 }, () => stepOf('invert'))], {
        size: [side, side],
      }),
    ],
  ]);
  collect();
  const before = process.memoryUsage().arrayBuffers;
  let most = 0;
  const progress = () => {
    // What the first one finds is let go of by the second.
    collect();
    collect();
    most = Math.max(most, process.memoryUsage().arrayBuffers - before);
  };
  createMaker(recipes, { ...bringing(() => speckled), progress }, { most: 0 }).image('t');
  assert.ok(most < 3 * picture, `${(most / picture).toFixed(1)} pictures were held`);
  const known = new Map<string, MadeStep>();
  createMaker(
    recipes,
    bringing(() => speckled),
    { most: 5 * side * side, known },
  ).steps('t');
  assert.equal(known.size, 5);
});

test('what follows a step that failed is made again once that can be made', () => {
  const recipes = new Map([['t', recipe([PICTURE, stepOf('noise'), stepOf('invert')])]]);
  const known = new Map<string, MadeStep>();
  let here: Image | null = null;
  const sources = bringing(() => {
    if (!here) throw new Error('It has not arrived.');
    return here;
  });
  const steps = () => createMaker(recipes, sources, { known }).steps('t');
  // Without its picture it begins with the noise, and the inversion is of that.
  const first = steps();
  assert.equal(first[0]!.mistake, 'It has not arrived.');
  here = speckled;
  const then = steps();
  assert.deepEqual(
    then.map(({ mistake }) => mistake !== null),
    [false, true, false],
  );
  near(at(then[2]!.image, 3, 4), 1 - at(speckled, 3, 4), 1e-6, 'inverted');
  assert.notDeepEqual(then[2]!.image.data, first[2]!.image.data);
});

test('a chain of textures is known by keys as short as those of one', () => {
  const chain = 40;
  const recipes = new Map(
    Array.from({ length: chain }, (_, i) => [
      `t${i}`,
      recipe(
        i
          ? [stepOf('texture', {}, { texture: `t${i - 1}` }), stepOf('mix', {}, { other: `t${i - 1}` })]
          : [PICTURE],
      ),
    ]),
  );
  const known = new Map<string, MadeStep>();
  const maker = createMaker(
    recipes,
    bringing(() => speckled),
    { known },
  );
  assert.equal(maker.steps(`t${chain - 1}`).at(-1)!.mistake, null);
  assert.ok(Math.max(...[...known.keys()].map(({ length }) => length)) <= 16);
});

test('a small texture is the mean of the whole one: white noise and dithering, also after a blur', () => {
  for (const steps of [
    [stepOf('noise', { seed: [7] }, { by: 'white' }), stepOf('blur', { radius: [8] })],
    [stepOf('noise', { cells: [100], seed: [3] }, { by: 'value' })],
    [stepOf('ramp'), stepOf('dither', { steps: [2] }), stepOf('blur', { radius: [8] })],
  ]) {
    const maker = createMaker(
      new Map([['t', recipe(steps, { size: [256, 256] })]]),
      bringing(() => speckled),
    );
    const [whole, small] = [1, 0.25].map((scale) => maker.steps('t', scale).at(-1)!.image) as [Image, Image];
    let worst = 0;
    for (let y = 0; y < 64; y += 1)
      for (let x = 0; x < 64; x += 1) {
        let sum = 0;
        for (let i = 0; i < 16; i += 1) sum += at(whole, x * 4 + (i & 3), y * 4 + (i >> 2)) / 16;
        worst = Math.max(worst, Math.abs(sum - at(small, x, y)));
      }
    assert.ok(worst < 0.02, `${steps.map(({ step }) => step).join()}: ${worst} apart`);
  }
});

test('low places and what is evened out look beyond an edge only where the texture repeats', () => {
  const ramp = drawn(WIDTH, HEIGHT, (x, _y, to, i) => to.set([x / WIDTH, x / WIDTH, x / WIDTH, 1], i));
  const low = (repeats: [boolean, boolean]) =>
    made(
      ramp,
      [stepOf('lowPlaces', { filter: [4, 4], sensitivity: [0, 0, 0], intensity: [1] })],
      {},
      { repeats },
    );
  // By hand: of four neighbours the one to the left is 0 too, the one to the right 4 pixels higher; around the edge, 44.
  near(at(low([false, true]), 0, 9), 4 / WIDTH / 4, 1e-6);
  near(at(low([true, true]), 0, 9), (44 + 4) / WIDTH / 4, 1e-6);
  near(at(low([true, false]), 20, 0), 0, 1e-6);
  const even = (repeats: [boolean, boolean]) =>
    at(made(ramp, [stepOf('evenOut', { radius: [4] })], {}, { repeats }), 0, 9);
  assert.ok(Math.abs(even([false, true]) - even([true, true])) > 0.1);
});

test('sizes that are powers of two are offered about in the shape of one, and none that is too large', () => {
  for (const [size, most, offered] of [
    [[500, 260], 4096, '256×128 512×256 1024×512'],
    [[512, 512], 4096, '256×256 1024×1024'],
    [[1, 1], 4096, '2×2'],
    [[4096, 4096], 4096, '2048×2048'],
    [[5000, 5000], 8192, '2048×2048 4096×4096'],
    [[3, 700], 4096, '2×256 4×512 8×1024'],
  ] as const)
    assert.equal(
      powersOfTwo(size, most)
        .map((each) => each.join('×'))
        .join(' '),
      offered,
      size.join('×'),
    );
});

test('a texture’s document is refused where it says what no step takes', () => {
  const body = { format: 'wicked-veil/texture', version: 1, size: [64, 64], steps: [] as object[] };
  const why = (change: object) =>
    parsePart('texture', { ...body, ...change }).problems.map(({ path, message }) => `${path} ${message}`)[0];
  assert.equal(why({}), undefined);
  const step = (more: object) => ({ steps: [{ id: 's', step: 'noise', ...more }] });
  for (const [change, said] of [
    [{ size: [0, 64] }, /size\[0\] A texture is 1 to 8192/],
    [{ size: [8192, 8192] }, /more than 16 million/],
    [{ size: [1e6, 1e6] }, /1 to 8192/],
    [step({ step: 'glow' }), /There is no image step “glow”/],
    [step({ numbers: { cells: [1e6] } }), /cells This should lie between 1 and 512/],
    [step({ numbers: { cells: [1, 2] } }), /cells This has 1 numbers; there are 2/],
    [step({ numbers: { hue: [1] } }), /no such argument/],
    [step({ words: { by: 'plaid' } }), /should be one of gradient, value/],
    [step({ step: 'text', words: { words: 'x'.repeat(201) } }), /200/],
    [{ steps: [...step({}).steps, ...step({}).steps] }, /Two steps have the id/],
  ] as const)
    assert.match(why(change) ?? 'taken', said);
  assert.equal(IMAGE_STEPS.size, 34);
});
