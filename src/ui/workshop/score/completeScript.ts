import type { CompletionContext, CompletionResult } from '@codemirror/autocomplete';
import { SCRIPT_WORDS } from '#script/scriptWords.ts';
import type { Parameter } from '#core/document/shader.ts';
import { SET_THINGS, type SetThing } from '#core/document/things.ts';

interface KnownMaterial {
  readonly name: string;
  readonly parameters: readonly Parameter[];
}

/** Which material a variable of the script stands for: `const curtain = material('Velvet')`. */
const materialOf = (text: string, variable: string): string | null =>
  new RegExp(`\\b${variable}\\s*=\\s*material\\(\\s*(['"\`])(.*?)\\1\\s*\\)`).exec(text)?.[2] ?? null;

/** What of a set can be named in a script. */
export type KnownThings = Readonly<Record<SetThing, readonly string[]>>;

/** What a variable of one of these has. */
const MEMBERS: Readonly<Record<keyof KnownThings, readonly string[]>> = {
  prop: ['position', 'rotation', 'scale', 'hidden', 'place', 'name'],
  cue: ['play', 'stop', 'seek', 'at', 'length', 'isPlaying', 'name'],
  flourish: ['play', 'at', 'stop', 'isPlaying', 'name'],
};
/** Which of a set’s things a variable of the script stands for. */
const thingOf = (text: string, variable: string): keyof KnownThings | null =>
  (new RegExp(`\\b${variable}\\s*=\\s*(${SET_THINGS.join('|')})\\(`).exec(text)?.[1] as
    keyof KnownThings | undefined) ?? null;

/** Completes materials, their parameters, a set’s props, cues and flourishes, and the sandbox's words. */
export const completeScript =
  (
    known: () => readonly KnownMaterial[],
    things: () => KnownThings = () => ({ prop: [], cue: [], flourish: [] }),
  ) =>
  (context: CompletionContext): CompletionResult | null => {
    const name = context.matchBefore(/material\(\s*['"`][^'"`]*/);
    if (name)
      return {
        from: name.from + name.text.search(/['"`]/) + 1,
        options: known().map((each) => ({ label: each.name, type: 'variable' })),
        validFor: /^[^'"`]*$/,
      };
    const thing = context.matchBefore(/\b(prop|cue|flourish)\(\s*['"`][^'"`]*/);
    if (thing)
      return {
        from: thing.from + thing.text.search(/['"`]/) + 1,
        options: things()[SET_THINGS.find((each) => thing.text.startsWith(each))!].map((label) => ({
          ...{ label, type: 'variable' },
        })),
        validFor: /^[^'"`]*$/,
      };
    const member = context.matchBefore(/[A-Za-z_$][\w$]*\.[\w$]*/);
    if (member) {
      const [variable] = member.text.split('.') as [string];
      const kind = thingOf(context.state.doc.toString(), variable);
      if (kind)
        return {
          from: member.from + variable.length + 1,
          options: MEMBERS[kind].map((label) => ({ label, type: 'property' })),
          validFor: /^[\w$]*$/,
        };
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
      options: SCRIPT_WORDS.map(({ name: label, call, does }) => ({
        ...{ label, detail: call, info: does, type: 'function' },
      })),
      validFor: /^\w*$/,
    };
  };
