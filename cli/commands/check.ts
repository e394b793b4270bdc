import { compileMotif, compileShader } from '#core/compileShader.ts';
import { placeInText } from '#core/language/placeInText.ts';
import type { Diagnostic } from '#core/program/lowerShader.ts';
import type { Score } from '#core/document/shader.ts';
import { importGlsl } from '#core/exchange/importGlsl.ts';
import { analyseModule } from '#core/language/glsl/analyseModule.ts';
import { needFile, readArguments, type Command } from '../command.ts';
import { libraryBeside, lineOf, readDocument, readText } from '../readDocument.ts';

/** A mistake with every place it can be found at. */
export interface Placed {
  readonly line: number;
  readonly strand?: string;
  readonly step?: string;
  readonly argument?: string | null;
  readonly column?: number;
  readonly message: string;
}

/** A diagnostic with the line of its step in the file, and the line and column in its code where it is code. */
export const placeDiagnostic = (each: Diagnostic, score: Score, text: string): Placed => {
  const strand = score.strands.find((one) => one.id === each.strand);
  const step = strand?.steps.find((one) => one.id === each.step);
  const line = lineOf(text, step ? `"${step.id}"` : `"${each.step || each.strand}"`);
  const inCode =
    each.argument === 'code' && step?.code !== undefined ? placeInText(step.code, each.from) : null;
  return {
    line,
    strand: strand?.name ?? each.strand,
    step: step ? `${step.id} (${step.operator})` : each.step,
    argument: inCode ? `code, line ${inCode.line}, column ${inCode.column}` : each.argument,
    ...(inCode ? {} : { column: each.from + 1 }),
    message: each.message,
  };
};

export const describe = (file: string, each: Placed): string =>
  [`${file}:${each.line}`, [each.strand, each.step, each.argument].filter(Boolean).join(', '), each.message]
    .filter(Boolean)
    .join(': ');

const USAGE = 'check FILE [--json]';

/** What a whole fragment gets wrong as a shader of its own: names that nothing declares, say. */
export const mistakesInFragment = (text: string): Placed[] => {
  const made = importGlsl(text);
  if (!made.document) return [...made.problems];
  const { strands } = made.document;
  return compileShader(made.document, 'imported')
    .diagnostics.filter((each) => !each.follows)
    .map(({ step, argument, from, to, message }) => {
      const { code } = strands.flatMap(({ steps }) => steps).find(({ id }) => id === step) ?? {};
      const word = argument === 'code' && code ? /^\w+/.exec(code.slice(from, to))?.[0] : undefined;
      const at = word ? text.search(new RegExp(`\\b${word}\\b`)) : 0;
      return { ...placeInText(text, Math.max(at, 0)), message };
    });
};

const findings = (file: string): { readonly mistakes: Placed[]; readonly notes: Placed[] } => {
  if (/\.(glsl|frag|vert)$/.test(file)) {
    const text = readText(file);
    const { mistake } = analyseModule(text.replace(/^#.*$/gm, (line) => ' '.repeat(line.length)));
    if (mistake)
      return { mistakes: [{ ...placeInText(text, mistake.from), message: mistake.message }], notes: [] };
    const whole = /\bvoid\s+main\s*\(/.test(text) && !file.endsWith('.vert');
    return { mistakes: whole ? mistakesInFragment(text) : [], notes: [] };
  }
  const found = readDocument(file);
  if (found.kind !== 'shader' && found.kind !== 'motif') return { mistakes: [], notes: [] };
  const library = libraryBeside(file);
  const made =
    found.kind === 'shader'
      ? compileShader(found.body, found.name, library)
      : compileMotif({ id: found.name, name: found.name, body: found.body }, library);
  const place = (each: Diagnostic) => placeDiagnostic(each, found.body, found.text);
  return { mistakes: made.diagnostics.map(place), notes: made.notes.map(place) };
};

export const check: Command = {
  usage: USAGE,
  summary: 'Says what is wrong in a document or a GLSL file, and where.',
  help: `FILE is a shader, motif, material, stage, script or shared document (JSON), or GLSL (.glsl, .frag, .vert).
Motifs are looked for beside it, as NAME.motif.json. Mistakes end with 1.

  veil check demo/gallowglass/curtain-burn-away.shader.json`,
  run: (args) => {
    const { file: given, values } = readArguments(args, USAGE, {});
    const file = needFile(given, USAGE);
    const { mistakes, notes } = findings(file);
    if (values['json']) console.log(JSON.stringify({ file, mistakes, notes }, null, 2));
    else {
      for (const each of mistakes) console.error(describe(file, each));
      for (const each of notes) console.log(`note: ${describe(file, each)}`);
      if (!mistakes.length) console.log(`${file}: nothing is wrong.`);
    }
    return mistakes.length ? 1 : 0;
  },
};
