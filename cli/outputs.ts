import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { Refusal } from './command.ts';

const MARK = '.veil.json';

/** Remembers in the folder they go to what files were made from, so that what has not changed is not made again. */
export const createOutputs = (folder: string, force: boolean) => {
  const mark = join(folder, MARK);
  const read = (): Record<string, string> => {
    try {
      return JSON.parse(readFileSync(mark, 'utf8')) as Record<string, string>;
    } catch {
      return {};
    }
  };
  const known = read();
  return {
    /** True where a file stands as it would be made again. */
    isFresh: (file: string, made: readonly unknown[]): boolean =>
      !force && existsSync(join(folder, file)) && known[file] === keyOf(made),
    note: (file: string, made: readonly unknown[]): void => {
      known[file] = keyOf(made);
    },
    keep: (): void => writeFile(mark, `${JSON.stringify(known, null, 2)}\n`),
  };
};

const keyOf = (made: readonly unknown[]): string =>
  createHash('sha256').update(JSON.stringify(made)).digest('hex').slice(0, 24);

/** Writes a file and the folder it is in. @throws Refusal */
export const writeFile = (file: string, content: string | Uint8Array): void => {
  try {
    mkdirSync(dirname(file), { recursive: true });
    writeFileSync(file, content);
  } catch (error) {
    throw new Refusal(`${file}: it cannot be written: ${(error as Error).message}.`);
  }
};

/** Whether --out is one picture, and not a folder. @throws Refusal where it is called otherwise than what is kept in it */
export const isPicture = (out: string, ending: 'png' | 'exr'): boolean => {
  const told = /\.(png|exr)$/i.exec(out)?.[1]?.toLowerCase();
  if (told !== undefined && told !== ending)
    throw new Refusal(`${out}: so many bits are kept as .${ending}; --bits 8 and 16 are PNG, 32 OpenEXR.`, 2);
  return told !== undefined;
};
