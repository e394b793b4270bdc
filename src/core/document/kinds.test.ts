import assert from 'node:assert/strict';
import { test } from 'node:test';
import Ajv2020 from 'ajv/dist/2020.js';
import fc from 'fast-check';
import { playhouse } from '#demo/playhouse.ts';
import { compileMotif, compileShader, programOf } from '../compileShader.ts';
import { evaluate } from '../evaluate/columns/evaluate.ts';
import { valueAt } from '../program/kernels/column.ts';
import { curveAt, curveOver, gradientAt, keysProblem, TABLE_SIZE, tableOf } from '../numbers/curve.ts';
import { currentValue, isAuthored, numbersFor, tablesFor } from '../time/values.ts';
import { emptyMotif } from './motif.ts';
import { parameterProblem } from './parameter.ts';
import { parsePart } from './parsePart.ts';
import { PART_KINDS, type PartKind } from './project.ts';
import { schemaOf } from './schemas.ts';
import { startOf, type Parameter } from './shader.ts';
import { sketchParameter, sketchShader, sketchStrands } from './sketch.ts';
import { starterParts } from './starter.ts';

// ---- kinds of parameters

test('what is wrong with a parameter is a sentence', () => {
  for (const [parameter, said] of [
    [sketchParameter('a', 'curve', [0, 0, 0]), /come four to a key; there are 3/],
    [sketchParameter('a', 'curve', [0.5, 0, 0, 0, 0.2, 1, 0, 0]), /keys are not in order: 0.2 comes after/],
    [sketchParameter('a', 'gradient', [1.5, 0, 0, 0]), /stop at 1.5 lies outside 0–1/],
    [sketchParameter('a', 'noise', [1.5, 0], { max: 9 }), /no fraction/],
    [sketchParameter('a', 'noise', [12, 0], { max: 9 }), /12 lies outside its range 0 to 9/],
    [sketchParameter('a', 'vec2', [0, 0], { ends: [0, 1] }), /Only a float can be driven/],
    [sketchParameter('a', 'float', [0], { ends: [-14, 6], max: 2 }), /its own range lies within 0 to 1/],
    [sketchParameter('a', 'int', [0], { scope: 'lifetime' }), /cannot be packed for a lifetime/],
    [sketchParameter('a', 'curve', startOf('curve'), { scope: 'lifetime' }), /cannot be packed/],
    [sketchParameter('a', 'texture', [], { scope: 'shared' }), /each material’s own/],
    [sketchParameter('a', 'float', [0], { ends: [NaN, 1] }), /finite numbers/],
    [sketchParameter('a', 'float', [0], { min: 2, max: 1 }), /must not be above the greatest/],
  ] as const)
    assert.match(parameterProblem(parameter) ?? 'nothing', said, JSON.stringify(parameter));
  for (const kind of ['curve', 'gradient', 'noise', 'color', 'bool', 'texture'] as const)
    assert.equal(parameterProblem(sketchParameter('a', kind, startOf(kind), { max: 4 })), null, kind);
});

test('a parameter driven between ends reaches both', () => {
  const shader = sketchShader({ made: [['value', { x: 'gone' }]] }, {}, [
    sketchParameter('gone', 'float', [0], { ends: [-14, 6] }),
  ]);
  const { program } = programOf(shader);
  const at = (x: number) => {
    const parameters = numbersFor(shader.parameters, { values: { 'p-gone': [x] }, shared: {} });
    return valueAt(
      evaluate([program!.taps[0]!.value], { count: 1, inputs: {}, parameters, knobs: new Map() })[0]!,
      0,
    )[0]!;
  };
  assert.deepEqual([0, 0.5, 1].map(at), [-14, -4, 6]);
});

test('noise is read by its members, and a bare name says so', () => {
  const noise = [sketchParameter('grain', 'noise', [3, 8], { max: 99 })];
  assert.ok(
    programOf(
      sketchShader({ made: [['valueNoise', { seed: 'grain.seed', period: 'grain.period' }]] }, {}, noise),
    ).program,
  );
  const bare = programOf(sketchShader({ made: [['value', { x: 'grain' }]] }, {}, noise));
  assert.match(bare.diagnostics[0]!.message, /“grain” is noise; read grain\.seed or grain\.period/);
});

test('scopes: shared values come from the project, driven ones over all, defaults under all', () => {
  const [own, shared] = [
    sketchParameter('own', 'float', [0.1]),
    sketchParameter('haze', 'float', [0.2], { scope: 'shared' }),
  ];
  const authored = { values: { 'p-own': [0.5], 'p-haze': [0.9] }, shared: { haze: [0.7] } };
  assert.deepEqual(
    [own, shared].map((each) => currentValue(each, authored)[0]),
    [0.5, 0.7],
  );
  assert.deepEqual(
    [own, shared].map((each) => currentValue(each, { values: {}, shared: {} })[0]),
    [0.1, 0.2],
  );
  assert.deepEqual(currentValue(shared, authored, new Map([['haze', { value: [1] }]])), [1]);
  assert.ok(isAuthored(shared, authored) && !isAuthored(shared, { values: { 'p-haze': [1] }, shared: {} }));
  assert.deepEqual(
    [...numbersFor([sketchParameter('grain', 'noise', [3, 8])], authored)],
    [
      ['grain_seed', [3]],
      ['grain_period', [8]],
    ],
  );
});

test('a value whose size no longer fits its kind falls back to the default', () => {
  const curve = sketchParameter('rise', 'curve', startOf('curve'));
  for (const wrong of [[1], [], [1, 2, 3]])
    assert.equal(currentValue(curve, { values: { 'p-rise': wrong }, shared: {} }), curve.default);
  assert.deepEqual(
    currentValue(sketchParameter('a', 'vec3', [1, 2, 3]), { values: { 'p-a': [4] }, shared: {} }),
    [1, 2, 3],
  );
});

// ---- curves and gradients

test('a curve goes through its keys with their slopes, and is level beyond its ends', () => {
  const keys = [0.2, 1, 0, 2, 0.6, 3, 0, -1, 0.8, 2, 0, 5];
  for (const [x, y] of [
    [0.2, 1],
    [0.6, 3],
    [0.8, 2],
    [0, 1],
    [1, 2],
  ] as const)
    assert.ok(Math.abs(curveAt(keys, x) - y) < 1e-9);
  const slope = (x: number) => (curveAt(keys, x + 1e-6) - curveAt(keys, x)) / 1e-6;
  assert.ok(Math.abs(slope(0.2) - 2) < 1e-3 && Math.abs(slope(0.6) + 1) < 1e-3);
  const many = Float32Array.from({ length: 60 }, (_, i) => i / 50 - 0.1);
  for (const curve of [keys, [0.5, 7, 0, 0], startOf('curve')]) {
    const over = many.slice();
    curveOver(curve, over);
    assert.deepEqual(
      [...over],
      [...many].map((x) => Math.fround(curveAt(curve, x))),
    );
  }
  assert.equal(curveAt([0.5, 7, 0, 0], 0.1), 7);
  assert.equal(curveAt([0, 1, 0, 0, 0.5, 2, 0, 0, 0.5, 5, 0, 0, 1, 5, 0, 0], 0.5), 5, 'a jump');
});

test('a straight curve is straight, and a gradient is straight between its stops', () => {
  fc.assert(
    fc.property(fc.integer({ min: 0, max: 100 }), (n) => {
      const x = n / 100;
      assert.ok(Math.abs(curveAt(startOf('curve'), x) - x) < 1e-9);
      const [r, g] = gradientAt([0, 0, 1, 0, 0.5, 1, 0, 0, 1, 1, 4, 0], x);
      assert.ok(Math.abs(r - Math.min(2 * x, 1)) < 1e-9);
      assert.ok(Math.abs(g - (x < 0.5 ? 1 - 2 * x : (x - 0.5) * 8)) < 1e-9);
    }),
  );
});

test('tables hold the ends exactly, and the same value the same table', () => {
  const table = tableOf('curve', startOf('curve'));
  assert.equal(table.length, TABLE_SIZE * 4);
  assert.deepEqual([table[0], table[(TABLE_SIZE - 1) * 4], table[3]], [0, 1, 1]);
  const parameters = [sketchParameter('rise', 'curve', startOf('curve'))];
  const none = { values: {}, shared: {} };
  assert.equal(tablesFor(parameters, none).get('rise'), tablesFor(parameters, none).get('rise'));
  assert.equal(
    keysProblem(new Array<number>(65 * 4).fill(0), 'key'),
    'It has 65 keys; at most 64 are allowed.',
  );
});

// ---- documents

test('a document from before keeps its names, with a figure where a word has since been taken', () => {
  const old = {
    ...sketchShader(
      { wave: [['value', { x: 'uv.x' }]], facing: [['value', { x: 'wave * 2.0 + target' }]] },
      { opacity: 'facing' },
      [sketchParameter('target', 'float', [0])],
    ),
    version: 1,
  };
  const { document, problems } = parsePart('shader', old);
  assert.deepEqual(problems, []);
  assert.deepEqual(
    document!.strands.map((each) => each.name),
    ['wave2', 'facing2'],
  );
  assert.deepEqual(document!.strands[1]!.steps[0]!.arguments, { x: 'wave2 * 2.0 + target2' });
  assert.equal(document!.surface.outputs.opacity, 'facing2');
  assert.ok(programOf(document!).program);
  assert.ok(parsePart('shader', { ...old, version: 2 }).problems.length, 'a new document is told instead');
});

test('names that GLSL, WGSL, an operator or the mesh keeps are refused with a sentence', () => {
  for (const [name, said] of [
    ['for', /taken by GLSL/],
    ['override', /WGSL keeps/],
    ['worley', /is an operator/],
    ['a_uv', /the mesh’s/],
    ['gl_x', /kept by GLSL/],
    ['é', /cannot be a name in GLSL/],
    ['x'.repeat(65), /characters/],
    ['', /needs a name/],
  ] as const) {
    const { problems } = parsePart('shader', sketchShader({ [name]: [['value', { x: 1 }]] }));
    assert.match(problems[0]?.message ?? 'nothing', said, name);
  }
});

test('motifs and shared values are read, and their mistakes told at their places', () => {
  const motif = {
    ...emptyMotif(),
    strands: sketchStrands({ a: [['value', { x: 1 }]] }),
    outputs: [{ id: 'o', name: 'out1', expression: 'a' }],
  };
  assert.deepEqual(parsePart('motif', motif).problems, []);
  for (const [changed, path] of [
    [{ ...motif, outputs: [{ id: 'o', name: 'for', expression: 'a' }] }, 'outputs[0].name'],
    [{ ...motif, outputs: [...motif.outputs, ...motif.outputs] }, 'outputs[1].name'],
    [{ ...motif, parameters: [{ id: 'x' }] }, 'parameters[0].kind'],
    [{ ...motif, parameters: [sketchParameter('a', 'float', [0])] }, 'strands[0].name'],
    [{ ...motif, version: 2 }, 'version'],
    [{ ...motif, strands: 3 }, 'strands'],
  ] as const)
    assert.ok(
      parsePart('motif', changed).problems.some((each) => each.path === path),
      `${path}: ${JSON.stringify(parsePart('motif', changed).problems)}`,
    );
  assert.deepEqual(
    parsePart('shared', { format: 'wicked-veil/shared', version: 1, values: { a: [1, 2] } }).problems,
    [],
  );
  assert.ok(
    parsePart('shared', { format: 'wicked-veil/shared', version: 1, values: { a: 'x' } }).problems.length,
  );
});

test('a motif by itself compiles: its inputs stand at their defaults, every output can be tapped', () => {
  const body = {
    ...emptyMotif(),
    parameters: [
      { ...sketchParameter('p', 'vec2', [0, 0]), reads: 'uv * 2.0' },
      sketchParameter('k', 'float', [0.5]),
    ],
    strands: sketchStrands({ a: [['value', { x: 'p.x * k' }]] }),
    outputs: [
      { id: 'o1', name: 'one', expression: 'a' },
      { id: 'o2', name: 'two', expression: 'p' },
    ],
  };
  const { shader, diagnostics } = compileMotif({ id: 'm', name: 'm', body }, new Map());
  assert.deepEqual(diagnostics, []);
  assert.deepEqual([...shader!.taps.keys()], ['s-a/a-0', 'surface/o1', 'surface/o2']);
  assert.deepEqual(
    shader!.program.parameters.map((each) => each.name),
    ['k'],
  );
  const wrong = compileMotif(
    { id: 'm', name: 'm', body: { ...body, outputs: [{ id: 'o', name: 'x1', expression: 'b' }] } },
    new Map(),
  );
  assert.match(wrong.diagnostics[0]!.message, /Nothing is called “b”/);
});

test('types that change under their users give mistakes, never a lost document', () => {
  const shader = sketchShader(
    { made: [['value', { x: 'mix(vec3(0.0), tint, 0.5)' }]] },
    { baseColor: 'made' },
    [sketchParameter('tint', 'color', [1, 1, 1, 0])],
  );
  assert.ok(compileShader(shader).shader);
  for (const kind of ['vec2', 'texture', 'curve', 'noise', 'bool'] as const) {
    const changed = { ...shader, parameters: [sketchParameter('tint', kind, startOf(kind))] };
    assert.deepEqual(parsePart('shader', changed).problems, [], kind);
    assert.ok(compileShader(changed).diagnostics.length > 0, kind);
  }
});

// ---- schemas

const ajv = new Ajv2020({ strict: true, strictTypes: false, strictRequired: false });
const validators = new Map(PART_KINDS.map((kind) => [kind, ajv.compile(schemaOf(kind))]));
const fits = (kind: PartKind, body: unknown): boolean => validators.get(kind)!(body);

test('every document of the demo and the starter fits its published schema', () => {
  for (const { kind, id, body } of [...playhouse().parts, ...starterParts()])
    assert.ok(fits(kind, body), `${id}: ${JSON.stringify(validators.get(kind)!.errors)}`);
});

/** Replaces one value somewhere in a document by one of another kind. */
const damaged = (body: unknown, pick: number, by: unknown): unknown => {
  const copy = structuredClone(body) as Record<string, unknown>;
  const places: [Record<string, unknown> | unknown[], string | number][] = [];
  const visit = (at: unknown) => {
    if (typeof at !== 'object' || at === null) return;
    for (const [key, value] of Object.entries(at)) {
      places.push([at as Record<string, unknown>, Array.isArray(at) ? Number(key) : key]);
      visit(value);
    }
  };
  visit(copy);
  const [at, key] = places[pick % places.length]!;
  (at as Record<string | number, unknown>)[key] = by;
  return copy;
};

test('what a schema refuses the reader refuses too, however a document is damaged', () => {
  const all = playhouse().parts;
  let refused = 0;
  fc.assert(
    fc.property(
      fc.nat(),
      fc.nat(),
      fc.constantFrom<unknown>(null, {}, [], 'x'.repeat(300), -1e9, true, 'no such word'),
      (part, pick, by) => {
        const { kind, body } = all[part % all.length]!;
        const broken = damaged(body, pick, by);
        const { problems } = parsePart(kind, broken);
        if (fits(kind, broken)) return;
        refused += 1;
        assert.ok(problems.length > 0, `${kind}: ${JSON.stringify(validators.get(kind)!.errors?.[0])}`);
      },
    ),
    { numRuns: 300, seed: 3 },
  );
  assert.ok(refused > 100, 'the damage shows');
});

test('a parameter list of any kind and scope that is well made is accepted by both', () => {
  const kinds = fc.constantFrom<Parameter['kind']>(
    'float',
    'int',
    'bool',
    'vec2',
    'vec3',
    'vec4',
    'color',
    'texture',
    'curve',
    'gradient',
    'noise',
  );
  fc.assert(
    fc.property(fc.array(kinds, { maxLength: 8 }), (list) => {
      const shader = sketchShader(
        {},
        {},
        list.map((kind, i) => sketchParameter(`p${i}`, kind, startOf(kind))),
      );
      assert.deepEqual(parsePart('shader', shader).problems, []);
      assert.ok(fits('shader', shader));
      assert.ok(compileShader(shader).shader);
    }),
    { numRuns: 40 },
  );
});
