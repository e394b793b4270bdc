import { expect, type Locator, type Page } from '@playwright/test';

/** Waits until the stage has drawn its last frame, at full quality. */
export const stageRests = (page: Page): Promise<void> =>
  expect(page.getByTestId('stage')).toHaveAttribute('data-rests', 'yes');

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
