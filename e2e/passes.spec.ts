import { expect, type Page } from '@playwright/test';
import { apart, picture } from './pixels.ts';
import { board, byte, openWith } from './plainSet.ts';
import { undo } from './score.ts';
import { saved, stageRests, test } from './stage.ts';

/** Opens a set seen from five metres before it, whose own material is half as bright as so many metres to what is near. */
const openAway = (page: Page, props: readonly object[]): Promise<void> =>
  openWith(
    page,
    { props, camera: { position: [0, 1, 5], target: [0, 1, 0], fieldOfView: 40 } },
    false,
    { baseColor: 'vec3(away * 0.5)', roughness: '1.0' },
    undefined,
    'both',
    [
      {
        ...{ id: 'away', name: 'away', note: '' },
        steps: [{ id: 'near', operator: 'value', arguments: { x: 'surfaceDistance' } }],
      },
    ],
  );

test('the distance to what stands near is what it is, moves with it in one frame, and leaves out what is not counted', async ({
  page,
}) => {
  const box = { kind: 'box', size: [1, 1, 1], divisions: [2, 2, 2], pivot: [0.5, 0.5, 0.5] };
  await openAway(page, [
    board('Wall', [6, 4], [0, 1, 0]),
    // Twice as wide and turned: its own size and place count.
    {
      ...{ ...board('Box', [1, 1], [0.8, 1, -0.3], { mesh: box, material: 'iron-work' }) },
      ...{ scale: [2, 1, 0.2], rotation: [0, 0, 90] },
    },
  ]);
  const half = Math.tan((20 * Math.PI) / 180) * 5;
  const size = (await page.getByTestId('stage').boundingBox())!;
  const check = async (x: number, why: string): Promise<void> => {
    const shown = await picture(page);
    for (const [u, v] of [
      [0.2, 0.3],
      [0.35, 0.5],
      [0.5, 0.62],
      [0.62, 0.5],
      [0.8, 0.8],
    ] as const) {
      const [px, py] = [(u - 0.5) * 2 * half * (size.width / size.height), 1 - (v - 0.5) * 2 * half];
      const over = [Math.abs(px - x) - 0.5, Math.abs(py - 1) - 1, 0.3 - 0.1];
      const metres = Math.hypot(...over.map((each) => Math.max(each, 0)));
      const wanted = byte(metres * 0.5);
      expect(Math.abs(shown(u, v)[0]! - wanted), `${why}: at ${u}, ${v}`).toBeLessThan(5);
    }
  };
  await check(0.8, 'as it stands');
  await page.getByRole('spinbutton', { name: 'Box position x' }).focus();
  await page.keyboard.type('-1');
  await page.keyboard.press('Enter');
  await check(-1, 'moved');
  // The same is read at a pin, from the same volumes: 1.9 m to the right of the box's side, and 0.2 before it.
  const at = (await page.getByTestId('stage').boundingBox())!;
  await page.keyboard.press('x');
  const u = 0.5 + 1.4 / (2 * half * (size.width / size.height));
  await page.mouse.click(at.x + at.width * u, at.y + at.height * 0.5);
  const read = page.locator('[data-step=near] [data-reading]');
  await expect(read).toHaveText(/^1\.9/);
  const row = page.getByRole('region', { name: 'Prop Box' });
  await row.getByRole('button', { name: 'field', exact: true }).click();
  expect((await picture(page))(0.5, 0.5)[0]).toBeGreaterThan(253);
  await undo(page);
  await check(-1, 'counted again');

  // The distances themselves, on a plane: the wall neither counts nor is in the way.
  const wall = page.getByRole('region', { name: 'Prop Wall' });
  await wall.getByRole('button', { name: 'field', exact: true }).click();
  await wall.focus();
  await page.keyboard.press('h');
  await page.getByRole('button', { name: 'Field', exact: true }).click();
  await page.getByLabel('Lines apart').selectOption('1');
  const cutAt = async (z: number): Promise<void> => {
    await page.getByLabel('Where the plane lies').fill(String(z));
    const shown = await picture(page);
    const high = Math.tan((20 * Math.PI) / 180) * (5 - z);
    for (const [x, y] of [
      [-1.2, 0.7],
      [-0.3, 1.2],
      [-0.1, 1],
      [-1.3, 2.15],
    ] as const) {
      const over = [Math.abs(x + 1) - 0.5, Math.abs(y - 1) - 1, Math.abs(z + 0.3) - 0.1];
      const metres = Math.hypot(...over.map((each) => Math.max(each, 0))) + Math.min(Math.max(...over), 0);
      const wanted = 0.93 - 0.46 * (1 - Math.exp(-metres));
      const [u, v] = [0.5 + x / (2 * high * (size.width / size.height)), 0.5 + (1 - y) / (2 * high)];
      if (metres < 0) expect(shown(u, v)[0]!).toBeLessThan(60);
      else expect(Math.abs(shown(u, v)[0]! - 255 * wanted), `at ${x}, ${y}, ${z}`).toBeLessThan(5);
    }
  };
  await cutAt(0.15);
  await cutAt(-0.3);
  // Where the plane meets the box’s side it is marked, and seen through the box.
  const side = 0.5 - 0.505 / (2 * (half / 5) * 5.3 * (size.width / size.height));
  const [red, green, blue] = (await picture(page))(side, 0.5) as [number, number, number];
  expect(Math.min(red, green) - blue).toBeGreaterThan(40);
  // Square to x it is dragged by its handle, which stands in the box’s middle.
  await page.getByRole('button', { name: 'Square to x' }).click();
  await stageRests(page);
  const middle = at.x + at.width * (0.5 - 1 / (2 * (half / 5) * 5.3 * (size.width / size.height)));
  await page.mouse.move(middle - 25, at.y + at.height / 2 + 1);
  await page.mouse.down();
  await page.mouse.move(middle - 75, at.y + at.height / 2 + 1, { steps: 6 });
  await page.mouse.up();
  expect(Number(await page.getByLabel('Where the plane lies').inputValue())).toBeLessThan(-1.1);
  await page.keyboard.press('Escape');
  await saved(page);
});

test('an open mesh does not count as near, says why, and is counted by its distance alone or left out where an author says so', async ({
  page,
}) => {
  await openAway(page, [
    board('Wall', [6, 4], [0, 1, 0], { fieldless: true }),
    board('Drop', [8, 6], [0, 1, -0.8], { material: 'iron-work' }),
    // Of the same material, nearer to it, and drawn last.
    board('Leaf', [0.3, 0.3], [0.9, 0.6, -0.3], { fieldless: true }),
  ]);
  const away = async (): Promise<number> => (await picture(page))(0.3, 0.35)[0]!;
  const told = page.getByRole('group', { name: 'Left out of distances' });
  await expect(told).toContainText(/Drop does not count as near: \d+ edges of its mesh are open/);
  expect(await away()).toBeGreaterThan(253);
  const field = page.getByRole('region', { name: 'Prop Drop' }).getByRole('button', { name: 'field' });
  await expect(field).toHaveAttribute('aria-pressed', 'false');
  await told.getByRole('button', { name: 'Count it by distance alone' }).click();
  await expect(told).toBeHidden();
  expect(Math.abs((await away()) - byte(0.4))).toBeLessThan(5);
  await expect(field).toHaveAttribute('aria-pressed', 'true');
  // The step's own picture follows, of the prop that it is drawn on.
  await page.getByRole('tab', { name: 'Strands' }).click();
  const range = page.locator('[data-step=near]').locator('[role=img][aria-label^=Values]');
  await expect(range).toHaveAttribute('aria-label', /Values from 0\.(79|80)\d* to 0\.8[01]?\d*/);
  await page.getByRole('tab', { name: 'Stage', exact: true }).click();
  await undo(page);
  await expect(told).toBeVisible();
  expect(await away()).toBeGreaterThan(253);
  // The same from its row; left out, it is not told of any more.
  await field.click();
  expect(Math.abs((await away()) - byte(0.4))).toBeLessThan(5);
  await undo(page);
  await told.getByRole('button', { name: 'Leave it out' }).click();
  await expect(told).toBeHidden();
  await saved(page);
});

test('a shader laid over the frame sees all beneath it, in the author’s order, and is switched, moved and taken off', async ({
  page,
}) => {
  await openWith(
    page,
    {
      props: [board('Board', [3, 3], [0, 1, 0], { material: 'iron-work' })],
      frame: [{ id: 'over', material: 'brass-work' }],
      lights: [],
      ...{ ambientUp: [1, 1, 1], ambientDown: [1, 1, 1] },
      camera: { position: [0, 1, 3], target: [0, 1, 0], fieldOfView: 40 },
    },
    false,
    // Its red is how far to the right; the rest is what is beneath, turned about.
    { baseColor: 'vec3(uv.x, 1.0 - sceneColor(screenUv).yz)', roughness: '1.0' },
  );
  const over = (await picture(page))(0.25, 0.5);
  expect(Math.abs(over[0]! - byte(0.25))).toBeLessThan(2);
  await page.getByRole('checkbox', { name: 'Brass work is laid over the frame' }).uncheck();
  const bare = (await picture(page))(0.25, 0.5);
  const linear = (x: number) => (x / 255 <= 0.04045 ? x / 255 / 12.92 : ((x / 255 + 0.055) / 1.055) ** 2.4);
  expect(Math.abs(over[1]! - byte(1 - linear(bare[1]!)))).toBeLessThan(2);
  await undo(page);
  // A second of the same, and what it turned about is turned back; off it comes again.
  await page.getByLabel('Material shown').selectOption({ label: 'Brass work' });
  await page.getByRole('button', { name: 'Lay the material in hand over the frame' }).click();
  const twice = (await picture(page))(0.25, 0.5);
  expect(Math.abs(twice[1]! - bare[1]!)).toBeLessThan(3);
  await page.getByRole('button', { name: 'Take Brass work off the frame' }).last().click();
  expect(apart((await picture(page))(0.25, 0.5), over)).toBeLessThan(2);
  await saved(page);
});

test('rough glass shows what is behind it blurred, as far as it is rough, and what is before it not at all', async ({
  page,
}) => {
  // Stripes of white and black behind a pane, 0.1 m each; the pane is the material that asks.
  await openWith(
    page,
    {
      props: [
        board('Stripes', [4, 4], [0, 1, -1], { material: 'velvet-house-left' }),
        board('Pane', [1.6, 1.6], [0, 1, 0]),
      ],
      camera: { position: [0, 1, 3], target: [0, 1, 0], fieldOfView: 40 },
    },
    false,
    { baseColor: 'sceneBlurred(screenUv, uv.y)', roughness: '1.0' },
    { baseColor: 'vec3(step(0.5, fract(uv.x * 20.0)))' },
  );
  const seen = await picture(page);
  const across = Array.from({ length: 40 }, (_, i) => 0.44 + i * 0.003);
  /** How far the stripes stand apart at a height of the picture. */
  const contrast = (y: number): number => {
    const greys = across.map((x) => seen(x, y)[0]!);
    return Math.max(...greys) - Math.min(...greys);
  };
  // Sharp at the pane's foot, blurred further up, even at its head; there it is the mean, as light.
  expect(contrast(0.76)).toBeGreaterThan(200);
  expect(contrast(0.5)).toBeLessThan(contrast(0.66));
  expect(contrast(0.17)).toBeLessThan(40);
  expect(Math.abs(seen(0.5, 0.17)[0]! - byte(0.5))).toBeLessThan(20);
  await saved(page);
});
