import { expect, test as plain, type BrowserContext, type Locator, type Page } from '@playwright/test';

/** For what is seen in the interface around the stage: a sixth of the pixels is soon drawn where no graphics card draws. */
export const COARSE = { deviceScaleFactor: 0.4 };

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
  copies.delete(page.context());
  if (id) await page.request.delete(`/api/projects/${id}`);
};

/** Copies that a kept page's tests are done with: taken out once the page has left them. */
const left = new Map<Page, string[]>();
const takeOut = async (page: Page): Promise<void> => {
  for (const id of left.get(page)?.splice(0) ?? []) await page.request.delete(`/api/projects/${id}`);
};

/**
 * A test in a page that others of its worker had before it, each with a project of its own: authors go from one to another
 * too, and it takes half the time of a new page. What it keeps of itself beyond a project is forgotten between them.
 */
export const test = plain.extend<object, { readonly keptPages: Map<number, Page> }>({
  keptPages: [
    async ({ browserName: _ }, use) => {
      const pages = new Map<number, Page>();
      await use(pages);
      for (const page of pages.values()) {
        await takeOut(page);
        await page.context().close();
      }
    },
    { scope: 'worker' },
  ],
  page: async ({ browser, keptPages, baseURL, viewport, deviceScaleFactor }, use) => {
    const ratio = deviceScaleFactor ?? 1;
    const options = { baseURL: baseURL!, viewport, deviceScaleFactor: ratio };
    const page = keptPages.get(ratio) ?? (await (await browser.newContext(options)).newPage());
    keptPages.set(ratio, page);
    await use(page);
    const id = copies.get(page.context());
    copies.delete(page.context());
    left.set(page, [...(left.get(page) ?? []), ...(id ? [id] : [])]);
  },
  context: ({ page }, use) => use(page.context()),
});

/** Opens a project: from another one, by a link; a page that has opened none yet loads it. */
export const openProject = async (page: Page, id: string): Promise<void> => {
  if (!page.url().startsWith('http')) await page.goto(`/projects/${id}`);
  else {
    await page.evaluate((address) => {
      localStorage.clear();
      for (const stage of document.querySelectorAll<HTMLElement>('[data-testid=stage]'))
        stage.dataset['left'] = 'yes';
      const link = document.createElement('a');
      link.href = address;
      document.body.append(link);
      link.click();
      link.remove();
    }, `/projects/${id}`);
    await page.waitForURL(`**/projects/${id}`);
    await expect(page.locator('[data-testid=stage][data-left]')).toHaveCount(0);
    await takeOut(page);
  }
  await expect(page.getByRole('button', { name: 'Rehearse' })).toBeVisible();
};

export const openCurtain = async (page: Page): Promise<void> => {
  await openProject(page, await playhouseId(page));
  await stageRests(page);
};

export const parameter = (page: Page, name: string): Locator => page.locator(`[data-parameter="${name}"]`);
export const step = (page: Page, id: string): Locator => page.locator(`[data-step="${id}"]`);
export const saved = (page: Page): Promise<void> => expect(page.getByRole('status')).toHaveText('Saved');
/** What a parameter's figure stands at. */
export const figure = async (row: Locator): Promise<number> =>
  Number((await row.getByRole('spinbutton').getAttribute('aria-valuenow')) ?? NaN);
