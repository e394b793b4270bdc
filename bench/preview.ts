import { chromium } from '@playwright/test';
import { median, ratio, type Figure } from './measure.ts';

const FRAMES_MS = 2000 / 60;

/** How long a texture's picture takes to follow a number of one of its steps, in the workshop. */
export const previewFigures = async (base: string): Promise<Figure[]> => {
  const projects = (await (await fetch(`${base}/api/projects`)).json()) as { id: string; name: string }[];
  const playhouse = projects.find(({ name }) => name === 'The Gallowglass Playhouse')!;
  // No card: what draws the stage in software would be timed with it.
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: ['--no-sandbox', '--disable-gpu', '--disable-software-rasterizer', '--disable-3d-apis'],
  });
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.addInitScript(() => {
      const put = CanvasRenderingContext2D.prototype.putImageData;
      CanvasRenderingContext2D.prototype.putImageData = function (
        this: CanvasRenderingContext2D,
        ...given: Parameters<typeof put>
      ) {
        put.apply(this, given);
        if (this.canvas.dataset['testid'] === 'texture') performance.mark('put');
      } as typeof put;
      addEventListener('keydown', () => performance.mark('key'), true);
    });
    await page.goto(`${base}/projects/${playhouse.id}`);
    await page.getByRole('tab', { name: 'Textures' }).click();
    await page.getByRole('button', { name: 'levels of Cracked plaster' }).click();
    const black = page.getByRole('spinbutton', { name: 'levels black' });
    await black.focus();
    await page.waitForTimeout(4000);
    for (let i = 0; i < 25; i += 1) {
      await page.keyboard.press('ArrowUp');
      await page.waitForTimeout(300);
    }
    const waits = await page.evaluate(() => {
      const all = performance
        .getEntriesByType('mark')
        .map(({ name, startTime }) => [name, startTime] as const);
      return all.flatMap(([name, at], i) => {
        const next = all[i + 1];
        return name === 'key' && next?.[0] === 'put' ? [next[1] - at] : [];
      });
    });
    // The first ones warm up.
    const spent = median(waits.slice(8));
    return [
      {
        name: 'a number of an image step to its picture, 256²',
        value: ratio(spent, FRAMES_MS),
        against: `two frames; ${spent.toFixed(0)} ms, three steps made anew in a worker`,
      },
    ];
  } finally {
    await browser.close();
  }
};
