import { expect, type Page } from '@playwright/test';
import { COARSE, openCurtain, parameter, saved, stageRests, test } from './stage.ts';
import { wordsOf, undo, rangeOf, addStep } from './score.ts';

test.use(COARSE);
const writeCode = async (page: Page, code: string): Promise<void> => {
  const editor = page.getByRole('textbox', { name: 'Code of the step' });
  await editor.click();
  await page.keyboard.press('Control+a');
  await page.evaluate((text) => document.execCommand('insertText', false, text), code);
};

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
