import assert from 'node:assert/strict';
import { test } from 'node:test';
import { compileShader, programOf } from '../../compileShader.ts';
import { sketchParameter, sketchShader } from '../../document/sketch.ts';
import { evaluate } from '../../evaluate/columns/evaluate.ts';
import { valueAt } from '../../program/kernels/column.ts';
import { emitGlsl } from '../../emit/glsl/emitGlsl.ts';
import { emitWgsl } from '../../emit/wgsl/emitWgsl.ts';
import { placeInText } from '../../language/placeInText.ts';
import { analyseModule } from '../../language/glsl/analyseModule.ts';
import { readCode } from './codeOperator.ts';

const shaderOf = (code: string, given: Record<string, string> = {}) =>
  sketchShader(
    { above: [['value', { x: '0.25' }]], made: [{ operator: 'code', code, arguments: given }] },
    {},
    [sketchParameter('burn', 'float', [0.5])],
  );

/** What code comes to in the columns, at uv (0.3, 0.7). */
const run = (code: string, given: Record<string, string> = {}): number[] => {
  const { program, diagnostics } = programOf(shaderOf(code, given));
  assert.ok(program, `${code}\n${JSON.stringify(diagnostics)}`);
  const tap = program.taps.findLast((each) => each.strand === 's-made')!;
  const [column] = evaluate([tap.value], {
    ...{ count: 1, inputs: { uv: [0.3, 0.7], time: [2] } },
    ...{ parameters: new Map([['burn', [0.5]]]), knobs: new Map() },
  });
  return valueAt(column!, 0);
};
const close = (mine: readonly number[], wanted: readonly number[], what: string) => {
  assert.equal(mine.length, wanted.length, what);
  mine.forEach((x, i) =>
    assert.ok(Math.abs(x - wanted[i]!) < 1e-5, `${what}: ${mine.join()} not ${wanted.join()}`),
  );
};

/** Bodies of `T made(vec2 uv)`, and what they give back. */
const BODIES: readonly (readonly [type: string, body: string, wanted: readonly number[]])[] = [
  ['float', 'return uv.x + uv.y;', [1]],
  ['float', 'float x = uv.x; x += 1.0; x *= 2.0; x -= 0.6; x /= 4.0; return x;', [0.5]],
  ['vec2', 'vec2 p = uv; p.x = 0.0; return p;', [0, 0.7]],
  ['vec3', 'vec3 c = vec3(0.0); c.zx = uv; c.y += 2.0; return c;', [0.7, 2, 0.3]],
  ['vec4', 'vec4 c; c.rgb = vec3(1.0); c[3] = 0.5; return c;', [1, 1, 1, 0.5]],
  ['float', 'if (uv.x < 0.5) return 1.0; else return 2.0;', [1]],
  ['float', 'float y = 3.0; if (uv.x > 0.5) { y = 4.0; } else if (uv.y > 0.5) y = 5.0; return y;', [5]],
  ['float', 'float s = 0.0; for (int i = 0; i < 5; i++) s += float(i); return s;', [10]],
  ['float', 'float s = 0.0; for (int i = 8; i > 0; i -= 2) { s += 1.0; } return s;', [4]],
  ['float', 'float s = 0.0; int i = 0; while (i < 3) { i++; s += 2.0; } return s;', [6]],
  ['float', 'float s = 0.0; int i = 0; do { s += 1.0; ++i; } while (i < 3); return s;', [3]],
  [
    'float',
    'float s = 0.0; for (int i = 0; i < 9; i++) { if (float(i) * 0.1 > uv.x) break; s += 1.0; } return s;',
    [4],
  ],
  [
    'float',
    'float s = 0.0; for (int i = 0; i < 6; i++) { if (i % 2 == 0) continue; s += float(i); } return s;',
    [9],
  ],
  [
    'float',
    'float s = 0.0; for (int i = 0; i < 4; i++) { if (uv.x * float(i) > 0.5) continue; s += 1.0; } return s;',
    [2],
  ],
  ['float', 'for (int i = 0; i < 9; i++) { if (float(i) > uv.y * 5.0) return float(i); } return -1.0;', [4]],
  [
    'float',
    'float s = 0.0; for (int i = 0; i < 3; i++) for (int j = 0; j < 3; j++) { if (j > i) break; s += 1.0; } return s;',
    [6],
  ],
  [
    'float',
    'float t = 0.0; int i = 0; for (; i < 8 && t < uv.x * 10.0; i++) { t += 1.0; } return t * 10.0 + float(i);',
    [33],
  ],
  ['float', 'int i = 0; while (i++ < int(uv.y * 5.0) && i < 20) {} return float(i);', [4]],
  [
    'float',
    'int i = 0; do { i += 2; if (i == 2) continue; } while (float(i) < uv.x * 9.0 && i < 30); return float(i);',
    [4],
  ],
  ['float', 'return uv.x > 0.5 ? 1.0 : uv.y > 0.5 ? 2.0 : 3.0;', [2]],
  ['float', 'float a = 1.0, b = a + 1.0; { float a = 5.0; b += a; } return a + b;', [8]],
  ['vec2', 'mat2 m = mat2(0.0, 1.0, -1.0, 0.0); return m * uv;', [-0.7, 0.3]],
  ['vec2', 'mat2 m = mat2(0.0, 1.0, -1.0, 0.0); return uv * m;', [0.7, -0.3]],
  ['vec2', 'mat2 m = mat2(2.0); m[1] = vec2(1.0, 3.0); m[0][1] = 5.0; return m * uv;', [1.3, 3.6]],
  [
    'vec3',
    'mat3 m = mat3(vec3(1.0, 0.0, 0.0), vec3(0.0, 2.0, 0.0), vec3(0.0, 0.0, 3.0)); return (m * m) * vec3(1.0);',
    [1, 4, 9],
  ],
  ['float', 'return determinant(mat3(2.0, 0.0, 1.0, 0.0, 3.0, 0.0, 1.0, 0.0, 1.0));', [3]],
  ['vec2', 'return inverse(mat2(2.0, 1.0, 0.0, 4.0)) * vec2(2.0, 9.0);', [1, 2]],
  [
    'vec3',
    'mat4 m = transpose(mat4(1.0)); m[3] = vec4(1.0, 2.0, 3.0, 1.0); return (m * vec4(uv, 0.0, 1.0)).xyz;',
    [1.3, 2.7, 3],
  ],
  ['float', 'return (inverse(mat4(2.0)) * vec4(1.0, 1.0, 1.0, 4.0)).w;', [2]],
  ['float', 'ivec2 n = ivec2(uv * 10.0); return float(n.x * 10 + n.y % 4);', [33]],
  ['float', 'uvec2 h = uvec2(3u, 5u); h ^= h >> 1u; h.x += h.y << 2u; return float(h.x);', [30]],
  ['float', 'bvec2 low = lessThan(uv, vec2(0.5)); return any(low) && !all(low) ? 1.0 : 0.0;', [1]],
  ['vec2', 'return mix(vec2(1.0, 2.0), vec2(3.0, 4.0), greaterThan(uv, vec2(0.5)));', [1, 4]],
  ['float', 'int k = 2; vec3 c = vec3(1.0, 2.0, 3.0); return c[k] + c[int(uv.x * 4.0)];', [5]],
  ['float', 'vec3 c = vec3(0.0); c[int(uv.x * 4.0)] = 7.0; return c.y;', [7]],
  ['float', 'return float(0x1F) + float(7 / 2) + float(-7 % 4) + float(1 << 3);', [31 + 3 - 3 + 8]],
  ['float', 'int n = 6; n >>= 1; n |= 4; n &= 6; n ^= 1; return float(n);', [7]],
  ['float', 'const float K = 0.5; return K * 2.0;', [1]],
  ['float', 'return sinh(1.0) + cosh(1.0) - exp(1.0) + tanh(0.0);', [0]],
  ['float', 'return asinh(sinh(0.5)) + acosh(cosh(0.5)) + atanh(tanh(0.5));', [1.5]],
  ['vec2', 'return roundEven(vec2(0.5, 1.5));', [0, 2]],
  [
    'float',
    'return length(faceforward(vec3(0.0, 0.0, 1.0), vec3(0.0, 0.0, 1.0), vec3(0.0, 0.0, 1.0)) + vec3(0.0, 0.0, 1.0));',
    [0],
  ],
  ['float', 'return isinf(1.0 / (uv.x - uv.x)) ? 1.0 : 0.0;', [1]],
  ['vec2', 'return outerProduct(vec2(1.0, 2.0), vec2(3.0, 4.0))[1];', [4, 8]],
  ['bool', 'return uv.x < uv.y;', [1]],
  ['float', 'float x = 1.0; float y = uv.y < 0.5 ? (x += 1.0) : (x += 5.0); return x * 10.0 + y;', [66]],
  ['float', 'float x = 1.0; bool b = uv.x > 0.5 && ++x > 0.0; return b ? -x : x;', [1]],
  ['float', 'float x = 1.0; bool b = uv.x > 0.5 || ++x > 0.0; return b ? -x : x;', [-2]],
  ['float', 'float a[3]; a[0] = uv.x; a[2] = 4.0; return a[0] + a[1] + a[int(uv.y * 3.0)];', [4.3]],
  ['float', 'const int N = 2; vec2 a[N + 1]; a[N].y = 2.0; return a[2].y + float(a.length());', [5]],
  [
    'vec2',
    'vec2 a[] = vec2[](uv, uv * 2.0); vec2[2] b = a; a[0] = vec2(9.0); return b[0] + b[1];',
    [0.9, 2.1],
  ],
  ['bool', 'float a[2] = float[2](uv.x, 1.0); return a == float[](uv.x, 1.0);', [1]],
  [
    'float',
    'int i = 0; float a[2] = float[](5.0, 7.0); float first = a[i++]; return first * 10.0 + a[i];',
    [57],
  ],
  [
    'float',
    'switch (int(uv.x * 10.0)) { case 2: return 1.0; case 3: return 2.0; default: return 3.0; }',
    [2],
  ],
  [
    'float',
    'float s = 0.0; switch (int(uv.y * 10.0 + 0.5)) { case 7: s += 1.0; case 1: s += 10.0; break; case 2: s += 100.0; } return s;',
    [11],
  ],
  [
    'float',
    'float s = 0.0; switch (int(uv.x)) { default: s += 1.0; case 4: s += 2.0; break; case 5: case 6: s += 4.0; } return s;',
    [3],
  ],
  [
    'float',
    'float s = 0.0; for (int i = 0; i < 4; i++) { switch (i) { case 1: continue; case 2: break; default: s += 1.0; } s += 10.0; } return s;',
    [32],
  ],
  ['int', 'return int(uv.y * 10.0);', [7]],
];

test('code computes what GLSL says, in the columns', () => {
  for (const [type, body, wanted] of BODIES) close(run(`${type} made(vec2 uv) { ${body} }`), wanted, body);
});

test('functions call each other, give back by out and inout, and share constants', () => {
  close(
    run('float half_(float x) { return x * 0.5; } float made(vec2 uv) { return half_(half_(uv.x)); }'),
    [0.075],
    'calls',
  );
  close(
    run(
      'void split(vec2 p, out float a, out float b) { a = p.x; b = p.y; } float made(vec2 uv) { float a, b; split(uv, a, b); return a - b; }',
    ),
    [-0.4],
    'out',
  );
  close(
    run(
      'void grow(inout vec2 p) { p *= 2.0; if (p.x > 0.5) return; p *= 2.0; } vec2 made(vec2 uv) { vec2 q = uv; grow(q); return q; }',
    ),
    [0.6, 1.4],
    'inout',
  );
  close(
    run('void grow(inout float x) { x += 1.0; } float made(vec2 uv) { vec2 q = uv; grow(q.y); return q.y; }'),
    [1.7],
    'a component as out',
  );
  close(
    run('const float K = 2.0; const vec2 TWO = vec2(K); float made(vec2 uv) { return dot(uv, TWO); }'),
    [2],
    'constants',
  );
  const ray =
    'struct Ray { vec3 at; vec3 way; }; struct Hit { float far; Ray by[2]; }; Ray aim(vec2 p) { return Ray(vec3(p, 0.0), vec3(0.0, 0.0, 1.0)); } void move(inout Ray r, float t) { r.at += r.way * t; } ';
  close(
    run(`${ray}vec3 made(vec2 uv) { Ray r = aim(uv); move(r, 2.0); r.way.x = 5.0; return r.at + r.way; }`),
    [5.3, 0.7, 3],
    'a structure',
  );
  close(
    run(
      `${ray}vec2 made(vec2 uv) { Hit h = Hit(2.0, Ray[2](aim(uv), aim(uv.yx))); move(h.by[1], h.far); Hit kept = h; h.by[1].at = vec3(9.0); return kept.by[int(uv.x) + 1].at.xz; }`,
    ),
    [0.7, 2],
    'structures in arrays in structures',
  );
  close(
    run(
      'const float KERNEL[3] = float[](1.0, 2.0, 1.0); float made(vec2 uv) { float s = 0.0; for (int i = 0; i < KERNEL.length(); i++) s += KERNEL[i] * float(i); return s; }',
    ),
    [4],
    'a constant array',
  );
  close(
    run(
      'float grow(inout float x) { x += 1.0; return x; } float made(vec2 uv) { float x = 0.0; float y = uv.x > 0.5 ? grow(x) : 7.0; return x * 10.0 + y; }',
    ),
    [7],
    'a call that changes something only where it is reached',
  );
  close(
    run(
      'float grow(inout float x) { x += 1.0; return x; } float grow(inout vec2 v) { v += 1.0; return v.x; } float made(vec2 uv) { vec2 v = vec2(0.0); return grow(v) + grow(v.y) * 10.0; }',
    ),
    [21],
    'overloads that give back by inout',
  );
  close(
    run(
      'ivec2 cell(vec2 p) { return ivec2(floor(p * 4.0)); } float made(vec2 uv) { ivec2 c = cell(uv); return float(c.x + c.y); }',
    ),
    [3],
    'whole vectors back',
  );
});

test('variables beside the functions begin anew wherever the step is used', () => {
  const glow =
    'float glow = burn, seen; float add(float x) { glow += x; seen += 1.0; return x; } float twice(float x) { return add(x) + add(x); } ';
  close(
    run(`${glow}float made(vec2 uv) { float s = twice(uv.x); return glow + seen * 10.0; }`),
    [21.1],
    'changed',
  );
  close(
    run(
      `${glow}float made(vec2 uv) { float s = uv.y < 0.5 ? twice(uv.x) : add(uv.y); return glow + seen * 10.0; }`,
    ),
    [11.2],
    'changed on one way only',
  );
  close(run(`${glow}float made(vec2 uv) { float glow = 5.0; add(1.0); return glow; }`), [5], 'hidden');
  close(
    run(
      'float half_ = burn * 0.5; float of(float x) { return x * half_; } float made(vec2 uv) { return of(uv.x); }',
    ),
    [0.075],
    'never changed, and read from around',
  );
  const written = `${glow.replace(', seen', ' /* first */,\n  // then\n  seen')}float made(vec2 uv) { int n = int(uv.x * 9.0); for (int i = 0; i < n; i++) add(1.0); float burn = 2.0; return glow * burn; }`;
  const { shader, notes } = compileShader(shaderOf(written));
  assert.match(notes[0]!.message, /depends on what it works on/);
  const { fragment } = shader!.live;
  assert.match(fragment, /float glow, seen;\n\n float add/, 'lines stay where they are');
  assert.match(
    fragment,
    /float made\(vec2 uv, float burn\) \{ \{ glow = burn; int n .* return glow \* burn; \} \}/,
  );
});

test('what it reads from around it is handed down, through every call', () => {
  close(run('float made(vec2 uv) { return above + burn + time; }'), [2.75], 'strand, parameter, time');
  close(
    run('float inner(float x) { return x * above; } float made(vec2 uv) { return inner(burn); }'),
    [0.125],
    'inside a callee',
  );
  close(
    run('float made(vec2 p, float burn) { return p.x + burn; }', { p: 'uv', burn: '2.0' }),
    [2.3],
    'an input hides it',
  );
});

test('an input named as something given reads it; the first input takes what comes from the left', () => {
  close(run('float made(vec2 uv, float time) { return uv.x + time; }'), [2.3], 'named');
  const shader = sketchShader({
    made: [
      ['value', { x: '0.5' }],
      { operator: 'code', code: 'float twice(float x) { return x * 2.0; }', arguments: {} },
    ],
  });
  const { program } = programOf(shader);
  const [column] = evaluate([program!.taps[1]!.value], {
    count: 1,
    inputs: {},
    parameters: new Map(),
    knobs: new Map(),
  });
  assert.equal(column!.data[0], 1);
  assert.equal(program!.taps[1]!.label, 'made');
});

test('a loop that only folds stays a loop, and the same helper is one function wherever it is written', () => {
  const code =
    'float add(int i, float sum, float x) { return sum + x * float(i); } float made(vec2 uv) { float s = 0.0; for (int i = 0; i < 500; ++i) s = add(i, s, uv.x); return s; }';
  close(
    run(code).map((x) => x / 1000),
    [(0.3 * 124750) / 1000],
    'folded',
  );
  const twice = sketchShader(
    {
      a: [{ operator: 'code', code, arguments: {} }],
      b: [{ operator: 'code', code: code.replace('float made', 'float other'), arguments: {} }],
    },
    { opacity: 'a + b' },
    [],
    { alphaMode: 'blended' },
  );
  const { fragment } = emitGlsl(programOf(twice).program!, {
    purpose: 'handover',
    title: 't',
  });
  assert.equal(fragment.match(/float add\(/g)!.length, 1);
  assert.match(fragment, /for \(int i = 0; i < 500; \+\+i\)/);
});

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

/** Wrong code, where the mistake stands (line and column), and what is said. */
const WRONG: readonly (readonly [code: string, place: string, said: RegExp])[] = [
  ['float made(vec2 uv) { return uv.x', '1:34', /Something is missing at the end: a semicolon/],
  ['float made(vec2 uv) {\n  return uv.x +;\n}', '2:16', /value should stand/],
  ['float made(vec2 uv) {\n  return uv.q;\n}', '2:13', /no \.q|components/],
  ['float made(vec2 uv) {\n  return vx.x;\n}', '2:10', /Nothing is called “vx”/],
  [
    'float made(vec2 uv) {\n  return sine(uv.x);\n}',
    '2:10',
    /There is no function “sine” here\. Did you mean sin/,
  ],
  ['float made(vec2 uv) {\n  float x = uv;\n  return x;\n}', '2:13', /x is a float, and this is a vec2/],
  ['float made(vec2 uv) {\n  return vec3(uv);\n}', '2:10', /vec3 needs 3 numbers and was given 2/],
  ['float made(vec2 uv) {\n  return uv * vec3(1.0);\n}', '2:10', /one size/],
  ['float made(vec2 uv) { return made(uv); }', '1:30', /made calls itself; GLSL has no recursion/],
  [
    'float a(float x) { return b(x); } float b(float x) { return a(x); }',
    '1:61',
    /calls a, which calls b again|calls b, which calls a again/,
  ],
  [
    'float made(vec2 uv) { for (int i = 0; i < 1000000000; i++) {} return 0.0; }',
    '1:23',
    /goes round 1000000000 times; at most 4096/,
  ],
  ['float made(vec2 uv) { while (true) { } return 0.0; }', '1:23', /never ends/],
  [
    'float made(vec2 uv) { for (int i = 0; i < 4000; i++) for (int j = 0; j < 4000; j++) {} return 0.0; }',
    '1:54',
    /Loops inside loops go round 16000000 times/,
  ],
  [
    'float made(vec2 uv) { uv.x = 1; if (1.0) return 2.0; return 1.0; }',
    '1:37',
    /condition is a bool, and this is a float/,
  ],
  ['float made(vec2 uv) { const float k = 1.0; k = 2.0; return k; }', '1:44', /k is a constant/],
  [
    'float made(vec2 uv) { above = 2.0; return 1.0; }',
    '1:23',
    /above comes from outside and cannot be changed/,
  ],
  ['float made(vec2 uv) { uv.x + 1.0; }', '1:7', /gives nothing back; it should return a float/],
  ['flout made(vec2 uv) { return 1.0; }', '1:1', /a type should stand, not “flout”\. Did you mean float/],
  ['float sin(float x) { return x; }', '1:7', /one of GLSL’s own functions/],
  [
    'float a(float x) { return x; } float a(float y) { return y * 2.0; }',
    '1:38',
    /two functions called a that take \(float\)/,
  ],
  ['float made(out float x) { x = 1.0; return x; }', '1:12', /out parameter; a step gives back one value/],
  ['mat3 made(vec2 uv) { return mat3(1.0); }', '1:1', /gives back mat3|gives back a mat3/],
  ['const float k = 1.0;', '1:1', /There is no function here/],
  [
    'uniform float k; float made(vec2 uv) { return k; }',
    '1:15',
    /k is declared as uniform, which a step has none/,
  ],
  ['const float K = 1.0; float made(vec2 uv) { K = 2.0; return K; }', '1:44', /K is a constant/],
  ['float made(vec2 uv) { float a[2]; return a[2]; }', '1:44', /elements 0 to 1; there is no 2/],
  ['float made(vec2 uv) { float a[int(uv.x)]; return a[0]; }', '1:31', /whole number that never changes/],
  ['float made(vec2 uv) { float a[0]; return 1.0; }', '1:31', /1 element or more, not 0/],
  ['float made(vec2 uv) { float a[]; return 1.0; }', '1:23', /has to stand in its brackets: float\[4\]/],
  ['float made(vec2 uv) { float a[2][2]; return 1.0; }', '1:33', /no arrays of arrays/],
  ['float made(vec2 uv) { return sin(float[2](1.0, 2.0)); }', '1:34', /sin does not take a float\[2\]/],
  [
    'struct S { float far; }; float made(vec2 uv) { S s; return s.fat; }',
    '1:62',
    /S has no field fat. Did you mean far/,
  ],
  [
    'struct S { float far; }; float made(vec2 uv) { return S(1.0, 2.0).far; }',
    '1:55',
    /S has 1 fields and was given 2/,
  ],
  [
    'struct S { float far; }; float made(vec2 uv) { S s = S(1.0); return s + 1.0; }',
    '1:69',
    /not on S and float/,
  ],
  ['struct S { S s; }; float made(vec2 uv) { return 1.0; }', '1:12', /a type should stand, not “S”/],
  ['float made(vec2 uv) { switch (uv.x) { case 0: return 1.0; } return 2.0; }', '1:31', /is a whole number/],
  ['float made(vec2 uv) { switch (1) { return 1.0; } return 2.0; }', '1:36', /case or default should stand/],
  ['float made(vec2 uv) { switch (1) { case 1: while (true) { } } return 2.0; }', '1:44', /never ends/],
  ['float made(vec2 uv) { return 1.0 ¤ 2.0; }', '1:34', /“¤” has no meaning in GLSL/],
  [
    '#define HALF(x) (x) * 0.5\n#if 1 + 1 == 3\nnonsense\n#else\nfloat made(vec2 uv) { return HALF(uv.x) + HALF(nothing); }\n#endif',
    '5:43',
    /Nothing is called “nothing” here/,
  ],
];

test('overloads are told apart by what they are given', () => {
  const size = `float size(float x) { return abs(x); }
float size(vec2 v) { return size(v.x) + size(v.y); }
float size(vec3 v) { return size(v.xy) + size(v.z) * burn; }
`;
  close(
    run(`${size}float made(vec2 uv) { return size(uv) + size(-2); }`),
    [1 + 2],
    'a whole number is read as a float',
  );
  close(
    run(`${size}float made(vec2 uv) { return size(vec3(uv, -4.0)); }`),
    [1 + 4 * 0.5],
    'with what is around them',
  );
  close(
    run(
      `${size}float made(vec2 uv) { float s = 0.0; for (int i = 0; i < 2; i++) { s += size(uv * float(i)); } return s; }`,
    ),
    [1],
    'in a loop that is written out',
  );
  const said = (code: string): string =>
    compileShader(shaderOf(code))
      .diagnostics.map((each) => each.message)
      .join(' ');
  assert.match(
    said(`${size}float made(vec2 uv) { return size(vec4(1.0)); }`),
    /No size takes \(vec4\); \(float\) or \(vec2\) or \(vec3\) would do/,
  );
  assert.match(
    said(
      'float f(vec2 v) { return v.x; } float f(float x) { return f(x); } float made(vec2 uv) { return f(uv.x); }',
    ),
    /f takes vec2|No f takes|is a vec2, and this is a float/,
    'none calls itself, nor what is below it',
  );
  assert.match(
    said('float f(float x) { return f(x); } float made(vec2 uv) { return f(uv.x); }'),
    /f calls itself/,
  );
  const opaque = `${size.replace(' * burn', '')}float made(vec2 uv) { float a[300]; a[0] = size(uv); return a[0]; }`;
  const { shader, notes } = compileShader(shaderOf(opaque));
  assert.match(notes[0]!.message, /too long to be written out/);
  assert.equal(shader!.live.fragment.match(/float size\(/g)!.length, 3, 'all of them go along');
  const reading = `float idle(float x) { return x * nothing; }\n${size}float made(vec2 uv) { float a[300]; a[0] = size(uv); return a[0]; }`;
  const { fragment } = compileShader(shaderOf(reading)).shader!.live;
  assert.match(
    fragment,
    /float size\(vec2 v, float burn\) \{ return size\(v\.x, burn\) \+ size\(v\.y, burn\); \}/,
  );
  assert.match(fragment, /\/\/ idle is never called\nfloat size\(float x, float burn\)/);
});

test('mistakes in code stand at their own line and column', () => {
  for (const [code, place, said] of WRONG) {
    const { diagnostics } = compileShader(shaderOf(code));
    assert.ok(diagnostics.length > 0, code);
    const [first] = diagnostics;
    assert.match(first!.message, said, code);
    assert.equal(first!.argument, 'code', code);
    const { line, column } = placeInText(code, first!.from);
    assert.equal(`${line}:${column}`, place, `${code}: ${first!.message}`);
  }
});

test('nothing that can be pasted makes it throw or hang', () => {
  for (const text of [
    '',
    '}',
    '{{{{',
    'float',
    'float f(',
    '('.repeat(5000),
    'float f() { return '.repeat(200),
    'a'.repeat(100_000),
    'float f() {' + 'if (true) '.repeat(3000) + '}',
  ])
    assert.ok(analyseModule(text).mistake, text.slice(0, 20));
  const deep = `float f(float x) { return ${'('.repeat(190)}x${')'.repeat(190)}; }`;
  assert.ok(readCode(deep).operator);
  const chain = (n: number, last: string) =>
    `${Array.from({ length: n }, (_, i) => `float f${i}(float x) { return ${i ? `f${i - 1}(x)` : 'x'} + 1.0; }\n`).join('')}${last}`;
  close(run(chain(200, 'float made(vec2 uv) { return f199(uv.x); }')), [200.3], 'functions 200 deep');
  assert.match(analyseModule(chain(3000, '')).mistake!.message, /call one another more than 256 deep here/);
  const doubled = Array.from(
    { length: 40 },
    (_, i) => `struct S${i + 1} { ${i ? `S${i} a, b;` : 'float a, b;'} };`,
  );
  const { notes } = compileShader(
    shaderOf(`${doubled.join('\n')} float made(vec2 uv) { S40 s; return uv.x; }`),
  );
  assert.match(notes[0]!.message, /the structure S9 is too large to be written out/);
  const tooDeep = `float f(float x) { return ${'('.repeat(9000)}x${')'.repeat(9000)}; }`;
  assert.match(readCode(tooDeep).mistake!.message, /nested more than 200 deep/);
});

test('a long body is written out up to a limit, and runs as written beyond it', () => {
  const long = (n: number) =>
    `float made(vec2 uv) { float s = uv.x; for (int i = 0; i < ${n}; i++) { s = fract(s * 1.7 + float(i)); } return s; }`;
  assert.equal(compileShader(shaderOf(long(64))).notes.length, 0);
  assert.match(compileShader(shaderOf(long(4096))).notes[0]!.message, /more than 8192 operations/);
});

test('what one call comes to is bounded, wherever the work doubles', () => {
  let doubling = 'float f0(float x) { return x * 0.5; }';
  for (let i = 1; i <= 30; i += 1)
    doubling += ` float f${i}(float x) { return f${i - 1}(x) + f${i - 1}(x + 1.0); }`;
  const loops =
    'float g(int i, float s) { return s + sin(s); } float h(int i, float s) { for (int j = 0; j < 4000; j++) s = g(j, s); return s; } float k(float s) { for (int j = 0; j < 4000; j++) s = h(j, s); return s; }';
  for (const [text, said] of [
    [
      `${doubling} float made(vec2 uv) { return f30(uv.x); }`,
      /One call of f16 comes to more than 65536 calls/,
    ],
    [`${loops} float made(vec2 uv) { return k(uv.x); }`, /One call of k comes to 48,\d+,\d+ operations/],
    [
      `${doubling} float made(vec2 uv) { for (;;) { if (uv.x > f30(uv.y)) break; } return 1.0; }`,
      /One call of f16/,
    ],
  ] as const)
    assert.match(programOf(shaderOf(text)).diagnostics[0]?.message ?? 'nothing', said);
  assert.ok(programOf(shaderOf(`${doubling} float made(vec2 uv) { return f12(uv.x); }`)).program);
});
