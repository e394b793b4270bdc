import { expect, type Page } from '@playwright/test';
import { apart, picture, type Picture } from './pixels.ts';
import { COARSE, openCurtain, parameter, playhouseId, saved, stageRests, test } from './stage.ts';

test.use(COARSE);

const show = async (page: Page, set: string): Promise<void> => {
  await page.getByLabel('Set on the stage').selectOption({ label: set });
  await stageRests(page);
};
const put = async (page: Page, name: string, value: string): Promise<void> => {
  await parameter(page, name).getByRole('spinbutton').focus();
  await page.keyboard.type(value);
  await page.keyboard.press('Enter');
  await stageRests(page);
};

test('heat bends only what is behind it: pipes and door stay as they are, and so does what is left out of the copy', async ({
  page,
}) => {
  await openCurtain(page);
  await show(page, 'Furnace mouth');
  await page.getByLabel('Material shown').selectOption({ label: 'Rising heat' });
  await put(page, 'strength', '0');
  const still = await picture(page);
  await put(page, 'strength', '0.1');
  const bent = await picture(page);
  const places = Array.from({ length: 12 }, (_, i) => 0.36 + i * 0.02);
  const moved = (a: Picture, b: Picture) =>
    Math.max(...places.flatMap((x) => [0.4, 0.5, 0.6].map((y) => apart(a(x, y), b(x, y)))));
  expect(moved(still, bent)).toBeGreaterThan(40);
  // A pipe in front of it, the door beside it, the boards before it.
  for (const [x, y] of [
    [0.346, 0.4],
    [0.645, 0.5],
    [0.3, 0.6],
    [0.5, 0.95],
  ] as const)
    expect(apart(still(x, y), bent(x, y)), `${x}, ${y}`).toBeLessThan(6);
  // Without the effect colours are what they are without the card.
  await page.getByRole('tab', { name: 'Stage' }).click();
  await put(page, 'strength', '0');
  await page.getByRole('region', { name: 'Prop Heat' }).focus();
  await page.keyboard.press('h');
  const without = await picture(page);
  for (const x of places) expect(apart(still(x, 0.5), without(x, 0.5)), `${x}`).toBeLessThan(4);
  await page.keyboard.press('h');
  // The middle flat is left out: it is not bent any more.
  const flat = page.getByRole('region', { name: 'Prop Flat 3' });
  await flat.getByRole('button', { name: 'copied' }).click();
  await page.getByLabel('Material shown').selectOption({ label: 'Rising heat' });
  await put(page, 'strength', '0.1');
  const leftOut = await picture(page);
  expect(apart(still(0.515, 0.4), leftOut(0.515, 0.4))).toBeLessThan(6);
  await saved(page);
});

test('haze thickens with what is behind it, shows no line at the floor, and goes when it is switched off', async ({
  page,
}) => {
  await openCurtain(page);
  await show(page, 'Scrim');
  await page.getByLabel('Material shown').selectOption({ label: 'Teal haze' });
  const hazy = await picture(page);
  // Another set and back: what stands here is as it was.
  await show(page, 'Ghost light');
  await show(page, 'Scrim');
  await page.getByLabel('Material shown').selectOption({ label: 'Teal haze' });
  const again = await picture(page);
  for (const x of [0.1, 0.3, 0.5, 0.7, 0.9])
    for (const y of [0.2, 0.5, 0.8]) expect(apart(hazy(x, y), again(x, y)), `${x}, ${y}`).toBeLessThan(3);
  await put(page, 'density', '0');
  const clear = await picture(page);
  const veiled = (x: number, y: number) => apart(hazy(x, y), clear(x, y));
  // The back wall, a wing further in, the nearest wing, the floor right behind the card.
  const [back, far, near] = [veiled(0.5, 0.3), veiled(0.69, 0.4), veiled(0.8, 0.5)];
  expect(back).toBeGreaterThan(far + 5);
  expect(far).toBeGreaterThan(near + 5);
  // Down the floor it thins out evenly to nothing: no step where the card meets it.
  const down = Array.from({ length: 14 }, (_, i) => veiled(0.45, 0.68 + i * 0.02));
  expect(down.at(-1)!).toBeLessThan(4);
  down.slice(1).forEach((each, i) => expect(Math.abs(each - down[i]!), `step ${i}`).toBeLessThan(12));
  await saved(page);
});

/** The three curves by hand, from linear light to a byte of sRGB (Khronos' sample of the neutral one; Narkowicz's fit). */
const CURVES: Readonly<Record<string, (c: readonly number[]) => readonly number[]>> = {
  'not mapped': (c) => c,
  filmic: (c) => c.map((x) => (x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14)),
  neutral: (c) => {
    const least = Math.min(...c);
    const lifted = c.map((x) => x - (least < 0.08 ? least - 6.25 * least ** 2 : 0.04));
    const peak = Math.max(...lifted);
    if (peak < 0.8 - 0.04) return lifted;
    const d = 1 - (0.8 - 0.04);
    const held = 1 - d ** 2 / (peak + d - (0.8 - 0.04));
    const grey = 1 - 1 / (0.15 * (peak - held) + 1);
    return lifted.map((x) => ((x * held) / peak) * (1 - grey) + held * grey);
  },
};
const byte = (x: number): number => {
  const c = Math.min(Math.max(x, 0), 1);
  return 255 * (c <= 0.0031308 ? c * 12.92 : 1.055 * c ** (1 / 2.4) - 0.055);
};

test('light is mapped once, by the curve that the set names', async ({ page }) => {
  const light = [1.5, 0.6, 0.2];
  const id = await playhouseId(page);
  const { parts } = (await (await page.request.get(`/api/projects/${id}`)).json()) as {
    parts: { id: string; name: string; revision: number; body: Record<string, unknown> }[];
  };
  const put = async (part: string, change: (body: Record<string, unknown>) => object) => {
    const { name, revision, body } = parts.find((each) => each.id === part)!;
    const data = { name, revision, body: { ...body, ...change(body) } };
    expect((await page.request.put(`/api/projects/${id}/parts/${part}`, { data })).status()).toBe(200);
  };
  await put('lamp-glass', ({ surface }) => ({
    surface: { ...(surface as object), outputs: { baseColor: `vec3(${light.join(', ')})` } },
  }));
  await put('ghost-light', () => ({ bloom: { threshold: 1, intensity: 0 } }));
  await openCurtain(page);
  await show(page, 'Ghost light');
  await page.getByRole('tab', { name: 'Stage' }).click();
  await page.getByRole('region', { name: 'Prop Bulb' }).focus();
  await page.keyboard.press('f');
  await stageRests(page);
  for (const [name, curve] of Object.entries(CURVES)) {
    await page.getByLabel('Tone mapping').selectOption({ label: name });
    const seen = await picture(page);
    expect(apart(seen(0.45, 0.62), curve(light).map(byte)), name).toBeLessThan(1.5);
  }
  await saved(page);
});
