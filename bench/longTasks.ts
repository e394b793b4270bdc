import { randomUUID } from 'node:crypto';
import { chromium, type Page } from '@playwright/test';
import type { Knex } from 'knex';
import { emptyShader } from '#core/document/shader.ts';
import { sketchStrands } from '#core/document/sketch.ts';
import type { Figure } from './measure.ts';

/** A shader of a hundred strands of ten steps, each reading the one above it. */
const thousandSteps = () => ({
  ...emptyShader(),
  strands: sketchStrands(
    Object.fromEntries(
      Array.from({ length: 100 }, (_, i) => [
        `strand${i}`,
        [
          ['gradientNoise', { p: `uv * ${(2 + i / 10).toFixed(1)}` }],
          ...Array.from({ length: 8 }, (_, k) => [k % 2 ? 'add' : 'multiply', { y: 0.5 + k / 100 }]),
          ['mix', { y: i ? `strand${i - 1}` : 0.5 }],
        ],
      ]),
    ) as Parameters<typeof sketchStrands>[0],
  ),
});

/** How many tasks held the page for more than 50 ms while something was done, and the longest of them. */
const longWhile = async (page: Page, work: () => Promise<void>): Promise<string> => {
  const handle = await page.evaluateHandle(() => {
    const found: number[] = [];
    new PerformanceObserver((list) => found.push(...list.getEntries().map((each) => each.duration))).observe({
      type: 'longtask',
    });
    return found;
  });
  await work();
  await page.waitForTimeout(500);
  const found = (await handle.jsonValue()) as number[];
  return found.length ? `${found.length} of ${Math.max(...found).toFixed(0)} ms or less` : 'none';
};

/**
 * What holds the page of a shader of 1,000 steps, its small step pictures left out: a graphics card draws those beside
 * the page, and this machine's software would draw them on it.
 */
export const longTaskFigures = async (db: Knex, base: string): Promise<Figure[]> => {
  const id = randomUUID();
  await db('projects').insert({ id, name: '1,000 steps' });
  await db('parts').insert([
    {
      ...{ project_id: id, id: 'shader', kind: 'shader', name: 'Thousand' },
      body: JSON.stringify(thousandSteps()),
    },
    {
      ...{ project_id: id, id: 'material', kind: 'material', name: 'Material' },
      body: JSON.stringify({ format: 'wicked-veil/material', version: 1, shader: 'shader', values: {} }),
    },
  ]);
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-software-rasterizer', '--disable-3d-apis'],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(`${base}/projects/${id}`);
    await page.locator('[data-step]').first().waitFor();
    await page.waitForTimeout(3000);
    const number = page.locator('[data-strand=strand2] .arguments [role=spinbutton]').first();
    const box = (await number.boundingBox())!;
    const dragging = await longWhile(page, async () => {
      await page.mouse.move(box.x + 4, box.y + 4);
      await page.mouse.down();
      for (let i = 1; i <= 60; i += 1) await page.mouse.move(box.x + 4 + i, box.y + 4);
      await page.mouse.up();
    });
    const adding = await longWhile(page, async () => {
      for (const wanted of ['saturate', 'invert', 'multiply']) {
        await page.locator('[data-strand=strand2] [data-step]').first().press('A');
        await page.getByRole('combobox', { name: 'Search operators' }).fill(wanted);
        await page.keyboard.press('Enter');
        await page.waitForTimeout(400);
      }
    });
    const scrolling = await longWhile(page, async () => {
      await page.mouse.move(400, 640);
      for (let i = 0; i < 40; i += 1) await page.mouse.wheel(0, 120);
    });
    return [
      { name: '1,000 steps: a number dragged', value: dragging, against: 'tasks over 50 ms; asked: none' },
      { name: '1,000 steps: three steps added', value: adding, against: 'tasks over 50 ms; asked: none' },
      { name: '1,000 steps: the score scrolled', value: scrolling, against: 'tasks over 50 ms' },
    ];
  } finally {
    await browser.close();
  }
};
