import { expect, test, type Page } from '@playwright/test';
import { emptyMotif } from '#core/document/motif.ts';
import { sketchShader } from '#core/document/sketch.ts';
import { figure, openCurtain, parameter, restorePlayhouse, saved, stageRests, step } from './stage.ts';

test.afterEach(({ request }) => restorePlayhouse(request));

const wordsOf = (page: Page, strand: string) => () =>
  page.locator(`[data-strand="${strand}"] .word`).allTextContents();
const undo = (page: Page) => page.getByTitle(/^Undo/).click();
const show = async (page: Page, material: string): Promise<void> => {
  await page.getByLabel('Material shown').selectOption({ label: material });
  await stageRests(page);
};
/** The least and greatest value that a step's range bar tells of. */
const rangeOf = async (page: Page, id: string): Promise<[number, number]> => {
  const words = (await step(page, id).getByRole('img').getAttribute('aria-label')) ?? '';
  const found = /from (\S+) to (\S+)/.exec(words.replace(/−/g, '-').replace(/,/g, ''));
  return [Number(found?.[1] ?? NaN), Number(found?.[2] ?? NaN)];
};
const addStep = async (page: Page, strand: string, wanted: string): Promise<void> => {
  await page.getByRole('button', { name: `Add a step to ${strand}` }).click();
  await page.getByRole('combobox', { name: 'Search operators' }).fill(wanted);
  await page.keyboard.press('Enter');
};
const writeCode = async (page: Page, code: string): Promise<void> => {
  const editor = page.getByRole('textbox', { name: 'Code of the step' });
  await editor.click();
  await page.keyboard.press('Control+a');
  await page.evaluate((text) => document.execCommand('insertText', false, text), code);
};

test('the palette knows other words, what a shader is given, and what each costs', async ({ page }) => {
  await openCurtain(page);
  await page.getByRole('button', { name: 'Add a step to remains' }).click();
  const search = page.getByRole('combobox', { name: 'Search operators' });
  const first = page.getByRole('listbox', { name: 'Operators' }).getByRole('option').first();
  for (const [wanted, name] of [
    ['fresnel', 'facing'],
    ['world position', 'position'],
    ['voronoi', 'worley'],
    ['custom', 'code'],
  ] as const) {
    await search.fill(wanted);
    await expect(first).toContainText(name);
    await expect(search).toHaveAttribute('aria-activedescendant', (await first.getAttribute('id'))!);
  }
  await search.fill('worley3');
  await expect(page.getByRole('dialog').or(page.locator('.popup'))).toContainText(/about \d+ operations/);
  await search.fill('camera distance');
  await page.keyboard.press('Enter');
  const card = page.getByRole('group', { name: /Distance.* step|distanceFalloff step|cameraDistance step/ });
  await expect(card).toBeVisible();
  await undo(page);
  await saved(page);
});

test('what a shader is given is right: the camera stands metres away, and choices choose', async ({
  page,
}) => {
  await openCurtain(page);
  await addStep(page, 'remains', 'cameraDistance');
  const card = page.locator('[data-strand="remains"] [data-step]').last();
  const id = (await card.getAttribute('data-step'))!;
  await expect.poll(async () => (await rangeOf(page, id))[0]).toBeGreaterThan(2.5);
  expect((await rangeOf(page, id))[1]).toBeLessThan(6);
  await undo(page);

  // A choice is settled when the shader is compiled, and undone like anything else.
  // At its default it stands on the card only where the card is chosen.
  await step(page, 'order-1').focus();
  const result = step(page, 'order-1').getByRole('combobox', { name: 'result' });
  const before = await rangeOf(page, 'order-1');
  await result.selectOption('second');
  await expect.poll(async () => (await rangeOf(page, 'order-1'))[0]).toBeGreaterThan(before[0] + 0.1);
  await undo(page);
  await expect(result).toHaveValue('nearest');
  await saved(page);
});

test('a code step: its signature is its card, it computes, and mistakes stand at their line', async ({
  page,
}) => {
  await openCurtain(page);
  await addStep(page, 'remains', 'custom');
  const dialog = page.getByRole('dialog');
  await writeCode(
    page,
    'float soften(float x, float amount) {\n  float y = x;\n  for (int i = 0; i < 3; i++) {\n    y = mix(y, 0.5, amount);\n  }\n  return y + order * 0.0;\n}\n',
  );
  await expect(dialog).toContainText('soften(float x, float amount)');
  await expect(dialog.getByRole('status')).toContainText('Nothing is wrong');
  await expect(dialog.getByTestId('generated')).toContainText('float soften(');
  await expect(dialog.locator('.generated.own').first()).toBeAttached();

  // Names complete themselves: strands above, parameters, built-ins.
  await writeCode(page, 'float soften(float x) {\n  return x + ');
  await page.keyboard.type('edg');
  await expect(page.locator('.cm-tooltip-autocomplete')).toContainText('edgeWidth');
  await page.keyboard.press('Escape');

  await writeCode(page, 'float soften(float x) {\n  return x + ordr;\n}\n');
  await expect(dialog.getByRole('status')).toContainText('2:14');
  await expect(dialog.getByRole('status')).toContainText(
    'Nothing is called “ordr” here. Did you mean order?',
  );
  await expect(dialog.locator('.cm-lintRange-error')).toBeVisible();
  await writeCode(page, 'float soften(float x, float amount) {\n  return mix(x, 0.5, amount);\n}\n');
  await dialog.getByRole('button', { name: 'Done' }).click();

  const card = page.getByRole('group', { name: 'soften step' });
  await expect(card.getByText('amount')).toBeVisible();
  const amount = card.getByRole('spinbutton', { name: 'amount' });
  await amount.focus();
  for (let i = 0; i < 10; i += 1) await page.keyboard.press('ArrowUp');
  const id = (await card.getAttribute('data-step'))!;
  await expect.poll(async () => (await rangeOf(page, id))[0]).toBeGreaterThan(0.01);
  await card.focus();
  await page.keyboard.press('Delete');
  await expect.poll(wordsOf(page, 'remains')).toEqual(['front', 'step']);
  await saved(page);
});

test('code that only the graphics card can run says why; its driver’s mistakes stand at the author’s line', async ({
  page,
}) => {
  await openCurtain(page);
  await addStep(page, 'remains', 'custom');
  const dialog = page.getByRole('dialog');
  const status = dialog.getByRole('status');
  await writeCode(
    page,
    'float pick(float x) {\n  float a[300];\n  a[0] = x;\n  a[1] = 1.0 - x;\n  return a[int(x)];\n}\n',
  );
  await expect(status).toContainText('nowhere else: an array of 300 float is too long');
  await expect(status).toContainText('2:');
  await writeCode(
    page,
    'float pick(float x) {\n  float a[300];\n  a[0] = x;\n  a[1] = vec2(x);\n  return a[1];\n}\n',
  );
  await expect(status).toContainText('The graphics driver says');
  await expect(status).toContainText('4:');
  await writeCode(page, 'float pick(float x) {\n  float a[300];\n  a[0] = x;\n  return a[0];\n}\n');
  await expect(status).not.toContainText('The graphics driver says');
  await dialog.getByRole('button', { name: 'Done' }).click();
  await page.getByRole('group', { name: 'pick step' }).focus();
  await page.keyboard.press('Delete');
  await saved(page);
});

test('strands fold into a motif; edited once, all users follow; a used one is not deleted; a use unfolds', async ({
  page,
}) => {
  await openCurtain(page);
  const before = await rangeOf(page, 'remains-2');
  await page.getByTitle('What to do with front').click();
  await page.getByRole('menuitem', { name: 'Fold into a motif…' }).click();
  const dialog = page.getByRole('dialog');
  await dialog.getByRole('textbox', { name: 'Name' }).fill('Flame front');
  await expect(dialog).toContainText('order: float');
  await expect(dialog).toContainText('→ front');
  await dialog.getByRole('button', { name: 'Fold' }).click();
  const use = page.getByRole('group', { name: 'Flame front step' });
  await expect(use).toBeVisible();
  await expect.poll(() => rangeOf(page, 'remains-2')).toEqual(before);
  // Motif and shader were one deed, on the server too.
  await undo(page);
  await expect.poll(wordsOf(page, 'front')).toEqual(['order', 'subtract']);
  await page.getByRole('button', { name: 'Motifs' }).click();
  await expect(page.getByRole('menuitem', { name: 'New motif' })).toBeVisible();
  await expect(page.getByRole('menuitem', { name: /Flame front/ })).toHaveCount(0);
  await page.keyboard.press('Escape');
  await page.keyboard.press('Control+Shift+z');

  await use.focus();
  await page.keyboard.press('o');
  await page.getByTestId('open-motif').click();
  await page.keyboard.type('Fire line');
  await page.keyboard.press('Enter');
  await expect(page.getByTestId('open-motif')).toHaveText('Fire line');
  await undo(page);
  await expect(page.getByTestId('open-motif')).toHaveText('Flame front');
  await expect(page.getByText('used by Curtain burn-away')).toBeVisible();
  await expect.poll(wordsOf(page, 'front')).toEqual(['value', 'subtract']);
  await addStep(page, 'front', 'add');
  const added = page.locator('[data-strand="front"] [data-step]').last();
  await added.getByRole('spinbutton', { name: 'y' }).click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type('9');
  await page.keyboard.press('Enter');
  await saved(page);

  // A used motif cannot be deleted, and names its users.
  await page.getByRole('button', { name: 'Motifs' }).click();
  await page.getByRole('menuitem', { name: 'Delete Flame front' }).click();
  await expect(page.getByText('“Flame front” is used by Curtain burn-away')).toBeVisible();
  await page.getByRole('button', { name: 'Back to the shader' }).click();
  await expect.poll(async () => (await rangeOf(page, 'remains-2'))[0]).toBe(1);

  // Unfolded, it is strands again; then the motif may go, and come back.
  await page.getByRole('group', { name: 'Flame front step' }).focus();
  await page.keyboard.press('Shift+U');
  await expect(page.getByRole('group', { name: 'Flame front step' })).toHaveCount(0);
  await saved(page);
  await page.getByRole('button', { name: 'Motifs' }).click();
  await page.getByRole('menuitem', { name: /Flame front/ }).click();
  await page.getByRole('button', { name: 'Motifs' }).click();
  await page.getByRole('menuitem', { name: 'Delete Flame front' }).click();
  await expect(page.getByText('Flame front is deleted.')).toBeVisible();
  await expect(page.getByTestId('open-motif')).toHaveCount(0);
  // Back all the way: the deletion, the unfolding, two edits of the motif, the fold.
  await undo(page);
  await page.getByRole('button', { name: 'Motifs' }).click();
  await expect(page.getByRole('menuitem', { name: /Flame front/ })).toBeVisible();
  await page.keyboard.press('Escape');
  for (let i = 0; i < 4; i += 1) await undo(page);
  await expect.poll(wordsOf(page, 'front')).toEqual(['order', 'subtract']);
  await expect.poll(() => rangeOf(page, 'remains-2')).toEqual(before);
  await saved(page);
});

test('a motif never goes in a circle: its own palette leaves it out', async ({ page }) => {
  await openCurtain(page);
  await page.getByRole('button', { name: 'Motifs' }).click();
  await page.getByRole('menuitem', { name: /Near and far/ }).click();
  await page.getByRole('button', { name: 'Add a step to away' }).click();
  await page.getByRole('combobox', { name: 'Search operators' }).fill('near and far');
  await expect(page.getByRole('option', { name: /Near and far/ })).toHaveCount(0);
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: 'Back to the shader' }).click();
  await addStep(page, 'remains', 'near and far');
  await expect(page.getByRole('group', { name: 'Near and far step' })).toBeVisible();
  await page.getByLabel('gives').selectOption('close');
  await undo(page);
  await undo(page);
  await saved(page);
});

test('curves, gradients and noise are edited in the panel, and the picture follows', async ({ page }) => {
  await openCurtain(page);
  await show(page, 'Arches, upstage');
  const before = await rangeOf(page, 'sky-2');
  expect(before[1]).toBeCloseTo(1, 1);
  await parameter(page, 'rise')
    .getByRole('button', { name: /a curve of 3 keys/ })
    .click();
  // A drag that was not meant ends on Escape, and leaves what was.
  const { x, y } = (await page.getByRole('slider', { name: 'Key 3' }).boundingBox())!;
  await page.mouse.move(x + 4, y + 4);
  await page.mouse.down();
  await page.mouse.move(x + 4, y + 60, { steps: 4 });
  await expect.poll(async () => (await rangeOf(page, 'sky-2'))[1]).toBeLessThan(0.9);
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect.poll(() => rangeOf(page, 'sky-2')).toEqual(before);
  await page.getByRole('slider', { name: 'Key 3' }).focus();
  for (let i = 0; i < 30; i += 1) await page.keyboard.press('ArrowDown');
  await expect.poll(async () => (await rangeOf(page, 'sky-2'))[1]).toBeLessThan(0.85);
  await page.getByRole('button', { name: 'Delete key' }).click();
  await expect(page.getByRole('slider', { name: 'Key 3' })).toHaveCount(0);
  await page.keyboard.press('Escape');
  await parameter(page, 'rise').getByRole('button', { name: 'Reset rise' }).click();
  await expect.poll(async () => (await rangeOf(page, 'sky-2'))[1]).toBeCloseTo(before[1], 1);

  await parameter(page, 'dusk')
    .getByRole('button', { name: /a gradient of 4 stops/ })
    .click();
  await page.getByRole('button', { name: /Stop 4/ }).focus();
  await page.getByRole('spinbutton', { name: 'dusk stop red' }).click();
  await page.getByRole('textbox', { name: 'dusk stop red' }).fill('5');
  await page.keyboard.press('Enter');
  await expect.poll(async () => (await rangeOf(page, 'sky-3'))[1]).toBeGreaterThan(2);
  await page.keyboard.press('Escape');
  await parameter(page, 'dusk').getByRole('button', { name: 'Reset dusk' }).click();
  await parameter(page, 'plaster').getByRole('spinbutton', { name: 'plaster seed' }).focus();
  await page.keyboard.press('ArrowUp');
  await parameter(page, 'plaster').getByRole('button', { name: 'Reset plaster' }).click();
  await saved(page);
});

test('a shared value is one for every shader; a lifetime one shows its slot; presets are taken up again', async ({
  page,
}) => {
  await openCurtain(page);
  await show(page, 'Arches, upstage');
  const reach = parameter(page, 'hazeReach');
  await expect(reach).toContainText('shared');
  await reach.getByRole('spinbutton').click();
  await page.getByRole('textbox', { name: 'hazeReach figure' }).fill('6');
  await page.keyboard.press('Enter');
  await show(page, 'Boards, downstage');
  await expect.poll(() => figure(parameter(page, 'hazeReach'))).toBe(6);
  await undo(page);
  await expect.poll(() => figure(parameter(page, 'hazeReach'))).toBe(14);

  await show(page, 'Bell at midnight');
  await expect(parameter(page, 'glow')).toContainText('lifetime[0].xyz');
  await expect(parameter(page, 'turn')).toContainText(/lifetime\[\d\]\.[xyzw]/);
  await parameter(page, 'turn').getByRole('button', { name: 'turn' }).first().click();
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByLabel('Whose value')).toHaveValue('lifetime');
  await dialog.getByLabel('Drives between').fill('-2');
  await expect(dialog.getByRole('alert')).toContainText('The ends are two numbers');
  await dialog.getByRole('button', { name: 'Cancel' }).click();

  await show(page, 'Arches, upstage');
  await page.getByRole('button', { name: /Preset/ }).click();
  await page.getByRole('menuitem', { name: 'Opening night' }).click();
  await expect(parameter(page, 'stone').getByRole('spinbutton')).toHaveAttribute('aria-valuenow', '0.8');
  await page.getByRole('button', { name: 'Preset: Opening night' }).click();
  await page.getByRole('menuitem', { name: 'Keep these values…' }).click();
  await page.getByRole('textbox', { name: 'Name of the preset' }).fill('Matinée');
  await page.keyboard.press('Enter');
  await undo(page);
  await undo(page);
  await expect(parameter(page, 'stone').getByRole('spinbutton')).toHaveAttribute('aria-valuenow', '0.3');
  await saved(page);
});

test('steps fold into an expression and unfold, with the same picture', async ({ page }) => {
  await openCurtain(page);
  const before = await rangeOf(page, 'ember-4');
  const words = await wordsOf(page, 'ember')();
  await step(page, 'ember-4').focus();
  await page.keyboard.press('f');
  await expect.poll(async () => (await wordsOf(page, 'ember')())[0]).toBe('value');
  const folded = page.locator('[data-strand="ember"] [data-step]').first();
  await expect(folded.getByTitle('clamp(remap(')).toBeVisible();
  const id = (await folded.getAttribute('data-step'))!;
  await expect.poll(() => rangeOf(page, id)).toEqual(before);
  await page.keyboard.press('u');
  await expect.poll(async () => (await wordsOf(page, 'ember')()).length).toBeGreaterThan(3);
  await undo(page);
  await undo(page);
  await expect.poll(wordsOf(page, 'ember')).toEqual(words);
  await step(page, 'order-1').focus();
  await page.keyboard.press('u');
  await expect(page.getByText('Only an expression at the head of its strand can be unfolded.')).toBeVisible();
  await saved(page);
});

test('several steps are chosen, copied as text and pasted; notes, collapsing, definition and uses', async ({
  page,
  context,
}) => {
  await context.grantPermissions(['clipboard-read', 'clipboard-write']);
  await openCurtain(page);
  await step(page, 'ember-2').focus();
  await page.keyboard.press('Shift+ArrowRight');
  await expect(page.locator('.card.chosen')).toHaveCount(2);
  await page.keyboard.press('Control+c');
  await expect(page.getByText('2 steps copied')).toBeVisible();
  const text = await page.evaluate(() => navigator.clipboard.readText());
  expect((JSON.parse(text) as { format: string }).format).toBe('wicked-veil/clipping');
  await step(page, 'remains-2').focus();
  await page.keyboard.press('Control+v');
  await expect.poll(wordsOf(page, 'remains')).toEqual(['front', 'step', 'remap', 'clamp']);
  await page.locator('[data-strand="remains"] [data-step]').nth(2).focus();
  await page.keyboard.press('Shift+ArrowRight');
  await page.keyboard.press('m');
  await expect(page.locator('[data-strand="remains"] .card.muted')).toHaveCount(2);
  await page.keyboard.press('Delete');
  await expect.poll(wordsOf(page, 'remains')).toEqual(['front', 'step']);

  await step(page, 'remains-2').focus();
  await page.keyboard.press('q');
  await page.getByRole('textbox', { name: 'Note on step' }).fill('where the cloth ends');
  await page.keyboard.press('Enter');
  await expect(page.getByText('where the cloth ends')).toBeVisible();

  await step(page, 'remains-1').focus();
  await page.keyboard.press('g');
  await expect(step(page, 'front-2')).toBeFocused();
  await page.keyboard.press('w');
  await expect(page.getByText(/front is used by remains/)).toBeVisible();
  // remains, the ember and the cloth read it; the step that was asked about is not among them.
  await expect(page.locator('.card.chosen')).toHaveCount(3);
  await expect(step(page, 'front-2')).not.toHaveClass(/chosen/);

  await step(page, 'remains-1').focus();
  await page.keyboard.press('s');
  await expect(page.locator('[data-strand="remains"]')).toContainText('value → step');
  await expect(page.locator('[data-strand="remains"] [data-step]')).toHaveCount(0);
  await page.getByRole('button', { name: 'Spread out remains' }).click();
  await expect(step(page, 'remains-2')).toBeVisible();
  for (let i = 0; i < 6; i += 1) await undo(page);
  await expect(page.getByText('where the cloth ends')).toHaveCount(0);
  await saved(page);
});

test('GLSL is imported: a guess corrected, uniforms as parameters, a wrong source told where', async ({
  page,
}) => {
  await openCurtain(page);
  await page.getByRole('button', { name: 'Import GLSL' }).click();
  const dialog = page.getByRole('dialog');
  const source = dialog.getByRole('textbox', { name: 'GLSL to import' });
  await source.fill('void main() {\n  gl_FragColor = vec4(1.0;\n}');
  await expect(dialog.getByRole('alert')).toContainText('2:');
  await source.fill('x'.repeat(300_000));
  await expect(dialog.getByRole('alert')).toContainText('at most 262144 are read');
  await source.fill(
    'precision mediump float;\nvarying vec2 vPlace;\nuniform float amount;\nuniform vec3 tintColor;\nvoid main() {\n  float ring = smoothstep(0.02, 0.0, abs(length(vPlace - 0.5) - amount * 0.5));\n  gl_FragColor = vec4(tintColor * ring, 1.0);\n}',
  );
  await expect(dialog).toContainText('2 parameters, 2 strands');
  await dialog.getByRole('textbox', { name: 'vPlace reads' }).fill('uv');
  await dialog.getByLabel('Name').fill('Old ring');
  await dialog.getByRole('button', { name: 'Import' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('Old ring');
  await expect(parameter(page, 'amount')).toBeVisible();
  await expect(page.getByRole('group', { name: 'fragment step' })).toBeVisible();
  await stageRests(page);
  await expect(page.locator('[data-strand="painted"]').getByRole('alert')).toHaveCount(0);
  await saved(page);
  // Shader, material and its place on the stage came as one, and go as one.
  await undo(page);
  await expect(page.getByRole('heading', { level: 1 })).not.toContainText('Old ring');
  await expect(page.getByRole('button', { name: 'Undo' })).toBeDisabled();
  await saved(page);
});

test('a dropped fragment is imported; any other file is refused in words, and the workshop stays', async ({
  page,
}) => {
  await openCurtain(page);
  const drop = async (name: string, text: string): Promise<void> => {
    const files = await page.evaluateHandle(
      ([file, content]) => {
        const data = new DataTransfer();
        data.items.add(new File([content!], file!, { type: 'text/plain' }));
        return data;
      },
      [name, text],
    );
    await page.getByTestId('stage').dispatchEvent('drop', { dataTransfer: files });
  };
  await drop('portrait.png', 'no picture');
  await expect(page.getByText('portrait.png is not read here; drop GLSL')).toBeVisible();
  await expect(page.getByRole('dialog')).toHaveCount(0);
  await drop(
    'rings of dust.frag',
    'precision mediump float;\nvarying vec2 vUv;\nfloat dust(float x) { return fract(x * 7.0); }\nfloat dust(vec2 p) { return dust(p.x) * dust(p.y); }\nvoid main() {\n  gl_FragColor = vec4(vec3(dust(vUv)), 1.0);\n}',
  );
  const dialog = page.getByRole('dialog');
  await expect(dialog.getByLabel('Name')).toHaveValue('rings of dust');
  await expect(dialog.getByRole('alert')).toHaveCount(0);
  await expect(dialog.getByRole('textbox', { name: 'vUv reads' })).toHaveValue('uv');
  await dialog.getByRole('button', { name: 'Import' }).click();
  await expect(page.getByRole('heading', { level: 1 })).toContainText('rings of dust');
  await stageRests(page);
  await expect(page.locator('[data-strand]').getByRole('alert')).toHaveCount(0);
  await saved(page);
});

test('a parameter of every kind is made, and refused with a sentence where it is wrong', async ({ page }) => {
  await openCurtain(page);
  await show(page, 'Bell at midnight');
  const dialog = page.getByRole('dialog');
  const make = async (name: string, kind: string, standard?: string): Promise<void> => {
    await page.getByRole('button', { name: 'Add parameter' }).click();
    await dialog.getByLabel('Name').fill(name);
    await dialog.getByLabel('Type').selectOption({ label: kind });
    if (standard !== undefined) await dialog.getByLabel('Default').fill(standard);
    await dialog.getByLabel('Default').or(dialog.getByLabel('Name')).last().press('Enter');
    await expect(dialog).toHaveCount(0);
    await expect(parameter(page, name)).toBeVisible();
  };
  await page.getByRole('button', { name: 'Add parameter' }).click();
  const said = dialog.getByRole('alert');
  await dialog.getByLabel('Name').fill('vec3');
  await expect(said).toContainText('vec3');
  await dialog.getByLabel('Name').fill('2nd');
  await expect(said).not.toBeEmpty();
  await dialog.getByLabel('Name').fill('turn');
  await expect(said).toContainText('is used already in this shader');
  await dialog.getByLabel('Name').fill('toll');
  await dialog.getByLabel('Greatest').fill('-1');
  await expect(said).toContainText('Its range runs from 0 to -1');
  await dialog.getByLabel('Greatest').fill('3/2');
  await expect(said).toBeEmpty();
  await dialog.getByLabel('Type').selectOption({ label: 'vec3' });
  await dialog.getByLabel('Default').fill('1, 2');
  await expect(said).toContainText('A vec3 has 3 numbers');
  await dialog.getByRole('button', { name: 'Cancel' }).click();

  await make('ringFloat', 'float', '0.5');
  await make('ringInt', 'int', '1');
  await make('ringBool', 'bool');
  await make('ringPair', 'vec2', '0.25, 0.75');
  await make('ringTriple', 'vec3', '0.1');
  await make('ringFour', 'vec4', '1, 0, 0, 1');
  await make('ringColor', 'colour', '0.2, 0.4, 0.6, 1');
  await make('ringCurve', 'curve');
  await make('ringGradient', 'gradient');
  await make('ringNoise', 'noise', '1, 4');
  await make('ringPicture', 'texture');
  expect(await figure(parameter(page, 'ringFloat'))).toBe(0.5);
  expect(await figure(parameter(page, 'ringInt'))).toBe(1);
  await expect(parameter(page, 'ringPair').getByRole('spinbutton')).toHaveCount(2);
  await expect(parameter(page, 'ringFour').getByRole('spinbutton')).toHaveCount(4);
  await saved(page);
  for (let i = 0; i < 11; i += 1) await undo(page);
  await expect(parameter(page, 'ringFloat')).toHaveCount(0);
  await saved(page);
});

test('the handover gives WGSL and bindings too, and says what the game must do', async ({ page }) => {
  // The shader that was worked on is the one that is handed over.
  await openCurtain(page);
  await show(page, 'Bell at midnight');
  await page.getByRole('link', { name: 'Handover' }).click();
  await expect(page.getByLabel('Shader')).toHaveValue('bell-swing');
  await expect(page.getByRole('cell', { name: /lifetime\[0\]\.xyz/ })).toBeVisible();
  await expect(page.getByText('drives -14 … 6')).toBeVisible();
  await page.getByRole('tab', { name: 'WGSL' }).click();
  await expect(page.getByTestId('source')).toContainText('fn fragmentMain(');
  await page.getByRole('tab', { name: 'Bindings' }).click();
  await expect(page.getByTestId('source')).toContainText('export interface BellSwingValues');
  for (const name of ['WGSL', 'Bindings']) {
    const download = page.waitForEvent('download');
    await page.getByRole('button', { name }).click();
    expect((await download).suggestedFilename()).toMatch(/^bell-swing\.(wgsl|ts)$/);
  }
});

test('parts are added and taken out with every refusal a code and a sentence', async ({ request }) => {
  const { id } = (await (await request.post('/api/projects', { data: { name: 'Workroom' } })).json()) as {
    id: string;
  };
  const path = `/api/projects/${id}/parts`;
  const motif = { id: 'near', kind: 'motif', name: 'Near', body: emptyMotif() };
  const made = await request.post(path, { data: motif });
  expect([made.status(), ((await made.json()) as { revision: number }).revision]).toEqual([201, 1]);
  for (const [data, status, code] of [
    [motif, 409, 'conflict'],
    [{ ...motif, id: '../x' }, 422, 'invalid'],
    [{ ...motif, id: 'b', kind: 'spell' }, 422, 'invalid'],
    [{ ...motif, id: 'b', body: { format: 'wicked-veil/motif', version: 9 } }, 422, 'invalid'],
    [{ ...motif, id: 'b', name: '' }, 422, 'invalid'],
  ] as const) {
    const answer = await request.post(path, { data });
    expect([answer.status(), ((await answer.json()) as { code: string }).code]).toEqual([status, code]);
  }
  const user = sketchShader({ a: [{ operator: 'motif', motif: 'near', arguments: {} }] });
  await request.post(path, { data: { id: 'user', kind: 'shader', name: 'User', body: user } });
  const refused = await request.delete(`${path}/near`);
  expect(refused.status()).toBe(409);
  expect(await refused.json()).toMatchObject({
    code: 'in-use',
    users: ['User'],
    message: '“Near” is used by User; take it out there first.',
  });
  expect((await request.delete(`${path}/user`)).status()).toBe(200);
  expect((await request.delete(`${path}/near`)).status()).toBe(200);
  expect((await request.delete(`${path}/near`)).status()).toBe(404);
});

test('forty strands: only what is in sight has its pictures drawn, and scrolling brings the rest', async ({
  page,
  request,
}) => {
  const { id } = (await (await request.post('/api/projects', { data: { name: 'Forty' } })).json()) as {
    id: string;
  };
  const strands = Object.fromEntries(
    Array.from({ length: 40 }, (_, i) => [
      `row${i}`,
      [['value', { x: `uv.x * ${i}.0` }], ['fract'], ['invert']] as const,
    ]),
  );
  const shader = sketchShader(strands, { baseColor: 'vec3(row39)' });
  const { revision } = { revision: 1 };
  await request.put(`/api/projects/${id}/parts/shader`, {
    data: { revision, name: 'Forty strands', body: shader },
  });
  await page.goto(`/projects/${id}`);
  await stageRests(page);
  const barOf = (row: number) => page.locator(`[data-step="row${row}-1"]`).getByRole('img');
  await expect(barOf(1)).toHaveAttribute('aria-label', /from/);
  await expect(barOf(39)).toHaveAttribute('aria-label', 'Values not drawn yet');
  await barOf(39).scrollIntoViewIfNeeded();
  await expect(barOf(39)).toHaveAttribute('aria-label', /from/);
});
