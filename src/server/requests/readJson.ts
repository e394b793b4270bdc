import { ApiError } from '../errors.ts';

/** Bodies larger than this are refused, unread where their length is told. */
export const LARGEST_BODY = 4 * 1024 * 1024;
/** Lists and objects inside each other, and names and values in all: more than the longest take has. */
const DEEPEST = 64;
const MOST_NAMES = 400_000;
const MOST_VALUES = 1_000_000;
/** Empty lists and objects, and those with something in them: each costs more than a number. */
const MOST_LISTS = 250_000;

const tooLarge = (most: number): ApiError =>
  new ApiError(413, 'too-large', `The request is larger than ${most / 1024 / 1024} MB.`);

/** What is sent beyond this is not even let go of: the connection is ended. */
const MOST_LET_GO = 1024 * 1024 * 1024;

/**
 * Takes what is left of a request’s body, and keeps none of it: a browser hears no answer before all that it sends is taken, and
 * would wait for ever.
 */
export const letGo = async (left: ReadableStreamDefaultReader<Uint8Array> | undefined): Promise<void> => {
  let size = 0;
  try {
    for (let read = await left?.read(); read && !read.done; read = await left!.read()) {
      size += read.value.length;
      if (size > MOST_LET_GO) return await left!.cancel();
    }
  } catch {
    // Who sent it is gone.
  }
};

/** The bytes of a request, no more of them than may be. @throws ApiError 413 */
export const readBytes = async (request: Request, most = LARGEST_BODY): Promise<Uint8Array> => {
  const pieces: Uint8Array[] = [];
  let size = 0;
  const reader = request.body?.getReader();
  const refuse = (): ApiError => {
    void letGo(reader);
    return tooLarge(most);
  };
  if (Number(request.headers.get('content-length') ?? 0) > most) throw refuse();
  for (let read = await reader?.read(); read && !read.done; read = await reader!.read()) {
    size += read.value.length;
    if (size > most) throw refuse();
    pieces.push(read.value);
  }
  const bytes = new Uint8Array(size);
  let at = 0;
  for (const piece of pieces) {
    bytes.set(piece, at);
    at += piece.length;
  }
  return bytes;
};

/** Says what is too much about JSON before anything is made of it, or null. */
export const excessOf = (text: string): string | null => {
  let [depth, names, values, lists] = [0, 0, 0, 0];
  let quoted = false;
  for (let i = 0; i < text.length; i += 1) {
    const code = text.charCodeAt(i);
    if (quoted) {
      if (code === 0x5c) i += 1;
      else if (code === 0x22) quoted = false;
      continue;
    }
    if (code === 0x22) quoted = true;
    else if (code === 0x7b || code === 0x5b) {
      depth += 1;
      lists += 1;
    } else if (code === 0x7d || code === 0x5d) depth -= 1;
    else if (code === 0x3a) names += 1;
    else if (code === 0x2c) values += 1;
    if (depth > DEEPEST) return `Lists and objects are nested more than ${DEEPEST} deep here.`;
    if (names > MOST_NAMES) return `There are more than ${MOST_NAMES} names here.`;
    if (values > MOST_VALUES) return `There are more than ${MOST_VALUES} values here.`;
    if (lists > MOST_LISTS) return `There are more than ${MOST_LISTS} lists and objects here.`;
  }
  return null;
};

/** Reads a request's body as a JSON object. @throws ApiError 400, 413 or 422 */
export const readJson = async (request: Request): Promise<Readonly<Record<string, unknown>>> =>
  parseJson(await readBytes(request));

/** Reads bytes as a JSON object. @throws ApiError 400 or 422 */
export const parseJson = (bytes: Uint8Array): Readonly<Record<string, unknown>> => {
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new ApiError(400, 'bad-request', 'The request’s body is not UTF-8.');
  }
  const excess = excessOf(text);
  if (excess) throw new ApiError(422, 'invalid', excess);
  let body: unknown;
  try {
    body = JSON.parse(text);
  } catch {
    throw new ApiError(400, 'bad-request', 'The request’s body is not JSON.');
  }
  if (typeof body !== 'object' || body === null || Array.isArray(body))
    throw new ApiError(400, 'bad-request', 'The request’s body should be a JSON object.');
  return body as Readonly<Record<string, unknown>>;
};
