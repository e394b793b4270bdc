import { crc32, inflateRawSync } from 'node:zlib';
import { ApiError } from '../errors.ts';

/** Bytes and files an archive may hold once it is unpacked. */
export const LARGEST_UNPACKED = 512 * 1024 * 1024;
export const MOST_FILES = 6000;

/** Signatures and sizes of a zip's records (PKWARE, APPNOTE 6.3.10, sections 4.3.7, 4.3.12 and 4.3.16). */
const [LOCAL, ENTRY, END] = [0x04034b50, 0x02014b50, 0x06054b50];
const [LOCAL_SIZE, ENTRY_SIZE, END_SIZE] = [30, 46, 22];
const [STORED, DEFLATED] = [0, 8];
/** The end record may be followed by a comment of so many bytes. */
const LONGEST_COMMENT = 65_535;

const damaged = (): ApiError =>
  new ApiError(422, 'invalid', 'This is not a zip archive, or it is damaged or cut short.');
const tooLarge = (): ApiError =>
  new ApiError(
    413,
    'too-large',
    `The archive holds more than ${LARGEST_UNPACKED / 1024 / 1024} MB, or more than ${MOST_FILES} files.`,
  );

interface Entry {
  readonly name: string;
  readonly method: number;
  readonly crc: number;
  readonly packed: number;
  readonly size: number;
  /** Where its bytes begin, after its local header. */
  readonly from: number;
  readonly start: number;
}

const entriesOf = (bytes: Buffer): readonly Entry[] => {
  let end = bytes.length - END_SIZE;
  const first = Math.max(0, end - LONGEST_COMMENT);
  while (end >= first && bytes.readUInt32LE(end) !== END) end -= 1;
  if (end < first) throw damaged();
  const count = bytes.readUInt16LE(end + 10);
  if (count > MOST_FILES) throw tooLarge();
  let at = bytes.readUInt32LE(end + 16);
  let total = 0;
  return Array.from({ length: count }, () => {
    if (at + ENTRY_SIZE > end || bytes.readUInt32LE(at) !== ENTRY) throw damaged();
    const [flags, method] = [bytes.readUInt16LE(at + 8), bytes.readUInt16LE(at + 10)];
    const crc = bytes.readUInt32LE(at + 16);
    const [packed, size] = [bytes.readUInt32LE(at + 20), bytes.readUInt32LE(at + 24)];
    const [named, extra, comment] = [28, 30, 32].map((by) => bytes.readUInt16LE(at + by)) as [
      number,
      number,
      number,
    ];
    const start = bytes.readUInt32LE(at + 42);
    const name = bytes.toString('utf8', at + ENTRY_SIZE, at + ENTRY_SIZE + named);
    at += ENTRY_SIZE + named + extra + comment;
    if (flags & 1) throw new ApiError(422, 'invalid', `${name}: files in an archive cannot be encrypted.`);
    if (start + LOCAL_SIZE > bytes.length || bytes.readUInt32LE(start) !== LOCAL) throw damaged();
    const from = start + LOCAL_SIZE + bytes.readUInt16LE(start + 26) + bytes.readUInt16LE(start + 28);
    if (from + packed > bytes.length) throw damaged();
    total += size;
    if (total > LARGEST_UNPACKED) throw tooLarge();
    return { name, method, crc, packed, size, from, start };
  });
};

/**
 * Unpacks a zip. Inflating stops at the size that an entry states and at the limits; entries that share bytes are
 * refused, since a few bytes could be inflated thousands of times. @throws ApiError 413 or 422
 */
export const unzip = (archive: Uint8Array): ReadonlyMap<string, Uint8Array> => {
  const bytes = Buffer.from(archive.buffer, archive.byteOffset, archive.byteLength);
  if (bytes.length < END_SIZE) throw damaged();
  const entries = entriesOf(bytes);
  const inOrder = [...entries].sort((a, b) => a.start - b.start);
  inOrder.forEach(({ name, start }, i) => {
    const before = inOrder[i - 1];
    if (before && start < before.from + before.packed)
      throw new ApiError(422, 'invalid', `${name}: this file shares bytes with another one in the archive.`);
  });
  const files = new Map<string, Uint8Array>();
  for (const { name, method, crc, packed, size, from } of entries) {
    if (name.endsWith('/')) continue;
    const stored = bytes.subarray(from, from + packed);
    let content: Uint8Array;
    if (method === STORED) content = stored;
    else if (method === DEFLATED)
      try {
        // An empty file still needs a limit of at least one byte.
        content = inflateRawSync(stored, { maxOutputLength: Math.max(size, 1) });
      } catch {
        throw new ApiError(
          422,
          'invalid',
          `${name}: this file is damaged, or larger than the archive states.`,
        );
      }
    else throw new ApiError(422, 'invalid', `${name}: this file is packed in a way that is not read here.`);
    if (content.length !== size || crc32(content) !== crc) throw damaged();
    files.set(name, content);
  }
  return files;
};
