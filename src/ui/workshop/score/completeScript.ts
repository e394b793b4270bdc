import type { CompletionContext, CompletionResult } from '@codemirror/autocomplete';
import type { Parameter } from '#core/document/shader.ts';

interface KnownMaterial {
  readonly name: string;
  readonly parameters: readonly Parameter[];
}

const WORDS: readonly (readonly [label: string, detail: string])[] = [
  ['material', "a material's parameters, by its name"],
  ['onTick', 'called 60 times a second with dt in seconds'],
  ['onKey', "called when a key goes down: 'Space', 'KeyN'"],
  ['isHeld', 'whether a key is down now'],
  ['time', 'seconds rehearsed'],
  ['random', 'seeded chance: unit(), between(low, high), integer(low, high)'],
  ['clamp', 'clamp(x, low, high)'],
  ['mix', 'mix(x, y, amount)'],
  ['log', 'writes to the log'],
];

/** Which material a variable of the script stands for: `const curtain = material('Velvet')`. */
const materialOf = (text: string, variable: string): string | null =>
  new RegExp(`\\b${variable}\\s*=\\s*material\\(\\s*(['"\`])(.*?)\\1\\s*\\)`).exec(text)?.[2] ?? null;

/** Completes materials, their parameters and the sandbox's words. */
export const completeScript =
  (known: () => readonly KnownMaterial[]) =>
  (context: CompletionContext): CompletionResult | null => {
    const name = context.matchBefore(/material\(\s*['"`][^'"`]*/);
    if (name)
      return {
        from: name.from + name.text.search(/['"`]/) + 1,
        options: known().map((each) => ({ label: each.name, type: 'variable' })),
        validFor: /^[^'"`]*$/,
      };
    const member = context.matchBefore(/[A-Za-z_$][\w$]*\.[\w$]*/);
    if (member) {
      const [variable] = member.text.split('.') as [string];
      const wanted = materialOf(context.state.doc.toString(), variable);
      const material = known().find((each) => each.name === wanted);
      if (!material) return null;
      return {
        from: member.from + variable.length + 1,
        options: material.parameters.map((each) => ({
          label: each.name,
          type: 'property',
          detail: each.kind === 'color' ? '[r, g, b, stops]' : `${each.kind} ${each.min}–${each.max}`,
          info: each.description,
        })),
        validFor: /^[\w$]*$/,
      };
    }
    const word = context.matchBefore(/[A-Za-z]\w*/);
    if (!word && !context.explicit) return null;
    return {
      from: word?.from ?? context.pos,
      options: WORDS.map(([label, detail]) => ({ label, detail, type: 'function' })),
      validFor: /^\w*$/,
    };
  };
