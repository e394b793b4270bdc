import { basename } from 'node:path';
import { writeFileSync } from 'node:fs';
import { importGlsl as importSource } from '#core/exchange/importGlsl.ts';
import { needFile, readArguments, Refusal, type Command } from '../command.ts';
import { describe, mistakesInFragment } from './check.ts';
import { readText } from '../readDocument.ts';

const USAGE = 'import FILE.glsl [--varying NAME=EXPRESSION] [--out FILE.shader.json] [--json]';

export const importGlsl: Command = {
  usage: USAGE,
  summary: 'Makes a shader document of a GLSL fragment, ES 3.00 or 1.00.',
  help: `Uniforms become parameters, what the vertex stage handed over becomes strands, the body becomes code. Each guess at
what a varying reads is said, and --varying puts it right. Without --out the document goes to standard output.

  veil import old.frag --varying vWorld=position --out old.shader.json`,
  run: (args) => {
    const { file: given, values } = readArguments(args, USAGE, {
      varying: { type: 'string', multiple: true },
      out: { type: 'string' },
    });
    const file = needFile(given, USAGE);
    const chosen = Object.fromEntries(
      ((values['varying'] as string[] | undefined) ?? []).map((each) => {
        const at = each.indexOf('=');
        if (at < 1) throw new Refusal(`--varying takes NAME=EXPRESSION, not “${each}”.`, 2);
        return [each.slice(0, at), each.slice(at + 1)];
      }),
    );
    const source = readText(file);
    const made = importSource(source, chosen);
    if (!made.document)
      throw new Refusal(
        made.problems.map((each) => `${file}:${each.line}:${each.column}: ${each.message}`).join('\n'),
        1,
        made.problems,
      );
    const unknown = Object.keys(chosen).find((name) => !made.varyings.some((each) => each.name === name));
    if (unknown !== undefined)
      throw new Refusal(
        `${basename(file)} has no varying “${unknown}”; it has ${made.varyings.map((each) => each.name).join(', ') || 'none'}.`,
        2,
      );
    const text = `${JSON.stringify(made.document, null, 2)}\n`;
    const out = values['out'] as string | undefined;
    if (out !== undefined) writeFileSync(out, text);
    if (values['json'])
      console.log(
        JSON.stringify({ document: made.document, varyings: made.varyings, notes: made.notes }, null, 2),
      );
    else if (out === undefined) process.stdout.write(text);
    const say = out === undefined || values['json'] ? console.error : console.log;
    for (const each of made.varyings)
      say(`${each.name} (${each.type}) reads ${chosen[each.name] ?? each.guess}.`);
    for (const note of made.notes) say(note);
    // The document is written even so: the workshop shows the same mistakes where they are mended.
    const mistakes = mistakesInFragment(source);
    for (const each of mistakes) console.error(describe(file, each));
    return mistakes.length ? 1 : 0;
  },
};
