import assert from 'node:assert/strict';
import { test } from 'node:test';
import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { zlibSync } from 'fflate';
import { chanceOf } from '../numbers/chance.ts';
import type { ImageStep } from './declareStep.ts';
import { encodePicture } from './encodePicture.ts';
import { CHANNELS, drawn, type Image } from './image.ts';
import { IMAGE_STEPS } from './imageSteps.ts';
import { coloursReach, lossIn } from './lossIn.ts';
import { createMaker, type Sources } from './makeTexture.ts';
import { type Recipe, type RecipeStep } from './recipe.ts';
import { rowsOf } from './rows.ts';
import { seamOf } from './seams.ts';
import { shareShown, sizesOf } from './sizesOf.ts';

const [WIDTH, HEIGHT] = [37, 41];
const none = (): never => {
  throw new Error('There is none.');
};
const from = (pictures: Readonly<Record<string, Image>>, more: Partial<Sources> = {}): Sources => ({
  ...{ picture: (sha) => pictures[sha] ?? none(), surface: none, mesh: none, face: none },
  ...more,
});
const bring = (picture: string): RecipeStep => ({
  ...{ id: picture, step: 'picture', numbers: {}, words: { picture, holds: 'numbers' } },
});
/** Grey above, colours below, and seen through in a part of both, so that bands are of each kind. */
const MIXED = drawn(WIDTH, HEIGHT, (x, y, to, at) => {
  const isGrey = y < 15;
  for (let c = 0; c < 3; c += 1) to[at + c] = chanceOf(isGrey ? 1 : c + 1, x, y) * 1.4 - 0.2;
  to[at + 3] = y > 8 && y < 30 && x > 20 ? Math.max(chanceOf(7, x, y) * 1.5 - 0.5, 0) : 1;
});
const OTHER = drawn(WIDTH, HEIGHT, (x, y, to, at) => {
  for (let c = 0; c < CHANNELS; c += 1) to[at + c] = chanceOf(11 + c, x, y);
});

/** A step that is told something by chance: it looks no further than bands do. */
const byChance = (step: ImageStep, seed: number): RecipeStep => {
  const numbers: Record<string, number[]> = {};
  const words: Record<string, string> = {};
  Object.entries(step.arguments).forEach(([name, own], k) => {
    const chance = (i: number): number => chanceOf(seed, k, i);
    if (own.kind === 'number') {
      const most = own.unit === 'px' ? Math.min(own.most, own.whole ? 4 : 5) : own.most;
      const value = own.least + chance(0) * (most - own.least);
      numbers[name] = [own.whole ? Math.round(value) : value];
    } else if (own.kind === 'numbers' && step.name !== 'straighten')
      numbers[name] = own.start.map((_, i) =>
        own.unit === 'px' ? 1 + Math.floor(chance(i) * 60) : own.least + chance(i) * (own.most - own.least),
      );
    else if (own.kind === 'choice') words[name] = own.options[Math.floor(chance(0) * own.options.length)]!;
    else if (own.kind === 'flag') numbers[name] = [chance(0) < 0.5 ? 0 : 1];
    else if (own.kind === 'texture') words[name] = chance(0) < 0.5 ? 'other' : 'small';
  });
  return { id: `${step.name} ${seed}`, step: step.name, numbers, words };
};
const recipe = (steps: readonly RecipeStep[], more: Partial<Recipe> = {}): Recipe => ({
  ...{ name: 'T', size: [WIDTH, HEIGHT], repeats: [true, true], steps, ...more },
});
/** The same by bands of a few rows as made whole, step after step, to the bit. */
const isTheSame = (steps: readonly RecipeStep[], more: Partial<Recipe>, what: string): void => {
  const recipes = new Map([
    ['t', recipe(steps, more)],
    ['other', recipe([bring('other')], more)],
    ['small', recipe([{ ...bring('noise'), step: 'noise' }], { ...more, size: [20, 22] })],
  ]);
  const sources = from({ mixed: MIXED, other: OTHER });
  const made = createMaker(recipes, sources).steps('t');
  const whole = made.at(-1)!;
  assert.equal(whole.mistake, null, what);
  assert.deepEqual(
    sizesOf('t', recipes, () => [WIDTH, HEIGHT]),
    made.map(({ image: { width, height } }) => [width, height]),
    what,
  );
  for (const band of [1, 3 * WIDTH, 16 * WIDTH])
    for (const most of [0, 2 ** 20]) {
      const { width, height, data } = createMaker(recipes, sources, { most, band }).image('t');
      assert.deepEqual([width, height], [whole.image.width, whole.image.height], what);
      const wrong = data.findIndex((x, i) => !Object.is(x, whole.image.data[i]));
      assert.equal(wrong, -1, `${what}: ${data[wrong]} is not ${whole.image.data[wrong]}, bands of ${band}`);
    }
};
const WRAPS = [
  [false, false],
  [true, false],
  [false, true],
  [true, true],
] as const;

test('what is made by bands of rows is what it is made whole, to the bit, whichever step and however it wraps', () => {
  let count = 0;
  for (const step of IMAGE_STEPS.values()) {
    if (!step.reach && !step.rows) continue;
    count += 1;
    for (let seed = 0; seed < 8; seed += 1) {
      const told = byChance(step, seed);
      const steps = step.isSource ? [told] : [bring('mixed'), told];
      isTheSame(steps, { repeats: WRAPS[seed % 4]! }, JSON.stringify(told));
    }
  }
  assert.ok(count > 15, String(count));
});

test('steps after steps by bands are what they are whole, also between those that look everywhere', () => {
  const near = [...IMAGE_STEPS.values()].filter(
    (step) => (step.reach ?? step.rows) && !step.isSource && step.name !== 'resize',
  );
  const everywhere = ['evenOut', 'warp', 'lowPlaces', 'resize'];
  for (let seed = 0; seed < 40; seed += 1) {
    const length = 2 + Math.floor(chanceOf(seed, 99) * 6);
    const steps = Array.from({ length }, (_, k): RecipeStep => {
      const chance = chanceOf(seed, k, 5);
      if (chanceOf(seed, k, 6) < 0.85)
        return byChance(near[Math.floor(chance * near.length)]!, seed * 100 + k);
      const step = everywhere[Math.floor(chance * everywhere.length)]!;
      const numbers: RecipeStep['numbers'] = step === 'resize' ? { size: [29, 60] } : {};
      return { id: `${k}`, step, numbers, words: step === 'warp' ? { by: 'other' } : {} };
    });
    isTheSame([bring('mixed'), ...steps], { repeats: WRAPS[seed % 4]! }, JSON.stringify(steps));
  }
});

test('a mistake in a band says which step of which texture it is, and rows are told of as they come', () => {
  const shares: number[] = [];
  const steps = ['noise', 'invert', 'evenOut', 'normal'].map((step) => ({ ...bring(step), step }));
  const recipes = new Map([
    ['t', recipe(steps)],
    ['wrong', recipe([...steps, { ...bring('mix'), step: 'mix', words: { other: 'gone' } }], { name: 'W' })],
    ['reads', recipe([{ ...bring('texture'), step: 'texture', words: { texture: 'wrong' } }])],
  ]);
  const sources = from({}, { progress: (share) => shares.push(share) });
  createMaker(recipes, sources, { most: 0, band: 3 * WIDTH }).image('t');
  assert.ok(shares.length > 10, String(shares.length));
  shares.forEach((share, i) => assert.ok(share >= (shares[i - 1] ?? 0) && share <= 1, shares.join()));
  assert.equal(shares.at(-1), 1);
  assert.throws(
    () => createMaker(recipes, sources).image('reads'),
    /^Error: T cannot be made: W cannot be made: The texture that this reads was deleted/,
  );
});

test('a file that is made by bands is that of the whole, with the same seam and the same loss', () => {
  // As many rows as several bands have.
  const size = [64, 5000] as const;
  const steps = ['noise', 'contrast', 'normal', 'contrast', 'mix'].map((step): RecipeStep => {
    const numbers = step === 'contrast' ? { amount: [3] } : {};
    return { id: step, step, numbers, words: step === 'mix' ? { other: 'o', by: 'multiply' } : {} };
  });
  const recipes = new Map([
    ['t', recipe(steps, { size })],
    ['o', recipe([{ id: 'r', step: 'ramp', numbers: {}, words: { along: 'v' } }], { size })],
  ]);
  const { rows, steps: all } = createMaker(recipes, from({}), { most: 0 });
  const whole = all('t').at(-1)!.image;
  for (const bits of [8, 16, 32] as const) {
    const { file, seam, loss } = encodePicture(rows('t'), { holds: 'color', bits }, zlibSync);
    const asWhole = encodePicture(rowsOf(whole), { holds: 'color', bits }, zlibSync);
    assert.equal(Buffer.compare(file, asWhole.file), 0, `${bits}`);
    assert.deepEqual([seam, loss], [seamOf(whole), lossIn(coloursReach(whole), bits)]);
    assert.equal(loss === null, bits === 32);
  }
});

test('however long a recipe of steps that look near by is, no picture of it is held but some bands', () => {
  setFlagsFromString('--expose-gc');
  const collect = runInNewContext('gc') as () => void;
  const size = [64, 4096] as const;
  const picture = size[0] * size[1] * CHANNELS * 4;
  const kinds = ['invert', 'blur', 'mix', 'normal', 'levels', 'sharpen', 'halfOffset', 'grey'];
  const steps = Array.from({ length: 24 }, (_, i): RecipeStep => {
    const step = kinds[i % kinds.length]!;
    return { id: `${i}`, step, numbers: step === 'blur' ? { radius: [1] } : {}, words: { other: 'o' } };
  });
  const twice = { id: 'r', step: 'resize', numbers: { size: [size[0], size[1] * 2] }, words: {} };
  const noise: RecipeStep = { id: 'n', step: 'noise', numbers: {}, words: {} };
  const recipes = new Map([
    ['t', recipe([noise, ...steps, twice], { size })],
    ['o', recipe([noise], { size })],
  ]);
  collect();
  const before = process.memoryUsage().arrayBuffers;
  let most = 0;
  const rows = createMaker(recipes, from({}), { most: 0 }).rows('t');
  assert.equal(rows.height, size[1] * 2);
  for (let top = 0; top < rows.height; top += 32) {
    rows.take(top, top + 32);
    if (top % 256) continue;
    // What the first one finds is let go of by the second.
    collect();
    collect();
    most = Math.max(most, process.memoryUsage().arrayBuffers - before);
  }
  assert.ok(most < picture / 4, `${(most / picture).toFixed(2)} pictures were held`);
});

test('how large a texture is, and how small it is shown, is told without making it', () => {
  const [photo, crop, large] = [
    bring('photo'),
    { id: 'crop', step: 'crop', numbers: { frame: [0.25, 0.5, 0.5, 0.5] }, words: {} },
    { id: 'large', step: 'resize', numbers: { size: [3000, 700] }, words: {} },
  ];
  const reads = (id: string): RecipeStep => ({ ...bring(id), step: 'texture', words: { texture: id } });
  const recipes = new Map([
    ['t', recipe([photo, crop, { ...large, off: true }, bring('other'), { ...bring('blur'), step: 'blur' }])],
    ['reads', recipe([reads('t'), large])],
    ['itself', recipe([reads('itself')])],
    ['plain', recipe([{ ...bring('noise'), step: 'noise' }])],
  ]);
  const sizes = (id: string) => sizesOf(id, recipes, (sha) => (sha === 'photo' ? [3024, 2011] : null));
  const [whole, cut] = [
    [3024, 2011],
    [1512, 1005],
  ];
  assert.deepEqual(sizes('t'), [whole, cut, cut, cut, cut]);
  assert.deepEqual(sizes('reads'), [cut, [3000, 700]]);
  assert.deepEqual([sizes('itself'), sizes('plain'), sizes('gone')], [[[37, 41]], [[37, 41]], []]);
  // A picture of black and white, made smaller, rings no further than either.
  const stripes = drawn(64, 64, (x, _y, to, at) => to.set(x % 11 < 5 ? [0, 0, 0, 1] : [1, 1, 1, 1], at));
  const [small] = createMaker(new Map([['t', recipe([bring('stripes')])]]), from({ stripes })).steps(
    't',
    0.45,
  );
  assert.equal(small!.image.width, 29);
  assert.deepEqual(coloursReach(small!.image), { low: 0, high: 1, broken: 0 });
  // 256 across, up to √2 times as many; and no step of it more often so large than four times.
  assert.equal(shareShown([[512, 512]], 256), 0.5);
  assert.equal(shareShown([[100, 40]], 256), 1);
  assert.equal(shareShown([[8192, 8192], [256, 256]], 256), 1 / 8); // prettier-ignore
  for (let side = 257; side < 4096; side += 7) {
    const shown = side * shareShown([[side, 9]], 256);
    assert.ok(shown >= 255.9 && shown < 256 * Math.SQRT2 + 0.1, `${side}: ${shown}`);
  }
});
