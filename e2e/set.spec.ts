import { expect, type Page } from '@playwright/test';
import { undo } from './score.ts';
import { COARSE, openCurtain, playhouseId, saved, stageRests, test } from './stage.ts';

test.use(COARSE);

const prop = (page: Page, name: string) => page.getByRole('region', { name: `Prop ${name}`, exact: true });
const number = async (page: Page, label: string): Promise<number> =>
  Number(await page.getByRole('spinbutton', { name: label, exact: true }).getAttribute('aria-valuenow'));
const openSet = async (page: Page): Promise<void> => {
  await openCurtain(page);
  await page.getByRole('tab', { name: 'Stage' }).click();
  await expect(prop(page, 'Boards')).toBeVisible();
};
/** A point of the stage, in shares of its size. */
const onStage = async (page: Page, x: number, y: number): Promise<readonly [number, number]> => {
  const box = (await page.getByTestId('stage').boundingBox())!;
  return [box.x + x * box.width, box.y + y * box.height];
};

test('what is clicked on the stage is in hand in the rows, through the holes of a cut-out too', async ({
  page,
}) => {
  await openSet(page);
  await page.mouse.click(...(await onStage(page, 0.37, 0.14)));
  await expect(prop(page, 'Curtain, house left')).toHaveClass(/inhand/);
  await expect(page.getByLabel('Material shown')).toContainText('Velvet, house left');
  // Burnt away, the curtain is not there to be clicked: the arches behind it are.
  const burn = page.locator('[data-parameter="burn"]').getByRole('spinbutton');
  await burn.focus();
  await page.keyboard.type('1');
  await page.keyboard.press('Enter');
  await stageRests(page);
  await page.mouse.click(...(await onStage(page, 0.3, 0.3)));
  await expect(prop(page, 'Backdrop')).toHaveClass(/inhand/);
  const [x, y] = await onStage(page, 0.3, 0.85);
  await page.keyboard.down('Shift');
  await page.mouse.click(x, y);
  await page.keyboard.up('Shift');
  await expect(page.getByText('2 props in hand')).toBeVisible();
  // And the other way round.
  await prop(page, 'Bell swing').focus();
  await page.keyboard.press('Enter');
  await expect(page.getByRole('group', { name: 'Handles' })).toBeVisible();
  await expect(page.getByLabel('Material shown')).toHaveValue('bell-at-midnight');
  await page.mouse.click(...(await onStage(page, 0.97, 0.2)));
  await expect(page.getByRole('group', { name: 'Handles' })).toHaveCount(0);
  await saved(page);
});

test('a prop is begun, named, moved by keys, by number and by its handles, dressed, copied, hidden, deleted, and all undone', async ({
  page,
}) => {
  await openSet(page);
  await page.getByRole('button', { name: 'Add prop' }).click();
  await page.getByRole('menuitem', { name: /^sphere/ }).click();
  const sphere = prop(page, 'Sphere');
  await expect(sphere).toBeVisible();
  await expect.poll(() => number(page, 'Sphere position y')).toBeCloseTo(1, 2);
  await sphere.focus();
  await page.keyboard.press('F2');
  await page.keyboard.type('Moon');
  await page.keyboard.press('Enter');
  await expect(prop(page, 'Moon')).toBeVisible();

  await page.getByTestId('stage').focus();
  await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Shift+PageUp');
  expect(await number(page, 'Moon position x')).toBeCloseTo(0.05, 4);
  expect(await number(page, 'Moon position y')).toBeCloseTo(1.5, 2);
  await stageRests(page);
  const framesOf = async () => Number(await page.getByTestId('stage').getAttribute('data-frames'));
  const before = await framesOf();
  await page.keyboard.press('f');
  await expect.poll(framesOf).toBeGreaterThan(before);
  await stageRests(page);
  // Framed, its middle is in the middle of the picture: its handle along x is pulled there.
  const [x, y] = await onStage(page, 0.5, 0.5);
  await expect(page.getByTestId('stage')).toHaveAttribute('data-hand', 'ready');
  await page.mouse.move(x + 25, y + 1);
  await page.mouse.down();
  await page.mouse.move(x + 75, y + 1, { steps: 6 });
  await page.mouse.up();
  const pulled = await number(page, 'Moon position x');
  expect(pulled).toBeGreaterThan(0.1);
  expect(await number(page, 'Moon position y')).toBeCloseTo(1.5, 2);
  await undo(page);
  expect(await number(page, 'Moon position x')).toBeCloseTo(0.05, 4);

  const wide = page.getByRole('spinbutton', { name: 'Moon scale x', exact: true });
  await wide.focus();
  await page.keyboard.type('0');
  await page.keyboard.press('Enter');
  // A prop has a size: what is typed is held above nothing.
  expect(await number(page, 'Moon scale x')).toBeGreaterThan(0);
  await undo(page);

  await page.getByRole('combobox', { name: 'Material of Moon' }).selectOption({ label: 'Boards, downstage' });
  await expect(page.getByLabel('Material shown')).toHaveValue('boards-downstage');
  await page.getByRole('combobox', { name: 'Kind of mesh of Moon' }).selectOption('cylinder');
  await expect(page.getByRole('spinbutton', { name: 'Moon taper' })).toBeVisible();
  // A board has words; a letter that its face has not is told of.
  await page.getByRole('combobox', { name: 'Kind of mesh of Moon' }).selectOption('board');
  await stageRests(page);
  await page.getByLabel('text of Moon').fill('Q漢');
  await expect(prop(page, 'Moon').getByRole('note')).toContainText('This face has no “漢”');
  await page.getByLabel('text of Moon').blur();
  await undo(page);
  await expect(page.getByLabel('text of Moon')).toHaveValue('TONIGHT');
  await undo(page);
  await expect(page.getByRole('spinbutton', { name: 'Moon taper' })).toBeVisible();
  await prop(page, 'Moon').focus();
  await page.keyboard.press('d');
  await expect(prop(page, 'Moon 2')).toHaveClass(/inhand/);
  await page.keyboard.press('h');
  await saved(page);
  await prop(page, 'Moon 2').focus();
  await page.keyboard.press('h');
  await expect(prop(page, 'Moon 2')).toContainText('hidden');
  await page.keyboard.press('l');
  await expect(prop(page, 'Moon 2')).toContainText('hidden, locked');
  await page.keyboard.press('Delete');
  await expect(prop(page, 'Moon 2')).toHaveCount(0);
  const button = page.getByRole('button', { name: 'Undo' });
  for (let i = 0; i < 20 && (await button.isEnabled()); i += 1) await button.click();
  await expect(prop(page, 'Moon')).toHaveCount(0);
  await expect(page.locator('[data-prop]')).toHaveCount(4);
  await saved(page);
});

test('lights, fill and camera are rows; the camera is taken from the view; a set that is wrong is refused with its place', async ({
  page,
}) => {
  await openSet(page);
  const lights = page.getByRole('region', { name: 'Light' });
  const before = await lights.getByRole('group').count();
  await page.getByRole('button', { name: 'Add a light' }).click();
  await expect(lights.getByRole('group')).toHaveCount(before + 1);
  await page
    .getByRole('button', { name: /^Delete the light/ })
    .last()
    .click();
  await expect(lights.getByRole('group')).toHaveCount(before);
  const eye = await number(page, 'camera position x');
  const [x, y] = await onStage(page, 0.97, 0.2);
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x - 160, y + 20, { steps: 5 });
  await page.mouse.up();
  await stageRests(page);
  await page.getByRole('button', { name: 'take it from the view' }).click();
  await expect.poll(() => number(page, 'camera position x')).not.toBe(eye);
  await undo(page);
  await expect.poll(() => number(page, 'camera position x')).toBe(eye);
  await saved(page);

  const id = await playhouseId(page);
  const { parts } = (await (await page.request.get(`/api/projects/${id}`)).json()) as {
    parts: { id: string; name: string; revision: number; body: { props: object[] } }[];
  };
  const set = parts.find((each) => each.id === 'proscenium')!;
  const [first] = set.body.props;
  const refused = async (props: object[]) => {
    const data = { revision: set.revision, name: set.name, body: { ...set.body, props } };
    const answer = await page.request.put(`/api/projects/${id}/parts/proscenium`, { data });
    expect(answer.status()).toBe(422);
    return ((await answer.json()) as { message: string }).message;
  };
  expect(await refused([first!, first!])).toContain('Two props have the id');
  expect(await refused([{ ...first, scale: [1, -1, 1] }])).toContain('props[0].scale');
  expect(await refused([{ ...first, mesh: { kind: 'sphere', radius: 1, divisions: [1e6, 2] } }])).toContain(
    'This should lie between 1 and 512, and is 1000000.',
  );
});
