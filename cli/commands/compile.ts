import { join } from 'node:path';
import { compileShader, programOf } from '#core/compileShader.ts';
import { emitGlsl } from '#core/emit/glsl/emitGlsl.ts';
import { emitWgsl } from '#core/emit/wgsl/emitWgsl.ts';
import { bindingsOf } from '#core/handover/bindings.ts';
import { contractOf } from '#core/handover/contract.ts';
import type { Finding } from '../answer.ts';
import { listOf, needFile, Refusal, textOf, type Command } from '../command.ts';
import { filesAt } from '../documents.ts';
import { createOutputs, writeFile } from '../outputs.ts';
import { libraryBeside, materialsBeside, setsBeside, readDocument, sharedBeside } from '../readDocument.ts';
import { findingsOf } from './check.ts';

const TARGETS = ['glsl', 'wgsl', 'contract', 'bindings'] as const;
type Target = (typeof TARGETS)[number];

interface Compiled {
  readonly files: Readonly<Record<string, string>>;
  readonly findings: readonly Finding[];
}

const filesOf = (file: string, targets: readonly Target[]): Compiled => {
  const found = readDocument(file);
  if (found.kind !== 'shader') throw new Refusal(`${file}: only a shader compiles; this is a ${found.kind}.`);
  const library = libraryBeside(file);
  const findings = findingsOf(file, compileShader(found.body, found.name, library), found.body, found.text);
  const { program } = programOf(found.body, library);
  if (!program) return { files: {}, findings };
  const notes = new Map(found.body.strands.map((strand) => [strand.name, strand.note]));
  const options = { title: found.name, notes };
  const glsl = emitGlsl(program, { ...options, purpose: 'handover' });
  const contract = () =>
    contractOf({
      ...{ title: found.name, shader: found.body, program, builtIn: glsl.builtIn },
      ...{ materials: materialsBeside(file, found.name), sets: setsBeside(file), shared: sharedBeside(file) },
    });
  const files: Record<string, string> = {};
  const refused: Finding[] = [];
  for (const target of targets)
    switch (target) {
      case 'glsl':
        files[`${found.name}.vert`] = glsl.vertex;
        files[`${found.name}.frag`] = glsl.fragment;
        break;
      case 'wgsl': {
        const wgsl = emitWgsl(program, options);
        if (wgsl.code === null) refused.push({ severity: 'mistake', file, message: wgsl.refused });
        else files[`${found.name}.wgsl`] = wgsl.code;
        break;
      }
      case 'contract':
        files[`${found.name}.contract.json`] = `${JSON.stringify(contract(), null, 2)}\n`;
        break;
      case 'bindings':
        files[`${found.name}.ts`] = bindingsOf(contract());
    }
  return { files, findings: [...findings, ...refused] };
};

const readTargets = (given: readonly string[], usage: string): readonly Target[] => {
  const wrong = given.find((each) => !TARGETS.includes(each as Target)) ?? (given.length ? undefined : '');
  if (wrong !== undefined)
    throw new Refusal(`--to is one of ${TARGETS.join(', ')}, not “${wrong}”. Usage: veil ${usage}`, 2);
  return TARGETS.filter((each) => given.includes(each));
};

export const compile: Command = {
  usage: 'compile PATH --to glsl,wgsl,contract,bindings [--out DIR] [--force] [--watch]',
  summary:
    'Writes shaders as GLSL ES 3.00, as WGSL, as their parameter contract, or as typed TypeScript modules.',
  help: `PATH is a shader, or a folder of them. Without --out the text goes to standard output; with it, files are written to that
folder, which is made, and those whose sources have not changed are left as they are unless there is --force. The contract
tells the values of every material beside the shader.

  veil compile curtain.shader.json --to glsl --out build/
  veil compile demo/gallowglass --to glsl,wgsl --to contract --out build/ --watch`,
  options: { to: { type: 'string', multiple: true }, out: { type: 'string' }, force: { type: 'boolean' } },
  most: 1,
  run: (given) => {
    const targets = readTargets(listOf(given, 'to'), given.usage);
    const out = textOf(given, 'out');
    const sources = filesAt(needFile(given), /\.shader\.json$/);
    const files: Record<string, string> = {};
    const findings: Finding[] = [];
    for (const source of sources) {
      const made = filesOf(source, targets);
      findings.push(...made.findings);
      for (const [name, text] of Object.entries(made.files)) {
        if (files[name] !== undefined)
          throw new Refusal(
            `${source}: another shader of this folder is called so too; ${name} would be both.`,
          );
        files[name] = text;
      }
    }
    if (out === undefined) return { result: { files }, findings, text: Object.values(files).join('\n') };
    const outputs = createOutputs(out, given.values['force'] === true);
    const written: string[] = [];
    for (const [name, text] of Object.entries(files)) {
      if (outputs.isFresh(name, [text])) continue;
      writeFile(join(out, name), text);
      outputs.note(name, [text]);
      written.push(join(out, name));
    }
    outputs.keep();
    const left = Object.keys(files).length - written.length;
    return {
      result: { written },
      findings,
      remarks: [...written, ...(left ? [`${left} unchanged.`] : [])],
    };
  },
};
