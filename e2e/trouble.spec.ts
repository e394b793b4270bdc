import { expect, test, type Page, type Route } from '@playwright/test';
import { freePort } from '../scripts/setup/port.mjs';
import { startPostgres } from '../scripts/setup/postgres.mjs';
import { prepareDatabase, startServer } from '../scripts/setup/server.mjs';
import { apart, picture } from './pixels.ts';
import { undo } from './score.ts';
import {
  COARSE,
  leavePlayhouse,
  openCurtain,
  parameter,
  playhouseId,
  saved,
  stageRests,
  step,
} from './stage.ts';
import { type Saved, makeProject, asSave } from './saves.ts';

test.use(COARSE);
test.afterEach(leavePlayhouse);

test('a server killed mid-save loses nothing it acknowledged', async ({ request }) => {
  const address = process.env['TEST_DATABASE_URL']!;
  const port = await freePort();
  let server = await startServer({ address, port, quiet: true });
  const { id, script } = await makeProject(request, server.url);
  const path = `${server.url}/api/projects/${id}/parts/script`;
  let revision = script.revision;
  let acknowledged = script.body.source;
  for (let round = 0; round < 6; round += 1) {
    const killed = new Promise((resolve) => setTimeout(resolve, 25 + round * 17)).then(() =>
      server.stop('SIGKILL'),
    );
    let sent = acknowledged;
    try {
      for (let n = 0; n < 30; n += 1) {
        sent = `// round ${round}, save ${n}`;
        const answer = await request.put(path, asSave(script, sent, revision));
        if (answer.status() === 429) continue;
        expect(answer.status()).toBe(200);
        revision = ((await answer.json()) as { revision: number }).revision;
        acknowledged = sent;
      }
    } catch (error) {
      expect(String(error)).toMatch(/ECONN|socket|hang up|reset/i);
    }
    await killed;
    server = await startServer({ address, port, quiet: true });
    const { parts } = (await (await request.get(`${server.url}/api/projects/${id}`)).json()) as {
      parts: Saved[];
    };
    const now = parts.find((part) => part.id === 'script')!;
    // What was on its way when the server died may have been kept; what was acknowledged must have been.
    expect([acknowledged, sent]).toContain(now.body.source);
    expect(now.revision - revision).toBe(now.body.source === acknowledged ? 0 : 1);
    revision = now.revision;
    acknowledged = now.body.source;
  }
  await server.stop();
});

test('a database that goes away is said to be away, and is found again', async ({ request }) => {
  const postgres = await startPostgres({ name: '.postgres-away', reset: true });
  await prepareDatabase(postgres.address);
  const server = await startServer({ address: postgres.address, port: await freePort(), quiet: true });
  try {
    const { id, script } = await makeProject(request, server.url);
    await postgres.halt();
    const health = await request.get(`${server.url}/api/health`);
    expect([health.status(), ((await health.json()) as { code: string }).code]).toEqual([
      503,
      'database-away',
    ]);
    const path = `${server.url}/api/projects/${id}/parts/script`;
    const away = await request.put(path, asSave(script, '// later'));
    expect(away.status()).toBe(503);
    expect(await away.text()).toContain('nothing was changed');
    await postgres.restart();
    await expect.poll(async () => (await request.get(`${server.url}/api/health`)).status()).toBe(200);
    expect((await request.put(path, asSave(script, '// later'))).status()).toBe(200);
  } finally {
    await server.stop();
    await postgres.stop();
  }
});

const setBurn = async (page: Page, text: string): Promise<void> => {
  await parameter(page, 'burn').getByRole('spinbutton').click();
  await page.getByRole('textbox', { name: 'burn figure' }).fill(text);
  await page.keyboard.press('Enter');
};

test('a stage without WebGL says so, and the rest still works', async ({ page }) => {
  await page.addInitScript(() => {
    HTMLCanvasElement.prototype.getContext = () => null;
  });
  await page.goto(`/projects/${await playhouseId(page)}`);
  await expect(page.getByRole('alert').filter({ hasText: 'WebGL 2' })).toBeVisible();
  await expect(step(page, 'remains-2')).toBeVisible();
});

test('a full browser storage is said, and saving goes on', async ({ page }) => {
  await page.addInitScript(() => {
    Storage.prototype.setItem = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
  });
  await page.goto(`/projects/${await playhouseId(page)}`);
  await stageRests(page);
  await setBurn(page, '0.46');
  await saved(page);
});

test('a lost graphics context is said, and the stage comes back', async ({ page }) => {
  await openCurtain(page);
  const handle = await page
    .getByTestId('stage')
    .evaluateHandle((canvas) =>
      (canvas as HTMLCanvasElement).getContext('webgl2')!.getExtension('WEBGL_lose_context'),
    );
  await handle.evaluate((extension) => extension!.loseContext());
  await expect(page.getByRole('alert').filter({ hasText: 'graphics card' })).toBeVisible();
  await handle.evaluate((extension) => extension!.restoreContext());
  await expect(page.getByRole('alert').filter({ hasText: 'graphics card' })).toHaveCount(0);
  await stageRests(page);
});

test('a shader that the graphics card gives up over is named and left out, until it is another', async ({
  page,
}) => {
  await openCurtain(page);
  const extension = await page
    .getByTestId('stage')
    .evaluateHandle((canvas) =>
      (canvas as HTMLCanvasElement).getContext('webgl2')!.getExtension('WEBGL_lose_context'),
    );
  const before = await picture(page);
  const curtain = [0.5, 0.5] as const;
  // The last step that the colour depends on is muted: another program.
  await page.getByRole('group', { name: 'power step' }).focus();
  await page.keyboard.press('m');
  await stageRests(page);
  await extension.evaluate((each) => each!.loseContext());
  await expect(page.getByRole('alert').filter({ hasText: 'was taken away' })).toBeVisible();
  await extension.evaluate((each) => each!.restoreContext());
  const told = page.getByRole('alert').filter({ hasText: 'Velvet, house left is not drawn' });
  await expect(told).toBeVisible();
  expect(apart((await picture(page))(...curtain), before(...curtain))).toBeGreaterThan(20);
  await undo(page);
  await expect(told).toHaveCount(0);
  expect(apart((await picture(page))(...curtain), before(...curtain))).toBeLessThan(3);
  await saved(page);
});

test('a project whose server is away, or breaks off in the middle, is said to be away, and is opened by trying again', async ({
  page,
}) => {
  const id = await playhouseId(page);
  await page.goto('/');
  let answer: (route: Route) => Promise<void> = (route) => route.abort('connectionreset');
  await page.route(`**/api/projects/${id}`, (route) => answer(route));
  await page.locator(`a[href="/projects/${id}"]`).first().click();
  const told = page.getByText('The server cannot be reached just now.');
  const again = page.getByRole('button', { name: 'Try again' });
  await expect(told).toBeVisible();
  answer = (route) => route.fulfill({ contentType: 'application/json', body: '{"id":"' });
  const broken = page.waitForResponse(`**/api/projects/${id}`);
  await again.click();
  await broken;
  await expect(told).toBeVisible();
  answer = (route) => route.fallback();
  await again.click();
  await stageRests(page);
});
