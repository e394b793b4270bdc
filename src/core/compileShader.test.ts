import assert from 'node:assert/strict';
import { test } from 'node:test';
import { playhouse } from '#demo/playhouse.ts';
import { sketchParameter, sketchShader } from './document/sketch.ts';
import { compileShader, handOver, programOf, tapKey } from './compileShader.ts';
import { emptyShader, type Argument, type ShaderDocument, type Step } from './document/shader.ts';
import type { Library, MotifDocument } from './document/motif.ts';
import { evaluate } from './evaluate/columns/evaluate.ts';
import { prepareLive, type LiveGiven } from './time/packLive.ts';
import { contractOf } from './handover/contract.ts';

/** A shader of strands given as `name: [[operator, arguments], …]`. */
const shaderOf = (
  strands: Readonly<Record<string, readonly (readonly [string, Readonly<Record<string, Argument>>])[]>>,
  outputs: ShaderDocument['surface']['outputs'] = {},
): ShaderDocument => ({
  ...emptyShader(),
  strands: Object.entries(strands).map(([name, steps]) => ({
    id: `s-${name}`,
    name,
    note: '',
    steps: steps.map(([operator, given], i): Step => ({ id: `${name}-${i}`, operator, arguments: given })),
  })),
  surface: { ...emptyShader().surface, outputs },
});

const mistakes = (document: ShaderDocument) => compileShader(document).diagnostics;
const only = (document: ShaderDocument): string => {
  const list = mistakes(document);
  assert.equal(list.length, 1, JSON.stringify(list));
  return list[0]!.message;
};

/** The value of a strand at some uv points. */
const valuesOf = (
  document: ShaderDocument,
  strand: string,
  uv: readonly (readonly [number, number])[],
): number[] => {
  const { shader, diagnostics } = compileShader(document);
  assert.ok(shader, JSON.stringify(diagnostics));
  const tap = shader.program.taps.findLast((each) => each.strand === `s-${strand}`)!;
  const [column] = evaluate([tap.value], {
    count: uv.length,
    inputs: { uv: [...uv.map(([x]) => x), ...uv.map(([, y]) => y)], time: [2] },
    parameters: new Map(),
    knobs: shader.knobs,
  });
  return Array.from(column!.data);
};

test('steps run left to right, each on what comes from its left', () => {
  const document = shaderOf({
    ramp: [
      ['value', { x: 'uv.x' }],
      ['remap', { inLow: 0, inHigh: 0.5, outLow: -1, outHigh: 1 }],
      ['clamp', {}],
    ],
  });
  assert.deepEqual(
    valuesOf(document, 'ramp', [
      [0, 0],
      [0.375, 0],
      [0.5, 0],
    ]),
    [0, 0.5, 1],
  );
});

test('an expression may call operators, read strands above, mix whole numbers and floats', () => {
  const document = shaderOf({
    a: [['value', { x: 'uv.x * 2' }]],
    b: [['value', { x: 'a > 0.5 && !(uv.y > 0.5) ? remap(a, 0, 2) : vec3(a, 7 / 2, 0.25).z' }]],
  });
  assert.deepEqual(
    valuesOf(document, 'b', [
      [0.5, 0.25],
      [0.5, 0.75],
      [0.125, 0],
    ]),
    [0.5, 0.25, 0.25],
  );
});

test('a muted step passes on what comes from its left', () => {
  const document = shaderOf({
    a: [
      ['value', { x: 'uv.x' }],
      ['invert', {}],
    ],
  });
  const muted = structuredClone(document) as unknown as { strands: { steps: { muted?: boolean }[] }[] };
  muted.strands[0]!.steps[1]!.muted = true;
  assert.deepEqual(valuesOf(muted as unknown as ShaderDocument, 'a', [[0.25, 0]]), [0.25]);
});

test('mistakes are sentences at their step, with a fix where one is known', () => {
  const [mistake] = mistakes(
    shaderOf({ order: [['value', { x: 'uv.x' }]], late: [['value', { x: '1.0 + oder' }]] }),
  );
  assert.deepEqual(
    {
      strand: mistake!.strand,
      step: mistake!.step,
      argument: mistake!.argument,
      from: mistake!.from,
      to: mistake!.to,
    },
    { strand: 's-late', step: 'late-0', argument: 'x', from: 6, to: 10 },
  );
  assert.equal(mistake!.message, 'Nothing is called “oder” here. Did you mean order?');
  assert.deepEqual(mistake!.fix, { label: 'change to order', text: 'order' });

  const say = (x: string) => only(shaderOf({ a: [['value', { x }]] }));
  assert.match(say('uv.z'), /vec2 has no \.z; it has \.x, \.y/);
  assert.match(say('worley(position)'), /takes a vec2, and this is a vec3; choose components, such as \.xy/);
  assert.match(say('uv + position'), /vec2 on its left and a vec3 on its right/);
  assert.match(say('time = 2.0'), /would change one/);
  assert.match(say('smoothstp(0.0, 1.0, time)'), /Did you mean smoothstep/);
  assert.match(say('time(2.0)'), /is a value, not a function/);
  assert.match(say('1.5 % 2.0'), /write mod/);
  assert.match(say('uv[2]'), /components 0 to 1/);
  assert.match(say('sin'), /is a function/);
  assert.match(say('frontFacing + 1.0'), /\+ works on numbers, not on bool and float/);
  assert.match(only(shaderOf({ a: [['worly', {}]] })), /no operator “worly”. Did you mean worley/);
  assert.match(only(shaderOf({ a: [['step', { edges: 1 }]] })), /no argument “edges”; did you mean edge\?/);
  assert.match(only(shaderOf({ a: [] })), /no steps yet/);
  assert.match(only(shaderOf({ a: [['value', { x: 1 }]] }, { baseColor: 'uv' })), /base colour takes a vec3/);
});

test('a strand may use only strands above it, and a broken one says so to those that use it', () => {
  const messages = mistakes(shaderOf({ a: [['value', { x: 'b' }]], b: [['value', { x: 'a' }]] })).map(
    (each) => each.message,
  );
  assert.deepEqual(messages, [
    '“b” is not written above; a strand may use only strands above it.',
    '“a” has a mistake in it; mend that first.',
  ]);
});

test('dragging a number changes no source, only what is uploaded', () => {
  const at = (edge: number) =>
    compileShader(
      shaderOf({
        a: [
          ['value', { x: 'uv.x' }],
          ['step', { edge }],
        ],
      }),
    ).shader!;
  const [one, two] = [at(0.25), at(0.75)];
  assert.equal(one.live.fragment, two.live.fragment);
  const upload = (shader: typeof one) => [
    ...prepareLive(shader.live.layout)({ inputs: {}, parameters: new Map(), knobs: shader.knobs }).floats,
  ];
  assert.ok(upload(one).includes(0.25) && upload(two).includes(0.75));
});

test('what is the same everywhere is computed once a frame, not in every pixel', () => {
  const { shader } = compileShader(shaderOf({ a: [['value', { x: 'uv.x * sin(time * 3.0 + 1.0)' }]] }));
  // The stage's own light is above.
  assert.doesNotMatch(shader!.live.fragment.split('void main()')[1]!, /sin\(/);
  assert.equal(shader!.live.layout.slots.length, 1);
});

test('what a frame uploads follows all that it reads: time, the camera, parameters and knobs', () => {
  const body = sketchShader(
    {
      a: [
        ['value', { x: 'uv.x * sin(time) + uv.y * dot(cameraPosition, cameraPosition) * glow' }],
        ['multiply', { y: 0.25 }],
      ],
    },
    { roughness: 'a' },
    [sketchParameter('glow', 'float', [2])],
  );
  const { shader } = compileShader(body);
  const live = prepareLive(shader!.live.layout);
  const inputs = { time: [1], cameraPosition: [1, 2, 3], cameraRight: [1, 0, 0] };
  const parameters = new Map([['glow', [2]]]);
  const given = { inputs, parameters, knobs: shader!.knobs };
  const uploaded = (more: Partial<LiveGiven> = {}): number[] => [...live({ ...given, ...more }).floats];
  const first = uploaded();
  for (const [what, more] of [
    ['time', { inputs: { ...inputs, time: [1.5] } }],
    ['camera', { inputs: { ...inputs, cameraPosition: [1, 2, 4] } }],
    ['parameter', { parameters: new Map([['glow', [3]]]) }],
    ['knob', { knobs: new Map([...shader!.knobs].map(([name]) => [name, [0.5]])) }],
  ] as const) {
    const other = uploaded(more);
    assert.notDeepEqual(other, first, what);
    assert.deepEqual(other, [...prepareLive(shader!.live.layout)({ ...given, ...more }).floats], what);
    assert.deepEqual(uploaded(), first, `${what}, and back`);
  }
  assert.deepEqual(uploaded({ inputs: { ...inputs, cameraRight: [0, 1, 0] } }), first, 'what is not read');
  assert.ok(first.includes(0.25));
});

test('the same work written twice is done once', () => {
  const { shader } = compileShader(
    shaderOf({
      a: [['value', { x: 'worley(uv * 3.0) + worley(uv * 3.0)' }]],
      b: [['value', { x: '1.0 - worley(uv * 3.0)' }]],
    }),
  );
  assert.equal(shader!.live.fragment.match(/\bworley\(/g)!.length, 2, 'declared once, called once');
});

test('the curtain’s handover reads as its author wrote it', () => {
  const { parts } = playhouse();
  const curtain = parts.find((part) => part.id === 'curtain-burn-away')!.body as ShaderDocument;
  const { source } = handOver(curtain, 'Curtain burn-away');
  const { fragment, vertex } = source!;
  assert.match(fragment, /^#version 300 es\n/);
  assert.match(
    fragment,
    /\/\/ order: who burns first\n {2}float order_worley = worley\(uv \* vec2\(cells \* 1\.6, cells\), uint\(seed\), period\);/,
  );
  assert.match(fragment, /float front = order - mix\(-edgeWidth, 1\.0, burn\);/);
  assert.match(fragment, /float remains = step\(0\.0, front\);/);
  assert.match(fragment, /float opacity = remains \* fringe;/);
  assert.doesNotMatch(fragment, /\btap\b|\blive\[/);
  assert.match(vertex, /gl_Position = projectionMatrix \* viewMatrix \* placed;/);
  const { program } = programOf(curtain);
  const subject = { title: 'Curtain', shader: curtain, program: program!, builtIn: source!.builtIn };
  const contract = contractOf({ ...subject, materials: [], sets: [], shared: {} });
  const heat = contract.parameters.find((each) => each.name === 'heat')!;
  assert.equal(heat.uniform, 'vec3');
  assert.ok(Math.abs(heat.uniformDefault[0]! - 2 ** 3.2) < 1e-9);
  assert.deepEqual(contract.builtIn.slice(0, 3), ['a_normal', 'a_position', 'a_uv']);
});

test('every step and output of the demo can be tapped', () => {
  const library: Library = new Map(
    playhouse()
      .parts.filter((each) => each.kind === 'motif')
      .map((each) => [each.id, { ...each, body: each.body as MotifDocument }]),
  );
  for (const part of playhouse().parts.filter((each) => each.kind === 'shader')) {
    const document = part.body as ShaderDocument;
    const { shader, diagnostics } = compileShader(document, part.name, library);
    assert.deepEqual(diagnostics, []);
    for (const strand of document.strands)
      for (const step of strand.steps) {
        const number = shader!.taps.get(tapKey(strand.id, step.id));
        assert.ok(number);
        assert.match(shader!.live.fragment, new RegExp(`case ${number}: shown = `));
      }
  }
});
