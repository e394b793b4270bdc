import assert from 'node:assert/strict';
import { test } from 'node:test';
import { compileShader, programOf } from '../../compileShader.ts';

import { placeInText } from '../../language/placeInText.ts';
import { analyseModule } from '../../language/glsl/analyseModule.ts';
import { readCode } from './codeOperator.ts';
import { shaderOf, run, close } from './code.testing.ts';

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
