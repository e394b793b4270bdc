import { expect } from '@playwright/test';
import sharp from 'sharp';
import { apart, picture } from './pixels.ts';
import { board, openWith } from './plainSet.ts';
import { undo } from './score.ts';
import { COARSE, playhouseId, saved, stageRests, test } from './stage.ts';

test.use(COARSE);

test('a floor is made a relief, rises by every step of a 16-bit picture, and is flat again by undo', async ({
  page,
}) => {
  await openWith(
    page,
    {
      props: [
        { ...board('Ground', [1, 1], [0, 0, 0]), mesh: { kind: 'floor', size: [2, 2], divisions: [8, 8] } },
      ],
      camera: { position: [0, 1.5, 5], target: [0, 0.25, 0], fieldOfView: 40 },
    },
    false,
  );
  const row = page.getByRole('region', { name: 'Prop Ground' });
  await row.getByRole('combobox', { name: 'Kind of mesh of Ground' }).selectOption('relief');
  const flat = await picture(page);
  // Black on the left, white on the right; steps of one part in 65535 are told apart.
  const side = 64;
  const samples = Uint16Array.from({ length: side * side }, (_, i) => (i % side < 32 ? i % side : 65535));
  const buffer = await sharp(samples, { raw: { width: side, height: side, channels: 1 } })
    .toColourspace('grey16')
    .png()
    .toBuffer();
  await row
    .getByLabel('Height picture of Ground')
    .setInputFiles({ name: 'cliff.png', mimeType: 'image/png', buffer });
  await expect(row.getByRole('button', { name: 'another picture' })).toBeVisible();
  const raised = await picture(page);
  // The right half stands half a metre up, where there was nothing behind the floor.
  expect(apart(raised(0.532, 0.435), flat(0.532, 0.435))).toBeGreaterThan(20);
  expect(apart(raised(0.468, 0.435), flat(0.468, 0.435))).toBeLessThan(3);
  await saved(page);
  const kept = await page.request.get(`/api/projects/${await playhouseId(page)}`);
  const { parts } = (await kept.json()) as {
    parts: { id: string; body: { props: { mesh: { picture: string } }[] } }[];
  };
  const sha = parts.find((each) => each.id === 'proscenium')!.body.props[0]!.mesh.picture;
  const heights = await (await page.request.get(`/api/blobs/${sha}/heights`)).body();
  expect([heights.readUInt32LE(0), heights.readUInt32LE(4)]).toEqual([side, side]);
  expect([0, 1, 31, 32].map((x) => heights.readUInt16LE(8 + x * 2))).toEqual([0, 1, 31, 65535]);
  expect((await page.request.get(`/api/blobs/${'0'.repeat(64)}/heights`)).status()).toBe(404);
  await undo(page);
  expect(apart((await picture(page))(0.532, 0.435), flat(0.532, 0.435))).toBeLessThan(2);
  await saved(page);
});

test('what is in hand is laid on what the pointer is over; several turn and grow about the last', async ({
  page,
}) => {
  const solid = (id: string, mesh: object, position: readonly number[]) => ({
    ...board(id, [1, 1], position),
    mesh,
  });
  await openWith(
    page,
    {
      props: [
        board('Floor', [8, 8], [0, 0, 0], { rotation: [-90, 0, 0] }),
        solid(
          'Table',
          { kind: 'box', size: [1, 0.8, 1], divisions: [1, 1, 1], pivot: [0.5, 0, 0.5] },
          [1, 0, 0],
        ),
        solid('Ball', { kind: 'sphere', radius: 0.2, divisions: [24, 16] }, [-0.8, 0.2, 0]),
        board('Peg', [0.1, 0.1], [-1.3, 0.2, 0]),
      ],
      camera: { position: [0, 1.5, 5], target: [0, 0.5, 0], fieldOfView: 40 },
    },
    false,
  );
  const stage = page.getByTestId('stage');
  const { x: left, y: top, width, height } = (await stage.boundingBox())!;
  /** Where a place of the world is on the page, by the camera’s own rule. */
  const seen = ([x, y, z]: readonly [number, number, number]): readonly [number, number] => {
    const [dy, dz] = [y - 1.5, z - 5];
    const size = Math.hypot(1, 5);
    const depth = (-1 * dy - 5 * dz) / size;
    const up = (5 * dy - 1 * dz) / size;
    const half = Math.tan((20 * Math.PI) / 180) * depth;
    return [left + width / 2 + (x / half) * (height / 2), top + height / 2 - (up / half) * (height / 2)];
  };
  const numbers = (prop: string, what: string) =>
    Promise.all(
      ['x', 'y', 'z'].map(async (axis) =>
        Number(
          await page
            .getByRole('spinbutton', { name: `${prop} ${what} ${axis}`, exact: true })
            .getAttribute('aria-valuenow'),
        ),
      ),
    );
  const stands = (prop: string, what: string, wanted: readonly number[], by: number) =>
    expect
      .poll(
        async () => apart(await numbers(prop, what), wanted),
        `${prop} ${what} is to be ${wanted.join(' ')}`,
      )
      .toBeLessThan(by);
  const drag = async (from: readonly [number, number], ...to: (readonly [number, number])[]) => {
    await page.mouse.move(...from);
    await page.mouse.down();
    for (const each of to) await page.mouse.move(...each, { steps: 4 });
    await page.mouse.up();
  };
  const row = (name: string) => page.getByRole('region', { name: `Prop ${name}` });
  await row('Peg').focus();
  await page.keyboard.press('Enter');
  await row('Ball').focus();
  await page.keyboard.press('Shift+Enter');
  await expect(stage).toHaveAttribute('data-hand', 'ready');
  await stage.focus();
  await page.keyboard.press('g');
  await expect(page.getByRole('button', { name: 'Lay', exact: true })).toHaveAttribute(
    'aria-pressed',
    'true',
  );
  // Onto the middle of the table's top: it stands there on its lowest point, and the peg keeps its distance.
  await drag(seen([-0.8, 0.2, 0.15]), seen([0, 0, 1]), seen([1, 0.8, 0]));
  await stands('Ball', 'position', [1, 1, 0], 0.03);
  await stands('Peg', 'position', [0.5, 1, 0], 0.03);
  await undo(page);
  await stageRests(page);
  await stands('Ball', 'position', [-0.8, 0.2, 0], 1e-3);
  // Onto the table's front, by its side.
  await drag(seen([-0.8, 0.2, 0.15]), seen([1, 0.4, 0.5]));
  await stands('Ball', 'position', [1, 0.4, 0.7], 0.03);
  await undo(page);
  await stageRests(page);

  // A quarter turn by the ring about z, snapped: the peg goes round the ball and is turned as it is.
  await stage.focus();
  await page.keyboard.press('t');
  await page.keyboard.press('n');
  const away = Math.hypot(0.8, 1.3, 5);
  const ring = 0.5 * ((away * 1.9 * Math.tan((20 * Math.PI) / 180)) / 4) * 0.75;
  const around = [0, 30, 60, 90].map((degrees) => {
    const angle = ((degrees + 135) * Math.PI) / 180;
    return seen([-0.8 + ring * Math.cos(angle), 0.2 + ring * Math.sin(angle), 0]);
  });
  await drag(around[0]!, ...around.slice(1));
  await expect.poll(async () => Math.abs((await numbers('Ball', 'turn'))[2]!)).toBeGreaterThan(10);
  const [, , turn] = await numbers('Ball', 'turn');
  const angle = ((turn! + 180) * Math.PI) / 180;
  const place = [-0.8 + 0.5 * Math.cos(angle), 0.2 + 0.5 * Math.sin(angle), 0];
  await stands('Peg', 'position', place, 5e-3);
  await stands('Peg', 'turn', [0, 0, turn!], 0.01);
  await undo(page);
  await stageRests(page);
  await stands('Peg', 'position', [-1.3, 0.2, 0], 1e-3);
  await saved(page);
});
