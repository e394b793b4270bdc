import assert from 'node:assert/strict';
import { test } from 'node:test';
import { compileShader, programOf } from '../compileShader.ts';

import { importGlsl } from './importGlsl.ts';
import { valuesOf, imported } from './importing.testing.ts';

const ES1 = `#extension GL_OES_standard_derivatives : enable
precision mediump float;
uniform sampler2D map;
uniform vec3 tintColor; // as it looks
uniform float uTime;
varying vec2 vUv;
varying vec3 v_worldPos;
#define WAVES 3
#ifdef WAVES
float waves(float x) { float s = 0.0; for (int i = 0; i < WAVES; i++) s += sin(x * float(i + 1)); return s / float(WAVES); }
#endif
void main() {
  vec4 texel = texture2D(map, vUv + vec2(waves(uTime), 0.0) * 0.01);
  if (texel.a < 0.1) discard;
  gl_FragColor = vec4(texel.rgb * tintColor * v_worldPos.y, 1.0);
}`;

test('a fragment of ES 1.00: uniforms become parameters, varyings strands, main code', () => {
  const made = importGlsl(ES1);
  assert.ok(made.document, JSON.stringify(made.problems));
  assert.deepEqual(made.varyings, [
    { name: 'vUv', type: 'vec2', guess: 'uv' },
    { name: 'v_worldPos', type: 'vec3', guess: 'position' },
  ]);
  assert.deepEqual(
    made.document.parameters.map(({ name, kind }) => `${name}:${kind}`),
    ['map:texture', 'tintColor:color'],
  );
  assert.equal(made.document.surface.alphaMode, 'cutout');
  assert.match(made.notes.join(' '), /discard became an opacity of 0/);
  const { program, diagnostics } = programOf(made.document);
  assert.ok(program, JSON.stringify(diagnostics));
  const [red] = valuesOf(program, made.document, 'baseColor', { tintColor: [1, 1, 1, 0] });
  assert.ok(red! >= 0);
});

test('the author may say what a varying reads', () => {
  const document = imported(ES1, { vUv: 'uv2 * 2.0' });
  assert.deepEqual(document.strands.find((strand) => strand.note.includes('vUv'))!.steps[0]!.arguments, {
    x: 'uv2 * 2.0',
  });
});

test('a fragment of ES 3.00 that blends, returns early and reads the pixel’s place', () => {
  const document = imported(`#version 300 es
precision highp float;
in vec3 vNormal;
uniform vec2 offsets;
uniform int mode;
out vec4 result;
const float EDGE = 0.25;
void main() {
  result = vec4(0.0);
  if (mode == 1) { result = vec4(1.0, 0.0, 0.0, 0.5); return; }
  result.rgb = vec3(smoothstep(EDGE, 1.0, vNormal.z), offsets);
  result.a = gl_FragCoord.x * 0.001;
}`);
  assert.equal(document.surface.alphaMode, 'blended');
  const { program } = programOf(document);
  const base = valuesOf(program!, document, 'baseColor', { mode: [1], offsets: [0.2, 0.3] });
  assert.deepEqual(base.slice(0, 1), [1]);
  const other = valuesOf(program!, document, 'baseColor', { mode: [0], offsets: [0.2, 0.3] });
  assert.ok(
    Math.abs(other[0]! - 1) < 1e-6 && Math.abs(other[16]! - 0.2) < 1e-6 && Math.abs(other[32]! - 0.3) < 1e-6,
  );
});

test('alpha is left out only where nothing but 1 is written to it', () => {
  const surfaceOf = (body: string) => imported(`varying vec2 vUv;\nvoid main() {\n${body}\n}`).surface;
  const blended = surfaceOf('vec4 p = vec4(vUv, 0.0, 1.0);\ngl_FragColor = vec4(p.xyz, vUv.x);');
  assert.equal(blended.alphaMode, 'blended');
  assert.equal(surfaceOf('gl_FragColor.rgb = vec3(vUv, 1.0);').alphaMode, 'opaque');
  assert.equal(surfaceOf('gl_FragColor = vec4(vUv, 0.0, 1.0);').alphaMode, 'opaque');
  const modes = (functions: string, body: string) =>
    imported(`varying vec2 vUv;\n${functions}\nvoid main() {\n${body}\n}`).surface.alphaMode;
  const seen = 'gl_FragColor = vec4(vUv, 0.0, 1.0);';
  for (const [functions, body] of [
    ['', 'gl_FragColor = vec4(vUv, 0.0, vUv.x) * vec4(0.5, 0.5, 0.5, 1.0);'],
    ['', `${seen} gl_FragColor[3] = vUv.x;`],
    ['', `${seen} gl_FragColor *= vUv.x;`],
    ['vec4 fade(vec4 c) { return c * 0.5; }', `${seen} gl_FragColor = fade(gl_FragColor);`],
    [
      'vec4 fade(vec4 c) { c.a = 0.5; return vec4(c.rgb, c.a); }',
      `${seen} gl_FragColor = fade(gl_FragColor);`,
    ],
    ['void cut(inout vec4 c) { c.a *= 0.5; }', `${seen} cut(gl_FragColor);`],
    ['void cut(inout float a) { a *= 0.5; }', `${seen} cut(gl_FragColor.a);`],
  ] as const)
    assert.equal(modes(functions, body), 'blended', body);
  for (const [functions, body] of [
    ['vec4 lift(vec4 c) { return vec4(c.rgb * 2.0, c.a); }', `${seen} gl_FragColor = lift(gl_FragColor);`],
    ['', `${seen} gl_FragColor.rgb = gl_FragColor.rgb * 0.5;`],
    [
      'vec4 a(vec4 c) { return vec4(c.bgr, c.w); }\nvec4 b(vec4 k) { return a(k); }',
      `${seen} gl_FragColor = b(gl_FragColor);`,
    ],
  ] as const)
    assert.equal(modes(functions, body), 'opaque', body);
  const round = 'vec4 b(vec4 c);\nvec4 a(vec4 c) { return b(c); }\nvec4 b(vec4 c) { return a(c); }';
  const circle = importGlsl(
    `${round}\nvoid main() { ${seen.replace('vUv', 'vec2(0.5)')} gl_FragColor = a(gl_FragColor); }`,
  );
  assert.match(circle.problems[0]!.message, /itself|round|recurs/i);
  // What is not written stays 0, as browsers have it: so much of the picture is see-through.
  const early = imported(
    'varying vec2 vUv;\nvoid main() {\nif (vUv.x > 2.0) return;\nif (vUv.x > 4.0) gl_FragColor = vec4(vUv, 0.0, 0.5);\n}',
  );
  const { program } = programOf(early);
  assert.deepEqual(new Set(valuesOf(program!, early, 'opacity', {})), new Set([0]));
});

test('uniforms that no parameter could be are put together of several, and variables beside the functions kept', () => {
  const document = imported(`#version 300 es
precision highp float;
in mat3 vFrame;
flat in int vUnread;
struct Lamp { vec3 at; float reach; };
uniform Lamp uLamps[2];
uniform float weights[3]; // left, middle, right
uniform mat2 turn;
uniform uint seed;
uniform ivec2 cells;
uniform samplerCube unread;
uniform vec2 uResolution;
uniform vec4 rimColor;
layout(std140) uniform Place { vec3 offset; float lift[2]; } place;
uniform Loose { float gain; };
layout(location = 1) out vec4 extra;
layout(location = 0) out vec3 tint;
float glow = 0.0;
float late(float x);
void cut(float x) { if (late(x) < 0.0) discard; glow += x; }
float late(float x) { return x - 0.4; }
void shade() { tint = vec3(weights[0] + weights[2], turn * vec2(1.0, 2.0)) + uLamps[1].at * vFrame[2] + rimColor.rgb * rimColor.a; }
void main() {
  cut(gl_FragCoord.x / uResolution.x);
  shade();
  extra = vec4(1.0);
  tint.z += place.offset.z + place.lift[1] * gain;
  tint.x += glow + float(seed) + float(cells.y);
}`);
  assert.deepEqual(
    document.parameters.map(({ name, kind }) => `${name}:${kind}`),
    [
      ...['uLamps0At:vec3', 'uLamps0Reach:float', 'uLamps1At:vec3', 'uLamps1Reach:float'],
      ...['weights0:float', 'weights1:float', 'weights2:float', 'turn0:vec2', 'turn1:vec2'],
      ...['seedValue:int', 'cellsValue:vec2', 'pictureSize:vec2', 'rimColor:color', 'rimColorAlpha:float'],
      ...['placeOffset:vec3', 'placeLift0:float', 'placeLift1:float', 'gain:float'],
    ],
  );
  assert.equal(document.parameters[4]!.description, 'left, middle, right');
  assert.deepEqual(document.parameters[8]!.default, [0, 1], 'a matrix begins as it changes nothing');
  assert.equal(document.surface.alphaMode, 'cutout');
  assert.deepEqual(compileShader(document).notes, [], 'nothing of it is opaque');
  const { program, diagnostics } = programOf(document);
  assert.ok(program, JSON.stringify(diagnostics));
  const values = {
    ...{ weights0: [1], weights2: [2], turn0: [1, 0], turn1: [0, 3], uLamps1At: [0, 0, 5] },
    ...{ seedValue: [4], cellsValue: [0, 6], rimColor: [0, 1, 0, 0], rimColorAlpha: [0.25] },
    ...{ placeOffset: [0, 0, 2], placeLift1: [4], gain: [0.5] },
  };
  const colour = valuesOf(program, document, 'baseColor', values);
  // glow is the pixel's place across, 0.5; the frame's last column is the normal, (0, 0, 1).
  assert.deepEqual([colour[0], colour[16], colour[32]], [1 + 2 + 0.5 + 4 + 6, 1.25, 6 + 5 + 4]);
  assert.equal(valuesOf(program, document, 'opacity', values)[0], 1);
});

test('names that change come to be none that stands in the source', () => {
  const document = imported(`precision highp float;
uniform float uTime;
uniform vec3 u_tint;
varying vec2 v_place;
struct Dust { float far; };
Dust dust(float x) { if (x > 2.0) discard; return Dust(x); }
void main() {
  vec2 screenUv = gl_FragCoord.xy / 512.0;
  float time = uTime * 0.5, place = 7.0, shaded = 1.0, fragment = 2.0;
  vec3 tint = u_tint * 2.0;
  gl_FragColor = vec4(tint + u_tint, time + uTime + shaded + fragment + dust(v_place.x).far * 0.0 + screenUv.x + gl_FragCoord.y / 512.0);
}`);
  const { program, diagnostics } = programOf(document);
  assert.ok(program, JSON.stringify(diagnostics));
  assert.deepEqual(
    document.parameters.map((each) => each.name),
    ['u_tint'],
  );
  assert.deepEqual(document.renamed, { uTime: 'time' });
  const values = { u_tint: [0.5, 0.5, 0.5, 0] };
  assert.ok(Math.abs(valuesOf(program, document, 'baseColor', values)[0]! - 1.5) < 1e-6);
  const alpha = { ...document, surface: { ...document.surface, outputs: { roughness: 'painted.w * 0.1' } } };
  const [sum] = valuesOf(programOf(alpha).program!, alpha, 'roughness', values);
  assert.ok(Math.abs(sum! - (0.75 + 1.5 + 1 + 2 + 0.5 + 0.5) * 0.1) < 1e-6, String(sum));
});

test('names that are kept by GLSL, WGSL or an operator are changed on the way in', () => {
  const document = imported(
    'uniform float mix2; uniform float target; uniform float wave;\nvoid main() { gl_FragColor = vec4(mix2 + target * wave); }',
  );
  assert.deepEqual(
    document.parameters.map((each) => each.name),
    ['mix2', 'target2', 'wave2'],
  );
  assert.ok(programOf(document).program);
});

test('names that ES 3.00 took are free in a source of ES 1.00, and a mistake behind them keeps its place', () => {
  const source = (end: string, version = '') => `${version}precision mediump float;
varying vec2 vUv;
float round(float x) { return floor(x + 0.25); }
float inverse(float inverse) { return round(inverse * 4.0) / 4.0; }
float roundOwn;
void main() { gl_FragColor = vec4(round(0.8), round(0.7), inverse(vUv.x), 1.0);${end} }`;
  const { document, problems } = importGlsl(source(''));
  assert.deepEqual(problems, []);
  const { program } = programOf(document!);
  const value = valuesOf(program!, document!, 'baseColor');
  // By hand: floor(0.8 + 0.25) = 1, floor(0.7 + 0.25) = 0, and of x = 0 floor(0.25) / 4 = 0.
  assert.deepEqual([value[0], value[16], value[32]], [1, 0, 0]);
  const twice = ' float twice(float a) { return round(a); } float twice(float b) { return b; }';
  const wrong = importGlsl(source('') + twice);
  const plain = (source('') + twice).replaceAll('round(', 'rownd(').replaceAll('inverse(', 'invers_(');
  assert.deepEqual(wrong.problems, importGlsl(plain).problems);
  assert.equal(wrong.problems.length, 1);
  assert.match(
    importGlsl(source('', '#version 300 es\n')).problems[0]!.message,
    /round is one of GLSL’s own/,
  );
});
