import { existsSync, readdirSync, statSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { Refusal } from './command.ts';
import { readDocument, type ReadDocument } from './readDocument.ts';

const DOCUMENT = /\.(shader|material|motif|texture|stage|script|take|shared)\.json$|\.script\.js$/;

/** The files a path stands for: itself, or every document in a folder and the folders in it. @throws Refusal */
export const filesAt = (path: string, wanted: RegExp = DOCUMENT): readonly string[] => {
  if (!existsSync(path) || !statSync(path).isDirectory()) return [path];
  const files = readdirSync(path, { recursive: true, encoding: 'utf8' })
    .filter((each) => wanted.test(each) && !/(^|\/)(node_modules|\.)/.test(each))
    .sort()
    .map((each) => join(path, each));
  if (!files.length) throw new Refusal(`${path}: there is no document in this folder.`);
  return files;
};

/** A document that lies beside a file, by the id its file is called by. */
export const documentBeside = (file: string, kind: ReadDocument['kind'], id: string): ReadDocument | null => {
  const path = join(dirname(file), `${id}.${kind}.json`);
  return existsSync(path) ? readDocument(path) : null;
};

/** What a document is called by those beside it. */
export const idOf = (file: string): string => basename(file).replace(/\.(\w+\.)?(json|js)$/, '');
