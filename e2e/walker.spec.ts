import { expect } from '@playwright/test';
import { apart, picture } from './pixels.ts';
import { board, openWith } from './plainSet.ts';
import { COARSE, playhouseId, saved, test } from './stage.ts';

test.use(COARSE);

test('the walker walks on what is solid, is stopped by a wall, and goes through what is not', async ({
  page,
}) => {
  const floor = {
    ...board('Ground', [8, 8], [0, 0, 0]),
    mesh: { kind: 'floor', size: [8, 8], divisions: [2, 2] },
  };
  const camera = { position: [0, 1.2, 2], target: [0, 1.2, 0], fieldOfView: 40 };
  const id = await playhouseId(page);
  const { parts } = (await (await page.request.get(`/api/projects/${id}`)).json()) as {
    parts: { id: string; name: string; revision: number }[];
  };
  const script = parts.find((each) => each.id === 'curtain')!;
  const source = "onKey('KeyL', () => log('at ' + walker.position.map((x) => x.toFixed(2)).join(' ')));";
  const body = { format: 'wicked-veil/script', version: 1, source };
  const { name, revision } = script;
  expect(
    (
      await page.request.put(`/api/projects/${id}/parts/curtain`, { data: { name, revision, body } })
    ).status(),
  ).toBe(200);
  await openWith(page, { props: [floor, board('Wall', [6, 3], [0, 1.5, -1])], camera }, false);
  await page.getByRole('tab', { name: 'Script' }).click();
  const log = page.getByRole('log');
  const at = async (): Promise<number[]> => {
    const before = await log.locator('div').count();
    await page.keyboard.press('l');
    await expect(log.locator('div')).toHaveCount(before + 1);
    return ((await log.locator('div').last().textContent()) ?? '').replace('at ', '').split(' ').map(Number);
  };
  await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
  await page.getByRole('button', { name: 'Walk', exact: true }).click();
  await expect(page.getByTestId('keys-heard')).toContainText('W A S D walk');
  await expect.poll(async () => (await at())[1]).toBeCloseTo(1.62, 2);
  // Forward until nothing moves any more: a quarter of a metre before the wall.
  await page.keyboard.down('w');
  await expect.poll(async () => (await at())[2]).toBeCloseTo(-0.75, 2);
  await page.keyboard.up('w');
  await page.keyboard.down('d');
  await expect.poll(async () => (await at())[0]).toBeGreaterThan(0.4);
  await page.keyboard.up('d');
  expect((await at())[2]).toBeCloseTo(-0.75, 2);
  // Followed from behind, who plays stands where it stood.
  const stood = await at();
  await page.getByRole('button', { name: 'Follow', exact: true }).click();
  expect(await at()).toEqual(stood);
  await page.getByRole('button', { name: 'Walk', exact: true }).click();
  await page.keyboard.press('Escape');
  await page.getByRole('tab', { name: 'Stage' }).click();
  await page.locator('[data-prop="Wall"]').getByRole('button', { name: 'solid' }).click();
  await page.getByRole('tab', { name: 'Script' }).click();
  await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
  await page.keyboard.down('w');
  await expect.poll(async () => (await at())[2]).toBeLessThan(-1.3);
  await page.keyboard.up('w');
  await page.keyboard.press('`');
  await expect(page.getByRole('button', { name: 'Orbit' })).toHaveAttribute('aria-pressed', 'true');
  await page.keyboard.press('Escape');
  await saved(page);
});

test('the walker is followed from behind, seen as a figure; a wall at its back keeps the camera before it', async ({
  page,
}) => {
  const floor = {
    ...board('Ground', [8, 8], [0, 0, 0]),
    mesh: { kind: 'floor', size: [8, 8], divisions: [2, 2] },
  };
  const camera = { position: [0, 1.62, 0], target: [0, 1.62, -1], fieldOfView: 40 };
  const wall = board('Wall', [6, 3], [0, 1.5, 3]);
  await openWith(page, { props: [floor, wall], camera }, false);
  await page.getByRole('button', { name: 'Walk', exact: true }).click();
  const walked = await picture(page);
  await page.keyboard.press('~');
  await expect(page.getByRole('button', { name: 'Follow', exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  const followed = await picture(page);
  // A figure 1.74 m high and half a metre wide, 2.6 m ahead, with floor on either side of it.
  expect(apart(followed(0.5, 0.62), walked(0.5, 0.62))).toBeGreaterThan(15);
  expect(apart(followed(0.3, 0.9), followed(0.7, 0.9))).toBeLessThan(4);
  expect(apart(followed(0.5, 0.9), followed(0.3, 0.9))).toBeGreaterThan(15);
  // With the wall a metre behind it the figure is nearer, and larger.
  await page.getByRole('spinbutton', { name: 'Wall position z', exact: true }).click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('1');
  await page.keyboard.press('Enter');
  const near = await picture(page);
  expect(apart(near(0.42, 0.8), followed(0.42, 0.8))).toBeGreaterThan(15);
  await page.getByRole('button', { name: 'Orbit', exact: true }).click();
  await saved(page);
});
