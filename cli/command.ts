import { parseArgs, type ParseArgsConfig } from 'node:util';
import type { Answer, Finding } from './answer.ts';

/** One word of the command line. */
export interface Command {
  readonly usage: string;
  /** One line. */
  readonly summary: string;
  readonly help: string;
  readonly options: Options;
  /** How many files or words follow at most; several unless told. */
  readonly most?: number;
  readonly run: (given: Given) => Answer | Promise<Answer>;
}

/** What follows a command. */
export interface Given {
  readonly words: readonly string[];
  readonly values: Readonly<Record<string, string | boolean | readonly string[] | undefined>>;
  /** Ends with a sentence on how the command is called. */
  readonly usage: string;
}

/** Ends a command with sentences and a code: 1 for what is wrong in a file, 2 for a wrong call. */
export class Refusal extends Error {
  constructor(
    message: string,
    readonly code = 1,
    readonly findings: readonly Finding[] = [{ severity: 'mistake', message }],
  ) {
    super(message);
  }
}

type Options = NonNullable<ParseArgsConfig['options']>;

/** Options that every command takes. */
const COMMON: Options = {
  json: { type: 'boolean' },
  strict: { type: 'boolean' },
  watch: { type: 'boolean' },
};

/** Reads a command's arguments. @throws Refusal with code 2 that says what was expected */
export const readArguments = (
  args: readonly string[],
  { usage, options, most = Infinity }: Command,
): Given => {
  const wrong = (sentence: string): never => {
    throw new Refusal(`${sentence}\nUsage: veil ${usage}`, 2);
  };
  try {
    const all = { ...options, ...COMMON };
    const { values, positionals, tokens } = parseArgs({
      args: [...args],
      options: all,
      allowPositionals: true,
      tokens: true,
    });
    const seen = new Set<string>();
    for (const token of tokens) {
      if (token.kind !== 'option' || all[token.name]?.multiple) continue;
      if (seen.has(token.name)) wrong(`--${token.name} is given twice.`);
      seen.add(token.name);
    }
    if (positionals.length > most) wrong(`There is one word too many: ${positionals[most]!}.`);
    return { words: positionals, values: values as Given['values'], usage };
  } catch (error) {
    if (error instanceof Refusal) throw error;
    return wrong((error as Error).message);
  }
};

export const needFile = ({ words, usage }: Given): string => {
  if (!words[0]) throw new Refusal(`Which file? Usage: veil ${usage}`, 2);
  return words[0];
};

/** An option's text, or undefined. */
export const textOf = ({ values }: Given, name: string): string | undefined =>
  values[name] as string | undefined;
/** The texts of an option that may be given several times, each a list with commas too. */
export const listOf = ({ values }: Given, name: string): readonly string[] =>
  ((values[name] as readonly string[] | undefined) ?? []).flatMap((each) => each.split(',')).filter(Boolean);
/** As `listOf`, where commas belong to what is given. */
export const textsOf = ({ values }: Given, name: string): readonly string[] =>
  (values[name] as readonly string[] | undefined) ?? [];
