import { expect, test, type APIRequestContext, type Page } from '@playwright/test';
import {
  COARSE,
  figure,
  leavePlayhouse,
  openCurtain,
  parameter,
  playhouseId,
  saved,
  stageRests,
  step,
} from './stage.ts';
import { json, makeProject, asSave } from './saves.ts';

test.use(COARSE);
test.afterEach(leavePlayhouse);

test('a stale save gets 409 with both bodies, and every refusal is a code and a sentence', async ({
  request,
  baseURL,
  page,
}) => {
  const { id, script } = await makeProject(request);
  const path = `/api/projects/${id}/parts/script`;
  expect(await (await request.put(path, asSave(script, '// one'))).json()).toEqual({ revision: 2 });
  const stale = await request.put(path, asSave(script, '// two'));
  expect(stale.status()).toBe(409);
  expect(await stale.json()).toMatchObject({
    code: 'conflict',
    theirs: { revision: 2, body: { source: '// one' } },
    yours: { revision: 1, body: { source: '// two' } },
  });
  const refusals: readonly (readonly [
    Promise<{ status(): number; json(): Promise<unknown> }>,
    number,
    string,
  ])[] = [
    [request.put(path, json({ revision: 0, name: '', body: 3 })), 422, 'invalid'],
    [
      request.put(path, json({ revision: 2, name: 'x', body: { format: 'wicked-veil/script', version: 7 } })),
      422,
      'invalid',
    ],
    [
      request.put(path, { data: '{ not json', headers: { 'content-type': 'application/json' } }),
      400,
      'bad-request',
    ],
    [request.put(path, asSave(script, 'x'.repeat(5_000_000), 2)), 413, 'too-large'],
    [request.put(`/api/projects/${id}/parts/nothing`, asSave(script, '', 2)), 404, 'not-found'],
    [request.post('/api/projects', json({ name: 'x'.repeat(10_000) })), 422, 'invalid'],
    [
      request.delete(`/api/projects/${id}`, { headers: { origin: 'http://elsewhere.example' } }),
      403,
      'wrong-origin',
    ],
  ];
  for (const [asked, status, code] of refusals) {
    const answer = await asked;
    expect([answer.status(), ((await answer.json()) as { code: string }).code]).toEqual([status, code]);
  }
  // A browser hears why too, though it sends all of it first; what pictures and meshes may have is more.
  await page.goto('/');
  const said = await page.evaluate(async (to) => {
    const send = async (address: string, method: string, megabytes: number): Promise<[number, string]> => {
      const body = new Uint8Array(megabytes * 2 ** 20);
      const answer = await fetch(address, { method, body, headers: { 'content-type': 'application/json' } });
      return [answer.status, ((await answer.json()) as { message: string }).message];
    };
    return [
      await send(to, 'PUT', 5),
      await send('/api/blobs', 'POST', 5),
      await send('/api/nowhere', 'POST', 5),
    ];
  }, path);
  expect(said).toEqual([
    [413, 'The request is larger than 4 MB.'],
    [422, 'This is not a PNG, JPEG, WebP, OpenEXR or Radiance picture.'],
    [404, 'There is no such address under /api.'],
  ]);
  const front = await request.get('/');
  expect(front.headers()['content-security-policy']).toContain("object-src 'none'");
  expect(front.headers()['content-security-policy']).not.toContain("'unsafe-eval'");
  expect(front.headers()['x-content-type-options']).toBe('nosniff');
  expect((await request.get(`${baseURL}/api/health`)).status()).toBe(200);
});

test('what the server reads is bounded, and every wrong request is a sentence under /api', async ({
  request,
  baseURL,
}) => {
  const { id } = await makeProject(request);
  const script = { format: 'wicked-veil/script', version: 1, source: '' };
  const raw = (body: string | Buffer) => ({ data: body, headers: { 'content-type': 'application/json' } });
  const keys = Object.fromEntries(Array.from({ length: 40_000 }, (_, i) => [`k${i}`, i]));
  const part = (more: object) => json({ id: 'more', kind: 'script', name: 'More', body: script, ...more });
  const parts = `/api/projects/${id}/parts`;
  const began = Date.now();
  const cases: readonly (readonly [ReturnType<APIRequestContext['get']>, number])[] = [
    [request.get('/api/nothing'), 404],
    [request.patch('/api/health'), 405],
    [request.get('/api/projects', { headers: { host: 'elsewhere.example' } }), 421],
    [request.post('/api/projects', json({ name: '   ' })), 422],
    [request.post('/api/projects', json({ name: 'a\u0000b' })), 422],
    [request.post('/api/projects', json({ name: 'a', owner: 'b' })), 422],
    [request.post('/api/projects', raw(Buffer.from([0x7b, 0x22, 0xff, 0x22, 0x3a, 0x31, 0x7d]))), 400],
    [request.post('/api/projects', raw(`{"name":${'['.repeat(10_000)}${']'.repeat(10_000)}}`)), 422],
    [request.post(parts, part({ body: { ...script, ...keys } })), 422],
    [
      request.post(
        parts,
        part({ kind: 'material', body: { format: 'wicked-veil/material', version: 1, shader: 'none' } }),
      ),
      422,
    ],
    [request.get(`${parts}/script/revisions/1e0`), 404],
    [request.get(`${parts}/script/revisions/99999999999`), 404],
    [request.get(`${parts}/scr%00ipt/revisions`), 404],
    [request.post('/api/blobs', raw(Buffer.from('\x89PNG\r\n\x1a\nand no more', 'latin1'))), 422],
  ];
  for (const [asked, status] of cases) {
    const answer = await asked;
    expect(answer.status(), answer.url()).toBe(status);
    expect(((await answer.json()) as { message: string }).message).toMatch(/\.$/);
    expect(answer.headers()['x-content-type-options']).toBe('nosniff');
  }
  expect(Date.now() - began).toBeLessThan(20_000);
  // Ids of parameters that objects have as members too are kept; values by name are of version 1.
  const old = { format: 'wicked-veil/material', version: 1, shader: 'shader', values: { burn: [1] } };
  const named = await request.post(parts, part({ kind: 'material', id: 'old', body: old }));
  expect([named.status(), await named.text()]).toEqual([422, expect.stringContaining('write version 2')]);
  const values = { toString: [1], valueOf: [2], hasOwnProperty: [3] };
  const material = { format: 'wicked-veil/material', version: 2, shader: 'shader', values };
  const made = await request.post(parts, part({ kind: 'material', id: 'odd', body: material }));
  expect([made.status(), ((await made.json()) as { body: { values: unknown } }).body.values]).toEqual([
    201,
    values,
  ]);
  expect((await request.get(`${baseURL!}/api/projects/${id}`)).status()).toBe(200);
});

test('an id is taken once, and one used again goes on counting; a deed is done once', async ({ request }) => {
  const { id } = await makeProject(request);
  const path = `/api/projects/${id}/parts`;
  const body = { format: 'wicked-veil/script', version: 1, source: '// one' };
  const add = () => request.post(path, json({ id: 'cue', kind: 'script', name: 'Cue', body }));
  const statuses = (await Promise.all(Array.from({ length: 12 }, add))).map((each) => each.status());
  expect(statuses.sort()).toEqual([201, ...new Array<number>(11).fill(409)]);
  const save = (revision: number, deed: string) =>
    request.put(`${path}/cue`, json({ name: 'Cue', revision, body, deed }));
  expect(await (await save(1, 'deed-0001')).json()).toEqual({ revision: 2 });
  expect(await (await save(1, 'deed-0001')).json()).toEqual({ revision: 2 });
  expect((await save(1, 'deed-0002')).status()).toBe(409);
  expect((await request.delete(`${path}/cue`)).status()).toBe(200);
  const revisions = (await (await request.get(`${path}/cue/revisions`)).json()) as unknown[];
  expect(revisions.length).toBe(2);
  expect(((await (await add()).json()) as { revision: number }).revision).toBe(3);
  expect((await save(1, 'deed-0003')).status()).toBe(409);
});

test('pages and answers come compressed, and no file is guessed at', async ({ page, baseURL }) => {
  const seen: { url: string; type: string; how: string | null; guess: string | null }[] = [];
  page.on('response', (response) => {
    const headers = response.headers();
    seen.push({
      url: response.url(),
      type: headers['content-type'] ?? '',
      how: headers['content-encoding'] ?? null,
      guess: headers['x-content-type-options'] ?? null,
    });
  });
  await page.goto(baseURL!);
  await expect(page.getByRole('link', { name: /Gallowglass/ }).first()).toBeVisible();
  expect(seen.filter((each) => each.guess !== 'nosniff')).toEqual([]);
  expect(seen.filter((each) => /html|javascript|css/.test(each.type) && each.how === null)).toEqual([]);
});

test('changes to several parts are done all or none, and once', async ({ request }) => {
  const { id, script } = await makeProject(request);
  const script2 = { format: 'wicked-veil/script', version: 1, source: '// two' };
  const cue = { op: 'add', id: 'cue', kind: 'script', name: 'Cue', body: script2 };
  const named = { op: 'change', id: script.id, revision: script.revision, name: 'Named', body: script2 };
  const change = (deed: string, ...changes: unknown[]) =>
    request.post(`/api/projects/${id}/changes`, json({ deed, changes }));
  const parts = async () =>
    ((await (await request.get(`/api/projects/${id}`)).json()) as { parts: { id: string; name: string }[] })
      .parts;
  const before = await parts();
  expect((await change('deed-0001', cue, { ...named, revision: 99 })).status()).toBe(409);
  expect((await change('deed-0002', cue, { op: 'delete', id: 'nobody' })).status()).toBe(404);
  expect((await change('deed-0003', cue, { op: 'paint', id: 'cue' })).status()).toBe(422);
  expect((await change('deed-0004', cue, 7)).status()).toBe(422);
  expect(await parts()).toEqual(before);
  for (let times = 0; times < 2; times += 1)
    expect(await (await change('deed-0005', cue, named)).json()).toEqual({
      revisions: [1, script.revision + 1],
    });
  expect((await parts()).find((each) => each.id === script.id)!.name).toBe('Named');
  for (let times = 0; times < 2; times += 1)
    expect(await (await change('deed-0006', { op: 'delete', id: 'cue' })).json()).toEqual({
      revisions: [null],
    });
  expect((await parts()).some((each) => each.id === 'cue')).toBe(false);
});

test('the handover shows the project as it stands, and coming back keeps what was done', async ({ page }) => {
  await openCurtain(page);
  await page.getByRole('button', { name: 'Add strand' }).click();
  // A new strand takes its name at once.
  await page.keyboard.type('smoulder');
  await page.keyboard.press('Enter');
  await saved(page);
  await page.getByRole('link', { name: 'Handover' }).click();
  await expect(page.getByTestId('source')).toContainText('void main()');
  await page.getByRole('link', { name: 'Back to the workshop' }).click();
  await expect(page.locator('[data-strand="smoulder"]')).toBeVisible();
  await page.getByRole('button', { name: 'Add strand' }).click();
  await page.keyboard.type('ash');
  await page.keyboard.press('Enter');
  await saved(page);
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.getByRole('button', { name: 'Undo' }).click();
  await saved(page);
});

test('saves that come too fast are held back for a moment', async ({ request }) => {
  const { id, script } = await makeProject(request);
  const answers = await Promise.all(
    Array.from({ length: 400 }, () =>
      request.put(`/api/projects/${id}/parts/script`, asSave(script, '// x', 99)),
    ),
  );
  const statuses = answers.map((each) => each.status());
  expect(statuses).toContain(429);
  expect(statuses.filter((status) => status === 409).length).toBeGreaterThanOrEqual(240);
  expect(answers.find((each) => each.status() === 429)!.headers()['retry-after']).toBe('1');
});

const set = async (page: Page, name: string, text: string): Promise<void> => {
  await parameter(page, name).getByRole('spinbutton').click();
  await page.getByRole('textbox', { name: `${name} figure` }).fill(text);
  await page.keyboard.press('Enter');
};

test('two windows: each sees what the other saves, different fields merge, and the same one asks', async ({
  page,
  context,
}) => {
  await openCurtain(page);
  const other = await context.newPage();
  await other.goto(page.url());
  await stageRests(other);
  const dialog = other.getByRole('dialog');
  const burnOf = (window: Page) => expect.poll(() => figure(parameter(window, 'burn')));
  await set(page, 'burn', '0.2');
  await burnOf(other).toBe(0.2);
  // A window that has not heard of the other's save: what both changed apart from each other is merged.
  await other.route('**/api/projects/*/revisions', (route) => route.abort());
  await set(page, 'burn', '0.3');
  await saved(page);
  await set(other, 'edgeWidth', '0.05');
  await saved(other);
  await burnOf(other).toBe(0.3);
  await expect.poll(() => figure(parameter(page, 'edgeWidth'))).toBe(0.05);
  await expect(dialog).toHaveCount(0);
  await set(page, 'burn', '0.5');
  await saved(page);
  await set(other, 'burn', '0.7');
  await expect(dialog).toContainText('Velvet, house left');
  await expect(dialog).toContainText('Saved elsewhere');
  await dialog.getByRole('button', { name: 'Keep theirs' }).click();
  await burnOf(other).toBe(0.5);
  await saved(other);
  // Mine is one undo away, and in the history.
  await other.getByTitle(/^Undo/).click();
  await burnOf(other).toBe(0.7);
  await saved(other);
  const id = await playhouseId(page);
  const path = `/api/projects/${id}/parts/velvet-house-left/revisions`;
  const revisions = (await (await page.request.get(path)).json()) as { revision: number }[];
  const kept = await Promise.all(
    revisions.slice(0, 4).map(async ({ revision }) => {
      const { body } = (await (await page.request.get(`${path}/${revision}`)).json()) as {
        body: { values: Record<string, number[]> };
      };
      return body.values['p-burn']![0];
    }),
  );
  expect(kept).toEqual([0.7, 0.5, 0.7, 0.5]);
  await burnOf(page).toBe(0.7);
  await page.route('**/api/projects/*/revisions', (route) => route.abort());
  await set(other, 'burn', '0.46');
  await saved(other);
  await set(page, 'burn', '0.9');
  await page.getByRole('dialog').getByRole('button', { name: 'Keep mine' }).click();
  await saved(page);
  await other.reload();
  await burnOf(other).toBe(0.9);
  await other.close();
});

test('with the server away edits are kept in the browser, and sent after the tab was closed', async ({
  page,
  context,
}) => {
  await openCurtain(page);
  await context.route('**/api/projects/**/parts/**', (route) => route.abort());
  const undo = page.getByRole('button', { name: 'Undo' });
  const place = await undo.boundingBox();
  await set(page, 'burn', '0.33');
  await expect(page.getByRole('status')).toHaveText('Not saved: server away');
  // What is told of it is longer; what is pressed again and again stays where it is.
  expect(await undo.boundingBox()).toEqual(place);
  await page.close();
  await context.unroute('**/api/projects/**/parts/**');
  const again = await context.newPage();
  await openCurtain(again);
  await expect.poll(() => figure(parameter(again, 'burn'))).toBe(0.33);
  await saved(again);
  const project = (await (await again.request.get(`/api/projects/${await playhouseId(again)}`)).json()) as {
    parts: { id: string; body: { values: Record<string, number[]> } }[];
  };
  expect(project.parts.find((part) => part.id === 'velvet-house-left')!.body.values['p-burn']).toEqual([
    0.33,
  ]);
});

test('a part’s history is seen, and an old revision restored', async ({ page }) => {
  await openCurtain(page);
  const edge = step(page, 'remains-2').getByRole('spinbutton', { name: 'edge' });
  await edge.focus();
  await page.keyboard.press('ArrowUp');
  await saved(page);
  const changed = await edge.getAttribute('aria-valuenow');
  expect(changed).not.toBe('0');
  await page.getByRole('button', { name: 'History of parts' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('button', { name: /^Revision 1 / }).click();
  await expect(dialog.getByTestId('revision')).toContainText('"remains-2"');
  await dialog.getByRole('button', { name: 'Restore revision 1' }).click();
  await expect(edge).toHaveAttribute('aria-valuenow', '0');
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(edge).toHaveAttribute('aria-valuenow', changed!);
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect(edge).toHaveAttribute('aria-valuenow', '0');
  await saved(page);
});
