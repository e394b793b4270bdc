/** Something that is wrong, or worth knowing, and where. */
export interface Finding {
  readonly severity: 'mistake' | 'note';
  readonly message: string;
  /** The check that found it, where one did. */
  readonly check?: string | undefined;
  readonly file?: string | undefined;
  readonly line?: number | undefined;
  readonly column?: number | undefined;
  readonly strand?: string | undefined;
  readonly step?: string | undefined;
  readonly argument?: string | null | undefined;
  /** The path of a field in a document. */
  readonly path?: string | undefined;
}

/** What a command came to: one shape for all of them, for people and, with --json, for programs. */
export interface Answer {
  /** What was asked for, by the command's own names. */
  readonly result: Readonly<Record<string, unknown>>;
  readonly findings: readonly Finding[];
  /** The result for people, on standard output. */
  readonly text?: string;
  /** Lines for people that belong to no file. */
  readonly remarks?: readonly string[];
}

export const describe = ({ file, line, column, path, strand, step, argument, message }: Finding): string =>
  [
    // In a document a column counts from the start of the argument, which is named.
    [file, line, strand === undefined ? column : undefined].filter((each) => each !== undefined).join(':'),
    path ?? '',
    [strand, step, argument].filter(Boolean).join(', '),
    message,
  ]
    .filter(Boolean)
    .join(': ');

/** Numbers that JSON has none for are told apart by their names. */
const plainNumbers = (_: string, value: unknown): unknown =>
  typeof value === 'number' && !Number.isFinite(value) ? String(value) : value;

/** Where words go: to standard output and standard error, as they are. */
export interface Speaks {
  readonly out: (text: string) => void;
  readonly err: (text: string) => void;
}

/** Prints an answer. @returns the exit code: 1 for mistakes, and with `strict` for notes too */
export const print = (
  { out, err }: Speaks,
  command: string,
  answer: Answer,
  { json, strict }: { readonly json: boolean; readonly strict: boolean },
): number => {
  const { result, findings, text, remarks = [] } = answer;
  const ok = findings.every((each) => each.severity === 'note' && !strict);
  if (json) {
    out(`${JSON.stringify({ command, ok, ...result, findings }, plainNumbers, 2)}\n`);
    return ok ? 0 : 1;
  }
  for (const each of findings) {
    const said = `${each.severity === 'note' ? 'note: ' : ''}${describe(each)}`;
    if (each.severity === 'mistake' || strict || text !== undefined) err(`${said}\n`);
    else out(`${said}\n`);
  }
  if (text !== undefined) out(text);
  for (const each of remarks) out(`${each}\n`);
  return ok ? 0 : 1;
};
