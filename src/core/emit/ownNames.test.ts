import assert from 'node:assert/strict';
import { test } from 'node:test';
import { compileShader, programOf } from '../compileShader.ts';
import { sketchParameter, sketchShader } from '../document/sketch.ts';
import type { ShaderDocument } from '../document/shader.ts';
import { codeNames } from '../language/codeNames.ts';
import { GLSL_FUNCTIONS, GLSL_KEYWORDS, WGSL_FUNCTIONS, WGSL_KEYWORDS } from '../language/names/keywords.ts';
import { nameProblem } from '../language/names/reserved.ts';
import { OPERATOR_NAMES } from '../operators/catalogue.ts';
import { emitGlsl } from './glsl/emitGlsl.ts';
import { GLSL_LOCALS, GLSL_TOP_NAMES, SURFACE_LOCALS } from '../language/names/glslNames.ts';
import { emitWgsl } from './wgsl/emitWgsl.ts';
import { WGSL_LOCALS, WGSL_TOP_NAMES } from '../language/names/wgslNames.ts';

/** A shader that makes the emitters write all they have: every stage, definitions, textures, a lifetime. */
const everything: ShaderDocument = {
  ...sketchShader(
    {
      a1: [['valueNoise']],
      b1: [
        ['value', { x: 'pow(uv.x, uv.y) + float(int(uv.x * 9.0) / int(time) + (int(uv.y) % int(time)))' }],
      ],
      c1: [['value', { x: 'normalize(position) * mod(uv.x, uv.y) + surfaceDistance + screenUv.x + age1' }]],
      d1: [
        {
          operator: 'code',
          code: 'float d1fn(vec2 p) { return texelFetch(tile, ivec2(p), 0).r + reflect(p.x, p.y) + (isnan(p.x) ? 1.0 : 0.0) + float(uint(p.x)) + intBitsToFloat(int(p.y)) + 1.0 / 0.0; }',
          arguments: { p: 'uv' },
        },
      ],
      e1: [['value', { x: 'vec3(smoothstep(uv.x, uv.y, viewNormal.x), objectOrigin.xy) + tangent' }]],
    },
    {
      ...{ baseColor: 'c1', opacity: 'd1', emission: 'e1', metallic: 'a1', roughness: 'b1', occlusion: 'a1' },
      ...{ normal: 'normal + e1', vertexOffset: 'vec3(a1 + screenUv.y + surfaceDistance, uv2) + normal' },
    },
    [sketchParameter('tile', 'texture', []), sketchParameter('age1', 'float', [0], { scope: 'lifetime' })],
  ),
};
const blended: ShaderDocument = { ...everything, surface: { ...everything.surface, alphaMode: 'blended' } };

test('all that the emitters name themselves stands in the lists that authors’ names are kept from', () => {
  const own = new Set(['a1', 'b1', 'c1', 'd1', 'e1', 'd1fn', 'tile', 'tile_sampler', 'age1']);
  const options = { title: 'all' };
  const { program, diagnostics } = programOf(blended);
  assert.ok(program, JSON.stringify(diagnostics));
  const live = compileShader(blended).shader!.live;
  const game = emitGlsl(program, { ...options, purpose: 'handover' });
  /** Names declared outside functions. */
  const topOf = (source: string) => {
    let depth = 0;
    const top = [...source.replace(/\/\/.*$/gm, '')].map((letter) => {
      depth += Number('{('.includes(letter));
      const kept = depth === 0 ? letter : ' ';
      depth -= Number('})'.includes(letter));
      return kept;
    });
    return codeNames(top.join('')).map(({ name }) => name);
  };
  const functions = (source: string) => new Set([...source.matchAll(/(\w+)\(/g)].map(([, name]) => name!));
  const inProgram = /^(valueNoise|latticeHash|wrapCell)/;
  for (const source of [live.vertex, live.fragment, game.vertex, game.fragment])
    for (const name of topOf(source).filter((each) => !/^(version|es|highp|\d+)$/.test(each)))
      assert.ok(
        GLSL_KEYWORDS.has(name) || GLSL_TOP_NAMES.includes(name) || own.has(name) || inProgram.test(name),
        `GLSL declares ${name}`,
      );
  for (const name of functions(game.fragment + game.vertex))
    assert.ok(
      [...GLSL_KEYWORDS, ...GLSL_FUNCTIONS, ...GLSL_TOP_NAMES].includes(name) ||
        own.has(name) ||
        inProgram.test(name),
      `GLSL calls ${name}`,
    );
  const { code } = emitWgsl(program, options);
  for (const name of [...topOf(code!), ...functions(code!)].filter(
    (each) =>
      !/^(off|bool|derivative_uniformity|group|binding|location|builtin|vertex|fragment|uniform|private|\w+Map(_sampler)?|u32|f)$/.test(
        each,
      ),
  ))
    assert.ok(
      [...WGSL_KEYWORDS, ...WGSL_FUNCTIONS, ...GLSL_FUNCTIONS, ...WGSL_TOP_NAMES].includes(name) ||
        own.has(name) ||
        inProgram.test(name),
      `WGSL has ${name}`,
    );
});

test('what an author’s code and strands are called collides with nothing of ours', () => {
  const names = [
    ...new Set([
      ...GLSL_TOP_NAMES,
      ...GLSL_LOCALS,
      ...SURFACE_LOCALS,
      ...WGSL_TOP_NAMES,
      ...WGSL_LOCALS,
      'wrapCellar',
    ]),
  ].filter((name) => name !== 'main' && name !== 'frontFacing');
  for (const name of names) {
    const code = `float ${name}(float x) { float a_uv2 = x; return a_uv2 + float(int(x)); } float made(vec2 uv) { return ${name}(uv.x); }`;
    const shader = sketchShader(
      { made: [{ operator: 'code', code, arguments: { uv: 'uv' } }] },
      { baseColor: 'vec3(made)', vertexOffset: 'vec3(made)' },
    );
    const { program, diagnostics } = programOf(shader);
    assert.ok(program, `${name}: ${JSON.stringify(diagnostics)}`);
    const options = { title: 'names' };
    for (const source of [
      ...Object.values(emitGlsl(program, { ...options, purpose: 'handover' })).slice(0, 2),
      emitWgsl(program, options).code,
    ] as string[]) {
      const declared = [
        ...source.matchAll(new RegExp(`^(?:fn|float|uniform \\w+|in \\w+|out \\w+) ${name}\\b`, 'gm')),
      ];
      assert.ok(declared.length <= 1, `${name} is declared twice:\n${source}`);
      // Whoever is called like a lattice’s cell is still held within whole numbers.
      if (name === 'wrapCellar') assert.doesNotMatch(source, /[^e]int\(wrapCellar/);
    }
  }
});

test('a parameter may be called as the surface’s outputs are, and words of WGSL may not be names', () => {
  for (const name of SURFACE_LOCALS) {
    assert.equal(nameProblem(name, OPERATOR_NAMES), null, name);
    const shader = sketchShader({}, { opacity: 'min(1.0, 2.0)', baseColor: `vec3(${name})` }, [
      sketchParameter(name, 'float', [0.5]),
    ]);
    const surface = { ...shader.surface, alphaMode: 'blended' as const };
    const { program } = programOf({ ...shader, surface });
    const glsl = emitGlsl(program!, { purpose: 'handover', title: 'names' }).fragment;
    assert.match(glsl, new RegExp(`uniform float ${name};`));
    assert.match(glsl, new RegExp(` ${name}Output = `));
    assert.match(glsl, new RegExp(`vec3\\(${name}\\)`));
  }
  for (const name of ['continuing', 'const_assert', 'fallthrough', 'textureSampleBias', 'modulo3'])
    assert.match(nameProblem(name, OPERATOR_NAMES) ?? '', /WGSL keeps/, name);
  for (const name of ['texelAt', 'liveInt', 'surfaceDistanceFrame', 'textureProjGradOffset', 'iimageBuffer'])
    assert.match(nameProblem(name, OPERATOR_NAMES) ?? '', /taken by GLSL/, name);
});

test('values that wish for one name are numbered in their order, past what an author calls so, however many', () => {
  const added = (count: number) => Array.from({ length: count }, () => ['add', { y: 'uv.x' }] as const);
  const fragmentOf = (count: number): string => {
    const strands = {
      fold_add3: [['value', { x: 'uv.y * 3.0' }]],
      fold: [['value', { x: 'uv.y' }], ...added(count)],
    };
    const { program } = programOf(
      sketchShader(strands as never, { roughness: 'fold', metallic: 'fold_add3' }),
    );
    return emitGlsl(program!, { title: 'Fold', purpose: 'handover' }).fragment;
  };
  const declared = (count: number): string[] =>
    [...fragmentOf(count).matchAll(/^ *float (fold\w*) = /gm)].map(([, name]) => name!);
  assert.deepEqual(declared(5), ['fold_add3', 'fold_add', 'fold_add2', 'fold_add4', 'fold_add5', 'fold']);
  const many = declared(400);
  assert.equal(many.length, 401);
  assert.equal(new Set(many).size, many.length);
  assert.equal(many.at(-2), 'fold_add400');
});
