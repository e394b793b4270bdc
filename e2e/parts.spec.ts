import { readFileSync } from 'node:fs';
import { NodeIO, Document } from '@gltf-transform/core';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { expect, type Page } from '@playwright/test';
import { accessorsOf } from '#stage/model/accessors.testing.ts';
import { undo } from './score.ts';
import { picture as pictureOf } from './pixels.ts';
import {
  COARSE,
  openCurtain,
  openProject,
  playhouseId,
  saved,
  stageRests,
  type Summary,
  test,
} from './stage.ts';

test.use(COARSE);

const row = (page: Page, name: string) => page.getByRole('group', { name, exact: true });
const openList = async (page: Page): Promise<void> => {
  await page.keyboard.press('Control+o');
  await expect(page.getByRole('textbox', { name: 'Search parts' })).toBeFocused();
};
const run = async (page: Page, command: string): Promise<void> => {
  await page.keyboard.press('Control+k');
  await page.getByRole('combobox', { name: 'Search commands' }).fill(command);
  await page.keyboard.press('Enter');
};

test('the project’s list, by keyboard: a part is found, renamed with what calls it, copied, deleted, and all of it undone', async ({
  page,
}) => {
  await openCurtain(page);
  const materials = await page.getByLabel('Material shown').locator('option').count();
  await openList(page);
  // Each has a picture of its own.
  await expect(row(page, 'Bell swing, shader').locator('img')).toBeVisible();
  await expect(row(page, 'Proscenium, set').locator('img')).toBeVisible();
  await page.keyboard.type('velvet mat');
  await page.keyboard.press('ArrowDown');
  await expect(row(page, 'Velvet, house left, material')).toBeFocused();
  await page.keyboard.press('F2');
  await page.keyboard.type('Arches, upstage');
  await page.keyboard.press('Enter');
  await expect(page.getByText('There is a material “Arches, upstage” already.')).toBeVisible();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('Velvet in tatters');
  await page.keyboard.press('Enter');
  await expect(row(page, 'Velvet in tatters, material')).toBeFocused();
  await page.keyboard.press('d');
  await expect(row(page, 'Velvet in tatters copy, material')).toBeVisible();
  await row(page, 'Velvet in tatters copy, material').focus();
  await page.keyboard.press('Delete');
  await expect(row(page, 'Velvet in tatters copy, material')).toHaveCount(0);
  await page.keyboard.press('Escape');
  await run(page, 'Show script');
  await expect(page.getByRole('textbox', { name: 'Script' })).toContainText("material('Velvet in tatters')");
  await undo(page);
  await undo(page);
  await undo(page);
  await expect(page.getByRole('textbox', { name: 'Script' })).toContainText("material('Velvet, house left')");
  await expect(page.getByLabel('Material shown').locator('option')).toHaveCount(materials);
  await saved(page);
});

test('a shader is begun, stands on the set, and goes with all that was its own', async ({ page }) => {
  await openCurtain(page);
  await openList(page);
  await page.getByRole('button', { name: 'New', exact: true }).click();
  await page.getByRole('menuitem', { name: 'shader', exact: true }).click();
  await expect(page.getByRole('textbox', { name: 'Name of the part' })).toBeFocused();
  await page.keyboard.type('Cellar damp');
  await page.keyboard.press('Enter');
  await expect(row(page, 'Cellar damp, shader')).toContainText('used by Material');
  await expect(row(page, 'Cellar damp, shader').locator('img')).toBeVisible();
  await expect(row(page, 'Proscenium, set')).toContainText('5 props');
  await page.keyboard.press('Escape');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Cellar damp');
  await stageRests(page);
  // The other shaders are offered to a material by name.
  await run(page, 'Let Material be of the shader Bell swing');
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Bell swing');
  await undo(page);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Cellar damp');
  await run(page, 'Delete shader Cellar damp');
  await expect(page.getByText('Cellar damp is deleted, and with it the material Material')).toBeVisible();
  await expect(page.getByRole('heading', { level: 1 })).not.toContainText('Cellar damp');
  await undo(page);
  await openList(page);
  await expect(row(page, 'Cellar damp, shader')).toBeVisible();
  await row(page, 'Near and far, motif').focus();
  await page.keyboard.press('Delete');
  await expect(page.getByText('“Near and far” is used by Hung marionette, Painted backdrop')).toBeVisible();
  await saved(page);
});

test('a project is left while the pictures of its list are drawn, and the page goes on', async ({ page }) => {
  await openCurtain(page);
  await openList(page);
  // Last of a hundred, it is drawn once it is scrolled to.
  const last = row(page, 'Near and far, motif');
  await last.scrollIntoViewIfNeeded();
  await expect(last.locator('img')).toBeVisible();
  await page.getByRole('link', { name: 'All projects', includeHidden: true }).dispatchEvent('click');
  await expect(page.getByRole('button', { name: 'New project' })).toBeVisible();
});

test('from a project to the next only the passes are linked anew, and of the first the graphics card keeps nothing', async ({
  page,
}) => {
  await openCurtain(page);
  /** Kinds of things that the card is given, and how many of each it has more than at first; null where they are counted. */
  const counts = await page.evaluateHandle(() => {
    const prototype = WebGL2RenderingContext.prototype as unknown as Record<
      string,
      (thing?: unknown) => unknown
    >;
    const held: Record<string, number> = {};
    for (const kind of ['Texture', 'Buffer', 'Framebuffer', 'Program', 'Query', 'VertexArray']) {
      const { [`create${kind}`]: create, [`delete${kind}`]: remove } = prototype;
      held[kind] = 0;
      prototype[`create${kind}`] = function (this: unknown) {
        held[kind]! += 1;
        return create!.call(this);
      };
      prototype[`delete${kind}`] = function (this: unknown, thing) {
        if (thing) held[kind]! -= 1;
        return remove!.call(this, thing);
      };
    }
    const link = prototype['linkProgram']!;
    const linked: string[] = [];
    prototype['linkProgram'] = function (this: unknown, program) {
      const gl = this as WebGL2RenderingContext;
      const sources = gl
        .getAttachedShaders(program as WebGLProgram)!
        .map((each) => gl.getShaderSource(each)!);
      linked.push(sources.join('\n'));
      return link.call(this, program);
    };
    return { held, linked };
  });
  const next = async () => {
    const demo = await playhouseId(page);
    const made = await page.request.post(`/api/projects/${demo}/copy`);
    const { id } = (await made.json()) as Summary;
    await openProject(page, id);
    await stageRests(page);
    return id;
  };
  // One shader is compiled long after the others are linked, as it may be where a machine has much to do.
  await page.evaluate(() => {
    const post = (given: Worker['postMessage']) => {
      Worker.prototype.postMessage = given;
    };
    const now = Worker.prototype.postMessage as (message: unknown) => void;
    let after = Promise.resolve();
    post(function (
      this: Worker,
      message: { readonly message?: { readonly part?: { readonly id: string } } },
    ) {
      if (message.message?.part?.id === 'stage-boards')
        after = new Promise((resolve) => setTimeout(resolve, 1500)).then(() => post(now));
      void after.then(() => now.call(this, message));
    });
  });
  const others = [await next()];
  const first = await counts.jsonValue();
  // What materials are drawn by shows its steps; passes have none.
  expect(first.linked.filter((source) => source.includes('uniform int tap;'))).toEqual([]);
  expect(first.linked.length).toBeGreaterThan(0);
  others.push(await next(), await next());
  expect((await counts.jsonValue()).held).toEqual(first.held);
  await openProject(page, await playhouseId(page));
  for (const id of others) await page.request.delete(`/api/projects/${id}`);
});

test('a second set has a script of its own, and the stage follows the set that is chosen', async ({
  page,
}) => {
  await openCurtain(page);
  await run(page, 'New script');
  await expect(page.getByRole('combobox', { name: 'Script shown' })).toHaveValue(/^script-/);
  await run(page, 'New set');
  await expect(page.getByRole('combobox', { name: 'Set on the stage' })).toHaveValue(/^set-/);
  await stageRests(page);
  await page.getByLabel('Script shown').selectOption({ label: 'Script' });
  const plays = page.getByRole('checkbox', { name: 'plays in Set' });
  await plays.check();
  // Beside the one that played alone until now; it is let play before it, and then alone.
  const turn = page.getByRole('group', { name: 'Its turn in a tick' });
  await expect(turn).toContainText('2 of 2');
  await page.getByRole('button', { name: 'Let it play earlier' }).click();
  await expect(turn).toContainText('1 of 2');
  const script = page.getByRole('textbox', { name: 'Script' });
  await script.click();
  await page.keyboard.press('Control+End');
  await page.keyboard.type("\nthrow new Error('lost');");
  await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
  await expect(page.getByRole('alert').filter({ hasText: /^Script, line \d+: lost$/ })).toBeVisible();
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  const first = await page.getByLabel('Script shown').locator('option').first().textContent();
  await page.getByLabel('Script shown').selectOption({ label: first! });
  await plays.uncheck();
  await page.getByLabel('Script shown').selectOption({ label: 'Script' });
  await expect(plays).toBeChecked();
  await expect(plays).toBeDisabled();
  await page.getByLabel('Set on the stage').selectOption({ label: 'Proscenium' });
  await expect(page.getByRole('textbox', { name: 'Script' })).toContainText("material('Velvet, house left')");
  await expect(page.getByRole('checkbox', { name: 'plays in Proscenium' })).toBeChecked();
  await page.getByLabel('Set on the stage').selectOption({ label: 'Set' });
  await expect(plays).toBeChecked();
  await saved(page);
});

test('a material is dragged from the list onto a prop, made of another shader, and its values made the defaults', async ({
  page,
}) => {
  await openCurtain(page);
  await page.getByRole('tab', { name: 'Stage' }).click();
  await openList(page);
  await page.keyboard.type('bulb material');
  const bulb = (await row(page, 'Bulb, material').boundingBox())!;
  const stage = (await page.getByTestId('stage').boundingBox())!;
  await page.mouse.move(bulb.x + 120, bulb.y + 12);
  await page.mouse.down();
  await page.mouse.move(bulb.x + 140, bulb.y + 30, { steps: 4 });
  // Under the list, until it is dragged away: the boards.
  await page.mouse.move(stage.x + stage.width * 0.3, stage.y + stage.height * 0.85, { steps: 8 });
  await page.mouse.up();
  await expect(page.getByRole('combobox', { name: 'Material of Boards' })).toHaveValue('bulb');
  await expect(page.getByRole('textbox', { name: 'Search parts' })).toHaveCount(0);
  await undo(page);
  await expect(page.getByRole('combobox', { name: 'Material of Boards' })).toHaveValue('boards-downstage');

  await page.getByLabel('Material shown').selectOption({ label: 'Velvet, house left' });
  const more = page.getByRole('button', { name: 'More for Velvet, house left' });
  await more.click();
  await page.getByRole('menuitem', { name: 'Use another shader' }).click();
  await page.getByRole('menuitem', { name: 'Wrought iron' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Wrought iron');
  await undo(page);
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Curtain burn-away');
  const reset = page.locator('[data-parameter="burn"]').getByRole('button', { name: /reset/i });
  await expect(reset).toBeEnabled();
  await more.click();
  await page.getByRole('menuitem', { name: 'Make these values the defaults' }).click();
  // It stands where it stood, and there is nothing to put back to.
  await expect(reset).toBeDisabled();
  await expect(page.locator('[data-parameter="burn"]').getByRole('spinbutton')).toHaveAttribute(
    'aria-valuenow',
    '0.46',
  );
  await undo(page);
  await expect(reset).toBeEnabled();
  await saved(page);
});

test('a project begins from a set, is exported, imported and duplicated; a file that is none is told of', async ({
  page,
}) => {
  const names = async () =>
    ((await (await page.request.get('/api/projects')).json()) as Summary[]).map((each) => each.name);
  await page.goto('/');
  await page.getByRole('button', { name: 'New project' }).click();
  await page.keyboard.type('Night shift');
  await page.getByLabel('Begins with').selectOption({ label: 'the playhouse’s Proscenium' });
  await page.getByRole('button', { name: 'Make it' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Night shift');
  await expect(page.getByLabel('Material shown')).toContainText('Velvet, house left');
  await page.goto('/');
  const menu = page.getByRole('button', { name: 'More for Night shift' });
  await menu.click();
  const download = page.waitForEvent('download');
  await page.getByRole('menuitem', { name: 'Export as .zip' }).click();
  const file = await download;
  expect(file.suggestedFilename()).toBe('night-shift.zip');
  const bytes = readFileSync(await file.path());
  await page.keyboard.press('Escape');
  const chooser = page.getByLabel('Project to import');
  await chooser.setInputFiles({
    name: 'night.zip',
    mimeType: 'application/zip',
    buffer: bytes.subarray(0, 900),
  });
  await expect(page.getByText('not a zip archive, or it is damaged')).toBeVisible();
  await chooser.setInputFiles({ name: 'night.zip', mimeType: 'application/zip', buffer: bytes });
  await expect(page.getByText('Night shift is imported.')).toBeVisible();
  await expect(page.getByRole('link', { name: 'Open Night shift' })).toHaveCount(2);
  // Dropped on the wall it is taken too; what is no archive is told of.
  const drop = (name: string, content: readonly number[]) =>
    page.getByRole('main').evaluate(
      (wall, [called, numbers]) => {
        const dataTransfer = new DataTransfer();
        dataTransfer.items.add(new File([Uint8Array.from(numbers)], called));
        wall.dispatchEvent(new DragEvent('drop', { dataTransfer, bubbles: true, cancelable: true }));
      },
      [name, content] as const,
    );
  await drop('night.txt', [1, 2, 3]);
  await expect(page.getByText('night.txt is not read here')).toBeVisible();
  await drop('night.zip', [...bytes]);
  await expect(page.getByRole('link', { name: 'Open Night shift' })).toHaveCount(3);
  await menu.first().click();
  await page.getByRole('menuitem', { name: 'Duplicate' }).click();
  await expect.poll(names).toContain('Night shift copy');
  // What was exported twice is the same, byte for byte.
  const all = (await (await page.request.get('/api/projects')).json()) as Summary[];
  const copies = all.filter((each) => each.name.startsWith('Night shift'));
  const zips = await Promise.all(
    copies.slice(-2).map(async ({ id }) => (await page.request.get(`/api/projects/${id}/archive`)).body()),
  );
  expect(zips[0]!.equals(zips[1]!)).toBe(true);
  for (const { id } of copies) await page.request.delete(`/api/projects/${id}`);
});

test('a model is brought from its files, stands on the set with its picture, goes with one undo, and travels in an archive', async ({
  page,
}) => {
  await openCurtain(page);
  await page.getByRole('tab', { name: 'Stage' }).click();
  const chooser = page.getByLabel('Files of the model');
  await chooser.setInputFiles([{ name: 'torn.glb', mimeType: '', buffer: Buffer.from('glTF and no more') }]);
  await expect(page.getByText(/^torn\.glb cannot be read: /)).toBeVisible();
  const props = await page.getByRole('region', { name: /^Prop / }).count();

  // A quad of 2 × 1 m whose left half is red and whose right half is blue.
  const picture = await sharp({ create: { width: 4, height: 2, channels: 3, background: '#00f' } })
    .composite([
      {
        input: { create: { width: 2, height: 2, channels: 3, background: '#f00' } },
        left: 0,
        top: 0,
      },
    ])
    .png()
    .toBuffer();
  const document = new Document();
  const accessor = accessorsOf(document);
  const texture = document.createTexture('Halves').setImage(new Uint8Array(picture)).setMimeType('image/png');
  const primitive = document
    .createPrimitive()
    .setAttribute('POSITION', accessor('VEC3', Float32Array.of(-1, 0, 0, 1, 0, 0, 1, 1, 0, -1, 1, 0)))
    .setAttribute('TEXCOORD_0', accessor('VEC2', Float32Array.of(0, 1, 1, 1, 1, 0, 0, 0)))
    .setIndices(accessor('SCALAR', Uint16Array.of(0, 1, 2, 0, 2, 3)))
    .setMaterial(document.createMaterial('Signboard').setBaseColorTexture(texture).setMetallicFactor(0));
  const node = document.createNode('Board').setMesh(document.createMesh().addPrimitive(primitive));
  document.createScene().addChild(node.setTranslation([0, 0.4, 2]));
  const glb = Buffer.from(await new NodeIO().writeBinary(document));
  await chooser.setInputFiles([{ name: 'sign.glb', mimeType: '', buffer: glb }]);
  const sign = page.getByRole('region', { name: 'Prop Signboard' });
  await expect(sign).toContainText('sign.glb');
  await expect(sign).toContainText('2 triangles');
  await expect(page.getByText('sign.glb: one prop, 2 triangles.')).toBeVisible();
  await expect(page.getByText('Signboard has no normals; they follow from its triangles.')).toBeVisible();
  await saved(page);
  await page.getByTestId('stage').focus();
  await page.keyboard.press('f');
  const seen = await pictureOf(page);
  const [left, right] = [seen(0.4, 0.5), seen(0.6, 0.5)];
  expect(left[0]! - left[2]!).toBeGreaterThan(40);
  expect(right[2]! - right[0]!).toBeGreaterThan(40);

  // The archive holds the mesh as a file; taken back, it stands there again.
  const archive = await (await page.request.get(`/api/projects/${await playhouseId(page)}/archive`)).body();
  const files = unzipSync(new Uint8Array(archive));
  const kept = Object.keys(files).filter((each) => each.startsWith('meshes/'));
  expect(kept).toHaveLength(1);
  expect((await new NodeIO().readBinary(files[kept[0]!]!)).getRoot().listMeshes()).toHaveLength(1);
  const taken = await page.request.post('/api/projects/archive', { data: archive });
  expect(taken.status(), await taken.text()).toBe(201);
  await page.request.delete(`/api/projects/${((await taken.json()) as Summary).id}`);
  const broken = await page.request.post('/api/blobs', { data: glb.subarray(0, glb.length - 8) });
  expect(broken.status()).toBe(422);

  // After a reload its mesh is brought again; one undo takes it off with its material and its shader.
  await page.reload();
  await stageRests(page);
  await page.getByRole('tab', { name: 'Stage' }).click();
  await expect(sign).toBeVisible();
  await chooser.setInputFiles([
    { name: 'stool.obj', mimeType: '', buffer: Buffer.from('o Stool\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n') },
  ]);
  await expect(page.getByRole('region', { name: 'Prop Stool' })).toBeVisible();
  await undo(page);
  await expect(page.getByRole('region', { name: /^Prop / })).toHaveCount(props + 1);
  await saved(page);
});
