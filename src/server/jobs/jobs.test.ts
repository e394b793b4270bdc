import assert from 'node:assert/strict';
import { test } from 'node:test';
import { deflateRawSync } from 'node:zlib';
import { crc32 } from 'node:zlib';
import { zipSync } from 'fflate';
import { archiveFiles } from '#core/handover/archive.ts';
import { starterParts } from '#core/document/starter.ts';
import { createThreads } from './threads.ts';
import { LARGEST_UNPACKED, MOST_FILES, unzip } from './unzip.ts';

interface Said {
  readonly name: string;
  readonly content: Buffer;
  /** What is stated, where that is a lie. */
  readonly size?: number;
  readonly crc?: number;
  /** Lies where the entry before does. */
  readonly shares?: boolean;
}
/** A zip whose records say what they are told to. */
const archive = (entries: readonly Said[]): Buffer => {
  const parts: Buffer[] = [];
  const central: Buffer[] = [];
  let at = 0;
  let before = 0;
  for (const { name, content, size = content.length, crc = crc32(content), shares } of entries) {
    const packed = deflateRawSync(content);
    const fields = Buffer.alloc(26);
    fields.writeUInt16LE(20, 0);
    fields.writeUInt16LE(8, 4);
    fields.writeUInt32LE(crc, 10);
    fields.writeUInt32LE(packed.length, 14);
    fields.writeUInt32LE(size, 18);
    fields.writeUInt16LE(name.length, 22);
    const start = shares ? before : at;
    if (!shares) {
      parts.push(Buffer.from('PK\x03\x04', 'latin1'), fields, Buffer.from(name), packed);
      before = at;
      at += 30 + name.length + packed.length;
    }
    const entry = Buffer.alloc(46);
    entry.write('PK\x01\x02', 'latin1');
    fields.copy(entry, 6);
    entry.writeUInt32LE(start, 42);
    central.push(entry, Buffer.from(name));
  }
  const list = Buffer.concat(central);
  const end = Buffer.alloc(22);
  end.write('PK\x05\x06', 'latin1');
  end.writeUInt16LE(entries.length, 8);
  end.writeUInt16LE(entries.length, 10);
  end.writeUInt32LE(list.length, 12);
  end.writeUInt32LE(at, 16);
  return Buffer.concat([...parts, list, end]);
};
const zeros = (size: number) => Buffer.alloc(size);

test('an archive is unpacked as another tool packed it, and each lie about it is refused in a sentence', () => {
  const files = {
    'a.txt': new TextEncoder().encode('curtain'),
    'b/c.bin': new Uint8Array(5000).fill(7),
    empty: new Uint8Array(),
  };
  for (const level of [0, 6] as const)
    assert.deepEqual(
      Object.fromEntries([...unzip(zipSync(files, { level }))].map(([name, x]) => [name, new Uint8Array(x)])),
      files,
    );
  const a = { name: 'a', content: Buffer.from('a'.repeat(100)) };
  assert.equal(unzip(archive([a, { ...a, name: 'b' }])).size, 2);
  for (const [bytes, said] of [
    // It would be ten million bytes; a hundred are stated, and no more are made.
    [
      archive([{ name: 'bomb', content: zeros(1e7), size: 100 }]),
      /^Error: bomb: .*larger than the archive states/,
    ],
    [archive([{ name: 'short', content: zeros(10), size: 11 }]), /damaged/],
    [archive([{ ...a, crc: 1 }]), /damaged/],
    [archive([a, { ...a, name: 'b', shares: true }]), /^Error: b: this file shares bytes with another one/],
    [archive([{ name: 'huge', content: zeros(1), size: LARGEST_UNPACKED + 1 }]), /holds more than 512 MB/],
    [
      archive(Array.from({ length: MOST_FILES + 1 }, (_, i) => ({ name: `${i}`, content: zeros(1) }))),
      /6000 files/,
    ],
    [archive([a]).subarray(0, 60), /not a zip/],
    [Buffer.from('PK'), /not a zip/],
    [zeros(100), /not a zip/],
  ] as const)
    assert.throws(() => unzip(bytes), said);
});

test('a thread unpacks and packs projects to the same bytes, and refuses what no request may bring', async () => {
  const threads = createThreads({ threads: 1, waiting: 10, longestMs: 60_000 });
  const packed = (name: string, change: (json: string) => string = (json) => json) =>
    zipSync(
      Object.fromEntries(
        [...archiveFiles(name, starterParts() as never, new Map())].map(([file, bytes]) => [
          file,
          new TextEncoder().encode(change(new TextDecoder().decode(bytes))),
        ]),
      ),
    );
  const read = await threads.run('unpackArchive', packed('Wings'));
  assert.equal(read.name, 'Wings');
  assert.equal(read.parts.length, starterParts().length);
  const again = await threads.run(
    'unpackArchive',
    await threads.run('packArchive', read.name, read.parts, []),
  );
  assert.deepEqual(again, read);
  const deep = '['.repeat(100) + ']'.repeat(100);
  for (const [bytes, said] of [
    [packed('Wings\u0000'), /name: A name should have no control characters/],
    [packed(' \u200b '), /something in it that can be seen/],
    [packed('cut \ud83d'), /half of a character/],
    [
      packed('Wings', (json) => json.replace('"strands": [', `"strands": [${deep},`)),
      /nested more than 64 deep/,
    ],
    [
      packed('Wings', (json) => json.replace('"strands": [', `"strands": [${'{},'.repeat(3e5)}`)),
      /more than 250000 lists/,
    ],
  ] as const)
    await assert.rejects(threads.run('unpackArchive', bytes), said);
  threads.close();
});

test('a job that takes too long is ended and refused; the next one runs, and too many are not let in', async () => {
  const hasty = createThreads({ threads: 1, waiting: 2, longestMs: 1 });
  const jobs = [1, 2, 3, 4].map(() =>
    hasty.run('checkMesh', zeros(8)).then(
      () => assert.fail('it was done'),
      (error: Error) => error.message,
    ),
  );
  const said = await Promise.all(jobs);
  assert.match(said[0]!, /takes longer than 0.001 seconds/);
  assert.equal(said.filter((each) => /Try again shortly/.test(each)).length, 1);
  const patient = createThreads({ threads: 1, waiting: 2, longestMs: 60_000 });
  await assert.rejects(patient.run('checkMesh', zeros(8)), { status: 422 });
  await assert.rejects(patient.run('checkMesh', zeros(8)), { status: 422 }, 'the same thread once more');
  patient.close();
  hasty.close();
});
