import assert from 'node:assert/strict';
import { test } from 'node:test';
import fc from 'fast-check';
import { parser } from '@shaderfrog/glsl-parser';
import { playhouse } from '#demo/playhouse.ts';
import { randomShader } from '../../../e2e/fuzz/randomShader.ts';
import { compileShader, programOf } from '../compileShader.ts';
import type { Library } from '../document/motif.ts';
import { parsePart } from '../document/parsePart.ts';
import { sketchParameter, sketchShader } from '../document/sketch.ts';
import type { ShaderDocument } from '../document/shader.ts';
import { evaluate } from '../evaluate/columns/evaluate.ts';
import { emitGlsl } from '../emit/glsl/emitGlsl.ts';
import { parseModule } from '../language/glsl/parseModule.ts';
import { INPUT_NAMES, INPUTS } from '../program/inputs.ts';
import { componentsOf } from '../program/types.ts';
import type { Program } from '../program/value.ts';
import { numbersFor } from '../time/values.ts';
import { tablePictures } from '../taps/evaluatePoints.ts';
import { importGlsl } from './importGlsl.ts';

const parts = playhouse().parts;
const library: Library = new Map(
  parts
    .filter((each) => each.kind === 'motif')
    .map((each) => [each.id, { ...each, body: each.body as never }]),
);

/** What an input that is not spoken of is given. */
const REST = [0.36, 0.48, 0.8, 0.5];

/** A surface output at a few points, parameters at their defaults. */
const valuesOf = (
  program: Program,
  document: ShaderDocument,
  output: string,
  values: Record<string, readonly number[]> = {},
): number[] => {
  const value = program.outputs[output];
  if (!value) return [];
  const count = 16;
  const column = (n: number, scale: number) =>
    Float32Array.from({ length: n * count }, (_, i) => ((i * 0.37) % 1) * scale);
  const [made] = evaluate([value], {
    count,
    inputs: {
      ...Object.fromEntries(
        INPUT_NAMES.map((name) => [name, REST.slice(0, componentsOf(INPUTS[name].type))]),
      ),
      ...{ uv: column(2, 1), position: column(3, 2), objectPosition: column(3, 2), viewDirection: [0, 0, 1] },
      ...{
        normal: [0, 0, 1],
        cameraPosition: [0, 1, 4],
        time: [1.5],
        screenUv: [0.5, 0.5],
        vertexColor: [1, 1, 1, 1],
      },
      ...{ frontFacing: [1] },
    },
    parameters: numbersFor(document.parameters, { values, shared: values }),
    knobs: new Map(),
    pictures: new Map([
      ...document.parameters.map(
        (each) =>
          [
            each.name,
            {
              width: 1,
              height: 1,
              wrap: 'repeat',
              filter: 'nearest',
              rgba: new Float32Array([0.4, 0.3, 0.2, 1]),
            },
          ] as const,
      ),
      ...tablePictures(document.parameters, values),
    ]),
  });
  return [...made!.data];
};

const imported = (source: string, chosen: Record<string, string> = {}): ShaderDocument => {
  const made = importGlsl(source, chosen);
  assert.ok(made.document, JSON.stringify(made.problems));
  const { problems } = parsePart('shader', JSON.parse(JSON.stringify(made.document)));
  assert.deepEqual(problems, [], 'what is imported can be saved');
  return made.document;
};

test('our own exported source comes back and computes the same', () => {
  for (const part of parts.filter((each) => each.kind === 'shader')) {
    const authored = part.body as ShaderDocument;
    const { program } = programOf(authored, library);
    const { fragment } = emitGlsl(program!, {
      purpose: 'handover',
      title: part.name,
    });
    const back = imported(fragment);
    const again = programOf(back);
    assert.ok(again.program, `${part.id}: ${JSON.stringify(again.diagnostics)}`);
    assert.equal(back.surface.lit, authored.surface.lit);
    if (part.id === 'bell-swing' || part.id === 'painted-backdrop') continue;
    const values = Object.fromEntries(
      authored.parameters.filter((each) => each.kind !== 'texture').map((each) => [each.name, each.default]),
    );
    const known = Object.fromEntries(
      Object.entries(values).filter(([name]) =>
        back.parameters.some(
          (each) =>
            each.name === name && each.kind === authored.parameters.find((one) => one.name === name)!.kind,
        ),
      ),
    );
    const rest = authored.parameters.filter((each) => !(each.name in known) && each.kind !== 'texture');
    for (const each of rest) {
      const twin = back.parameters.find((one) => one.name === each.name);
      if (twin && each.kind === 'color')
        known[each.name] = each.default.slice(0, 3).map((c) => c * 2 ** each.default[3]!);
    }
    for (const output of Object.keys(program!.outputs).filter((name) => name !== 'vertexOffset')) {
      const mine: number[] = valuesOf(program!, authored, output, values);
      const theirs: number[] = valuesOf(again.program, back, output, known);
      assert.equal(theirs.length, mine.length, `${part.id}.${output}`);
      mine.forEach((x, i) =>
        assert.ok(Math.abs(x - theirs[i]!) < 1e-4, `${part.id}.${output}[${i}]: ${x} and ${theirs[i]!}`),
      );
    }
  }
});

test('parameters of our own keep their names and kinds, whatever a stranger would be guessed to mean by them', () => {
  const parameters = (
    [
      ['seconds', 'float'],
      ['edgeColor', 'vec4'],
      ['screenSize', 'vec2'],
    ] as const
  ).map(([name, kind]) =>
    sketchParameter(name, kind, new Array<number>(kind === 'float' ? 1 : Number(kind[3])).fill(0.25)),
  );
  const authored = sketchShader(
    { sum: [['value', { x: 'edgeColor.xyz * seconds + vec3(screenSize, time)' }]] },
    { emission: 'sum' },
    parameters,
  );
  const { program } = programOf(authored);
  const { fragment } = emitGlsl(program!, { purpose: 'handover', title: 't' });
  const back = imported(fragment);
  assert.deepEqual(
    back.parameters.map(({ name, kind }) => [name, kind]).sort(),
    parameters.map(({ name, kind }) => [name, kind]).sort(),
  );
  assert.ok(back.strands.some((strand) => strand.name === 'sum'));
});

test('every value of our own source becomes a strand with its note, and nothing of it is opaque', () => {
  const curtain = parts.find((each) => each.id === 'curtain-burn-away')!.body as ShaderDocument;
  const { program } = programOf(curtain);
  const notes = new Map(curtain.strands.map((strand) => [strand.name, strand.note]));
  const { fragment } = emitGlsl(program!, {
    purpose: 'handover',
    title: 'Curtain',
    notes,
  });
  const back = imported(fragment);
  assert.equal(back.strands.find((strand) => strand.name === 'order')!.note, 'who burns first');
  assert.deepEqual(
    back.parameters.map((each) => each.name).sort(),
    curtain.parameters
      .map((each) => each.name)
      .filter((name) => !['speed', 'mendSpeed'].includes(name))
      .sort(),
  );
  assert.equal(back.surface.outputs.roughness, curtain.surface.outputs.roughness);
});

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

/** What is refused: the source, the line and column, the sentence. */
const REFUSED: readonly (readonly [string, string, RegExp])[] = [
  ['', '1:1', /There is no main here/],
  ['void main() {\n  gl_FragColor = vec4(1.0);\n', '1:13', /never closed/],
  [
    '\nuniform vec4 lights[300];\nvoid main() { gl_FragColor = lights[0]; }',
    '2:14',
    /has to have between 1 and 64 elements/,
  ],
  [
    `${Array.from({ length: 20 }, (_, i) => `uniform vec4 many${i}[32];`).join('')}void main() { gl_FragColor = ${Array.from({ length: 20 }, (_, i) => `many${i}[1]`).join(' + ')}; }`,
    '1:1',
    /come to more than 512 parameters/,
  ],
  [
    '\nuniform samplerCube sky;\nvoid main() { gl_FragColor = texture(sky, vec3(1.0)); }',
    '2:14',
    /is a samplerCube, which no parameter can be/,
  ],
  [
    'attribute vec3 at;\nvoid main() { gl_Position = vec4(at, 1.0); }',
    '2:15',
    /This is a vertex stage, for it writes gl_Position/,
  ],
  ['void main() { gl_FragColor = vec4(é); }', '1:35', /“é” has no meaning in GLSL/],
  [
    'float f(float x) { return f(x); }\nvoid main() { gl_FragColor = vec4(f(1.0)); }',
    '1:1',
    /f calls itself/,
  ],
  [
    'void main() { for (int i = 0; i < 1000000000; i++) {} gl_FragColor = vec4(1.0); }',
    '1:1',
    /goes round 1000000000 times/,
  ],
  ['out vec2 c;\nvoid main() { c = vec2(1.0); }', '1:1', /is a vec2; a surface's colour is a vec3 or a vec4/],
  ['#if 1\nvoid main() {}', '1:1', /This #if is never closed; add #endif/],
];

test('what cannot be imported says so, with a place', () => {
  for (const [source, place, said] of REFUSED) {
    const made = importGlsl(source);
    assert.equal(made.document, null, source);
    const [problem] = made.problems;
    assert.match(problem!.message, said, source);
    assert.equal(problem!.line, Number(place.split(':')[0]), `${source}: ${problem!.message}`);
  }
  assert.match(
    importGlsl('x'.repeat(5_000_000)).problems[0]!.message,
    /5000000 characters; at most 262144 are read/,
  );
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

// ---- the parser beside another's

/** Expressions and statements put together at random, all of them well formed. */
const text = (): fc.Arbitrary<string> => {
  const leaf = fc.constantFrom('a', 'b.x', '1.0', '2', 'p[1]', 'vec2(1.0)', 'sin(a)', 'true');
  const expression = fc.letrec<{ e: string }>((tie) => ({
    e: fc.oneof(
      { maxDepth: 4 },
      leaf,
      fc
        .tuple(tie('e'), fc.constantFrom('+', '-', '*', '/', '<', '==', '&&', '<<', '|'), tie('e'))
        .map((x) => x.join(' ')),
      tie('e').map((x) => `(${x})`),
      tie('e').map((x) => `-${x.replace(/^-/, ' -')}`),
      fc.tuple(tie('e'), tie('e'), tie('e')).map(([x, y, z]) => `(${x} ? ${y} : ${z})`),
      fc.tuple(tie('e'), tie('e')).map(([x, y]) => `max(${x}, ${y})`),
    ),
  })).e;
  const statement = fc.letrec<{ s: string }>((tie) => ({
    s: fc.oneof(
      { maxDepth: 3 },
      expression.map((x) => `a = ${x};`),
      expression.map((x) => `float c = ${x}, d;`),
      fc.tuple(expression, tie('s')).map(([x, s]) => `if (${x}) ${s}`),
      fc.tuple(expression, tie('s'), tie('s')).map(([x, s, t]) => `if (${x}) { ${s} } else ${t}`),
      tie('s').map((s) => `for (int i = 0; i < 4; i++) { ${s} }`),
      expression.map((x) => `while (${x}) { break; }`),
      fc.constant('return a;'),
      fc.constant(';'),
    ),
  })).s;
  return fc
    .array(statement, { maxLength: 4 })
    .map((list) => `float f(vec2 p, inout float a) { ${list.join(' ')} }`);
};

test('our parser takes what another parser of GLSL takes, and refuses what it refuses', () => {
  const takes = (source: string): boolean => {
    try {
      parser.parse(source, { quiet: true, stage: 'fragment' });
      return true;
    } catch {
      return false;
    }
  };
  fc.assert(
    fc.property(text(), fc.nat(), fc.boolean(), (source, at, breaks) => {
      // Half of them have one character taken out.
      const cut = source.indexOf('{') + (at % (source.length - source.indexOf('{')));
      const tried = breaks ? source.slice(0, cut) + source.slice(cut + 1) : source;
      const [ours, theirs] = [!parseModule(tried).mistake, takes(tried)];
      if (!breaks) assert.ok(ours && theirs, tried);
      else if (ours !== theirs) assert.ok(ours ? /else|\bint\b|\d[a-z]|float/.test(tried) : true, tried);
    }),
    { numRuns: 60, seed: 11 },
  );
});

test('a shader of many kinds of parameter survives the way out and in', () => {
  const shader = sketchShader(
    {
      glint: [
        ['value', { x: 'curve(uv.x, rise) * grain.seed' }],
        ['multiply', { y: 'gone' }],
      ],
    },
    { emission: 'vec3(glint)' },
    [
      sketchParameter('rise', 'curve', [0, 0, 1, 1, 1, 1, 1, 1]),
      sketchParameter('grain', 'noise', [3, 0], { max: 99 }),
      sketchParameter('gone', 'float', [0.5], { ends: [-14, 6], scope: 'lifetime' }),
    ],
  );
  const { fragment } = emitGlsl(programOf(shader).program!, {
    purpose: 'handover',
    title: 't',
  });
  const back = imported(fragment);
  assert.deepEqual(back.parameters.map((each) => each.name).sort(), ['grain_seed', 'lifetime0', 'rise']);
  assert.equal(back.parameters.find((each) => each.name === 'lifetime0')!.scope, 'lifetime');
});

test('any shader that goes out as GLSL comes back and computes the same', () => {
  let compared = 0;
  for (let seed = 1; seed <= 60; seed += 1) {
    const authored = randomShader(seed);
    const { program } = programOf(authored);
    const { surface } = authored;
    const { fragment } = emitGlsl(program!, { purpose: 'handover', title: 'Any' });
    const back = imported(fragment);
    const again = programOf(back);
    assert.ok(again.program, `seed ${seed}: ${JSON.stringify(again.diagnostics)}\n${fragment}`);
    // Whether what is blended is added is the game's to say: source does not tell.
    const mode = surface.alphaMode === 'added' ? 'blended' : surface.alphaMode;
    assert.deepEqual([back.surface.lit, back.surface.alphaMode], [surface.lit, mode], `seed ${seed}`);
    const values = Object.fromEntries(authored.parameters.map((each) => [each.name, each.default]));
    // A colour comes back as one where its name says so, else as it is read: linear light, its exposure in it.
    const [r, g, b, stops] = values['tint'] as [number, number, number, number];
    const isColor = back.parameters.some((each) => each.name === 'tint' && each.kind === 'color');
    const known = isColor ? values : { ...values, tint: [r, g, b].map((c) => c * 2 ** stops) };
    // An opaque surface has no opacity to write, an unlit one nothing that light asks for.
    const written = [
      'baseColor',
      'emission',
      ...(mode === 'opaque' ? [] : ['opacity']),
      ...(surface.lit ? ['roughness', 'normal'] : []),
    ];
    for (const output of written.filter((name) => program!.outputs[name])) {
      const mine = valuesOf(program!, authored, output, values);
      const theirs = valuesOf(again.program, back, output, known);
      assert.equal(theirs.length, mine.length, `seed ${seed}, ${output}`);
      mine.forEach((x, i) =>
        assert.ok(
          Object.is(x, theirs[i]) || Math.abs(x - theirs[i]!) <= 1e-4 * Math.max(1, Math.abs(x)),
          `seed ${seed}, ${output}[${i}]: ${x} and ${theirs[i]!}\n${fragment}`,
        ),
      );
      compared += mine.length;
    }
  }
  assert.ok(compared > 4000);
});
