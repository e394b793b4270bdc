import { expect, test, type Page } from '@playwright/test';
import type { ShaderDocument } from '#core/document/shader.ts';
import { randomShader, smallerShaders } from './fuzz/randomShader.ts';
import { randomCode, smallerCode } from './fuzz/randomCode.ts';
import { tryShader } from './fuzz/tryShader.ts';
import { tryCode } from './tryCode.ts';

/*
 * Random shaders that mean something: each compiles in WebGL 2 and in WebGPU, and the columns agree with what WebGL 2
 * computes. `npm run fuzz -- --count 5000 --seed 1` tries any number; a failure prints its seed and a smaller shader.
 */
const COUNT = Number(process.env['FUZZ_COUNT'] ?? 300);
/** Random code keeps to arithmetic that is rounded alike everywhere. */
const CODE_BOUND = 1e-5;
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

test('random code means everywhere what it means as it is written', async ({ page }) => {
  const count = Math.ceil(COUNT / 6);
  test.setTimeout(60_000 + count * 10_000);
  await page.route('http://localhost/fuzz', (route) =>
    route.fulfill({ contentType: 'text/html', body: '<p>fuzz</p>' }),
  );
  await page.goto('http://localhost/fuzz');
  for (let seed = FIRST; seed < FIRST + count; seed += 1) {
    let least = randomCode(seed);
    const wrong = await tryCode(page, least, CODE_BOUND);
    if (!wrong) continue;
    const kind = wrong.slice(0, 9);
    for (let again = true; again;) {
      again = false;
      for (const smaller of smallerCode(least)) {
        if (!(await tryCode(page, smaller, CODE_BOUND).catch(() => '')).startsWith(kind)) continue;
        least = smaller;
        again = true;
        break;
      }
    }
    expect(await tryCode(page, least, CODE_BOUND), `seed ${seed}, made smaller:\n${least}`).toBe('');
  }
});

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
