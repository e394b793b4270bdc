import { analyseModule } from '../language/glsl/analyseModule.ts';
import { parseModule } from '../language/glsl/parseModule.ts';
import { preprocess, type Preprocessed } from '../language/glsl/preprocess.ts';
import { SourceError } from '../language/mistake.ts';
import type { Module } from '../language/glsl/syntax.ts';
import { placeInText, type TextPlace } from '../language/placeInText.ts';
import { LONGEST_CODE } from '../document/score.ts';
import { freeOldNames } from './freeOldNames.ts';
import { importFragment, type ImportedShader } from './importFragment.ts';
import { straightShader } from './importStraight.ts';
import { ImportRefusal, refuseImport } from './refuseImport.ts';

export interface ImportProblem extends TextPlace {
  readonly message: string;
}

export type Imported =
  | (ImportedShader & { readonly problems: readonly [] })
  | { readonly document: null; readonly problems: readonly ImportProblem[] };

/** Blanks a line without moving what follows it. */
const blank = (line: string) => ' '.repeat(line.length);

const importModule = (
  text: string,
  module: Module,
  chosen: Readonly<Record<string, string>>,
): ImportedShader => {
  const main = module.functions.find((each) => each.name === 'main');
  const isVertex = /\bgl_Position\b/.exec(text);
  if (isVertex)
    refuseImport(
      { from: isVertex.index, to: isVertex.index + isVertex[0].length },
      'This is a vertex stage, for it writes gl_Position; a fragment is imported here, and a vertex offset is an output of the surface.',
    );
  if (!main)
    return refuseImport(
      { from: 0, to: text.length },
      'There is no main here; a fragment shader needs one, or paste functions into a code step.',
    );
  const straight = straightShader(text, module, main);
  if (straight) return { ...straight, varyings: [] };
  const { code, mistake } = analyseModule(text);
  return mistake ? refuseImport(mistake, mistake.message) : importFragment(code, main, chosen);
};

/**
 * Makes a shader of a GLSL fragment, ES 3.00 or 1.00: uniforms become parameters, what the vertex stage handed over
 * becomes strands, the body becomes code. What we exported ourselves comes back strand by strand.
 * @param chosen what varyings read, by name, where the author knows better than the guess
 * @returns the shader, or mistakes with their line and column; never throws
 */
export const importGlsl = (source: string, chosen: Readonly<Record<string, string>> = {}): Imported => {
  const problem = (text: string, message: string, from = 0): Imported => ({
    document: null,
    problems: [{ ...placeInText(text, from), message }],
  });
  if (source.length > LONGEST_CODE)
    return problem('', `This source has ${source.length} characters; at most ${LONGEST_CODE} are read.`);
  const odd = /[^\t\n\r\x20-\x7e]/.exec(source.replace(/\/\/[^\n]*|\/\*[\s\S]*?\*\//g, blank));
  if (odd)
    return problem(
      source,
      `“${odd[0]}” has no meaning in GLSL; names use the letters a–z, digits and _.`,
      odd.index,
    );
  let settled: Preprocessed;
  try {
    settled = preprocess(source);
  } catch (error) {
    if (error instanceof SourceError) return problem(source, error.message, error.mistake.from);
    throw error;
  }
  const { text, placeIn } = settled;
  const { module, mistake } = parseModule(text);
  if (!module) return problem(source, mistake.message, placeIn(mistake).from);
  const freed = freeOldNames(source, text, module);
  const renamed = freed && parseModule(freed.text).module;
  try {
    const made =
      freed && renamed ? importModule(freed.text, renamed, chosen) : importModule(text, module, chosen);
    return { ...made, problems: [] };
  } catch (error) {
    if (!(error instanceof ImportRefusal)) throw error;
    const before = freed?.placeBefore ?? ((at: number): number => at);
    const at = { from: before(error.at.from), to: before(error.at.to) };
    return problem(source, error.message, placeIn(at).from);
  }
};
