import assert from 'node:assert/strict';
import { test } from 'node:test';
import { playhouse } from '#demo/playhouse.ts';
import { randomShader } from '../../../e2e/fuzz/randomShader.ts';
import { programOf } from '../compileShader.ts';
import type { Library } from '../document/motif.ts';

import { sketchParameter, sketchShader } from '../document/sketch.ts';
import { isTable, type ShaderDocument } from '../document/shader.ts';

import { requirementsOf } from '../analyse/requirements.ts';
import { emitGlsl } from '../emit/glsl/emitGlsl.ts';

import { valuesOf, imported } from './importing.testing.ts';

const parts = playhouse().parts;
const library: Library = new Map(
  parts
    .filter((each) => each.kind === 'motif')
    .map((each) => [each.id, { ...each, body: each.body as never }]),
);

test('our own exported source comes back and computes the same', () => {
  for (const part of parts.filter((each) => each.kind === 'shader')) {
    const authored = part.body as ShaderDocument;
    const { program } = programOf(authored, library);
    const { fragment } = emitGlsl(program!, {
      purpose: 'handover',
      title: part.name,
    });
    const back = imported(fragment);
    const again = programOf(back);
    assert.ok(again.program, `${part.id}: ${JSON.stringify(again.diagnostics)}`);
    assert.equal(back.surface.lit, authored.surface.lit);
    // A table comes back as a texture, and four lifetime numbers as one vector: their values are not told by name.
    if (authored.parameters.some(({ kind, scope }) => isTable(kind) || scope === 'lifetime')) continue;
    const values = Object.fromEntries(
      authored.parameters.filter((each) => each.kind !== 'texture').map((each) => [each.name, each.default]),
    );
    const known = Object.fromEntries(
      Object.entries(values).filter(([name]) =>
        back.parameters.some(
          (each) =>
            each.name === name && each.kind === authored.parameters.find((one) => one.name === name)!.kind,
        ),
      ),
    );
    const rest = authored.parameters.filter((each) => !(each.name in known) && each.kind !== 'texture');
    for (const each of rest) {
      const twin = back.parameters.find((one) => one.name === each.name);
      if (twin && each.kind === 'color')
        known[each.name] = each.default.slice(0, 3).map((c) => c * 2 ** each.default[3]!);
    }
    for (const output of Object.keys(program!.outputs).filter((name) => name !== 'vertexOffset')) {
      const mine: number[] = valuesOf(program!, authored, output, values);
      const theirs: number[] = valuesOf(again.program, back, output, known);
      assert.equal(theirs.length, mine.length, `${part.id}.${output}`);
      mine.forEach((x, i) =>
        assert.ok(Math.abs(x - theirs[i]!) < 1e-4, `${part.id}.${output}[${i}]: ${x} and ${theirs[i]!}`),
      );
    }
  }
});

test('parameters of our own keep their names and kinds, whatever a stranger would be guessed to mean by them', () => {
  const parameters = (
    [
      ['seconds', 'float'],
      ['edgeColor', 'vec4'],
      ['screenSize', 'vec2'],
    ] as const
  ).map(([name, kind]) =>
    sketchParameter(name, kind, new Array<number>(kind === 'float' ? 1 : Number(kind[3])).fill(0.25)),
  );
  const authored = sketchShader(
    { sum: [['value', { x: 'edgeColor.xyz * seconds + vec3(screenSize, time)' }]] },
    { emission: 'sum' },
    parameters,
  );
  const { program } = programOf(authored);
  const { fragment } = emitGlsl(program!, { purpose: 'handover', title: 't' });
  const back = imported(fragment);
  assert.deepEqual(
    back.parameters.map(({ name, kind }) => [name, kind]).sort(),
    parameters.map(({ name, kind }) => [name, kind]).sort(),
  );
  assert.ok(back.strands.some((strand) => strand.name === 'sum'));
});

test('what reads the scene behind a surface comes back as what reads it, its levels too', () => {
  const authored = sketchShader(
    { behind: [['value', { x: 'sceneBlurred(screenUv + 0.01, uv.x) + sceneColor(uv) * depthGap()' }]] },
    { emission: 'behind + sceneLevel(uv, 2.0) * sceneDepth(uv)' },
  );
  const { program } = programOf(authored);
  const { fragment } = emitGlsl(program!, { purpose: 'handover', title: 't' });
  const back = imported(fragment);
  assert.deepEqual(back.parameters, []);
  const again = programOf(back);
  assert.ok(again.program, JSON.stringify(again.diagnostics));
  const [mine, theirs] = [
    valuesOf(program!, authored, 'emission'),
    valuesOf(again.program, back, 'emission'),
  ];
  assert.ok(mine.length > 0 && mine.some((x) => x > 0));
  mine.forEach((x, i) => assert.ok(Math.abs(x - theirs[i]!) < 1e-5, `${x} and ${theirs[i]}`));
  assert.deepEqual(requirementsOf(again.program), requirementsOf(program!));
});

test('every value of our own source becomes a strand with its note, and nothing of it is opaque', () => {
  const curtain = parts.find((each) => each.id === 'curtain-burn-away')!.body as ShaderDocument;
  const { program } = programOf(curtain);
  const notes = new Map(curtain.strands.map((strand) => [strand.name, strand.note]));
  const { fragment } = emitGlsl(program!, {
    purpose: 'handover',
    title: 'Curtain',
    notes,
  });
  const back = imported(fragment);
  assert.equal(back.strands.find((strand) => strand.name === 'order')!.note, 'who burns first');
  assert.deepEqual(
    back.parameters.map((each) => each.name).sort(),
    curtain.parameters
      .map((each) => each.name)
      .filter((name) => !['speed', 'mendSpeed'].includes(name))
      .sort(),
  );
  assert.equal(back.surface.outputs.roughness, curtain.surface.outputs.roughness);
});

test('a shader of many kinds of parameter survives the way out and in', () => {
  const shader = sketchShader(
    {
      glint: [
        ['value', { x: 'curve(uv.x, rise) * grain.seed' }],
        ['multiply', { y: 'gone' }],
      ],
    },
    { emission: 'vec3(glint)' },
    [
      sketchParameter('rise', 'curve', [0, 0, 1, 1, 1, 1, 1, 1]),
      sketchParameter('grain', 'noise', [3, 0], { max: 99 }),
      sketchParameter('gone', 'float', [0.5], { ends: [-14, 6], scope: 'lifetime' }),
    ],
  );
  const { fragment } = emitGlsl(programOf(shader).program!, {
    purpose: 'handover',
    title: 't',
  });
  const back = imported(fragment);
  assert.deepEqual(back.parameters.map((each) => each.name).sort(), ['grain_seed', 'lifetime0', 'rise']);
  assert.equal(back.parameters.find((each) => each.name === 'lifetime0')!.scope, 'lifetime');
});

test('any shader that goes out as GLSL comes back and computes the same', () => {
  let compared = 0;
  for (let seed = 1; seed <= 60; seed += 1) {
    const authored = randomShader(seed);
    const { program } = programOf(authored);
    const { surface } = authored;
    const { fragment } = emitGlsl(program!, { purpose: 'handover', title: 'Any' });
    const back = imported(fragment);
    const again = programOf(back);
    assert.ok(again.program, `seed ${seed}: ${JSON.stringify(again.diagnostics)}\n${fragment}`);
    // Whether what is blended is added is the game's to say: source does not tell.
    const mode = surface.alphaMode === 'added' ? 'blended' : surface.alphaMode;
    assert.deepEqual([back.surface.lit, back.surface.alphaMode], [surface.lit, mode], `seed ${seed}`);
    const values = Object.fromEntries(authored.parameters.map((each) => [each.name, each.default]));
    // A colour comes back as one where its name says so, else as it is read: linear light, its exposure in it.
    const [r, g, b, stops] = values['tint'] as [number, number, number, number];
    const isColor = back.parameters.some((each) => each.name === 'tint' && each.kind === 'color');
    const known = isColor ? values : { ...values, tint: [r, g, b].map((c) => c * 2 ** stops) };
    // An opaque surface has no opacity to write, an unlit one nothing that light asks for.
    const written = [
      'baseColor',
      'emission',
      ...(mode === 'opaque' ? [] : ['opacity']),
      ...(surface.lit ? ['roughness', 'normal'] : []),
    ];
    for (const output of written.filter((name) => program!.outputs[name])) {
      const mine = valuesOf(program!, authored, output, values);
      const theirs = valuesOf(again.program, back, output, known);
      assert.equal(theirs.length, mine.length, `seed ${seed}, ${output}`);
      mine.forEach((x, i) =>
        assert.ok(
          Object.is(x, theirs[i]) || Math.abs(x - theirs[i]!) <= 1e-4 * Math.max(1, Math.abs(x)),
          `seed ${seed}, ${output}[${i}]: ${x} and ${theirs[i]!}\n${fragment}`,
        ),
      );
      compared += mine.length;
    }
  }
  assert.ok(compared > 4000);
});
