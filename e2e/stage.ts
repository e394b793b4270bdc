import { expect, type APIRequestContext, type Locator, type Page } from '@playwright/test';
import { playhouse } from '#demo/playhouse.ts';

/** Waits until what was changed is compiled and the stage has drawn its last frame, at full quality. */
export const stageRests = async (page: Page): Promise<void> => {
  await expect(page.getByTestId('stage')).toHaveAttribute('data-compiled', 'yes');
  await expect(page.getByTestId('stage')).toHaveAttribute('data-rests', 'yes');
};

export interface Summary {
  readonly id: string;
  readonly name: string;
}

export const playhouseId = async (page: Page): Promise<string> => {
  const projects = (await (await page.request.get('/api/projects')).json()) as Summary[];
  return projects.find((each) => each.name === 'The Gallowglass Playhouse')!.id;
};

export const openCurtain = async (page: Page): Promise<void> => {
  await page.goto(`/projects/${await playhouseId(page)}`);
  await expect(page.getByRole('button', { name: 'Rehearse' })).toBeVisible();
  await stageRests(page);
};

export const parameter = (page: Page, name: string): Locator => page.locator(`[data-parameter="${name}"]`);
export const step = (page: Page, id: string): Locator => page.locator(`[data-step="${id}"]`);
export const saved = (page: Page): Promise<void> => expect(page.getByRole('status')).toHaveText('Saved');
/** What a parameter's figure stands at. */
export const figure = async (row: Locator): Promise<number> =>
  Number((await row.getByRole('spinbutton').getAttribute('aria-valuenow')) ?? NaN);

interface SavedPart {
  readonly id: string;
  readonly kind: string;
  readonly name: string;
  readonly revision: number;
  readonly body: unknown;
}

/** Puts every part of the playhouse back as the demo has it, and takes out what was added, whatever a test left. */
export const restorePlayhouse = async (request: APIRequestContext): Promise<void> => {
  const all = (await (await request.get('/api/projects')).json()) as Summary[];
  const id = all.find((each) => each.name === 'The Gallowglass Playhouse')!.id;
  const { parts } = (await (await request.get(`/api/projects/${id}`)).json()) as { parts: SavedPart[] };
  const wanted = new Map(playhouse().parts.map((each) => [each.id, each]));
  for (const part of parts) {
    const sample = wanted.get(part.id);
    const stands = sample?.name === part.name && JSON.stringify(sample.body) === JSON.stringify(part.body);
    if (!sample || stands) continue;
    const data = { revision: part.revision, name: sample.name, body: sample.body };
    expect((await request.put(`/api/projects/${id}/parts/${part.id}`, { data })).status()).toBe(200);
  }
  for (const kind of ['stage', 'material', 'shader', 'motif', 'script'])
    for (const part of parts.filter((each) => each.kind === kind && !wanted.has(each.id)))
      await request.delete(`/api/projects/${id}/parts/${part.id}`);
};
