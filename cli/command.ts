import { parseArgs, type ParseArgsConfig } from 'node:util';

/** One word of the command line. */
export interface Command {
  readonly usage: string;
  /** One line. */
  readonly summary: string;
  readonly help: string;
  /** @returns the exit code */
  readonly run: (args: readonly string[]) => number | Promise<number>;
}

/** Ends a command with a sentence and a code: 1 for what is wrong in a file, 2 for a wrong call. */
export class Refusal extends Error {
  constructor(
    message: string,
    readonly code = 1,
    readonly problems: readonly unknown[] = [],
  ) {
    super(message);
  }
}

type Options = NonNullable<ParseArgsConfig['options']>;

/** Reads a command's arguments. @throws Refusal with code 2 that says what was expected */
export const readArguments = <O extends Options>(
  args: readonly string[],
  usage: string,
  options: O,
): {
  readonly file: string;
  readonly values: Readonly<Record<string, string | boolean | string[] | undefined>>;
} => {
  try {
    const { values, positionals } = parseArgs({
      args: [...args],
      options: { ...options, json: { type: 'boolean' } },
      allowPositionals: true,
    });
    if (positionals.length > 1) throw new Error(`There is one file too many: ${positionals[1]!}.`);
    return { file: positionals[0] ?? '', values: values as Record<string, string> };
  } catch (error) {
    throw new Refusal(`${(error as Error).message}\nUsage: veil ${usage}`, 2);
  }
};

export const needFile = (file: string, usage: string): string => {
  if (!file) throw new Refusal(`Which file? Usage: veil ${usage}`, 2);
  return file;
};
