import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import sharp from 'sharp';
import { expect, type Page } from '@playwright/test';
import { board, byte, openWith } from './plainSet.ts';
import { apart, picture, pictureOn } from './pixels.ts';
import { undo } from './score.ts';
import { COARSE, figure, openCurtain, parameter, saved, stageRests, test } from './stage.ts';

test.use(COARSE);

const GLOWING = { baseColor: 'vec3(0.0)', emission: 'brass', roughness: '1.0' };
const wall = board('Wall', [3, 3], [0, 1, 0]);
const camera = { position: [0, 1, 4], target: [0, 1, 0], fieldOfView: 30 };
const cues = (page: Page) => page.getByRole('tab', { name: 'Cues' }).click();
const row = (page: Page, name: string) => page.locator(`[data-cue="${name}"]`);
/** A number that is typed into a field. */
const type = async (page: Page, label: string, text: string): Promise<void> => {
  await page.getByRole('spinbutton', { name: label, exact: true }).click();
  await page.keyboard.press('Control+a');
  await page.keyboard.type(text);
  await page.keyboard.press('Enter');
};
/** What the middle of the stage is of linear light, of the brass at so many stops. */
const brass = (stops: number): number[] => [0.86, 0.6, 0.24].map((c) => byte(c * 2 ** stops));

test('a cue is made, named, drawn, scrubbed, started by its key, copied, deleted and undone', async ({
  page,
}) => {
  await openWith(page, { props: [wall], camera }, false, GLOWING);
  await cues(page);
  await page.getByRole('button', { name: 'Add cue' }).click();
  await expect(page.getByRole('textbox', { name: 'Name of the cue' })).toBeFocused();
  await page.keyboard.type('kindle');
  await page.keyboard.press('Enter');
  await expect(row(page, 'kindle')).toContainText('2.00 s, then holds');
  await page.getByRole('button', { name: 'Let kindle drive something more' }).click();
  await page.getByRole('menuitem', { name: 'brass', exact: true }).click();
  await page.getByRole('slider', { name: 'Key 2 of brass x' }).focus();
  await type(page, 'Key stops', '-2.4');
  await page.getByRole('button', { name: 'straight' }).click();
  await page.getByRole('slider', { name: 'Key 1 of brass x' }).focus();
  await page.getByRole('button', { name: 'straight' }).click();
  expect(apart((await picture(page))(0.5, 0.5), brass(-0.4))).toBeLessThan(2);
  // The playhead shows the set at a time, and lets go of it.
  const ruler = page.getByRole('slider', { name: 'Playhead of kindle' });
  const { x, y } = (await ruler.boundingBox())!;
  await page.mouse.click(x + 14 + 260, y + 12);
  await expect(ruler).toHaveAttribute('aria-valuenow', '1');
  expect(apart((await picture(page))(0.5, 0.5), brass(-1.4))).toBeLessThan(2);
  await expect(parameter(page, 'brass')).toContainText('a cue');
  await page.getByRole('button', { name: 'Let go' }).click();
  expect(apart((await picture(page))(0.5, 0.5), brass(-0.4))).toBeLessThan(2);
  // A key by double click, moved by a frame, deleted.
  const lane = page.getByRole('group', { name: 'kindle, brass' });
  const box = (await lane.boundingBox())!;
  await page.mouse.dblclick(box.x + 14 + 130, box.y + 30);
  const key = page.getByRole('slider', { name: 'Key 2 of brass x, at 0.50 s' });
  await expect(key).toBeVisible();
  await key.press('ArrowRight');
  await page.getByRole('slider', { name: 'Key 2 of brass x, at 0.53 s' }).press('Delete');
  await expect(page.getByRole('slider', { name: 'Key 2 of brass x, at 2.00 s' })).toBeVisible();
  // Started by a key; what it drove is let go of when the rehearsal ends.
  await page.getByRole('button', { name: 'Add a start' }).click();
  await page.getByRole('button', { name: 'Key that starts it' }).click();
  await page.keyboard.press('e');
  await expect(row(page, 'kindle')).toContainText('cue · E');
  await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
  await expect(page.getByTestId('keys-heard')).toContainText('E kindle');
  await page.keyboard.press('e');
  await expect(parameter(page, 'brass')).toContainText('cue kindle');
  await expect(row(page, 'kindle')).toContainText('stands at 2.00 s');
  // Changed while it is rehearsed, it drives otherwise at once.
  await page.getByRole('slider', { name: 'Key 2 of brass x' }).focus();
  await type(page, 'Key stops', '-3');
  await expect(parameter(page, 'brass')).toContainText('−3.00 st');
  await type(page, 'Key stops', '-2.4');
  await expect(parameter(page, 'brass')).toContainText('−2.40 st');
  // What it drove can be kept, one by one.
  await page.getByRole('button', { name: 'Keep brass' }).click();
  await page.keyboard.press('Escape');
  await expect(parameter(page, 'brass')).not.toContainText('cue');
  const stops = page.getByRole('spinbutton', { name: 'brass intensity' });
  await expect(stops).toHaveAttribute('aria-valuenow', '-2.4');
  await undo(page);
  await expect(stops).toHaveAttribute('aria-valuenow', '-0.4');
  // By keys: a copy, gone, and back.
  await row(page, 'kindle').press('d');
  await expect(row(page, 'kindle 2')).toBeVisible();
  await row(page, 'kindle 2').press('Delete');
  await expect(row(page, 'kindle 2')).toHaveCount(0);
  await undo(page);
  await expect(row(page, 'kindle 2')).toBeVisible();
  await saved(page);
  await page.reload();
  await cues(page);
  await expect(row(page, 'kindle 2')).toContainText('cue · E');
});

test('a parameter is fed by a rule of the set: chosen, seen, told of where it cannot be, taken away and undone', async ({
  page,
}) => {
  await openCurtain(page);
  const speed = parameter(page, 'speed');
  await speed.hover();
  await page.getByRole('button', { name: 'What feeds speed' }).click();
  await page.getByLabel('speed is fed by').selectOption({ label: 'a wave of time' });
  await type(page, 'period', '1');
  await expect(speed).toContainText('a wave of 1.00 s');
  const before = await figure(speed);
  await page.getByRole('button', { name: 'Rehearse', exact: true }).click();
  await expect.poll(() => figure(speed)).not.toBe(before);
  await expect(speed.locator('svg.trace')).toBeVisible();
  await page.keyboard.press('Escape');
  await expect.poll(() => figure(speed)).toBe(before);
  await page.getByLabel('speed is fed by').selectOption({ label: 'nearness' });
  await page.getByLabel('What is followed').selectOption({ label: 'Bell swing' });
  await expect(speed).toContainText('Bell swing near Curtain, house left');
  await page.getByRole('tab', { name: 'Stage' }).click();
  await page.locator('[data-prop="Bell swing"]').press('Delete');
  await page.getByLabel('Material shown').selectOption({ label: 'Velvet, house left' });
  await expect(page.getByText('The prop that this follows was deleted.')).toBeVisible();
  await undo(page);
  await page.getByLabel('Material shown').selectOption({ label: 'Velvet, house left' });
  await expect(page.getByText('The prop that this follows was deleted.')).toHaveCount(0);
  await page.getByLabel('speed is fed by').selectOption({ label: 'nothing in Proscenium' });
  await expect(speed).not.toContainText('Bell swing');
  await undo(page);
  await expect(speed).toContainText('Bell swing near');
  await saved(page);
});

test('a take keeps what came in, a click too, replays the same, and says what another cue makes of it', async ({
  page,
}) => {
  const kindle = {
    ...{ id: 'kindle', name: 'kindle', length: 0.5, starts: [{ by: 'click', prop: 'Wall' }] },
    tracks: [
      {
        ...{ id: 't', target: { kind: 'parameter', of: 'brass-work', what: 'worn-brass-brass' } },
        keys: [
          { at: 0, value: [0, 0, 0, 0] },
          { at: 0.5, value: [0.2, 0.4, 0.6, 0] },
        ],
      },
    ],
  };
  await openWith(page, { props: [wall], camera, cues: [kindle] }, false, GLOWING);
  await cues(page);
  await page.getByRole('button', { name: 'Record a take' }).click();
  await expect(page.getByTestId('rehearsal-notes')).toContainText('recording');
  // The script’s engine takes a moment: what comes in before is heard in the first tick.
  await expect(page.getByTestId('rehearsal-notes')).toContainText(/00:\d\d\.[1-9]/);
  const stage = (await page.getByTestId('stage').boundingBox())!;
  await page.mouse.click(stage.x + stage.width / 2, stage.y + stage.height / 2);
  await expect(row(page, 'kindle')).toContainText('stands at 0.50 s');
  await page.getByRole('button', { name: 'Keep as a take' }).click();
  const take = page.locator('[data-take="Take 1"]');
  await expect(take).toBeVisible();
  await take.press('F2');
  await page.keyboard.type('Struck once');
  await page.keyboard.press('Enter');
  await page.locator('[data-take="Struck once"]').press('Enter');
  await expect(page.getByText('Every number is as it was recorded.')).toBeVisible();
  await page.getByLabel('Tick of the take').press('End');
  await expect(page.getByRole('table', { name: 'Driven in this tick' })).toContainText('0.20 0.40 0.60 0.00');
  const [r, g, b] = [0.2, 0.4, 0.6].map(byte);
  expect(apart((await picture(page))(0.5, 0.5), [r!, g!, b!])).toBeLessThan(2);
  await page.getByLabel('Tick of the take').press('Home');
  await expect(page.getByText('Nothing is driven in this tick.')).toBeVisible();
  const download = page.waitForEvent('download');
  await page.getByRole('button', { name: 'Values as JSON' }).click();
  const values = JSON.parse(readFileSync(await (await download).path(), 'utf8')) as {
    inputs: { kind: string; hit: { prop: string; distance: number } }[];
    changes: { values: Record<string, number[]> }[];
  };
  const click = values.inputs.find((each) => each.kind === 'click')!;
  expect(click.hit.prop).toBe('Wall');
  expect(click.hit.distance).toBeCloseTo(4, 2);
  expect(values.changes.at(-1)!.values['brass-work brass']).toEqual([0.2, 0.4, 0.6, 0]);
  // Frame by frame, each as it stands at its tick.
  const frames = page.waitForEvent('download');
  await page.getByLabel('Pictures', { exact: true }).selectOption({ label: '12 a second, as PNG' });
  const files = unzipSync(readFileSync(await (await frames).path()));
  const names = Object.keys(files).sort();
  expect(names.length).toBeGreaterThan(4);
  expect(names[0]).toBe('struck-once-00000.png');
  const { data, info } = await sharp(files[names.at(-1)!])
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const middle = (Math.round(info.height / 2) * info.width + Math.round(info.width / 2)) * 3;
  expect(apart([...data.subarray(middle, middle + 3)], [r!, g!, b!])).toBeLessThan(2);
  // The same as a film, which a browser plays.
  const film = page.waitForEvent('download');
  await page.getByLabel('Pictures', { exact: true }).selectOption({ label: '12 a second, as WebM' });
  const made = await film;
  expect(made.suggestedFilename()).toBe('struck-once.webm');
  const blank = await page.context().newPage();
  const shown = await blank.evaluate(
    async (bytes) => {
      const video = document.createElement('video');
      const comes = (event: string) =>
        new Promise((done) => video.addEventListener(event, done, { once: true }));
      video.src = `data:video/webm;base64,${bytes}`;
      await comes('loadeddata');
      video.currentTime = video.duration - 0.02;
      await comes('seeked');
      const canvas = new OffscreenCanvas(video.videoWidth, video.videoHeight);
      const context = canvas.getContext('2d')!;
      // “seeked” may be said before there is a picture: nothing is drawn of it until then, not even black.
      for (;;) {
        context.drawImage(video, 0, 0);
        const [r, g, b, a] = context.getImageData(canvas.width >> 1, canvas.height >> 1, 1, 1).data;
        if (a) return { seconds: video.duration, color: [r!, g!, b!] };
        await new Promise((done) => setTimeout(done, 20));
      }
    },
    readFileSync(await made.path()).toString('base64'),
  );
  await blank.close();
  expect(shown.seconds).toBeCloseTo(names.length / 12, 1);
  expect(apart(shown.color, [r!, g!, b!]), String(shown.color)).toBeLessThan(10);
  // The cue is another now: the take says from when on, and what.
  await page.getByRole('button', { name: 'Close the take' }).click();
  await page.getByRole('slider', { name: 'Key 2 of brass x' }).focus();
  await type(page, 'Key stops', '1');
  await page.locator('[data-take="Struck once"]').press('Enter');
  await expect(page.getByRole('alert')).toContainText(
    /At .* s brass of Brass work is .+, and was .+ 0\.00\./,
  );
  await page.getByRole('button', { name: 'Take it as it is now' }).click();
  await expect(page.getByText('Every number is as it was recorded.')).toBeVisible();
  await page.locator('[data-take="Struck once"]').press('Delete');
  await expect(page.locator('[data-take="Struck once"]')).toHaveCount(0);
  await undo(page);
  await expect(page.locator('[data-take="Struck once"]')).toBeVisible();
  await stageRests(page);
  await saved(page);
});

test('while it is rehearsed, a picture that nothing changes is not drawn again', async ({ page }) => {
  await openWith(page, { props: [wall], camera }, false, GLOWING);
  await page.getByRole('button', { name: 'Rehearse' }).click();
  const frames = () => page.getByTestId('stage').getAttribute('data-frames');
  const rehearsed = async (): Promise<number> => {
    const [, minutes, seconds] =
      /(\d\d):(\d\d\.\d)/.exec((await page.getByTestId('rehearsal-notes').textContent()) ?? '') ?? [];
    return Number(minutes) * 60 + Number(seconds);
  };
  await expect.poll(rehearsed).toBeGreaterThan(1);
  await stageRests(page);
  const before = await frames();
  const since = await rehearsed();
  await expect.poll(rehearsed).toBeGreaterThan(since + 2);
  expect(await frames()).toBe(before);
});

test('two takes are wiped against each other, each as it stands at the tick', async ({ page }) => {
  const lit = (id: string, key: string, color: readonly number[]) => ({
    ...{ id, name: id, length: 0.2, starts: [{ by: 'key', key }] },
    tracks: [
      {
        ...{ id: `${id}-t`, target: { kind: 'parameter', of: 'brass-work', what: 'worn-brass-brass' } },
        keys: [{ at: 0, value: color }],
      },
      {
        ...{ id: `${id}-p`, target: { kind: 'prop', of: 'Wall', what: 'position' } },
        keys: [{ at: 0, value: [0, color[0]! > 0 ? 1 : 1.4, 0] }],
      },
    ],
  });
  const struck = [lit('red', 'KeyA', [0.5, 0, 0, 0]), lit('green', 'KeyB', [0, 0.5, 0, 0])];
  await openWith(page, { props: [board('Wall', [3, 1], [0, 1, 0])], camera, cues: struck }, false, GLOWING);
  await cues(page);
  for (const [name, key, kept] of [
    ['red', 'a', 'Take 1'],
    ['green', 'b', 'Take 2'],
  ] as const) {
    await page.getByRole('button', { name: 'Record a take' }).click();
    await expect(page.getByTestId('rehearsal-notes')).toContainText(/00:\d\d\.[1-9]/);
    await page.keyboard.press(key);
    await expect(row(page, name)).toContainText('stands at 0.20 s');
    await page.getByRole('button', { name: 'Keep as a take' }).click();
    // Until it is kept, keys are the player’s.
    await expect(page.locator(`[data-take="${kept}"]`)).toBeVisible();
  }
  // At the end of the longer one both have come to where their cue leaves them, however slowly the keys were struck.
  const seconds = async (name: string): Promise<number> =>
    Number(/([\d.]+) s/.exec((await page.locator(`[data-take="${name}"]`).textContent()) ?? '')![1]);
  const isFirst = (await seconds('Take 1')) >= (await seconds('Take 2'));
  const [open, beside] = isFirst ? ['Take 1', 'Take 2'] : ['Take 2', 'Take 1'];
  await page.locator(`[data-take="${open}"]`).press('Enter');
  await page.getByLabel('Tick of the take').press('End');
  await page.getByLabel('Take beside it').selectOption({ label: beside! });
  await page.getByRole('button', { name: 'Wipe' }).click();
  const compared = page.getByTestId('compared');
  await expect(compared).toHaveAttribute('data-rests', 'yes');
  const both = [await picture(page), await pictureOn(compared)] as const;
  const [red, green] = isFirst ? both : ([both[1], both[0]] as const);
  expect(apart(red(0.5, 0.5), [0.5, 0, 0].map(byte))).toBeLessThan(2);
  expect(apart(green(0.5, 0.5), [0, 0.5, 0].map(byte))).toBeLessThan(2);
  // What each has moved stands where it moved it: half a metre above the middle one has the wall, the other not.
  const high = 0.5 - 0.75 / (2 * 4 * Math.tan((15 * Math.PI) / 180));
  expect(apart(green(0.5, high), [0, 0.5, 0].map(byte))).toBeLessThan(2);
  expect(apart(red(0.5, high), [0.5, 0, 0].map(byte))).toBeGreaterThan(40);
  await page.getByRole('button', { name: 'Wipe' }).click();
  await expect(compared).toHaveCount(0);
  await saved(page);
});

test('a cue has two sides: turned round it goes back at its own pace with its own embers; a curve is split, and one again', async ({
  page,
}) => {
  await openCurtain(page);
  await cues(page);
  await row(page, 'burn').click();
  const lane = (side: string) => page.getByRole('group', { name: `burn, burn${side}`, exact: true });
  await lane('').getByRole('slider').first().focus();
  await expect(page.getByText('This curve counts both ways.')).toBeVisible();
  await page.getByRole('button', { name: 'Give the way back its own' }).click();
  await expect(lane(', there')).toBeVisible();
  await expect(lane(', back')).toBeVisible();
  await page.getByRole('button', { name: 'One curve both ways' }).click();
  await expect(lane('')).toBeVisible();
  await expect(lane(', back')).toHaveCount(0);
  await expect(page.getByRole('spinbutton', { name: 'Back in' })).toHaveText('5.00 s');
  await type(page, 'Back in', '0.5');
  await page.getByRole('button', { name: 'Rehearse' }).click();
  await page.keyboard.press('b');
  await expect.poll(() => figure(parameter(page, 'burn'))).toBe(1);
  expect(await figure(parameter(page, 'mending'))).toBe(0);
  await page.keyboard.press('b');
  await expect.poll(() => figure(parameter(page, 'mending'))).toBe(1);
  await expect.poll(() => figure(parameter(page, 'burn'))).toBe(0);
  await page.getByRole('button', { name: 'Stop', exact: true }).click();
  await stageRests(page);
});
