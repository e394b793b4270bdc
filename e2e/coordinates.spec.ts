import { expect, test, type Page } from '@playwright/test';
import { programOf } from '#core/compileShader.ts';
import { sketchShader } from '#core/document/sketch.ts';
import { emitGlsl } from '#core/emit/glsl/emitGlsl.ts';
import { LIGHTING } from '#core/emit/glsl/lighting.ts';
import { LIGHTING as WGSL_LIGHTING } from '#core/emit/wgsl/lighting.ts';
import { emitWgsl } from '#core/emit/wgsl/emitWgsl.ts';
import { drawModules, GIVEN, givenBlock, SIDE } from './drawModules.ts';
import { securePage } from './securePage.ts';

/*
 * Whole modules drawn in WebGL 2 and in WebGPU, pixel by pixel: what depends on where a pixel lies and on its
 * neighbours, which functions run point by point cannot show.
 */
let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await securePage(browser);
});
test.afterAll(() => page.close());

/** An unlit shader that shows a value, drawn by both. */
const drawBoth = async (value: string) => {
  const { program } = programOf(
    sketchShader({ shown: [['value', { x: value }]] }, { baseColor: 'shown' }, [], { lit: false }),
  );
  const glsl = emitGlsl(program!, { title: 'x', purpose: 'handover' });
  const { code } = emitWgsl(program!, { title: 'x' });
  const drawn = await page.evaluate(drawModules, {
    ...{ vertex: glsl.vertex, fragment: glsl.fragment, wgsl: code! },
    ...{ block: givenBlock(code!), given: GIVEN, side: SIDE },
  });
  expect(typeof drawn === 'string' ? `${drawn}\n${code!}` : '').toBe('');
  return drawn as readonly [number[], number[]];
};

/** What each comes to at a pixel, by hand: the square is uv 0–1, one pixel a sixteenth. */
const CASES: Readonly<Record<string, (u: number, v: number) => readonly number[]>> = {
  'vec3(screenUv, 0.0)': (u, v) => [u, v, 0],
  'vec3(uv, 0.0)': (u, v) => [u, v, 0],
  'vec3(dFdx(uv.x + 3.0 * uv.y), dFdy(uv.x + 3.0 * uv.y), fwidth(uv.x - uv.y))': () => [
    1 / SIDE,
    3 / SIDE,
    2 / SIDE,
  ],
  'vec3(dFdy(screenUv), dFdy(-uv.y))': () => [0, 1 / SIDE, -1 / SIDE],
  '1.0 - dFdy(position) * 2.0': () => [1, 1 - 4 / SIDE, 1],
  // A relief as the demo's playbill has it: the slope of a height along the screen less that up it.
  'vec3(8.0 * (dFdx(uv.x * 3.0 + uv.y) - dFdy(uv.y * 2.0)))': () => [0.5, 0.5, 0.5],
};
for (const [value, byHand] of Object.entries(CASES))
  test(`${value} is the same in WebGL 2, in WebGPU and by hand`, async () => {
    const drawn = await drawBoth(value);
    for (const [i, device] of ['WebGL 2', 'WebGPU'].entries()) {
      const far = drawn[i]!.map((x, at) => {
        const [p, c] = [at >> 2, at & 3];
        const wanted = byHand(((p % SIDE) + 0.5) / SIDE, (Math.floor(p / SIDE) + 0.5) / SIDE)[c] ?? x;
        return Math.abs(x - wanted);
      });
      expect(Math.max(...far), `${device}: ${drawn[i]!.slice(0, 8).join(' ')} …`).toBeLessThan(1e-5);
    }
  });

/** Drivers differ in what they make of what the languages leave undefined: as the strictest do, it is NaN here. */
const strict = (source: string): string =>
  source.replace(/(?<![\w.])(pow|sqrt|inversesqrt|inverseSqrt|normalize)\(/g, 'strict_$1(');
const STRICT_GLSL = `float nan() { return uintBitsToFloat(0x7fc00000u); }
float strict_pow(float x, float y) { return x < 0.0 ? nan() : pow(x, y); }
float strict_sqrt(float x) { return x < 0.0 ? nan() : sqrt(x); }
float strict_inversesqrt(float x) { return x <= 0.0 ? nan() : inversesqrt(x); }
vec3 strict_normalize(vec3 v) { return dot(v, v) > 0.0 ? normalize(v) : vec3(nan()); }`;
const STRICT_WGSL = `var<private> nanBits: u32 = 0x7fc00000u;
fn nan() -> f32 { return bitcast<f32>(nanBits); }
fn strict_pow(x: f32, y: f32) -> f32 { if (x < 0.0) { return nan(); } return pow(x, y); }
fn strict_sqrt(x: f32) -> f32 { if (x < 0.0) { return nan(); } return sqrt(x); }
fn strict_inverseSqrt(x: f32) -> f32 { if (x <= 0.0) { return nan(); } return inverseSqrt(x); }
fn strict_normalize(v: vec3f) -> vec3f { if (dot(v, v) > 0.0) { return normalize(v); } return vec3f(nan()); }`;

test('a lit surface is never NaN: not with the light at the eye, opposite to it, or at the surface', async () => {
  // Each pixel has a direction of its own; dot products of such unit vectors with themselves pass 1 in every tenth.
  const cases = ['v', '-v', 'vec3(0.0)', 'normalize(v + 1e-4)'];
  const side = 64;
  for (const light of cases) {
    const at = light.startsWith('vec3') ? 'lightPosition[0].xyz' : 'vec3(0.0)';
    const glsl = `#version 300 es
precision highp float;
in vec2 carriedUv;
out vec4 color;
const int lightCount = 1;
vec4 lightPosition[4];
const vec3 lightColor[4] = vec3[4](vec3(3.0), vec3(0.0), vec3(0.0), vec3(0.0));
const vec3 ambientUp = vec3(0.1), ambientDown = vec3(0.0);
${STRICT_GLSL}
${strict(LIGHTING)}
void main() {
  vec3 v = normalize(vec3(sin(carriedUv.x * 71.0), cos(carriedUv.y * 37.0), sin(carriedUv.x * 13.0 + carriedUv.y * 29.0)));
  lightPosition[0] = vec4(${light}, ${light.startsWith('vec3') ? '1.0' : '0.0'});
  color = vec4(lightSurface(vec3(0.8), 0.5, carriedUv.y, 1.0, v, v, ${at}), 1.0);
}`;
    const wgsl = `${STRICT_WGSL}
${strict(WGSL_LIGHTING)}
struct Given { time: f32, }
@group(0) @binding(0) var<uniform> given: Given;
struct Varying { @builtin(position) clip: vec4f, @location(0) uv: vec2f }
@vertex fn vertexMain(@location(0) position: vec3f, @location(2) uv: vec2f) -> Varying {
  return Varying(vec4f(position, given.time), uv);
}
@fragment fn fragmentMain(carried: Varying) -> @location(0) vec4f {
  let v = normalize(vec3f(sin(carried.uv.x * 71.0), cos(carried.uv.y * 37.0), sin(carried.uv.x * 13.0 + carried.uv.y * 29.0)));
  lights.position[0] = vec4f(${light.replace('vec3', 'vec3f')}, ${light.startsWith('vec3') ? '1.0' : '0.0'});
  lights.color[0] = vec4f(3.0);
  lights.ambientUp = vec3f(0.1);
  lights.count = 1;
  return vec4f(lightSurface(vec3f(0.8), 0.5, carried.uv.y, 1.0, v, v, ${at.replace('lightPosition[0]', 'lights.position[0]').replace('vec3(', 'vec3f(')}), 1.0);
}`.replace('@group(0) @binding(2) var<uniform> lights', 'var<private> lights');
    const vertex = `#version 300 es
in vec3 a_position; in vec2 a_uv; out vec2 carriedUv;
void main() { carriedUv = a_uv; gl_Position = vec4(a_position, 1.0); }`;
    const drawn = await page.evaluate(drawModules, {
      ...{ vertex, fragment: glsl, wgsl, side, given: {}, block: [1, 0, 0, 0] },
    });
    if (typeof drawn === 'string') throw new Error(drawn);
    for (const [i, device] of ['WebGL 2', 'WebGPU'].entries()) {
      const broken = drawn[i]!.filter((x) => !Number.isFinite(x)).length;
      expect(broken, `${light} in ${device}: numbers that are NaN or infinite`).toBe(0);
      expect(Math.max(...drawn[i]!), 'something is lit').toBeGreaterThan(0.01);
    }
  }
});
