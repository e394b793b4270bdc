import { Document, NodeIO } from '@gltf-transform/core';
import sharp from 'sharp';
import { expect, type Page } from '@playwright/test';
import { accessorsOf } from '../src/stage/model/accessors.testing.ts';
import { picture } from './pixels.ts';
import { board, openWith } from './plainSet.ts';
import { undo } from './score.ts';
import { COARSE, saved, stageRests, test } from './stage.ts';

test.use(COARSE);

const plain = (background: string) =>
  sharp({ create: { width: 4, height: 4, channels: 3, background } })
    .png()
    .toBuffer();

/** A red board of 40 cm on an arm that a clip slides by 1.2 m to the right in a second. */
const signal = async (): Promise<Buffer> => {
  const document = new Document();
  const accessor = accessorsOf(document);
  const texture = document
    .createTexture('Red')
    .setImage(new Uint8Array(await plain('#f00')))
    .setMimeType('image/png');
  const primitive = document
    .createPrimitive()
    .setAttribute(
      'POSITION',
      accessor('VEC3', Float32Array.of(-0.2, -0.2, 0, 0.2, -0.2, 0, 0.2, 0.2, 0, -0.2, 0.2, 0)),
    )
    .setAttribute('NORMAL', accessor('VEC3', Float32Array.of(0, 0, 1, 0, 0, 1, 0, 0, 1, 0, 0, 1)))
    .setAttribute('TEXCOORD_0', accessor('VEC2', Float32Array.of(0, 1, 1, 1, 1, 0, 0, 0)))
    .setIndices(accessor('SCALAR', Uint16Array.of(0, 1, 2, 0, 2, 3)))
    .setMaterial(document.createMaterial('Semaphore').setBaseColorTexture(texture).setMetallicFactor(0));
  const arm = document
    .createNode('arm')
    .setTranslation([-0.6, 1, 0])
    .setMesh(document.createMesh().addPrimitive(primitive));
  document.createScene().addChild(arm);
  const sampler = document
    .createAnimationSampler()
    .setInput(accessor('SCALAR', Float32Array.of(0, 1)))
    .setOutput(accessor('VEC3', Float32Array.of(-0.6, 1, 0, 0.6, 1, 0)));
  document
    .createAnimation('Slide')
    .addSampler(sampler)
    .addChannel(
      document.createAnimationChannel().setTargetNode(arm).setTargetPath('translation').setSampler(sampler),
    );
  return Buffer.from(await new NodeIO().writeBinary(document));
};

/** What is seen at a place of the upright plane z = 0, in metres. */
const seenAt = async (page: Page) => {
  const { width, height } = (await page.getByTestId('stage').boundingBox())!;
  const half = 4 * Math.tan((15 * Math.PI) / 180);
  const seen = await picture(page);
  return (x: number, y: number): readonly number[] =>
    seen(0.5 + x / (2 * half * (width / height)), 0.5 - (y - 1) / (2 * half));
};
const isRed = ([r, , b]: readonly number[]): boolean => r! - b! > 40;
const isBlue = ([r, , b]: readonly number[]): boolean => b! - r! > 40;

test('a clip that comes with a model plays as a cue, what hangs on its joint goes along, and its picture is chosen', async ({
  page,
}) => {
  const tag = board('Tag', [0.2, 0.2], [-0.6, 1.6, 0]);
  const camera = { position: [0, 1, 4], target: [0, 1, 0], fieldOfView: 30 };
  const white = { ambientUp: [1, 1, 1], ambientDown: [1, 1, 1] };
  await openWith(page, { props: [tag], camera, ...white }, false, { baseColor: 'vec3(0.6, 0.0, 0.0)' });
  await page
    .getByLabel('Files of the model')
    .setInputFiles([{ name: 'signal.glb', mimeType: '', buffer: await signal() }]);
  await expect(page.getByText('signal.glb: one prop, 2 triangles.')).toBeVisible();
  await stageRests(page);
  await expect.poll(async () => isRed((await seenAt(page))(-0.6, 1))).toBe(true);
  await page.getByLabel('What Tag stands on').focus();
  await page.getByLabel('What Tag stands on').selectOption({ label: 'on Semaphore' });
  await page.getByLabel('The joint that Tag hangs on').selectOption({ label: 'at arm' });
  await saved(page);
  expect(isRed((await seenAt(page))(-0.6, 1.6))).toBe(true);

  await page.getByRole('tab', { name: 'Cues' }).click();
  await page.locator('[data-cue="Slide"]').click();
  const head = page.getByRole('slider', { name: 'Playhead of Slide' });
  await head.focus();
  await head.press('End');
  await expect.poll(async () => isRed((await seenAt(page))(0.6, 1))).toBe(true);
  const end = await seenAt(page);
  expect([isRed(end(-0.6, 1)), isRed(end(0.6, 1.6)), isRed(end(-0.6, 1.6))]).toEqual([false, true, false]);
  // What is seen there is what is taken in hand.
  const { x, y, width, height } = (await page.getByTestId('stage').boundingBox())!;
  const across = 0.6 / (8 * Math.tan((15 * Math.PI) / 180) * (width / height));
  const shown = page.getByLabel('Material shown').locator('option:checked');
  await page.getByLabel('Material shown').selectOption({ index: 0 });
  await expect(shown).not.toHaveText('Semaphore');
  await page.mouse.click(x + width * (0.5 + across), y + height / 2);
  await expect(shown).toHaveText('Semaphore');

  await page.getByRole('button', { name: 'Let Slide drive something more' }).click();
  await page.getByRole('menuitem', { name: 'colorMap' }).click();
  const last = page.getByRole('slider', { name: 'Key 2 of colorMap, at 1.00 s' });
  await last.focus();
  await page
    .getByLabel('Add a picture to choose')
    .setInputFiles({ name: 'blue.png', mimeType: 'image/png', buffer: await plain('#00f') });
  await expect(page.getByRole('radio', { name: 'Picture 2' })).toHaveAttribute('aria-checked', 'true');
  await head.press('End');
  await expect.poll(async () => isBlue((await seenAt(page))(0.6, 1))).toBe(true);
  await head.press('Home');
  await expect.poll(async () => isRed((await seenAt(page))(-0.6, 1))).toBe(true);
  // Played, it is where its cue is; stopped, where it was.
  await page.getByRole('button', { name: 'Let go' }).click();
  await page.getByLabel(/^how/).selectOption({ label: 'once' });
  await page.getByRole('button', { name: 'Play Slide', exact: true }).click();
  await expect(page.locator('[data-cue="Slide"]')).toContainText('stands at 1.00 s');
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await expect.poll(async () => isRed((await seenAt(page))(-0.6, 1))).toBe(true);
  // Taken out, the keys choose what is left; undone, as it was.
  await last.focus();
  await page.getByRole('button', { name: 'Take picture 2 out' }).click();
  await expect(page.getByRole('radio')).toHaveCount(1);
  await undo(page);
  await expect(page.getByRole('radio')).toHaveCount(2);
  await saved(page);
});
