import { expect, test, type Page } from '@playwright/test';
import { apart, picture } from './pixels.ts';
import { board, openWith } from './plainSet.ts';
import { leavePlayhouse } from './stage.ts';

test.afterEach(leavePlayhouse);

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
