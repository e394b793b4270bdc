import { expect, test, type Page } from '@playwright/test';
import { OPERATORS } from '#core/operators/catalogue.ts';
import type { Chosen, Operator, OperatorInput } from '#core/operators/declare.ts';
import { parseExpression } from '#core/language/parseExpression.ts';
import { lowerArgument } from '#core/lower/lowerArgument.ts';
import { createBuilder, defineFunction, type Builder } from '#core/program/builder.ts';
import { INPUTS, type InputName } from '#core/program/inputs.ts';
import type { Type } from '#core/program/types.ts';
import { writeFunctions } from '#core/emit/source/statements.ts';
import { createWgsl } from '#core/emit/wgsl/spell.ts';
import { createChance, MOST_AT_ONCE, randomArgument, runAll, runBoth, worstDifference } from './probe.ts';
import { runsInWgsl, runWgsl } from './runWgsl.ts';
import { securePage } from './securePage.ts';
import { tryCode } from './tryCode.ts';

/*
 * The reference evaluator and the real shader, on 4,096 points each. Whole numbers agree exactly, floats within 1e-4
 * of their size (or of 1, where they are smaller).
 */
const FLOAT_BOUND = 1e-4;

/**
 * Drivers compute these only so far; the bounds are the Vulkan specification's ("Precision and Operation of SPIR-V
 * Instructions"), which WebGL's drivers keep: sine and cosine 2⁻¹¹ of 1, tangent as their quotient.
 */
const TRIGONOMETRY_BOUND = 2 ** -11;
/** Operators that go through a sine, a cosine or an arc. */
const TURNING = /\b(sin|cos|rotate|wave|asin|acos|atan|swirl|polar|rectangle|hue|rings|rotateAbout)\b/;
const boundOf = (text: string): number =>
  /\b(tan)\b/.test(text) ? 4e-3 : TURNING.test(text) ? TRIGONOMETRY_BOUND : FLOAT_BOUND;

const typesOf = (operator: Operator, size: Type): Record<string, Type> =>
  Object.fromEntries(
    Object.entries(operator.inputs).flatMap(([name, { type }]): [string, Type][] =>
      type === 'choice' ? [] : [[name, type === 'any' ? size : type]],
    ),
  );

/** Narrower ranges where an operator would multiply a sine's own error: a soft edge, few and weak rings. */
const TAMED: Readonly<Record<string, readonly [number, number]>> = {
  'rectangle.softness': [0.5, 1],
  'rings.count': [4, 40],
  'rings.strength': [0, 1],
  // A quarter lies as far from one level as from the next, and cards take either.
  'sceneBlurred.blur': [0.26, 1],
  'sceneLevel.level': [0.51, 6],
};

/** The declared range where there is one, else a few units either side of 0. */
const rangeOf = (type: Type, declared?: OperatorInput, name = ''): readonly [number, number] =>
  TAMED[name] ??
  (declared?.min !== undefined && declared.max !== undefined
    ? [declared.min, declared.max]
    : type === 'int' || type === 'uint'
      ? [0, 12]
      : [-3, 3]);
const specialsIn = ([low, high]: readonly [number, number]) => SPECIAL.filter((x) => x >= low && x <= high);
const SPECIAL = [0, 1, -1, 0.5, 0.25, 2];

/** Every choice once, the others at their first word. */
const choicesOf = (operator: Operator): Chosen[] => {
  const choices = Object.entries(operator.inputs).filter(([, input]) => input.type === 'choice');
  const first = Object.fromEntries(choices.map(([name, input]) => [name, input.options![0]!]));
  return [
    first,
    ...choices.flatMap(([name, input]) =>
      input.options!.slice(1).map((word) => ({ ...first, [name]: word })),
    ),
  ];
};

/** What an operator reads besides its inputs: time, the camera, the prop. */
const readsOf = (operator: Operator, types: Record<string, Type>, chosen: Chosen): InputName[] => {
  const found = new Set<InputName>();
  const b = createBuilder();
  const spy = { ...b, input: (name: InputName) => (found.add(name), b.input(name)) } as Builder;
  const args = Object.entries(types).map(([name, type], i) => [name, b.argument(type, i)] as const);
  operator.lower(spy, Object.fromEntries(args), chosen);
  return [...found];
};

let page: Page;
test.beforeAll(async ({ browser }) => {
  page = await securePage(browser);
});
test.afterAll(() => page.close());

for (const operator of OPERATORS.values())
  test(`${operator.name} means the same on the GPU and in the columns`, async () => {
    const anySized = Object.values(operator.inputs).some((input) => input.type === 'any');
    for (const chosen of choicesOf(operator))
      for (const size of anySized ? (['float', 'vec3'] as const) : (['float'] as const)) {
        const types = typesOf(operator, size);
        // Values from outside become more arguments.
        const reads = readsOf(operator, types, chosen);
        const all = {
          ...types,
          ...Object.fromEntries(reads.map((name) => [`outer_${name}`, INPUTS[name].type])),
        };
        const fn = defineFunction('probe', all, (b, args) =>
          operator.lower({ ...b, input: (name: string) => args[`outer_${name}`]! }, args, chosen),
        );
        const chance = createChance(operator.name.length * 977 + size.length);
        const args = fn.parameters.map((each) => {
          const range = rangeOf(each.type, operator.inputs[each.name], `${operator.name}.${each.name}`);
          return randomArgument(each.type, chance, range, specialsIn(range));
        });
        const { gpu, columns } = await runBoth(page, fn, args);
        expect(columns.data.length).toBe(gpu.length);
        const { worst, at } = worstDifference(gpu, columns);
        const what = `${operator.name} of ${size} ${Object.values(chosen).join(' ')}`;
        const bound = boundOf(`${operator.name} ${Object.values(chosen).join(' ')}`);
        expect(worst, `${what}: ${at}`).toBeLessThanOrEqual(bound);
        if (!runsInWgsl(fn)) continue;
        const again = worstDifference(await runWgsl(page, fn, args), columns);
        expect(again.worst, `${what}, in WebGPU: ${again.at}`).toBeLessThanOrEqual(bound);
      }
  });

/** Every form an expression can take, over x, y (float), v (vec3), n, k (int, k positive), u (uint), p (bool). */
const FORMS = [
  ...['x + y', 'x - y', 'x * y', 'x / y', '-x', '+x', '(x + y) * v', 'v / x', 'v * v', 'x - (y - x)'],
  ...['n + k', 'n - k', 'n * k', 'n / k', 'n % k', '-n', '~n', 'n & k', 'n | k', 'n ^ k', 'n << 3', 'n >> 2'],
  ...['u + 3u', 'u * 2654435761u', 'u / 7u', 'u % 7u', 'u >> 5u', 'u ^ (u << 13)', 'n / 0', 'n % 0'],
  ...['x < y', 'x > y', 'x <= y', 'x >= y', 'x == y', 'x != y', 'n < k', 'n == k', 'v == v', 'v != v.zyx'],
  ...['p && x > y', 'p || x > y', 'p ^^ x > y', '!p', 'p ? x : y', 'p ? v : v.zxy', 'x > 0.0 ? n : k'],
  ...[
    'v.xy',
    'v.bgr',
    'v.stp',
    'v.zzyx',
    'v[1]',
    'vec4(v, x)[3]',
    'vec2(x, n)',
    'vec3(x)',
    'vec4(v.xy, v.yz)',
    'vec2(v)',
  ],
  ...['float(n)', 'int(x)', 'uint(k)', 'bool(n)', 'float(p)', 'int(-2.7)', 'float(u)', 'n + x', 'k * 0.5'],
  ...[
    'radians(x)',
    'degrees(x)',
    'tan(x * 0.4)',
    'asin(x / 4.0)',
    'acos(x / 4.0)',
    'atan(x)',
    'atan(y, abs(x) + 0.1)',
  ],
  ...[
    'exp(x)',
    'log(abs(x) + 0.1)',
    'exp2(x)',
    'log2(abs(x) + 0.1)',
    'inversesqrt(abs(x) + 0.1)',
    'pow(abs(x), y)',
    'pow(x, 2.0)',
  ],
  ...[
    'sign(x)',
    'trunc(x)',
    'round(x)',
    'ceil(x)',
    'saturate(x)',
    'dot(v, v.zxy)',
    'cross(v, v.yzx)',
    'reflect(v, normalize(v.zxy))',
  ],
  ...[
    'isnan(x / 0.0 - x / 0.0)',
    'dFdx(x)',
    'dFdy(v)',
    'fwidth(x * y)',
    'sqrt(-1.0) + x',
    '0x1F + n',
    '1e-3 * x',
    '.5 + 2.',
  ],
  ...[
    'v[n % 3]',
    'mat2(x, y, 1.0, x) * v.xy',
    'v * mat3(v, v.yzx, vec3(x, y, 1.0))',
    'any(lessThan(v, v.zyx))',
  ],
  ...[
    'ivec2(n, k).y << 2',
    'floatBitsToInt(x) >> 3',
    'uvec3(u, 1u, u >> 2u).z',
    'determinant(mat2(v.xy, v.yz))',
  ],
  ...[
    'mix(v, vec3(x), 0.25)',
    'smoothstep(-1.0, 1.0, x)',
    'smoothstep(1.0, -1.0, x)',
    'smoothstep(x, x, y)',
    'clamp(v, -0.5, 0.5)',
  ],
];

/** What forms are of: whole numbers that a division and a shift can take, the rest of any kind. */
const OF = { x: 'float', y: 'float', v: 'vec3', n: 'int', k: 'int', u: 'uint', p: 'bool' } as const;
const formed = (form: string, name: string) => {
  const { expression, mistake } = parseExpression(form);
  expect(mistake?.message, form).toBeUndefined();
  return defineFunction(name, OF, (b, args) =>
    lowerArgument(b, expression!, {
      resolve: (each) => args[each as keyof typeof OF] ?? null,
      names: () => Object.keys(OF),
    }),
  );
};

test('every form of expression means the same on the GPU and in the columns', async () => {
  const chance = createChance(20);
  for (let from = 0; from < FORMS.length; from += MOST_AT_ONCE) {
    const forms = FORMS.slice(from, from + MOST_AT_ONCE);
    const functions = forms.map((form, i) => formed(form, `probe${i}`));
    const args = Object.entries(OF).map(([name, type]) =>
      name === 'n'
        ? randomArgument('int', chance, [0, 40], [])
        : name === 'k'
          ? randomArgument('int', chance, [1, 9], [])
          : name === 'u'
            ? randomArgument('uint', chance, [0, 4e9], [0, 4294967040])
            : randomArgument(type, chance, [-3, 3], SPECIAL),
    );
    for (const [i, { gpu, columns }] of (await runAll(page, functions, args)).entries()) {
      const [form, fn] = [forms[i]!, functions[i]!];
      const { worst, at } = worstDifference(gpu, columns);
      expect(worst, `${form}: ${at}`).toBeLessThanOrEqual(boundOf(form));
      if (!runsInWgsl(fn)) continue;
      const again = worstDifference(await runWgsl(page, fn, args), columns);
      expect(again.worst, `${form}, in WebGPU: ${again.at}`).toBeLessThanOrEqual(boundOf(form));
    }
  }
});

/** Code of every form, the last function over x, y (float), v (vec3) and n (int, 0 to 6). */
const CODES = [
  'float shaped(float x, float y, vec3 v, int n) { float s = x; s += y; s *= 2.0; v.zx = vec2(s); return v.x + v.y; }',
  'vec3 shaped(float x, float y, vec3 v, int n) { if (x > y) { v.xy = v.yx; if (v.x > 0.0) return v; } else v *= 2.0; return v + 1.0; }',
  'float shaped(float x, float y, vec3 v, int n) { float s = 0.0; for (int i = 0; i < 6; i++) { if (i == n) continue; if (s > 3.0) break; s += abs(x); } return s; }',
  'float shaped(float x, float y, vec3 v, int n) { float s = 0.0; for (int i = 0; i < 9 && s < x * 2.0; ++i) s += 0.7; return s; }',
  'float shaped(float x, float y, vec3 v, int n) { int i = 0; while (i++ < n && i < 12) { if (float(i) > y * 2.0) return -1.0; } return float(i); }',
  'int shaped(float x, float y, vec3 v, int n) { int i = 9; do { i -= 2; if (i < n) continue; } while (i > n && i > -9); return i; }',
  'float shaped(float x, float y, vec3 v, int n) { float s = 1.0; float t = x > y ? (s += 2.0) : (s *= 3.0); return s * 10.0 + t; }',
  'float shaped(float x, float y, vec3 v, int n) { float s = 1.0; bool b = x > 0.0 && (s += y) > 1.0; bool c = x > 1.0 || ++s > 2.0; return b != c ? s : -s; }',
  'float shaped(float x, float y, vec3 v, int n) { float a[4]; a[0] = a[1] = a[2] = a[3] = y; a[n % 4] = x; a[1] += 1.0; return a[0] + a[(n + 1) % 4] * 2.0 + a[3]; }',
  'const float K[] = float[](1.0, 2.0, 4.0); float shaped(float x, float y, vec3 v, int n) { float s = 0.0; for (int i = 0; i < K.length(); i++) s += K[i] * v[i]; return s + K[n % 3]; }',
  'mat2 both[2]; void fill(float x) { both[0] = mat2(x, 1.0, 2.0, x); both[1] = both[0] * both[0]; } float shaped(float x, float y, vec3 v, int n) { fill(x); return (both[n % 2] * v.xy).y; }',
  'struct Ray { vec3 at; vec3 way; }; void move(inout Ray r, float t) { r.at += r.way * t; r.way.x = -r.way.x; } Ray aim(vec3 v) { return Ray(v, vec3(1.0, 2.0, v.x)); } vec3 shaped(float x, float y, vec3 v, int n) { Ray r = aim(v); if (x > 0.0) move(r, y); return r.at + r.way; }',
  'struct Mark { float far; ivec2 cell; }; Mark marks[3]; float shaped(float x, float y, vec3 v, int n) { for (int i = 0; i < 3; i++) marks[i] = Mark(v[i], ivec2(i, n)); marks[n % 3].cell.x += 5; Mark best = marks[0]; for (int i = 1; i < 3; i++) if (marks[i].far > best.far) best = marks[i]; return best.far + float(best.cell.x * 10 + best.cell.y); }',
  'float shaped(float x, float y, vec3 v, int n) { float s = 0.0; switch (n) { case 0: s = 1.0; case 1: s += x; break; case 2: case 3: { s = y; break; } default: s = 7.0; case 5: s += 0.5; } return s; }',
  'float shaped(float x, float y, vec3 v, int n) { float s = 0.0; for (int i = 0; i < 5; i++) { switch (i + n) { case 3: continue; case 5: return s - 1.0; case 2: if (x > y) break; s += 2.0; default: s += 1.0; } s += x; } return s; }',
  'float glow = 0.0, seen; float near(float x) { glow += x * 0.5; seen += 1.0; return x; } float shaped(float x, float y, vec3 v, int n) { seen = 0.0; float s = x > y ? near(x) + near(y) : near(y); for (int i = 0; i < 3; i++) if (v[i] > 0.0 && near(v[i]) > 1.0) break; return s + glow + seen * 10.0; }',
  'float hash(float p) { return fract(p * 0.3183 + 0.1); } vec3 hash(vec3 p) { return vec3(hash(p.x), hash(p.y + 1.0), hash(p.z + 2.0)); } void swap(inout float a, inout float b) { float c = a; a = b; b = c; } vec3 shaped(float x, float y, vec3 v, int n) { swap(v.x, v.z); swap(x, v.y); return hash(v) + x; }',
  'uint turn(uint h) { h ^= h >> 16u; h *= 0x7feb352du; return h ^ (h >> 15u); } int shaped(float x, float y, vec3 v, int n) { uvec2 h = uvec2(turn(uint(n)), 3u); h.y += h.x << 2u; ivec2 k = ivec2(h >> 20u) % 7; return k.x * 10 + k.y; }',
];

test('code means in the columns, and in what is made of it, what it means as its author wrote it', async () => {
  for (const text of CODES) expect(await tryCode(page, text, FLOAT_BOUND), text).toBe('');
});

test('a volume is read alike on the GPU and in the columns, and its WGSL compiles', async () => {
  const chance = createChance(3);
  const fn = defineFunction(
    'probe',
    { fog: 'sampler3D', p: 'vec3', level: 'float' },
    (b, { fog, p, level }) => b.add(b.texture(fog, p), b.textureLod(fog, b.negate(p), level)),
  );
  const args = fn.parameters.map(({ type }) => randomArgument(type, chance, [-2, 2], []));
  const { gpu, columns } = await runBoth(page, fn, args);
  const { worst, at } = worstDifference(gpu, columns);
  expect(worst, at).toBeLessThanOrEqual(FLOAT_BOUND);

  const b = createBuilder();
  const call = b.call(fn, b.argument('sampler3D', 0), b.argument('vec3', 1), b.argument('float', 2));
  const wgsl = (['vertex', 'fragment'] as const).map((stage) =>
    writeFunctions(createWgsl(stage), [call]).join('\n'),
  );
  const wrong = await page.evaluate(async (sources) => {
    const device = await (await navigator.gpu.requestAdapter())!.requestDevice();
    const all = await Promise.all(
      sources.map((code) => device.createShaderModule({ code }).getCompilationInfo()),
    );
    return all.flatMap(({ messages }) =>
      messages.filter(({ type }) => type === 'error').map((m) => m.message),
    );
  }, wgsl);
  expect(wrong, wgsl.join('\n')).toEqual([]);
});
