import assert from 'node:assert/strict';
import { test } from 'node:test';
import ts from 'typescript';
import { programOf } from '../compileShader.ts';
import type { StageDocument } from '../document/project.ts';
import { sketchParameter, sketchShader } from '../document/sketch.ts';
import type { ShaderDocument } from '../document/shader.ts';
import { emitGlsl } from '../emit/glsl/emitGlsl.ts';
import { emitWgsl } from '../emit/wgsl/emitWgsl.ts';
import { bakeValue } from '../taps/bakeValue.ts';
import { bindingsOf } from './bindings.ts';
import { contractOf } from './contract.ts';
import { evaluateAt, readPoints, tablePictures } from '../taps/evaluatePoints.ts';

const crescent = (): ShaderDocument =>
  sketchShader(
    {
      mask: [
        ['value', { x: 'curve(uv.x, rise) * span.y + size' }],
        ['multiply', { y: 'gone' }],
      ],
    },
    { opacity: 'mask', emission: 'glow', baseColor: 'gradientMap(float(grain.seed), dusk)' },
    [
      sketchParameter('size', 'float', [0.5], {
        scope: 'lifetime',
        unit: 'm',
        description: 'How wide. */ it is',
      }),
      sketchParameter('span', 'vec2', [1, 1], { scope: 'lifetime' }),
      sketchParameter('glow', 'color', [1, 0.5, 0, 2], { scope: 'lifetime', min: -4, max: 4 }),
      sketchParameter('gone', 'float', [0.25], { ends: [-14, 6] }),
      sketchParameter('rise', 'curve', [0, 0, 1, 1, 1, 1, 1, 1]),
      sketchParameter('dusk', 'gradient', [0, 0, 0, 0, 1, 1, 1, 1]),
      sketchParameter('grain', 'noise', [3, 8], { max: 99 }),
      sketchParameter('haze', 'float', [2], { scope: 'shared', max: 9 }),
      sketchParameter('wet', 'bool', [1]),
    ],
    { alphaMode: 'added' },
  );

const made = (shader = crescent()) => {
  const { program, diagnostics } = programOf(shader);
  assert.ok(program, JSON.stringify(diagnostics));
  const glsl = emitGlsl(program, {
    purpose: 'handover',
    title: 'Bell swing',
  });
  const subject = { title: 'Bell swing', shader, program, builtIn: glsl.builtIn };
  const materials = [
    {
      ...{ id: 'm', name: 'Midnight' },
      body: {
        format: 'wicked-veil/material',
        version: 2,
        shader: 's',
        values: { 'p-size': [0.75], 'p-haze': [7] },
        presets: [{ name: 'Loud', values: { 'p-size': [1] } }],
      } as const,
    },
  ];
  const idOf = (name: string): string => shader.parameters.find((each) => each.name === name)?.id ?? '';
  const size = { parameter: idOf('size'), curves: [[0, 1, 0, 0]] };
  const body = {
    props: [{ id: 'lamp', name: 'Lamp' }],
    drives: [
      {
        id: 'd',
        material: 'm',
        parameter: idOf('gone'),
        by: 'distance',
        of: 'walker',
        to: 'lamp',
        from: [1, 4],
      },
      { id: 'e', material: 'another', parameter: idOf('gone'), by: 'wave' },
    ],
    flourishes: [
      {
        name: 'sweep',
        layers: [
          { name: 'Crescent', material: 'm', life: 0.35, values: [size] },
          { name: 'Bare', material: 'm', life: 1, values: [] },
        ],
      },
    ],
  } as unknown as StageDocument;
  const sets = [{ name: 'Belfry', body }];
  return { program, glsl, contract: contractOf({ ...subject, materials, sets, shared: { haze: [5] } }) };
};

test('lifetime parameters are packed four to a vector, and the contract tells each one’s place', () => {
  const { glsl, contract } = made();
  const slots = Object.fromEntries(contract.parameters.map((each) => [each.name, each.uniforms]));
  assert.deepEqual(slots['glow'], ['lifetime[0].xyz']);
  assert.deepEqual(slots['size'], ['lifetime[0].w']);
  assert.deepEqual(slots['span'], ['lifetime[1].xy']);
  assert.equal(contract.lifetimeVectors, 2);
  assert.match(glsl.fragment, /uniform vec4 lifetime\[2\];/);
  assert.match(glsl.fragment, /lifetime\[1\]\.xy\.y \+ lifetime\[0\]\.w/);
  assert.doesNotMatch(glsl.fragment, /uniform (float size|vec3 glow)/);
});

test('driven ends, noise, curves and shared values stand in the contract as the uniforms take them', () => {
  const { glsl, contract } = made();
  const by = (name: string) => contract.parameters.find((each) => each.name === name)!;
  assert.deepEqual(by('gone').ends, [-14, 6]);
  assert.match(glsl.fragment, /gone \* 20\.0 - 14\.0/);
  assert.deepEqual(by('grain').uniforms, ['grain_seed', 'grain_period']);
  assert.match(glsl.fragment, /uniform int grain_seed;/);
  assert.equal(by('rise').samples, 256);
  assert.equal(by('rise').uniform, 'sampler2D');
  assert.equal(by('haze').scope, 'shared');
  assert.deepEqual(by('glow').uniformDefault, [4, 2, 0]);
  const [midnight] = contract.materials;
  assert.deepEqual(
    [midnight!.uniforms['size'], midnight!.uniforms['haze'], midnight!.uniforms['grain_period']],
    [[0.75], [5], [8]],
  );
  assert.equal(midnight!.presets[0]!.name, 'Loud');
});

test('what sets drive it by stands in the contract, what is followed by its name', () => {
  const { contract } = made();
  assert.deepEqual(contract.drives, [
    {
      ...{ set: 'Belfry', material: 'Midnight', parameter: 'gone', told: 'the walker to Lamp' },
      rule: { by: 'distance', from: [1, 4], of: 'the walker', to: 'Lamp' },
    },
  ]);
  assert.deepEqual(contract.lifetimes, [
    {
      ...{ set: 'Belfry', flourish: 'sweep', layer: 'Crescent', material: 'Midnight', life: 0.35 },
      curves: { size: [[0, 1, 0, 0]] },
    },
  ]);
});

test('what the game must do besides is said in sentences', () => {
  const shader = sketchShader(
    { gap: [['value', { x: 'saturate(depthGap() / 0.5)' }]] },
    { opacity: 'gap', baseColor: 'sceneColor(screenUv)' },
    [],
    { alphaMode: 'blended' },
  );
  const { program } = programOf(shader);
  const { builtIn, fragment } = emitGlsl(program!, {
    purpose: 'handover',
    title: 't',
  });
  const contract = contractOf({
    title: 't',
    shader,
    program: program!,
    builtIn,
    materials: [],
    sets: [],
    shared: {},
  });
  assert.deepEqual(Object.keys(contract.requires).sort(), ['sceneColor', 'sceneDepth']);
  assert.match(contract.requires.sceneDepth!, /depth of the scene/);
  assert.ok(contract.builtIn.includes('sceneDepthMap') && contract.builtIn.includes('resolution'));
  assert.match(fragment, /uniform sampler2D sceneColorMap;/);
});

test('bindings are TypeScript that compiles and knows every name', () => {
  const text = bindingsOf(made().contract);
  assert.match(text, /export interface BellSwingValues/);
  const use = `${text}\nconst ok: BellSwingValues = { size: 1, span: [1, 1], glow: [1, 1, 1], gone: 0, rise: [0], dusk: [0], grain: { seed: 1, period: 0 }, haze: 1, wet: true };\nconst slot: 'lifetime[0].w' = BellSwingParameters.size.uniforms[0];\nvoid [ok, slot];`;
  const errorsOf = (source: string) => {
    const options = { strict: true, noEmit: true, noLib: true, types: [] };
    const host = ts.createCompilerHost(options);
    const read = host.getSourceFile.bind(host);
    host.getSourceFile = (name, version) =>
      name === 'bindings.ts' ? ts.createSourceFile(name, source, version) : read(name, version);
    const program = ts.createProgram(['bindings.ts'], options, host);
    return [...program.getSyntacticDiagnostics(), ...program.getSemanticDiagnostics()].map((each) =>
      ts.flattenDiagnosticMessageText(each.messageText, ' '),
    );
  };
  assert.deepEqual(errorsOf(use), []);
  assert.ok(errorsOf(use.replace('size: 1,', 'sise: 1,')).length > 0, 'a misspelt name is an error');
});

test('points are read with their problems at their places', () => {
  const shader = crescent();
  const { points } = readPoints(
    { points: [{ uv: [0.25, 0.5], parameters: { size: 0.1, grain: [1, 2] } }], camera: [0, 0, 4], time: 2 },
    shader.parameters,
  );
  assert.deepEqual(points![0]!.inputs.cameraPosition, [0, 0, 4]);
  assert.deepEqual(points![0]!.parameters, { size: [0.1], grain: [1, 2] });
  for (const [json, path, said] of [
    [3, '', /object should stand here/],
    [{ points: 'x' }, 'points', /list should stand here/],
    [{ points: [{ uv: [1] }] }, 'points[0].uv', /list of 2 numbers/],
    [{ points: [{ uv: [1, null] }] }, 'points[0].uv[1]', /finite number/],
    [{ points: [{ uw: [1, 2] }] }, 'points[0].uw', /no field “uw”/],
    [
      { points: [{ uv: [1, 2], parameters: { siz: 1 } }] },
      'points[0].parameters.siz',
      /no such parameter; it has size/,
    ],
    [{ points: [], parameters: { span: 1 } }, 'parameters.span', /list of 2 numbers/],
  ] as const) {
    const { problems } = readPoints(json, shader.parameters);
    assert.equal(problems[0]?.path, path);
    assert.match(problems[0]!.message, said);
  }
});

test('a strand is computed at points, and a point that lacks an input is named', () => {
  const shader = crescent();
  const { program } = programOf(shader);
  const mask = program!.outputs['opacity']!;
  const read = (json: unknown) => readPoints(json, shader.parameters).points!;
  const made = evaluateAt(
    mask,
    read([{ uv: [0.5, 0] }, { uv: [1, 0], parameters: { gone: 1 } }]),
    shader.parameters,
    new Map(),
  );
  assert.ok(made.problem === undefined);
  // (curve + size)·gone: (0.5 + 0.5)·−9, and (1 + 0.5)·6.
  assert.ok(
    Math.abs(made.values[0]![0]! + 9) < 1e-4 && Math.abs(made.values[1]![0]! - 9) < 1e-4,
    JSON.stringify(made.values),
  );
  const lacking = evaluateAt(
    mask,
    read([{ uv: [0.5, 0] }, { position: [0, 0, 0] }]),
    shader.parameters,
    new Map(),
  );
  assert.match(lacking.problem!, /points\[1\] has no uv \(The first texture coordinate/);
});

test('a bake lays uv from the lower left, has slopes, and tells its progress', () => {
  const shader = sketchShader({
    ramp: [['value', { x: 'vec3(uv, fwidth(uv.x) * 8.0)' }]],
    grey: [['value', { x: 'uv.y' }]],
  });
  const { program } = programOf(shader);
  const setup = {
    width: 8,
    height: 8,
    parameters: new Map(),
    pictures: tablePictures([], { values: {}, shared: {} }),
  };
  const shares: number[] = [];
  const { channels, numbers } = bakeValue(program!.taps[0]!.value, {
    ...setup,
    onProgress: (share) => shares.push(share),
  });
  assert.equal(channels, 3);
  const pixel = (x: number, y: number) => [...numbers.subarray((y * 8 + x) * 3, (y * 8 + x) * 3 + 3)];
  assert.deepEqual(
    pixel(0, 7).map((x) => Number(x.toFixed(4))),
    [0.0625, 0.0625, 1],
  );
  assert.deepEqual(
    pixel(7, 0).map((x) => Number(x.toFixed(4))),
    [0.9375, 0.9375, 1],
  );
  assert.equal(shares.at(-1), 1);
  const odd = bakeValue(program!.taps[1]!.value, { ...setup, width: 5, height: 5 });
  assert.equal(odd.channels, 1);
  assert.deepEqual(
    [odd.numbers[0]!, odd.numbers[24]!].map((x) => Number(x.toFixed(2))),
    [0.9, 0.1],
  );
});

test('WGSL holds the same shader: blocks, stages, textures in pairs, reserved names changed', () => {
  const shader = crescent();
  const { code } = emitWgsl(programOf(shader).program!, {
    title: 'Bell swing',
  });
  assert.match(code!, /struct Parameters \{\n {2}gone: f32,\n {2}grain_seed: i32,/);
  assert.match(code!, /lifetime: array<vec4f, 2>,/);
  assert.match(code!, /parameters\.lifetime\[0\]\.w/);
  assert.match(
    code!,
    /@group\(0\) @binding\(3\) var rise: texture_2d<f32>;\n@group\(0\) @binding\(4\) var rise_sampler: sampler;/,
  );
  assert.match(code!, /wet: u32/);
  assert.match(code!, /fn vertexMain\(mesh: Mesh\) -> Varying/);
  assert.match(code!, /fn readTable\(table: texture_2d<f32>, table_sampler: sampler, t: f32\) -> vec4f/);
});

test('an offset moves the surface and its normal, and uv only where it is read', () => {
  const at = (text: string) => {
    const shader = sketchShader({}, { vertexOffset: text, baseColor: 'normal' });
    const { program } = programOf(shader);
    return [
      emitGlsl(program!, { purpose: 'handover', title: 't' }).vertex,
      emitWgsl(program!, { title: 't' }).code!,
    ];
  };
  for (const source of at('vec3(0.0, sin(position.x), 0.0)')) {
    assert.match(source, /moved\(/);
    assert.match(source, /normalize\(cross\(alongU, alongV\)\)/);
    assert.doesNotMatch(source, /in vec2 a_stretch|stretch\.x/);
  }
  for (const source of at('vec3(0.0, uv.x, 0.0)')) assert.match(source, /stretch\.x/);
});

test('points are computed together where their parameters are the same, each as if it were alone', () => {
  const shader = sketchShader({ made: [['value', { x: 'uv.x * burn + position.y' }]] }, {}, [
    sketchParameter('burn', 'float', [0.5]),
  ]);
  const { value } = programOf(shader).program!.taps[0]!;
  const list = Array.from({ length: 5000 }, (_, i) => ({
    ...{ uv: [i / 5000, 0], position: [0, i % 7, 0] },
    ...(i % 3 ? {} : { parameters: { burn: i % 2 } }),
  }));
  const { points } = readPoints({ points: list, parameters: { burn: [0.25] } }, shader.parameters);
  const valuesAt = (list: typeof points) => {
    const made = evaluateAt(value, list!, shader.parameters, new Map());
    assert.equal(made.problem, undefined);
    return made.problem === undefined ? made.values : [];
  };
  const together = valuesAt(points);
  for (const i of [0, 1, 2, 3, 2500, 4999]) {
    assert.deepEqual(together[i], valuesAt([points![i]!])[0]);
    assert.ok(Math.abs(together[i]![0]! - ((i / 5000) * (i % 3 ? 0.25 : i % 2) + (i % 7))) < 1e-5);
  }
});
