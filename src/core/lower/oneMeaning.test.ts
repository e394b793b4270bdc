import assert from 'node:assert/strict';
import { test } from 'node:test';
import { programOf } from '../compileShader.ts';
import { sketchParameter, sketchShader } from '../document/sketch.ts';
import { valueAt } from '../program/kernels/column.ts';
import { compile } from '../evaluate/columns/compile.ts';
import { interpret } from '../evaluate/columns/interpret.ts';
import type { Picture, Points } from '../evaluate/points/points.ts';
import { emitGlsl } from '../emit/glsl/emitGlsl.ts';
import { emitWgsl } from '../emit/wgsl/emitWgsl.ts';

const XS = [-2.5, -1, -0.5, -0, 0, 0.25, 0.5, 1, 1.5, 40];
const pointsOf = (xs: readonly number[], more: Partial<Points> = {}): Points => ({
  ...{ count: xs.length, inputs: { uv: [...xs, ...xs.map((x) => 0.5 - x / 3)] } },
  ...{ parameters: new Map([['burn', [0.5]]]), knobs: new Map(), ...more },
});

/** A step's value at each x, by the interpreter; the compiled columns must give the same to the last bit. */
const valuesOf = (
  step: Parameters<typeof sketchShader>[0][string][number],
  xs: readonly number[] = XS,
  more: Partial<Points> = {},
): number[][] => {
  const shader = sketchShader({ made: [step] }, {}, [
    sketchParameter('burn', 'float', [0.5]),
    sketchParameter('tile', 'texture', []),
  ]);
  const { program, diagnostics } = programOf(shader);
  assert.ok(program, JSON.stringify([step, diagnostics]));
  const { value } = program.taps.at(-1)!;
  const [column] = interpret([value])(pointsOf(xs, more));
  const swift = compile([value])(pointsOf(xs, more));
  if (swift) assert.deepEqual(swift[0]!.data, column!.data, JSON.stringify(step));
  return xs.map((_, i) => valueAt(column!, i));
};
const code = (text: string) => ({ operator: 'code', code: text, arguments: {} });
const x = (body: string, type = 'float') => code(`${type} made(vec2 uv) { float x = uv.x; ${body} }`);

test('loops count as they are written: any step, sign, bound and kind of counter', () => {
  const helper =
    'float f(int i, float s) { return s + float(i); } float g(float t, float s) { return s + t; }';
  const sums: readonly (readonly [loop: string, wanted: number])[] = [
    ['for (int i = 0; i < 10; i += 2) s = f(i, s);', 20],
    ['for (int i = 0; i < 10; i++) s = f(i, s);', 45],
    ['for (int i = 0; i < 10; ++i) s = f(i, s);', 45],
    ['for (int i = 0; i < 10; i += 1) s = f(i, s);', 45],
    ['for (int i = 0; i < 10; i += 3) s = f(i, s);', 18],
    ['for (int i = 0; i <= 10; i++) s = f(i, s);', 55],
    ['for (int i = 10; i > 0; i -= 4) s = f(i, s);', 18],
    ['for (int i = 0; i != 6; i++) s = f(i, s);', 15],
    ['for (int i = 1; i < 40; i *= 3) s = f(i, s);', 40],
    ['for (int i = 0; i < 0; i++) s = f(i, s);', 0],
    ['for (float t = 0.0; t < 2.0; t += 0.5) s = g(t, s);', 3],
    ['for (float t = 0.0; t < 3.0; t++) s = g(t, s);', 3],
    ['for (int t = 0; t < 4; t++) s = g(float(t), s);', 6],
    ['for (int i = 0; i < 4; i++) { s = f(i, s); i++; }', 2],
    ['int n = 2; for (int i = 0; i < n++ && i < 5; i++) s = f(i, s);', 10],
    ['float a[3]; for (int i = 0; i < 9; i++) { if (i >= 3) break; a[i] = 2.0; s += a[i]; }', 6],
    [
      'float a[3]; for (int i = 0; i < 9; i++) { if (float(i) > uv.x * 4.0) break; a[i] = 2.0; s += a[i]; }',
      6,
    ],
    ['int k = 3; for (int i = 0; i < 3; i++) k = k + i; s = float(k);', 6],
  ];
  for (const [loop, wanted] of sums)
    assert.deepEqual(
      valuesOf(code(`${helper} float made(vec2 uv) { float s = 0.0; ${loop} return s; }`), [0.5]),
      [[wanted]],
      loop,
    );
});

test('what a function hands back unchanged is still there when it is read again', () => {
  const same = 'float same(float v) { return v; } float round2(int i, float v) { return v; }';
  const cases: readonly (readonly [body: string, wanted: (x: number) => number])[] = [
    [
      'float a = x + 1.0; float c = same(a); float d = x * 3.0; float e = d + x; return c + e;',
      (v) => v + 1 + v * 4,
    ],
    [
      'float a = x + 1.0; for (int i = 0; i < int(x * 0.0); i++) a = round2(i, a); float d = x * 3.0; return a + d * d;',
      (v) => v + 1 + 9 * v * v,
    ],
    [
      'float a = x * 2.0; for (int i = 0; i < int(x + 3.0); i++) a = round2(i, a); float d = x - 7.0; return a * d;',
      (v) => 2 * v * (v - 7),
    ],
  ];
  for (const [body, wanted] of cases)
    valuesOf(code(`${same} float made(vec2 uv) { float x = uv.x; ${body} }`)).forEach(([mine], i) =>
      assert.ok(Math.abs(mine! - wanted(XS[i]!)) < 1e-3, `${body} at ${XS[i]}: ${mine}`),
    );
});

/** Functions that an argument and a code step both know, at numbers where GLSL leaves much open. */
const SHARED: readonly string[] = [
  ...'radians degrees sin cos tan asin acos exp log exp2 log2 sqrt inversesqrt'.split(' '),
  ...'floor ceil round trunc fract abs sign normalize length'.split(' '),
].map((name) => `${name}(X)`);
const PAIRS: readonly string[] = [
  ...[
    'pow(X, Y)',
    'pow(X, -1.0)',
    'pow(0.0, X)',
    'mod(X, Y)',
    'mod(X, -2.0)',
    'atan(X, Y)',
    'atan(X * 0.0, 0.0)',
  ],
  ...['min(X, Y)', 'max(X, Y)', 'clamp(X, 0.5, Y)', 'step(Y, X)', 'smoothstep(0.5, 0.5, X)'],
  ...['smoothstep(Y, X, 0.25)', 'smoothstep(1.0, -1.0, X)', 'smoothstep(-1.0, 1.0, X)', 'mix(X, Y, 1.5)'],
  ...['distance(X, Y)', 'dot(vec2(X, Y), vec2(Y))', 'reflect(vec3(X), vec3(Y))'],
  ...['float(int(X) % 3)', 'float(int(X) % -3)', 'float(int(X) / int(Y))', 'float(int(X) % int(X * 0.0))'],
  ...['float(uint(X) % 3u)', 'float(1 << int(X))', 'float(7 >> int(X * 3.0))', 'float(-9 >> 40)'],
  ...[
    'float(4026531840u >> uint(int(X)))',
    'float(int(X * 1e12))',
    'float(uint(X * 1e12))',
    'X / Y',
    'X / 0.0',
  ],
];

test('an argument and a code step mean the same by the same words, whatever they are given', () => {
  for (const form of [...SHARED, ...PAIRS]) {
    const [inArgument, inCode] = [['uv.x', 'uv.y'] as const, ['x', 'y'] as const].map(([p, q]) =>
      form.replace(/\bX\b/g, p!).replace(/\bY\b/g, q!),
    ) as [string, string];
    const vector = form.startsWith('reflect');
    const type = vector ? 'vec3' : 'float';
    const argued = valuesOf(['value', { x: inArgument }]);
    const coded = valuesOf(
      code(`${type} made(vec2 uv) { float x = uv.x; float y = uv.y; return ${inCode}; }`),
    );
    assert.deepEqual(coded, argued, form);
  }
});

test('the corners that GLSL leaves open are what docs/meaning.md says', () => {
  const corners: readonly (readonly [form: string, wanted: number])[] = [
    ['sqrt(-0.5)', 0],
    ['inversesqrt(0.0)', Math.fround(1e15)],
    ['log(-0.5)', Math.fround(-126 * Math.LN2)],
    ['log2(0.0)', -126],
    ['pow(-2.0, 2.0)', 0],
    ['pow(-2.0, 0.0)', 1],
    ['pow(0.0, 0.0)', 1],
    ['pow(0.0, -1.0)', 1],
    ['asin(2.0)', Math.fround(Math.PI / 2)],
    ['acos(-3.0)', Math.fround(Math.PI)],
    ['atan(0.0, 0.0)', 0],
    ['smoothstep(0.5, 0.5, 0.4)', 0],
    ['smoothstep(0.5, 0.5, 0.6)', 1],
    ['mod(-1.0, 3.0)', 2],
    ['round(-0.5)', 0],
    ['float(-7 % 3)', -1],
    ['float(7 % 0)', 0],
    ['float(7 / 0)', 0],
    ['float(1 << 33)', 2],
    ['float(8 >> 35)', 1],
    ['float(1 << -1)', -2147483648],
    ['float(int(3e9))', 2147483520],
    ['float(uint(-4.0))', 0],
    ['length(normalize(vec3(0.0)))', 0],
  ];
  for (const [form, wanted] of corners)
    for (const step of [['value', { x: form }] as const, x(`return ${form};`)])
      assert.equal(valuesOf(step, [0.5])[0]![0]! + 0, wanted, form);
});

test('GLSL and WGSL say what columns mean by a shift: its amount is held within the word', () => {
  const shader = sketchShader(
    {
      made: [
        [
          'value',
          { x: 'float((int(uv.x * 90.0) >> (int(uv.y) + 4)) ^ (7u << (uint(uv.x) + 4u) > 3u ? 1 : 2))' },
        ],
      ],
    },
    { roughness: 'made' },
  );
  const { program } = programOf(shader);
  const options = { title: 'shifts' };
  const glsl = emitGlsl(program!, { ...options, purpose: 'handover' }).fragment;
  assert.match(glsl, />> \(whole\(uv\.y\) \+ 4 & 31\)/);
  assert.match(glsl, /<< \(wholeU\(uv\.x\) \+ 4u & 31u\)/);
  assert.match(emitWgsl(program!, options).code!, /7u << \(\(u32\(uv\.x\) \+ 4u\) & 31u\)/);
});

const TILE: Picture = {
  ...{ width: 4, height: 2, wrap: 'repeat', filter: 'nearest' },
  rgba: Float32Array.from({ length: 32 }, (_, i) => (i % 4 === 0 ? i / 4 : 1)),
};

test('textures are read by texel, at a level, with slopes, beside a place, and tell their size', () => {
  const pictures = new Map([['tile', TILE]]);
  const reads: readonly (readonly [expression: string, wanted: number])[] = [
    ['texelFetch(tile, ivec2(2, 1), 0).r', 6],
    ['texelFetch(tile, ivec2(9, -3), 0).r', 3],
    ['texelFetchOffset(tile, ivec2(2, 1), 0, ivec2(-1, 0)).r', 5],
    ['texelFetch(tile, ivec2(0, 0), 1).r', 2.5],
    ['float(textureSize(tile, 0).x * 10 + textureSize(tile, 0).y)', 42],
    ['float(textureSize(tile, 1).x * 10 + textureSize(tile, 2).y)', 21],
    ['textureLod(tile, vec2(0.1, 0.1), 0.0).r', 0],
    ['textureLod(tile, vec2(0.1, 0.1), 1.0).r', 2.5],
    ['textureLod(tile, vec2(0.9, 0.1), 1.0).r', 4.5],
    ['textureLod(tile, vec2(0.1, 0.1), 9.0).r', 3.5],
    ['texture(tile, vec2(0.1, 0.1), 1.0).r', 2.5],
    ['textureGrad(tile, vec2(0.1, 0.1), vec2(0.5, 0.0), vec2(0.0, 0.5)).r', 2.5],
    ['textureGrad(tile, vec2(0.1, 0.1), vec2(0.1, 0.0), vec2(0.0, 0.1)).r', 0],
    ['textureOffset(tile, vec2(0.1, 0.1), ivec2(2, 1)).r', 6],
    ['textureLodOffset(tile, vec2(0.1, 0.1), 1.0, ivec2(1, 0)).r', 4.5],
    ['textureProj(tile, vec3(0.2, 0.2, 2.0)).r', 0],
    ['textureProjLod(tile, vec4(0.2, 0.2, 9.0, 2.0), 1.0).r', 2.5],
  ];
  for (const [expression, wanted] of reads)
    assert.deepEqual(valuesOf(x(`return ${expression};`), [0.5], { pictures }), [[wanted]], expression);
  assert.deepEqual(valuesOf(['value', { x: 'texture(tile, vec2(0.1), 1.0).r' }], [0.5], { pictures }), [
    [2.5],
  ]);
});

test('a number’s bits, and numbers packed in pairs, are what the specification says', () => {
  const bits: readonly (readonly [expression: string, wanted: number])[] = [
    ['float(floatBitsToInt(1.0) == 0x3f800000)', 1],
    ['float(floatBitsToUint(-2.0) == 0xc0000000u)', 1],
    ['intBitsToFloat(0x40490fdb)', Math.fround(Math.PI)],
    ['uintBitsToFloat(floatBitsToUint(x) & 0x7fffffffu)', 0.5],
    ['uintBitsToFloat(uvec2(0x3f800000u, 0x40000000u)).y', 2],
    ['float(packHalf2x16(vec2(1.0, -2.0)) == 0xc0003c00u)', 1],
    ['unpackHalf2x16(0x7bff3555u).x', 0.333251953125],
    ['unpackHalf2x16(0x7bff3555u).y', 65504],
    ['unpackHalf2x16(packHalf2x16(vec2(6e-8, 0.1))).x', 2 ** -24],
    ['float(packUnorm2x16(vec2(0.0, 1.0)) == 0xffff0000u)', 1],
    ['unpackSnorm2x16(packSnorm2x16(vec2(-1.0, 0.5))).x', -1],
    ['unpackUnorm2x16(0x0000ffffu).x', 1],
  ];
  for (const [expression, wanted] of bits)
    assert.deepEqual(valuesOf(x(`return ${expression};`), [0.5]), [[wanted]], expression);
  assert.deepEqual(valuesOf(x('float w; float f = modf(x * -5.0, w); return w * 10.0 + f;'), [0.5]), [
    [-20.5],
  ]);
  assert.deepEqual(
    valuesOf(x('vec2 w; vec2 f = modf(vec2(x, 2.75), w); return w.y * 10.0 + f.y + w.x;'), [0.5]),
    [[20.75]],
  );
});

test('what only a pixel knows cannot move a vertex, and a slope of what never changes is nothing', () => {
  const offset = (step: Parameters<typeof valuesOf>[0]) => {
    const shader = sketchShader({ made: [step] }, { vertexOffset: 'vec3(made)' }, [
      sketchParameter('tile', 'texture', []),
    ]);
    return programOf(shader).diagnostics.map((each) => `${each.step}: ${each.message}`);
  };
  for (const [step, asks] of [
    [['value', { x: 'dFdx(uv.x)' }], 'dFdx'],
    [['value', { x: 'float(frontFacing)' }], 'frontFacing'],
    [['value', { x: 'texture(tile, uv, 2.0).r' }], 'bias'],
    [code('float made(vec2 uv) { return fwidth(uv.y); }'), 'fwidth'],
    [code('float made(vec2 uv) { for (;;) { if (uv.x > 0.0) break; } return dFdy(uv.x); }'), 'dFdy'],
  ] as const) {
    const found = offset(step);
    assert.equal(found.length, 1, JSON.stringify([step, found]));
    assert.match(
      found[0]!,
      new RegExp(`^vertexOffset: A vertex offset is worked out before .*${asks}.* made`),
    );
  }
  assert.deepEqual(offset(['value', { x: 'textureLod(tile, uv, 2.0).r' }]), []);
  const flat = code('float f(float t) { return fwidth(t * t) + t; } float made(vec2 uv) { return f(burn); }');
  assert.deepEqual(valuesOf(flat, [0.5]), [[0.5]]);
});

test('whole numbers are read as GLSL writes them: octal after a 0, hexadecimal by its bits', () => {
  for (const [form, wanted] of [
    ['010', 8],
    ['0777u', 511],
    ['0x1F', 31],
    ['0xFFFFFFFF', -1],
    ['00', 0],
    ['10', 10],
    ['010.0', 10],
  ] as const)
    for (const step of [['value', { x: `float(${form})` }] as const, x(`return float(${form});`)])
      assert.deepEqual(valuesOf(step, [0.5]), [[wanted]], form);
  const { diagnostics } = programOf(sketchShader({ made: [['value', { x: '089' }]] }));
  assert.match(diagnostics[0]!.message, /089 begins with 0, which makes it octal, and octal has no digit 8/);
  assert.equal(diagnostics[0]!.fix?.text, '89');
});
