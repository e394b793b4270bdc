import sharp, { type Sharp } from 'sharp';
import { givenOf, type Around } from '#core/images/declareStep.ts';
import { CHANNELS, drawn, greyOf, planeOf, type Image } from '#core/images/image.ts';
import { IMAGE_STEPS } from '#core/images/imageSteps.ts';
import { makeMesh } from '#core/meshes/makeMesh.ts';
import { meshMap } from '#core/meshes/maps/meshMap.ts';
import { chanceOf } from '#core/numbers/chance.ts';
import { median, ratio, type Figure } from './measure.ts';

const SIDE = 1024;
const colour = drawn(SIDE, SIDE, (x, y, to, at) => {
  for (let c = 0; c < 3; c += 1) to[at + c] = chanceOf(c, x >> 3, y >> 3) * 0.9 + chanceOf(c + 7, x, y) * 0.1;
  to[at + 3] = 1;
});
const grey = greyOf(SIDE, SIDE, planeOf(colour, 0));
const veiled = drawn(SIDE, SIDE, (x, y, to, at) => {
  to.set(colour.data.subarray(at, at + 3), at);
  to[at + 3] = 0.2 + 0.8 * chanceOf(12, x >> 4, y >> 4);
});
/** What a step is asked for here: what it needs, and the rest as it starts. */
const WORDS: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  ...{ warp: { by: 'colour' }, mix: { other: 'colour' }, pack: { other: 'grey' } },
  combineNormals: { detail: 'colour', other: 'colour' },
};
const none = (): never => {
  throw new Error('No part of this.');
};
const around: Around = {
  ...{
    size: [SIDE, SIDE],
    scale: 1,
    wraps: [true, true],
    picture: none,
    surface: none,
    mesh: none,
    face: none,
  },
  texture: (id) => (id === 'grey' ? grey : colour),
  beside: (id) => (id === 'grey' ? grey : colour),
  top: 0,
  progress: () => undefined,
};
const stepOnce = (name: string, image: Image, numbers: Readonly<Record<string, readonly number[]>> = {}) => {
  const step = IMAGE_STEPS.get(name)!;
  return () => step.make(image, givenOf(step, { numbers, words: WORDS[name] ?? {} }, around), around);
};
const timed = (work: () => unknown, times = 3): number => {
  work();
  return median(
    Array.from({ length: times }, () => {
      const began = performance.now();
      work();
      return performance.now() - began;
    }),
  );
};
/** How finely libvips keeps a picture: in bytes, or in 16 bits, nearer to the floats that are worked on here. */
const KEPT = [
  { bits: 16, numbers: Uint16Array, depth: 'ushort', space: ['grey16', 'rgb16'] },
  { bits: 8, numbers: Uint8Array, depth: 'uchar', space: ['b-w', 'srgb'] },
] as const;
const byVips = async (
  { bits, numbers, depth, space }: (typeof KEPT)[number],
  [from, channels]: readonly [Image, 1 | 3 | 4],
  how: (one: Sharp) => Sharp,
): Promise<number> => {
  const most = 2 ** bits - 1;
  const samples = new numbers(
    Float32Array.from(
      { length: SIDE * SIDE * channels },
      (_, i) => from.data[Math.floor(i / channels) * CHANNELS + (i % channels)]! * most,
    ),
  );
  const run = () =>
    how(
      sharp(samples, { raw: { width: SIDE, height: SIDE, channels } }).toColourspace(
        space[channels > 1 ? 1 : 0],
      ),
    )
      .raw({ depth })
      .toBuffer();
  await run();
  const times: number[] = [];
  for (let i = 0; i < 5; i += 1) {
    const began = performance.now();
    await run();
    times.push(performance.now() - began);
  }
  return median(times);
};

/** How quick textures are made, against libvips where it does the same, on one core. */
export const textureFigures = async (): Promise<Figure[]> => {
  sharp.concurrency(1);
  const figures: Figure[] = [];
  for (const [what, image, channels] of [
    ['grey', grey, 1],
    ['colour', colour, 3],
    ['colour and alpha', veiled, 4],
  ] as const) {
    const blur = timed(stepOnce('blur', image, { radius: [16] }));
    const half = timed(stepOnce('resize', image, { size: [SIDE / 2, SIDE / 2] }));
    for (const kept of KEPT) {
      const soft = await byVips(kept, [image, channels], (one) => one.blur(16));
      const small = await byVips(kept, [image, channels], (one) =>
        one.resize(SIDE / 2, SIDE / 2, { kernel: 'lanczos3' }),
      );
      const against = `libvips in ${kept.bits} bits`;
      figures.push(
        {
          name: `Gaussian blur of 16 px, ${SIDE}², ${what}`,
          ...{ value: ratio(blur, soft), against: `${against} (${blur.toFixed(0)} ms)` },
        },
        {
          name: `Lanczos to half, ${SIDE}², ${what}`,
          ...{ value: ratio(half, small), against: `${against} (${half.toFixed(0)} ms)` },
        },
      );
    }
  }
  const steps = [...IMAGE_STEPS.values()].filter(({ name, isSource }) => !isSource && name !== 'crop');
  const times = steps.map(({ name }) => [name, timed(stepOnce(name, colour))] as const);
  const slow = times.filter(([, time]) => time > 100).sort((a, b) => b[1] - a[1]);
  figures.push({
    name: `image steps of ${SIDE}² within 100 ms, in colour`,
    value: `${steps.length - slow.length} of ${steps.length}`,
    against: slow.map(([name, time]) => `${name} ${time.toFixed(0)}`).join(', '),
  });
  const mesh = makeMesh({ kind: 'figure', height: 1.15, divisions: [100, 100] });
  const thick = timed(
    () => meshMap(mesh, { map: 'thickness', width: 512, height: 512, rays: 64, reach: 0.2, padding: 8 }),
    1,
  );
  figures.push({
    name: `thickness of ${mesh.indices.length / 3} triangles, 512², 64 lines`,
    value: `${(thick / 1000).toFixed(1)} s`,
    against: 'asked: 8 s',
  });
  return figures;
};
