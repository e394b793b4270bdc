import { readFileSync } from 'node:fs';
import { chromium, type Page } from '@playwright/test';
import { handOver } from '#core/compileShader.ts';
import type { ShaderDocument } from '#core/document/shader.ts';
import { shader as shaderKind } from '#core/document/kinds/shader.ts';
import { shaderNumbers } from '#core/document/shader.ts';
import config from '../playwright.config.ts';
import { EFFECTS, handSource } from './effects.ts';
import { median, ratio, type Figure } from './measure.ts';

/** Runs in the page: draws two fragment shaders in turns on one target and times each to its end. */
const duel = (given: {
  readonly sources: readonly [string, string];
  readonly uniforms: Readonly<Record<string, readonly number[]>>;
  readonly ints: readonly string[];
}): { ratios: number[]; apart: number } => {
  const side = 512;
  const gl = new OffscreenCanvas(side, side).getContext('webgl2')!;
  const vertex = `#version 300 es
out vec2 v_uv; out vec3 v_position; out vec3 v_normal;
void main() { vec2 p = vec2(gl_VertexID & 1, gl_VertexID >> 1) * 2.0; v_uv = p; v_position = vec3(p, 0.0); v_normal = vec3(0.0, 0.0, 1.0); gl_Position = vec4(p * 2.0 - 1.0, 0.0, 1.0); }`;
  // Every sampler reads unit 0: one picture, the same for both.
  gl.bindTexture(gl.TEXTURE_2D, gl.createTexture());
  const picture = Uint8Array.from({ length: 64 * 64 * 4 }, (_, i) => (Math.imul(i, 2654435761) >>> 13) & 255);
  gl.texImage2D(gl.TEXTURE_2D, 0, gl.RGBA8, 64, 64, 0, gl.RGBA, gl.UNSIGNED_BYTE, picture);
  gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.LINEAR);
  const programs = given.sources.map((source) => {
    const program = gl.createProgram();
    for (const [kind, text] of [
      [gl.VERTEX_SHADER, vertex],
      [gl.FRAGMENT_SHADER, source],
    ] as const) {
      const shader = gl.createShader(kind)!;
      gl.shaderSource(shader, text);
      gl.compileShader(shader);
      const log = gl.getShaderInfoLog(shader);
      if (log) throw new Error(log);
      gl.attachShader(program, shader);
    }
    gl.linkProgram(program);
    gl.useProgram(program);
    for (const [name, x] of Object.entries(given.uniforms)) {
      const at = gl.getUniformLocation(program, name);
      if (given.ints.includes(name)) gl.uniform1i(at, x[0]!);
      else if (x.length === 1) gl.uniform1f(at, x[0]!);
      else gl.uniform3f(at, x[0]!, x[1]!, x[2]!);
    }
    return program;
  });
  const texel = new Uint8Array(4);
  const draw = (program: WebGLProgram): number => {
    gl.useProgram(program);
    const began = performance.now();
    for (let i = 0; i < 3; i += 1) gl.drawArrays(gl.TRIANGLES, 0, 3);
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, texel);
    return performance.now() - began;
  };
  const pictureOf = (program: WebGLProgram) => {
    draw(program);
    const all = new Uint8Array(side * side * 4);
    gl.readPixels(0, 0, side, side, gl.RGBA, gl.UNSIGNED_BYTE, all);
    return all;
  };
  const [a, b] = programs.map(pictureOf) as [Uint8Array, Uint8Array];
  let apart = 0;
  for (let i = 0; i < a.length; i += 1) if (Math.abs(a[i]! - b[i]!) > 2) apart += 1;
  // Drawn in turns, each first as often as second: what slows the machine down slows both.
  const ratios: number[] = [];
  for (let round = 0; round < 80; round += 1) {
    const times = [0, 0];
    for (const i of round % 2 ? [0, 1] : [1, 0]) times[i] = draw(programs[i]!);
    ratios.push(times[0]! / times[1]!);
  }
  return { ratios, apart: apart / a.length };
};

const curtain = (): { readonly name: string; readonly authored: ShaderDocument; readonly byHand: string } => {
  const file = readFileSync('demo/gallowglass/curtain-burn-away.shader.json', 'utf8');
  const { document: authored } = shaderKind.parse(JSON.parse(file));
  if (!authored) throw new Error('the curtain’s file is wrong');
  return {
    name: 'the curtain that burns',
    // Unlit on both sides: what is compared is the author's strands.
    authored: { ...authored, surface: { ...authored.surface, lit: false } },
    byHand: readFileSync('bench/curtain.frag', 'utf8'),
  };
};

const effectsByHand = async (page: Page): Promise<Figure[]> => {
  const figures: Figure[] = [];
  for (const { name, authored, byHand } of [
    curtain(),
    ...EFFECTS.map((each) => ({ ...each, byHand: handSource(each) })),
  ]) {
    const { source, diagnostics } = handOver(authored, name);
    if (!source) throw new Error(`${name}: ${JSON.stringify(diagnostics)}`);
    const numbers = authored.parameters
      .filter((each) => each.kind !== 'texture')
      .map((each) => [each.name, shaderNumbers(each.kind, each.name === 'burn' ? [0.46] : each.default)]);
    const { ratios, apart } = await page.evaluate(duel, {
      sources: [source.fragment, byHand] as const,
      uniforms: { ...Object.fromEntries(numbers), time: [1.25] },
      ints: authored.parameters.filter((each) => each.kind === 'int').map((each) => each.name),
    });
    if (apart > 0.002)
      throw new Error(`${name}: the two differ at ${(apart * 100).toFixed(1)} % of the picture`);
    figures.push({
      name: `generated: ${name}`,
      value: ratio(median(ratios), 1),
      against:
        'the same effect by hand in GLSL, the median of 80 frames’ ratios on one 512² target, drawn in turns',
    });
  }
  return figures;
};

export const browserFigures = async (url: string): Promise<Figure[]> => {
  const browser = await chromium.launch(config.use!.launchOptions!);
  try {
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto('about:blank');
    const figures = await effectsByHand(page);
    const projects = (await (await page.request.get(`${url}/api/projects`)).json()) as { id: string }[];
    const session = await page.context().newCDPSession(page);
    await session.send('Network.enable');
    let bytes = 0;
    session.on('Network.loadingFinished', (event) => (bytes += event.encodedDataLength));
    const bare = Date.now();
    await page.goto(`${url}/api/health`);
    const navigation = Date.now() - bare;
    bytes = 0;
    await page.goto(url, { waitUntil: 'networkidle' });
    figures.push({
      name: 'first screen, the wall',
      value: `${(bytes / 1024).toFixed(0)} KiB`,
      against: 'over the wire, with its pictures; at most 400 KiB',
    });
    await session.send('Network.clearBrowserCache');
    bytes = 0;
    const began = Date.now();
    await page.goto(`${url}/projects/${projects[0]!.id}`);
    await page.locator('canvas[data-frames]').waitFor();
    const usable = Date.now() - began;
    await page.locator('canvas[data-rests=yes]').waitFor();
    figures.push({
      name: 'first load of a project’s page',
      value: `${(bytes / 1024).toFixed(0)} KiB`,
      against: `over the wire; a usable stage after ${ratio(usable, navigation)} the time of a bare page`,
    });
    const counts = () =>
      page.getByTestId('stage').evaluate((canvas) => ({ ...(canvas as HTMLElement).dataset }));
    const before = await counts();
    await page.waitForTimeout(2000);
    figures.push({
      name: 'an idle stage',
      value: `${Number((await counts())['frames']) - Number(before['frames'])} frames`,
      against: 'drawn in two seconds',
    });
    const drag = await page.evaluate(
      () =>
        new Promise<number>((resolve) => {
          const number = document.querySelector<HTMLElement>('[data-step="remains-2"] [role=spinbutton]')!;
          const canvas = document.querySelector<HTMLElement>('canvas[data-frames]')!;
          const send = (type: string, x: number) =>
            number.dispatchEvent(
              new PointerEvent(type, { clientX: x, clientY: 0, button: 0, pointerId: 1, bubbles: true }),
            );
          number.setPointerCapture = () => undefined;
          requestAnimationFrame(() => {
            const first = Number(canvas.dataset['frames']);
            let passed = 0;
            send('pointerdown', 0);
            send('pointermove', 40);
            const look = () => {
              passed += 1;
              if (Number(canvas.dataset['frames']) > first) resolve(passed);
              else requestAnimationFrame(look);
            };
            requestAnimationFrame(look);
          });
        }),
    );
    const links = Number((await counts())['links']) - Number(before['links']);
    figures.push({
      name: 'a number’s drag to the picture',
      value: `${drag} frames`,
      against: `after the pointer moved until the renderer, in software here, is done with it, with ${links} programs linked`,
    });
    const picker = page.getByLabel('Set on the stage');
    const opened: { readonly set: string; readonly shown: number; readonly rested: number }[] = [];
    for (const set of ['Furnace mouth', 'Rolling boards', 'Oil lamp']) {
      const from = Number((await counts())['frames']);
      const started = Date.now();
      await picker.selectOption({ label: set });
      await page.waitForFunction((least) => {
        const { compiled, frames } = document.querySelector<HTMLElement>('[data-testid=stage]')!.dataset;
        return compiled === 'yes' && Number(frames) > least;
      }, from);
      const shown = Date.now() - started;
      await page.locator('canvas[data-rests=yes]').waitFor();
      opened.push({ set, shown, rested: Date.now() - started });
    }
    const seconds = (ms: number): string => `${(ms / 1000).toFixed(1)} s`;
    const slowest = opened.reduce((a, b) => (b.shown > a.shown ? b : a));
    figures.push({
      name: 'a set opens',
      value: seconds(slowest.shown),
      against: `until it is drawn, the slowest of ${opened.length}, ${slowest.set}; at rest after ${opened.map((each) => seconds(each.rested)).join(', ')}; at most 2 s`,
    });
    return figures;
  } finally {
    await browser.close();
  }
};
