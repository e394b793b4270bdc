import assert from 'node:assert/strict';
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { after, test } from 'node:test';
import { foreignFragments, foreignFunctions } from '../../../e2e/corpus.ts';
import { compileShader, programOf } from '../compileShader.ts';
import { parsePart } from '../document/parsePart.ts';
import type { ShaderDocument } from '../document/shader.ts';
import { sketchParameter, sketchShader } from '../document/sketch.ts';
import { importGlsl } from '../import/importGlsl.ts';
import { readCode } from '../lower/code/codeOperator.ts';
import { OPERATORS } from '../operators/catalogue.ts';
import { playhouse } from '../../../demo/playhouse.ts';
import { emitGlsl } from './glsl/emitGlsl.ts';

const folder = mkdtempSync(join(tmpdir(), 'compilers-'));
after(() => rmSync(folder, { recursive: true, force: true }));

/** What a compiler of GLSL that is not ours says of sources: '' where it takes them all. */
const compiled = (sources: readonly { readonly name: string; readonly text: string }[]): string => {
  const files = sources.map(({ name, text }, i) => {
    const file = join(
      folder,
      `${i}-${name.replace(/\W+/g, '-')}.${text.includes('gl_Position') ? 'vert' : 'frag'}`,
    );
    writeFileSync(file, text);
    return file;
  });
  const { stdout, error } = spawnSync('glslangValidator', files, { encoding: 'utf8', maxBuffer: 1 << 26 });
  assert.equal(error, undefined, 'glslang-tools is installed');
  return stdout
    .split('\n')
    .filter((line) => line.startsWith('ERROR'))
    .slice(0, 20)
    .join('\n');
};

const sourcesOf = (name: string, shader: ShaderDocument) => {
  const { program, diagnostics } = programOf(shader);
  assert.ok(program, `${name}: ${JSON.stringify(diagnostics[0])}`);
  const game = emitGlsl(program, { purpose: 'handover', title: name });
  const { live } = compileShader(shader, name).shader!;
  return [game, live].flatMap(({ vertex, fragment }) => [
    { name, text: vertex },
    { name, text: fragment },
  ]);
};

const example = (text: string): ShaderDocument =>
  sketchShader({ made: [['value', { x: text }]] }, { roughness: 'float(made.x)' }, [
    sketchParameter('picture', 'texture', []),
    sketchParameter('shape', 'curve', [0, 0, 0, 0, 1, 1, 0, 0]),
    sketchParameter('glow', 'gradient', [0, 0, 0, 0, 1, 1, 1, 1]),
  ]);

test('every operator and the demo are GLSL to a compiler that is not ours', () => {
  const sources = [...OPERATORS.values()].flatMap(({ name, example: text }) => {
    const shader = example(text!);
    const { program } = programOf(shader);
    const scalar = program
      ? shader
      : sketchShader({ made: [['value', { x: text! }]] }, { roughness: 'float(made)' }, shader.parameters);
    return sourcesOf(name, scalar);
  });
  for (const { id, kind, body } of playhouse().parts)
    if (kind === 'shader') {
      const { program } = programOf(parsePart('shader', body).document!);
      if (program) sources.push(...sourcesOf(id, parsePart('shader', body).document!));
    }
  assert.ok(sources.length > 400);
  assert.equal(compiled(sources), '');
});

/** Fragments that ask for what no parameter can be, and why. */
const REFUSED: Readonly<Record<string, RegExp>> = {
  VolumeRenderShader1: /sampler3D, which no parameter can be/,
};

test('fragments that nobody here wrote come in, and what goes out of them a compiler takes', async () => {
  const sources: { name: string; text: string }[] = [];
  const fragments = await foreignFragments();
  assert.ok(fragments.length > 50);
  for (const { name, text } of fragments) {
    const made = importGlsl(text);
    const refused = REFUSED[name];
    if (refused) {
      assert.match(made.problems[0]?.message ?? 'it came in', refused, name);
      continue;
    }
    assert.ok(made.document, `${name}: ${JSON.stringify(made.problems[0])}`);
    assert.deepEqual(parsePart('shader', made.document).problems, [], name);
    const { notes } = compileShader(made.document);
    assert.deepEqual(notes, [], `${name} is held in the program`);
    sources.push(...sourcesOf(name, made.document));
  }
  assert.equal(compiled(sources), '');
});

test('functions that nobody here wrote are code steps, held by every back end', () => {
  const sources: { name: string; text: string }[] = [];
  const functions = foreignFunctions();
  assert.ok(functions.length > 60);
  for (const { name, text } of functions) {
    const { code, operator, mistake } = readCode(text);
    assert.ok(code, `${name}: ${mistake?.message ?? ''}`);
    const shader = sketchShader(
      { made: [{ operator: 'code', code: text, arguments: {} }] },
      { roughness: ['float', 'int'].includes(code.main.source.returns.name) ? 'float(made)' : 'made.x' },
      Object.values(operator.inputs).some(({ type }) => type === 'sampler2D')
        ? [sketchParameter('picture', 'texture', [])]
        : [],
    );
    assert.deepEqual(compileShader(shader).notes, [], name);
    sources.push(...sourcesOf(name, shader));
  }
  assert.equal(compiled(sources), '');
});
