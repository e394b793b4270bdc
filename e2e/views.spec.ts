import { expect, type Page } from '@playwright/test';
import { apart, picture } from './pixels.ts';
import { board, openWith } from './plainSet.ts';
import { saved, test } from './stage.ts';

const show = async (page: Page, name: string) => {
  await page.getByRole('button', { name, exact: true }).click();
  return picture(page);
};
/** Four metres off and 2.9 m high: three boards beside one another. */
const CAMERA = { position: [0, 0, 4], target: [0, 0, 0], fieldOfView: 40 };
const AT = { left: 0.17, middle: 0.5, right: 0.83 };

test('range marks what is below 0 and what is above 1 each in its own way', async ({ page }) => {
  await openWith(
    page,
    {
      camera: CAMERA,
      props: [-2, 0, 2].map((x) => board(`Board ${x}`, [1.2, 1.2], [x, 0, 0])),
    },
    false,
    { baseColor: 'position.x < -1.0 ? vec3(-0.5) : position.x > 1.0 ? vec3(2.5) : vec3(0.25)' },
  );
  const seen = await show(page, 'Range');
  await expect(page.getByRole('note')).toContainText('above 1');
  const { width, height } = (await page.getByTestId('stage').boundingBox())!;
  // Colours along a falling and along a rising line: along its own stripes a mark stays what it is.
  const spread = (x: number, way: 1 | -1): number => {
    const all = Array.from({ length: 12 }, (_, k) => seen(x + k / width, 0.5 + (way * k) / height));
    return Math.max(...all.map((each) => apart(each, all[0]!)));
  };
  expect(spread(AT.right, 1)).toBeLessThan(25);
  expect(spread(AT.right, -1)).toBeGreaterThan(40);
  expect(spread(AT.left, -1)).toBeLessThan(25);
  expect(spread(AT.left, 1)).toBeGreaterThan(40);
  // What stays within is the grey that it is.
  expect(apart(seen(AT.middle, 0.5), [137, 137, 137])).toBeLessThan(3);
});

test('depth has a line every metre, and sides tell fronts from backs', async ({ page }) => {
  await openWith(
    page,
    {
      camera: CAMERA,
      props: [
        board('Near', [1.2, 1.2], [-1.25, 0, 1.5]),
        board('Turned', [1.2, 1.2], [0, 0, 0], { rotation: [0, 180, 0] }),
        board('Between two', [1.2, 1.2], [2, 0, 0.5]),
      ],
    },
    false,
  );
  const depth = await show(page, 'Depth');
  const greyAt = (metres: number) => 255 * (0.08 + 0.84 * 2 ** (-metres / 5));
  // 2.5 m and 3.5 m ahead: between two lines.
  expect(depth(0.1, 0.5)[0]).toBeCloseTo(greyAt(2.5), -1);
  expect(depth(0.8, 0.5)[0]).toBeCloseTo(greyAt(3.5), -1);
  // The middle one stands at 4 m, on a line.
  expect(depth(AT.middle, 0.5)[0]).toBeLessThan(greyAt(4) * 0.5);
  const sides = await show(page, 'Sides');
  expect(sides(0.1, 0.5)[0]).toBeCloseTo(188, -1);
  expect(sides(AT.middle, 0.5)[0]).toBeLessThan(100);
});

test('a surface of backs alone knows them for backs, as the game will', async ({ page }) => {
  await openWith(
    page,
    { camera: CAMERA, props: [board('Turned', [2, 2], [0, 0, 0], { rotation: [0, 180, 0] })] },
    false,
    // The normal is towards the camera on both sides.
    { baseColor: 'vec3(frontFacing ? 1.0 : 0.0, normal.z > 0.9 ? 1.0 : 0.0, 0.0)' },
    undefined,
    'back',
  );
  expect(apart((await picture(page))(0.5, 0.5), [0, 255, 0])).toBeLessThan(3);
});

test('a tap’s numbers are counted as they are on screen', async ({ page }) => {
  await openWith(page, { camera: CAMERA, props: [board('Wall', [2, 2], [0, 0, 0])] }, true, {
    roughness: 'uv.x * 2.0 - 0.5',
  });
  await page.getByRole('tab', { name: 'Strands' }).click();
  await page.getByRole('button', { name: 'Tap roughness' }).click();
  await page.getByRole('button', { name: 'Numbers', exact: true }).click();
  const told = (name: string) =>
    page
      .getByTestId(name)
      .textContent()
      .then((text) => parseFloat(text!.replace('−', '-')));
  await expect(page.getByRole('region', { name: 'Numbers on screen' }).getByRole('img')).toBeVisible();
  expect(await told('least')).toBeCloseTo(-0.5, 1);
  expect(await told('greatest')).toBeCloseTo(1.5, 1);
  expect(await told('mean')).toBeCloseTo(0.5, 1);
  expect(Math.abs((await told('below')) - 25)).toBeLessThan(1);
  expect(Math.abs((await told('above')) - 25)).toBeLessThan(1);
  expect(await told('not-numbers')).toBe(0);
  await page.keyboard.press('Escape');
  await expect(page.getByRole('region', { name: 'Numbers on screen' })).toHaveCount(0);
});

test('uv is a numbered chequer of tenths', async ({ page }) => {
  // From 1.2 m the stage is 0.87 m high, and a field 0.2 m wide; the middle of uv is in its middle.
  const near = { position: [0, 0, 1.2], target: [0, 0, 0], fieldOfView: 40 };
  await openWith(page, { camera: near, props: [board('Wall', [2, 2], [0, 0, 0])] }, false);
  const seen = await show(page, 'UV');
  await expect(page.getByRole('note')).toContainText('the first digit is u’s');
  const { width, height } = (await page.getByTestId('stage').boundingBox())!;
  const high = 2 * 1.2 * Math.tan((20 * Math.PI) / 180);
  const light = (x: number, y: number) => seen(0.5 + (x * height) / (high * width), 0.5 - y / high)[0]!;
  // Along the foot of each field, where no digit is.
  expect(light(0.1, 0.014)).toBeGreaterThan(190);
  for (const [x, y] of [
    [0.3, 0.014],
    [-0.1, 0.014],
    [0.1, -0.186],
  ] as const)
    expect(light(x, y)).toBeLessThan(110);
  // A 5 has ink at the upper left, and at the lower right: of the first digit, one column and one row in.
  const column = (k: number) => (0.2 * (k + 0.5)) / 9;
  const row = (k: number) => 0.2 - (0.2 * (k + 0.5)) / 7;
  expect(light(column(1), row(2))).toBeLessThan(140);
  expect(light(column(3), row(2))).toBeGreaterThan(160);
  expect(light(column(3), row(4))).toBeLessThan(140);
});

test('cost shows what a pixel takes of the budget that is worked to', async ({ page }) => {
  await openWith(page, { camera: CAMERA, props: [board('Wall', [2, 2], [0, 0, 0])] }, false, {
    emission: 'vec3(sin(uv.x) + sin(uv.y * 3.0), 0.0, 0.0)',
  });
  await page.getByRole('button', { name: 'Cost', exact: true }).click();
  await expect(page.getByRole('note')).toContainText('phone’s, 600 a step');
  const little = await picture(page);
  // Less than a quarter of it: the darkest grey.
  expect(apart(little(0.5, 0.5), [31, 31, 31])).toBeLessThan(4);
  await page.getByRole('tab', { name: /^Checks/ }).click();
  const operations = Number(await page.getByTestId('cost-operations').textContent());
  const most = page.getByLabel('operations of phone');
  await most.click();
  await page.keyboard.type(String(Math.ceil(operations * 1.5)));
  await page.keyboard.press('Enter');
  // Two thirds of it: two steps lighter.
  await expect.poll(async () => (await picture(page))(0.5, 0.5)[0]).toBeGreaterThan(120);
  await most.click();
  await page.keyboard.type(String(Math.floor(operations / 2)));
  await page.keyboard.press('Enter');
  // More than all of it: striped, red and white.
  await expect
    .poll(async () => {
      const [red, green] = (await picture(page))(0.5, 0.5);
      return red! - green!;
    })
    .toBeGreaterThan(30);
  await saved(page);
});

test('how often a pixel is drawn is counted as the stage stands', async ({ page }) => {
  // From 4 m, 40° high: the nearer board covers the farther one, whose sides look three quarters as long.
  const props = [board('Near', [2, 2], [0, 0, 1]), board('Far', [2, 2], [0, 0, 0])];
  const outputs = { emission: 'vec3(0.2)', opacity: '0.5' };
  await openWith(page, { camera: CAMERA, props }, false, outputs, undefined, 'both', undefined, 'blended');
  await page.getByRole('tab', { name: /^Checks/ }).click();
  const told = page.getByTestId('overdraw');
  const numbers = async () => ((await told.textContent()) ?? '').match(/[\d.]+/g)!.map(Number);
  await expect(told).toBeVisible();
  const [mean, most, covered] = await numbers();
  expect(most).toBe(2);
  expect(Math.abs(mean! - (1 + 0.75 ** 2))).toBeLessThan(0.02);
  const box = (await page.getByTestId('stage').boundingBox())!;
  const side = 1 / (3 * Math.tan((20 * Math.PI) / 180));
  expect(Math.abs(covered! - (100 * side * side * box.height) / box.width)).toBeLessThan(1.5);
  // And what the card itself took, where the browser measures that.
  await expect(page.getByTestId('gpu-time')).toContainText(/[\d.]+ ms|does not tell/);
  // One of them out of sight: each pixel once.
  await page.getByRole('tab', { name: 'Stage' }).click();
  await page.locator('[data-prop="Far"]').press('h');
  await page.getByRole('tab', { name: /^Checks/ }).click();
  await expect.poll(async () => (await numbers())[0]).toBe(1);
  await saved(page);
});
