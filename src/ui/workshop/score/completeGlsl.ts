import type { CompletionContext, CompletionResult } from '@codemirror/autocomplete';
import { BUILT_IN_NAMES } from '#core/language/glsl/builtInNames.ts';
import { TYPE_NAMES } from '#core/language/glsl/parseModule.ts';
import type { Readable } from '../../parts/completeName.ts';
import { declarationOf, INPUT_NAMES } from '#core/program/inputs.ts';

const WORDS = ['if', 'else', 'for', 'while', 'return', 'break', 'continue', 'const', 'in', 'true', 'false'];

/** Completes GLSL's own words and functions, strands above, parameters, and what a shader is given. */
export const completeGlsl =
  (around: () => readonly Readable[]) =>
  (context: CompletionContext): CompletionResult | null => {
    const word = context.matchBefore(/[A-Za-z_]\w*/);
    if (!word && !context.explicit) return null;
    if (word && /[.\d]/.test(context.state.sliceDoc(word.from - 1, word.from))) return null;
    return {
      from: word?.from ?? context.pos,
      validFor: /^\w*$/,
      options: [
        ...around().map(({ name, detail }) => ({ label: name, detail, type: 'variable', boost: 2 })),
        ...INPUT_NAMES.map((name) => ({
          label: name,
          detail: declarationOf(name).type,
          info: declarationOf(name).summary,
          type: 'constant',
        })),
        ...BUILT_IN_NAMES.map((label) => ({ label, type: 'function' })),
        ...[...TYPE_NAMES].map((label) => ({ label, type: 'type' })),
        ...WORDS.map((label) => ({ label, type: 'keyword' })),
      ],
    };
  };
