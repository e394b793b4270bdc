// npm run shots: the pictures in docs/screenshots, made from fresh demo data in a database of their own.
import { mkdirSync } from 'node:fs';
import { join } from 'node:path';
import { CHROMIUM, ensureDebian } from './setup/debian.mjs';
import { ensureBuild, ensureModules } from './setup/modules.mjs';
import { freePort } from './setup/port.mjs';
import { startPostgres } from './setup/postgres.mjs';
import { ROOT, say } from './setup/run.mjs';
import { prepareDatabase, startServer } from './setup/server.mjs';

await ensureDebian({ browser: true });
await ensureModules();
await ensureBuild();
const { chromium } = await import('@playwright/test');
const { default: config } = await import('../playwright.config.ts').catch(() => ({ default: null }));
const FLAGS =
  config?.use?.launchOptions?.args ??
  '--no-sandbox --use-gl=angle --use-angle=swiftshader --enable-unsafe-swiftshader'.split(' ');

const postgres = await startPostgres({ name: '.postgres-shots', reset: true });
await prepareDatabase(postgres.address, { demo: true });
const server = await startServer({ address: postgres.address, port: await freePort(), quiet: true });
const browser = await chromium.launch({ executablePath: CHROMIUM, args: FLAGS });
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const folder = join(ROOT, 'docs/screenshots');
mkdirSync(folder, { recursive: true });

const rests = () => page.locator('canvas[data-compiled=yes][data-rests=yes]').waitFor();
const shoot = async (name) => {
  await page.waitForTimeout(700);
  await page.screenshot({ path: join(folder, `${name}.png`) });
  say(`docs/screenshots/${name}.png`);
};

await page.goto(server.url);
await page.locator('article img').waitFor();
await shoot('wall');
await page.getByRole('link', { name: 'Open The Gallowglass Playhouse' }).click();
await rests();
await shoot('workshop');

await page
  .locator('[data-step="front-2"]')
  .getByRole('button', { name: /y: mix/ })
  .click();
await page.keyboard.type('mix(-edgeWidht, 1.0, burn)');
await page.keyboard.press('Enter');
await page.getByRole('alert').first().waitFor();
await shoot('mistake');
await page.getByRole('button', { name: 'Undo' }).click();

await page.getByRole('button', { name: 'Tap subtract' }).first().click();
await rests();
await shoot('tap');
await page.keyboard.press('Escape');

await page.getByRole('tab', { name: 'Script' }).click();
await page.getByRole('button', { name: 'Rehearse' }).click();
await page.keyboard.press('Space');
await page.waitForTimeout(2500);
await page.keyboard.press('Space');
await page.waitForTimeout(1500);
await shoot('rehearsal');
await page.getByRole('button', { name: 'Stop', exact: true }).click();

await page.getByRole('link', { name: 'Handover' }).click();
await page.getByTestId('source').waitFor();
await shoot('handover');
await page.getByRole('link', { name: 'Back to the workshop' }).click();
await page.getByRole('tab', { name: 'Strands' }).click();
await page.getByRole('button', { name: 'Blackout theme' }).click();
await rests();
await shoot('blackout');

await page.getByRole('button', { name: /theme/ }).click();

await page.getByLabel('Material shown').selectOption({ label: 'Arches, upstage' });
await rests();
await page.getByTitle('Edit the code').first().click();
await page.getByRole('textbox', { name: 'Code of the step' }).waitFor();
await shoot('code');
await page.getByRole('button', { name: 'Done' }).click();

await page.getByRole('button', { name: 'Motifs' }).click();
await page.getByRole('menuitem', { name: /Near and far/ }).click();
await page.getByTestId('open-motif').waitFor();
// What shows it is compiled and drawn anew first, and its steps' pictures after that.
await page.waitForTimeout(500);
await rests();
await shoot('motif');
await page.getByRole('button', { name: 'Back to the shader' }).click();

await page.getByLabel('Set on the stage').selectOption({ label: 'Furnace mouth' });
await page.getByRole('tab', { name: 'Stage' }).click();
await page.getByRole('region', { name: 'Prop Door, left leaf' }).focus();
await page.keyboard.press('Enter');
await page.locator('[data-prop] img').first().waitFor();
await page.waitForTimeout(4000);
await rests();
await shoot('stage');
await page.keyboard.press('Control+o');
await page
  .getByRole('group', { name: 'Embossed playbill, set' })
  .locator('img')
  .waitFor({ timeout: 120_000 });
await shoot('parts');
await page.keyboard.press('Escape');
await page.getByLabel('Set on the stage').selectOption({ label: 'Footlight shimmer' });
await page.getByRole('tab', { name: 'Textures' }).click();
await page.locator('[data-texture="Footlight shimmer"]').click();
await page.getByTestId('texture').waitFor();
await page.getByRole('button', { name: 'shader of Footlight shimmer' }).locator('canvas').waitFor();
await page.waitForTimeout(6000);
await shoot('textures');
await page.getByRole('tab', { name: 'Strands' }).click();
await page.getByLabel('Set on the stage').selectOption({ label: 'Bell swing' });
await page.getByRole('tab', { name: 'Cues' }).click();
await page.waitForTimeout(500);
await rests();
await page.getByRole('slider', { name: 'Crescent, a layer of sweep' }).focus();
await page.getByRole('slider', { name: 'Playhead of sweep' }).focus();
for (let frame = 0; frame < 5; frame += 1) await page.keyboard.press('ArrowRight');
await page.waitForTimeout(500);
await rests();
await shoot('flourish');
await page.getByRole('button', { name: 'Let go' }).click();
await page.getByLabel('Set on the stage').selectOption({ label: 'Ghost light' });
await page.getByRole('tab', { name: 'Cues' }).click();
await page.waitForTimeout(500);
await rests();
await page.getByRole('button', { name: 'Record a take' }).click();
await page.waitForTimeout(1500);
await page.keyboard.press('e');
await page.getByText(/^stands at/).waitFor();
await page.getByRole('button', { name: 'Keep as a take' }).click();
await page.locator('[data-take]').press('Enter');
await page.getByLabel('Tick of the take').fill('150');
await page.locator('[data-cue]').first().click();
await rests();
await shoot('cues');
await page.getByRole('button', { name: 'Close the take' }).click();
await page.getByRole('tab', { name: /^Checks/ }).click();
await page.getByLabel('holds', { exact: true }).first().waitFor();
await page.locator('[data-check]').first().waitFor();
await shoot('checks');
await page.getByRole('tab', { name: 'Strands' }).click();
// The ghost light is still there: a pin on its wall, plotted.
const stage = await page.getByTestId('stage').boundingBox();
await page.keyboard.press('x');
await page.mouse.click(stage.x + stage.width * 0.3, stage.y + stage.height * 0.4);
await page.getByRole('tab', { name: 'Plot' }).click();
await page.getByRole('combobox', { name: 'against' }).selectOption({ label: 'radius' });
await page.getByRole('slider', { name: 'radius now' }).waitFor();
await shoot('plot');
await page.getByRole('tab', { name: 'Strands' }).click();
await page.getByRole('button', { name: 'Undo' }).click();

await page.getByLabel('Set on the stage').selectOption({ label: 'Proscenium' });
await rests();
await page.getByRole('button', { name: 'Compare', exact: true }).click();
await page.locator('[data-parameter="burn"]').getByRole('spinbutton').first().click();
await page.keyboard.type('0.15');
await page.keyboard.press('Enter');
await page.locator('canvas[data-testid=compared][data-rests=yes]').waitFor();
await page.locator('canvas[data-testid=stage][data-rests=yes]').waitFor();
await shoot('compare');
await page.getByRole('button', { name: 'End the comparison' }).click();
await page.getByRole('button', { name: 'Undo' }).click();
await page.keyboard.press('Control+k');
await page.getByRole('combobox', { name: 'Search commands' }).fill('Sweep burn');
await page.keyboard.press('Enter');
await page.getByTestId('swept').waitFor();
await shoot('sweep');
await page.getByRole('button', { name: 'Close the sweep' }).click();

await page
  .getByRole('button', { name: /^Add a step to/ })
  .first()
  .click();
await page.getByRole('combobox', { name: 'Search operators' }).fill('noise');
await shoot('palette');

await browser.close();
await server.stop();
await postgres.stop();
