import assert from 'node:assert/strict';
import { test } from 'node:test';
import sharp from 'sharp';
import { heightSamples, pictureSamples } from './pictureSamples.ts';

/** Light from left to right, and said to have been taken with the camera turned: upright it gets lighter from the top down. */
const askew = (format: 'jpeg' | 'png' | 'webp', colours: 'srgb' | 'cmyk' = 'srgb'): Promise<Buffer> => {
  const [width, height] = [32, 16];
  const pixels = Uint8Array.from({ length: width * height * 3 }, (_, i) => (Math.floor(i / 3) % width) * 8);
  return sharp(pixels, { raw: { width, height, channels: 3 } })
    .toColourspace(colours)
    .withMetadata({ orientation: 6 })
    .toFormat(format, { quality: 100, ...(format === 'webp' && { lossless: true }) })
    .toBuffer();
};

test('a picture taken askew is read upright, as browsers draw it; of whatever colours, and as heights too', async () => {
  for (const [format, colours] of [
    ['jpeg', 'srgb'],
    ['jpeg', 'cmyk'],
    ['png', 'srgb'],
  ] as const) {
    const bytes = await askew(format, colours);
    const { width, height, samples } = await pictureSamples(bytes);
    assert.deepEqual([width, height], [16, 32], `${format} ${colours}`);
    const heights = await heightSamples(bytes);
    assert.deepEqual([heights.width, heights.height], [16, 32], `${format} ${colours}`);
    for (const y of [2, 16, 29]) {
      const [red, alpha] = [samples[(y * width + 5) * 4]!, samples[(y * width + 5) * 4 + 3]];
      // Inks come near, not to the bit.
      assert.ok(Math.abs(red - y * 8) <= (colours === 'cmyk' ? 24 : 4), `${format} ${colours} ${y}: ${red}`);
      assert.equal(alpha, 255);
      if (colours === 'srgb') assert.ok(Math.abs(heights.samples[y * 16 + 5]! / 257 - y * 8) <= 4);
    }
  }
  const left = await pictureSamples(await askew('webp'));
  assert.deepEqual([left.width, left.height, left.samples[20 * 4]], [32, 16, 160]);
});
