import { expect, test, type Page } from '@playwright/test';
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

/** What one page tries: a device that was given thousands of programs is taken away. */
const A_PAGE = 100;
/** The seeds to try, a stretch for each page. */
const stretches = (count: number): readonly (readonly [first: number, past: number])[] =>
  Array.from({ length: Math.ceil(count / A_PAGE) }, (_, i) => [
    FIRST + i * A_PAGE,
    FIRST + Math.min((i + 1) * A_PAGE, count),
  ]);
/** Opens a page of its own. WebGPU wants a secure one; this needs no server. */
const openPage = async (page: Page, first: number): Promise<void> => {
  const address = `http://fuzz${first}.localhost/`;
  await page.route(address, (route) => route.fulfill({ contentType: 'text/html', body: '<p>fuzz</p>' }));
  await page.goto(address);
};

/** Makes what fails smaller for as long as it fails in the same way. */
const shrink = async <T>(
  whole: T,
  smallerThan: (whole: T) => Iterable<T>,
  fails: (smaller: T) => Promise<boolean>,
): Promise<T> => {
  for (const smaller of smallerThan(whole))
    if (await fails(smaller)) return shrink(smaller, smallerThan, fails);
  return whole;
};

for (const [first, past] of stretches(Math.ceil(COUNT / 6)))
  test(`random code of seeds ${first} to ${past - 1} means everywhere what it means as it is written`, async ({
    page,
  }) => {
    test.setTimeout(60_000 + (past - first) * 10_000);
    await openPage(page, first);
    for (let seed = first; seed < past; seed += 1) {
      const code = randomCode(seed);
      const wrong = await tryCode(page, code, CODE_BOUND);
      if (!wrong) continue;
      const least = await shrink(code, smallerCode, async (smaller) =>
        (await tryCode(page, smaller, CODE_BOUND).catch(() => '')).startsWith(wrong.slice(0, 9)),
      );
      expect(wrong, `seed ${seed}, made smaller:\n${least}`).toBe('');
    }
  });

for (const [first, past] of stretches(COUNT))
  test(`random shaders of seeds ${first} to ${past - 1} compile everywhere and mean the same`, async ({
    page,
  }) => {
    test.setTimeout(60_000 + (past - first) * 4000);
    await openPage(page, first);
    for (let seed = first; seed < past; seed += 1) {
      const document = randomShader(seed);
      const wrong = await tryShader(page, document);
      if (!wrong) continue;
      const least = await shrink(document, smallerShaders, async (smaller) =>
        (await tryShader(page, smaller)).startsWith(wrong.slice(0, 6)),
      );
      expect(
        wrong,
        `seed ${seed}, made smaller:\n${JSON.stringify(least.strands)}\n${JSON.stringify(least.surface)}`,
      ).toBe('');
    }
  });
