import { basename } from 'node:path';
import { importGlsl as importSource } from '#core/import/importGlsl.ts';
import { needFile, Refusal, textOf, textsOf, type Command } from '../command.ts';
import { describe, type Finding } from '../answer.ts';
import { writeFile } from '../outputs.ts';
import { readText } from '../readDocument.ts';
import { mistakesInFragment } from './check.ts';

export const importGlsl: Command = {
  usage: 'import FILE.glsl [--varying NAME=EXPRESSION] [--out FILE.shader.json]',
  summary: 'Makes a shader document of a GLSL fragment, ES 3.00 or 1.00.',
  help: `Uniforms become parameters, what the vertex stage handed over becomes strands, the body becomes code. Each guess at
what a varying reads is said, and --varying puts it right. Uniforms that are called otherwise now are listed. Without --out
the document goes to standard output. What cannot be imported writes nothing.

  veil import old.frag --varying vWorld=position --out old.shader.json`,
  options: { varying: { type: 'string', multiple: true }, out: { type: 'string' } },
  most: 1,
  run: (given) => {
    const file = needFile(given);
    const chosen = Object.fromEntries(
      textsOf(given, 'varying').map((each) => {
        const at = each.indexOf('=');
        if (at < 1) throw new Refusal(`--varying takes NAME=EXPRESSION, not “${each}”.`, 2);
        return [each.slice(0, at), each.slice(at + 1)];
      }),
    );
    const source = readText(file);
    const mistakes = mistakesInFragment(file, source);
    if (mistakes.length) throw new Refusal(mistakes.map(describe).join('\n'), 1, mistakes);
    const made = importSource(source, chosen);
    if (!made.document) throw new Refusal(`${file}: it cannot be imported.`);
    const unknown = Object.keys(chosen).find((name) => !made.varyings.some((each) => each.name === name));
    if (unknown !== undefined)
      throw new Refusal(
        `${basename(file)} has no varying “${unknown}”; it has ${made.varyings.map((each) => each.name).join(', ') || 'none'}.`,
        2,
      );
    const text = `${JSON.stringify(made.document, null, 2)}\n`;
    const out = textOf(given, 'out');
    if (out !== undefined) writeFile(out, text);
    const reads = made.varyings.map(
      (each) => `${each.name} (${each.type}) reads ${chosen[each.name] ?? each.guess}.`,
    );
    const findings = [...reads, ...made.notes].map((message): Finding => ({ severity: 'note', message }));
    return {
      result: { document: made.document, varyings: made.varyings, renamed: made.document.renamed ?? {} },
      findings,
      ...(out === undefined ? { text } : { remarks: [out] }),
    };
  },
};
