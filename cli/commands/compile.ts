import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { programOf } from '#core/compileShader.ts';
import { emitGlsl } from '#core/emit/glsl/emitGlsl.ts';
import { emitWgsl } from '#core/emit/wgsl/emitWgsl.ts';
import { bindingsOf } from '#core/exchange/bindings.ts';
import { contractOf } from '#core/exchange/contract.ts';
import { needFile, readArguments, Refusal, type Command } from '../command.ts';
import { libraryBeside, readDocument } from '../readDocument.ts';
import { describe, placeDiagnostic } from './check.ts';

const USAGE = 'compile FILE --to glsl|wgsl|contract|bindings [--out DIR] [--json]';
const TARGETS = ['glsl', 'wgsl', 'contract', 'bindings'] as const;
type Target = (typeof TARGETS)[number];

const filesOf = (file: string, target: Target): Record<string, string> => {
  const found = readDocument(file);
  if (found.kind !== 'shader') throw new Refusal(`${file}: only a shader compiles; this is a ${found.kind}.`);
  const { program, diagnostics } = programOf(found.body, libraryBeside(file));
  if (!program) {
    const placed = diagnostics.map((each) => placeDiagnostic(each, found.body, found.text));
    throw new Refusal(placed.map((each) => describe(file, each)).join('\n'), 1, placed);
  }
  const notes = new Map(found.body.strands.map((strand) => [strand.name, strand.note]));
  const options = { surface: found.body.surface, title: found.name, notes };
  const glsl = emitGlsl(program, { ...options, purpose: 'handover' });
  const contract = () =>
    contractOf({
      ...{ title: found.name, shader: found.body, program, builtIn: glsl.builtIn },
      ...{ materials: [], shared: {} },
    });
  switch (target) {
    case 'glsl':
      return { [`${found.name}.vert`]: glsl.vertex, [`${found.name}.frag`]: glsl.fragment };
    case 'wgsl': {
      const { code, refused } = emitWgsl(program, options);
      if (code === null) throw new Refusal(`${file}: ${refused}`);
      return { [`${found.name}.wgsl`]: code };
    }
    case 'contract':
      return { [`${found.name}.contract.json`]: `${JSON.stringify(contract(), null, 2)}\n` };
    case 'bindings':
      return { [`${found.name}.ts`]: bindingsOf(contract()) };
  }
};

export const compile: Command = {
  usage: USAGE,
  summary:
    'Writes a shader as GLSL ES 3.00, as WGSL, as its parameter contract, or as a typed TypeScript module.',
  help: `Without --out the text goes to standard output; with it, files are written to that folder, which is made.

  veil compile curtain.shader.json --to glsl --out build/
  veil compile curtain.shader.json --to bindings > curtain.ts`,
  run: (args) => {
    const { file: given, values } = readArguments(args, USAGE, {
      to: { type: 'string' },
      out: { type: 'string' },
    });
    const file = needFile(given, USAGE);
    const target = TARGETS.find((each) => each === values['to']);
    if (!target)
      throw new Refusal(
        `--to is one of ${TARGETS.join(', ')}, not “${String(values['to'] ?? '')}”. Usage: veil ${USAGE}`,
        2,
      );
    const files = filesOf(file, target);
    const out = values['out'] as string | undefined;
    if (out !== undefined) {
      mkdirSync(out, { recursive: true });
      for (const [name, text] of Object.entries(files)) writeFileSync(join(out, name), text);
    }
    const written = Object.keys(files).map((name) => (out === undefined ? name : join(out, name)));
    if (values['json']) console.log(JSON.stringify(out === undefined ? { files } : { written }, null, 2));
    else if (out === undefined) process.stdout.write(Object.values(files).join('\n'));
    else for (const name of written) console.log(name);
    return 0;
  },
};
