import { expect, type BrowserContext, type Locator, type Page } from '@playwright/test';

/** For what is seen in the interface around the stage: a quarter of the pixels is soon drawn where no graphics card draws. */
export const COARSE = { deviceScaleFactor: 0.5 };

/** Waits until what was changed is compiled and the stage has drawn its last frame, at full quality. */
export const stageRests = async (page: Page): Promise<void> => {
  await expect(page.getByTestId('stage')).toHaveAttribute('data-compiled', 'yes');
  await expect(page.getByTestId('stage')).toHaveAttribute('data-rests', 'yes');
};

export interface Summary {
  readonly id: string;
  readonly name: string;
}

const copies = new WeakMap<BrowserContext, string>();
/** The test's own copy of the playhouse, so that tests may run side by side and none finds what another left. */
export const playhouseId = async (page: Page): Promise<string> => {
  const known = copies.get(page.context());
  if (known) return known;
  const projects = (await (await page.request.get('/api/projects')).json()) as Summary[];
  const demo = projects.find((each) => each.name === 'The Gallowglass Playhouse')!;
  const made = await page.request.post(`/api/projects/${demo.id}/copy`);
  expect(made.status()).toBe(201);
  const { id } = (await made.json()) as Summary;
  copies.set(page.context(), id);
  return id;
};

/** Takes the test's copy out again, so that the wall stays as the demo has it. */
export const leavePlayhouse = async ({ page }: { readonly page: Page }): Promise<void> => {
  const id = copies.get(page.context());
  if (id) await page.request.delete(`/api/projects/${id}`);
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
