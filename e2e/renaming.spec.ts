import { expect, type Page } from '@playwright/test';
import { undo } from './score.ts';
import { COARSE, figure, openCurtain, parameter, playhouseId, saved, test } from './stage.ts';

test.use(COARSE);

interface Part {
  readonly id: string;
  readonly name: string;
  readonly revision: number;
  readonly body: { readonly source: string; readonly props: readonly { readonly name: string }[] };
}
const partsOf = async (page: Page): Promise<readonly Part[]> => {
  const id = await playhouseId(page);
  return ((await (await page.request.get(`/api/projects/${id}`)).json()) as { parts: Part[] }).parts;
};
const partOf = async (page: Page, id: string): Promise<Part> =>
  (await partsOf(page)).find((each) => each.id === id)!;
const put = async (page: Page, id: string, change: object): Promise<void> => {
  const { name, revision, body } = await partOf(page, id);
  const data = { name, revision, body: { ...body, ...change } };
  const answer = await page.request.put(`/api/projects/${await playhouseId(page)}/parts/${id}`, { data });
  expect(answer.status(), await answer.text()).toBe(200);
};

test('a renamed parameter keeps its value, and its scripts follow; all of it is undone at once', async ({
  page,
}) => {
  await openCurtain(page);
  const before = await figure(parameter(page, 'burn'));
  expect(before).toBeGreaterThan(0);
  await parameter(page, 'burn').getByRole('button', { name: 'burn', exact: true }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByLabel('Name').fill('scorch');
  await page.keyboard.press('Enter');
  await expect(dialog).toHaveCount(0);
  expect(await figure(parameter(page, 'scorch'))).toBe(before);
  await saved(page);
  expect((await partOf(page, 'curtain')).body.source).toContain('clamp(curtain.scorch + direction');
  await undo(page);
  await expect.poll(() => figure(parameter(page, 'burn'))).toBe(before);
  await saved(page);
  expect((await partOf(page, 'curtain')).body.source).toContain('clamp(curtain.burn + direction');
});

test('where a script plays in another set with a prop of the old name, renaming asks what becomes of it', async ({
  page,
}) => {
  const { body } = await partOf(page, 'scrim');
  const [first, ...others] = body.props;
  await put(page, 'scrim', { script: 'curtain', props: [{ ...first, name: 'Boards' }, ...others] });
  await put(page, 'curtain', { source: "const boards = prop('Boards');" });
  await openCurtain(page);
  await page.getByRole('tab', { name: 'Stage' }).click();
  const row = (name: string) => page.getByRole('region', { name: `Prop ${name}`, exact: true });
  const rename = async (): Promise<void> => {
    await row('Boards').focus();
    await page.keyboard.press('F2');
    await page.keyboard.type('Planks');
    await page.keyboard.press('Enter');
  };
  const dialog = page.getByRole('dialog');
  await rename();
  await expect(dialog).toContainText('The script Curtain calls it by name and plays in Scrim too');
  await page.keyboard.press('Escape');
  await expect(dialog).toHaveCount(0);
  await expect(row('Boards')).toBeVisible();
  await rename();
  await dialog.getByRole('button', { name: 'Copy the script for this set' }).click();
  await expect(row('Planks')).toBeVisible();
  await saved(page);
  const parts = await partsOf(page);
  const source = (name: string) => parts.find((each) => each.name === name)?.body.source;
  expect([source('Curtain'), source('Curtain copy')]).toEqual([
    "const boards = prop('Boards');",
    "const boards = prop('Planks');",
  ]);
  await undo(page);
  await expect(row('Boards')).toBeVisible();
  await rename();
  await dialog.getByRole('button', { name: 'Rename there too' }).click();
  await expect(row('Planks')).toBeVisible();
  await saved(page);
  expect((await partOf(page, 'scrim')).body.props[0]!.name).toBe('Planks');
  expect((await partOf(page, 'curtain')).body.source).toBe("const boards = prop('Planks');");
});

test('a draft that an older version left in the browser stores values by name, and is saved by id', async ({
  page,
}) => {
  await openCurtain(page);
  const { name, revision, body } = await partOf(page, 'velvet-house-left');
  const old = {
    ...body,
    version: 1,
    values: { burn: [0.31] },
    presets: [],
    pictures: {},
    made: {},
    sampling: {},
  };
  const draft = { id: 'velvet-house-left', kind: 'material', name, revision, body: old, tab: 'gone' };
  const key = `wicked-veil.draft.${await playhouseId(page)}.gone.velvet-house-left`;
  await page.evaluate(([at, text]) => localStorage.setItem(at!, text!), [key, JSON.stringify(draft)]);
  await page.reload();
  await expect.poll(() => figure(parameter(page, 'burn'))).toBe(0.31);
  await saved(page);
  const kept = (await partOf(page, 'velvet-house-left')).body as unknown as {
    values: object;
    version: number;
  };
  expect([kept.version, kept.values]).toEqual([2, { 'p-burn': [0.31] }]);
});
