import assert from 'node:assert/strict';
import { test } from 'node:test';
import { compileShader, programOf } from '../../compileShader.ts';
import { sketchParameter, sketchShader } from '../../document/sketch.ts';
import { evaluate } from '../../evaluate/columns/evaluate.ts';
import { emitGlsl } from '../../emit/glsl/emitGlsl.ts';
import { emitWgsl } from '../../emit/wgsl/emitWgsl.ts';
import { placeInText } from '../../language/placeInText.ts';
import { shaderOf } from './code.testing.ts';

/** Good GLSL that the program cannot hold, and why. */
const OPAQUE: readonly (readonly [string, RegExp])[] = [
  ['float made(vec2 uv) { float a[300]; a[0] = uv.x; return a[0]; }', /array of 300 float is too long/],
  ['float made(vec2 uv) { mat2x3 m; return uv.x + m[0].x; }', /has no mat2x3/],
  [
    'float made(vec2 uv) { int n = int(uv.x * 9.0); float s = 0.0; for (int i = 0; i < n; i++) s += uv.y; return s; }',
    /depends on what it works on/,
  ],
  ['float made(vec2 uv) { if (uv.x > 0.5) discard; return 1.0; }', /discards pixels/],
  ['float made(vec2 uv) { mat2x3 m = mat2x3(uv.x); return m[0].x; }', /mat2x3/],
];

test('what cannot be held runs as it is written, says why, and loses only what it must', () => {
  for (const [code, why] of OPAQUE) {
    const shader = shaderOf(code);
    const { shader: compiled, notes, diagnostics } = compileShader(shader);
    assert.ok(compiled, `${code} ${JSON.stringify(diagnostics)}`);
    assert.equal(notes.length, 1, code);
    assert.match(notes[0]!.message, /runs on the graphics card as you wrote it, and nowhere else/);
    assert.match(notes[0]!.message, why);
    assert.equal(notes[0]!.argument, 'code');
    const [written] = compiled.live.written;
    assert.equal(written?.step, 'made-0', code);
    const lines = compiled.live.fragment.split('\n').slice(written!.from - 1, written!.to);
    assert.match(lines.join('\n'), /made\(vec2 uv/);
    const { program } = programOf({
      ...shader,
      surface: { ...shader.surface, outputs: { roughness: 'float(made)' } },
    });
    const wgsl = emitWgsl(program!, { title: 't' });
    assert.match(wgsl.refused ?? '', /can be written only as GLSL/);
    const tap = program!.taps.findLast((each) => each.strand === 's-made')!;
    assert.throws(
      () =>
        evaluate([tap.value], {
          count: 1,
          inputs: { uv: [0.3, 0.7] },
          parameters: new Map(),
          knobs: new Map(),
        }),
      /made runs only on the graphics card/,
    );
  }
});

test('why it cannot be held stands where it is, wherever the same function is written', () => {
  const helper = 'float far(vec2 p) { float a[300]; return a[int(p.x)]; }';
  for (const [before, line] of [
    ['', 1],
    ['float idle(float x) { return x; }\n\n', 3],
  ] as const) {
    const code = `${before}${helper}\nfloat made(vec2 uv) { return far(uv); }`;
    const [note] = compileShader(shaderOf(code)).notes;
    assert.equal(placeInText(code, note!.from).line, line);
  }
});

test('opaque code is handed what it reads, and its names are kept from clashing', () => {
  const code =
    'float tint(float x) { return x * burn; } float made(vec2 uv) { float a[300]; a[0] = tint(uv.x) + above; return a[0]; }';
  const other = code.replace('x * burn', 'x + burn').replace('float made', 'float again');
  const shader = sketchShader(
    {
      above: [['value', { x: 'uv.y' }]],
      one: [{ operator: 'code', code, arguments: {} }],
      two: [{ operator: 'code', code: other, arguments: {} }],
    },
    { roughness: 'one + two' },
    [sketchParameter('burn', 'float', [0.5])],
  );
  const { fragment } = emitGlsl(programOf(shader).program!, {
    purpose: 'handover',
    title: 't',
  });
  assert.match(fragment, /float tint\(float x, float burn\)/);
  assert.match(fragment, /float tint2\(float x, float burn\)/);
  assert.match(fragment, /tint2\(uv\.x, burn\)/);
  assert.match(fragment, /again\(uv, uv\.y, burn\)/);
});

test('a long body is written out up to a limit, and runs as written beyond it', () => {
  const long = (n: number) =>
    `float made(vec2 uv) { float s = uv.x; for (int i = 0; i < ${n}; i++) { s = fract(s * 1.7 + float(i)); } return s; }`;
  assert.equal(compileShader(shaderOf(long(64))).notes.length, 0);
  assert.match(compileShader(shaderOf(long(4096))).notes[0]!.message, /more than 8192 operations/);
});
