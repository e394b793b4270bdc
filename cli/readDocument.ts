import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { Library, NamedMotif, SharedDocument } from '#core/document/motif.ts';
import { parsePart } from '#core/document/parsePart.ts';
import { PART_KINDS, type Part, type PartBodies, type PartKind } from '#core/document/project.ts';
import type { Problem } from '#core/document/read.ts';
import { withIds } from '#core/document/valueKeys.ts';
import type { Finding } from './answer.ts';
import { Refusal } from './command.ts';

/** Bytes of the largest file that is read. */
const LARGEST = 16 * 1024 * 1024;

export const readText = (file: string): string => {
  try {
    const { size } = statSync(file);
    if (size > LARGEST)
      throw new Refusal(`${file}: this file has ${(size / 1048576).toFixed(1)} MB; at most 16 MB are read.`);
    return readFileSync(file, 'utf8');
  } catch (error) {
    if (error instanceof Refusal) throw error;
    const { code } = error as NodeJS.ErrnoException;
    throw new Refusal(
      code === 'ENOENT'
        ? `${file}: there is no such file.`
        : code === 'EISDIR'
          ? `${file}: this is a folder; name a file in it.`
          : `${file}: it cannot be read (${String(code)}).`,
    );
  }
};

export const readJson = (file: string): { readonly json: unknown; readonly text: string } => {
  const text = readText(file);
  try {
    return { json: JSON.parse(text) as unknown, text };
  } catch (error) {
    throw new Refusal(`${file}: this is not JSON: ${(error as Error).message}.`);
  }
};

/** A document of any kind, with the text it came from. */
export type ReadDocument = {
  readonly [kind in PartKind]: {
    readonly kind: kind;
    readonly name: string;
    readonly text: string;
    readonly body: PartBodies[kind];
  };
}[PartKind];

const kindOf = (json: unknown, file: string): PartKind => {
  const format = (json as { format?: unknown } | null)?.format;
  const kind = PART_KINDS.find((each) => format === `wicked-veil/${each}`);
  if (!kind)
    throw new Refusal(
      `${file}: format: this should be one of ${PART_KINDS.map((each) => `wicked-veil/${each}`).join(', ')}, not ${typeof format === 'string' ? JSON.stringify(format) : format === undefined ? 'nothing' : `a ${typeof format}`}.`,
    );
  return kind;
};

/** The line, from 1, on which something stands in a file's text; 1 where it cannot be told. */
export const lineOf = (text: string, wanted: string): number => {
  const at = text.indexOf(wanted);
  return at < 0 ? 1 : text.slice(0, at).split('\n').length;
};

/** The line of the field that a problem's path ends in, as near as a search finds it. */
const lineOfPath = (text: string, path: string): number => {
  const field = /([A-Za-z_$][\w$-]*)(?:\[\d+\])*$/.exec(path)?.[1];
  return field ? lineOf(text, `"${field}"`) : 1;
};

const refusalOf = (file: string, text: string, problems: readonly Problem[]): Refusal => {
  const findings = problems.map((each): Finding => ({
    severity: 'mistake',
    file,
    line: lineOfPath(text, each.path),
    ...each,
  }));
  return new Refusal(
    problems.map((each) => `${file}: ${each.path ? `${each.path}: ` : ''}${each.message}`).join('\n'),
    1,
    findings,
  );
};

/** Reads a document. @throws Refusal with every problem and its path in the file */
export const readDocument = (file: string): ReadDocument => {
  const { json, text } = readJson(file);
  const kind = kindOf(json, file);
  const { document, problems } = parsePart(kind, json, { files: true });
  if (!document) throw refusalOf(file, text, problems);
  const name = basename(file).replace(/\.(\w+\.)?json$/, '');
  return { kind, name, text, body: bound(file, document) } as ReadDocument;
};

/** A document; names that an older material stores become ids of the parameters of the shader beside it. */
const bound = (file: string, document: Part['body']): Part['body'] => {
  if (document.format !== 'wicked-veil/material' || !document.named) return document;
  const beside = join(dirname(file), `${document.shader}.shader.json`);
  const shader = existsSync(beside) ? readDocument(beside) : null;
  return shader?.kind === 'shader' ? withIds(document, shader.body.parameters) : document;
};

/** The motifs that lie beside a file, by the name of their file: what its steps call them by. */
export const libraryBeside = (file: string): Library => {
  const folder = dirname(file);
  const motifs = readdirSync(folder)
    .filter((each) => each.endsWith('.motif.json'))
    .map((each): NamedMotif => {
      const id = each.replace(/\.motif\.json$/, '');
      const found = readDocument(join(folder, each));
      if (found.kind !== 'motif')
        throw new Refusal(`${join(folder, each)}: this is a ${found.kind}, not a motif.`);
      return { id, name: id, body: found.body };
    });
  return new Map(motifs.map((each) => [each.id, each]));
};

/** The documents of a kind that lie beside a file. */
const beside = <K extends PartKind>(file: string, kind: K) =>
  readdirSync(dirname(file))
    .filter((each) => each.endsWith(`.${kind}.json`))
    .map((each) => readDocument(join(dirname(file), each)) as Extract<ReadDocument, { kind: K }>);

/** The materials of a shader that lie beside it. */
export const materialsBeside = (file: string, shader: string) =>
  beside(file, 'material')
    .filter(({ body }) => body.shader === shader)
    .map(({ name, body }) => ({ id: name, name, body }));

/** The textures that lie beside a file. */
export const texturesBeside = (file: string) =>
  beside(file, 'texture').map(({ name, body }) => ({ name, body }));

/** The sets that lie beside a file. */
export const setsBeside = (file: string) => beside(file, 'stage').map(({ name, body }) => ({ name, body }));

/** The project's shared values and budgets, as documents beside a file keep them. */
export const sharedDocumentsBeside = (file: string): readonly SharedDocument[] =>
  beside(file, 'shared').map(({ body }) => body);

/** The project's shared values, where a document beside the file keeps them. */
export const sharedBeside = (file: string): SharedDocument['values'] =>
  Object.assign({}, ...sharedDocumentsBeside(file).map(({ values }) => values)) as SharedDocument['values'];
