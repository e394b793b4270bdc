import { expect, test, type Page } from '@playwright/test';
import type { ShaderDocument } from '#core/document/shader.ts';
import { randomShader, smallerShaders } from './fuzz/randomShader.ts';
import { tryShader } from './fuzz/tryShader.ts';

/*
 * Random shaders that mean something: each compiles in WebGL 2 and in WebGPU, and the columns agree with what WebGL 2
 * computes. `npm run fuzz -- --count 5000 --seed 1` tries any number; a failure prints its seed and a smaller shader.
 */
const COUNT = Number(process.env['FUZZ_COUNT'] ?? 300);
const FIRST = Number(process.env['FUZZ_SEED'] ?? 1);

/** Makes a failing shader smaller for as long as it fails in the same place. */
const shrink = async (page: Page, document: ShaderDocument, wrong: string): Promise<ShaderDocument> => {
  const kind = wrong.slice(0, 6);
  let least = document;
  for (let again = true; again;) {
    again = false;
    for (const smaller of smallerShaders(least)) {
      if (!(await tryShader(page, smaller)).startsWith(kind)) continue;
      least = smaller;
      again = true;
      break;
    }
  }
  return least;
};

test('random shaders compile everywhere and mean the same', async ({ page }) => {
  test.setTimeout(60_000 + COUNT * 4000);
  // WebGPU wants a secure page; this one needs no server.
  await page.route('http://localhost/fuzz', (route) =>
    route.fulfill({ contentType: 'text/html', body: '<p>fuzz</p>' }),
  );
  await page.goto('http://localhost/fuzz');
  for (let seed = FIRST; seed < FIRST + COUNT; seed += 1) {
    const document = randomShader(seed);
    const wrong = await tryShader(page, document);
    if (!wrong) continue;
    const least = await shrink(page, document, wrong);
    const again = await tryShader(page, least);
    expect(
      again,
      `seed ${seed}, made smaller:\n${JSON.stringify(least.strands)}\n${JSON.stringify(least.surface)}`,
    ).toBe('');
  }
});
