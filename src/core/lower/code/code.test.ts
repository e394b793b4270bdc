import assert from 'node:assert/strict';
import { test } from 'node:test';
import { compileShader, programOf } from '../../compileShader.ts';
import { sketchShader } from '../../document/sketch.ts';
import { evaluate } from '../../evaluate/columns/evaluate.ts';

import { emitGlsl } from '../../emit/glsl/emitGlsl.ts';
import { shaderOf, run, close } from './code.testing.ts';

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
