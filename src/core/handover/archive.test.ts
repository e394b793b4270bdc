import assert from 'node:assert/strict';
import { createHash } from 'node:crypto';
import test from 'node:test';
import { pictures, playhouse } from '#demo/playhouse.ts';
import { closureOf } from '../document/closure.ts';
import type { Part } from '../document/project.ts';
import { blobsIn } from '../document/blobsIn.ts';
import { archiveFiles, readArchive, type PackedPart } from './archive.ts';

const shaOf = (bytes: Uint8Array): string => createHash('sha256').update(bytes).digest('hex');
const { name, parts } = playhouse();
const packed = parts as readonly PackedPart[];
const kept = new Map([...pictures().values()].map((bytes) => [shaOf(bytes), { bytes, ending: 'png' }]));
const files = archiveFiles(name, packed, kept);
const without = (file: string) => new Map([...files].filter(([each]) => each !== file));
const withText = (file: string, text: string) => new Map(files).set(file, new TextEncoder().encode(text));
const problemOf = (given: ReadonlyMap<string, Uint8Array>): string => {
  const read = readArchive(given, shaOf);
  assert.ok('problems' in read, 'it was taken');
  return `${read.problems[0]!.path}: ${read.problems[0]!.message}`;
};

test('what an archive holds comes back as it was, from files that people can read', () => {
  const read = readArchive(files, shaOf);
  assert.ok('project' in read);
  assert.deepEqual(read.project.parts, packed);
  assert.equal(read.project.name, name);
  assert.deepEqual([...read.project.blobs.keys()].sort(), [...blobsIn(packed).keys()].sort());
  assert.ok(files.has('sets/proscenium.stage.json'));
  assert.match(new TextDecoder().decode(files.get('scripts/curtain.script.js')), /^\/\/ /);
  const twice = archiveFiles('x', [packed[0]!, { ...packed[0]!, id: 'other' }], new Map());
  assert.equal(twice.size, 3, 'two of one name are two files');
});

test('pictures that are only looked at beside a set do not leave with it', () => {
  const set = packed.find((each) => each.kind === 'stage')!;
  const sha = 'a'.repeat(64);
  const reference = {
    id: 'r',
    name: 'Old print',
    picture: sha,
    at: [0.5, 0.5] as const,
    width: 0.3,
    fade: 1,
  };
  const referring = { ...set, body: { ...set.body, references: [reference] } } as PackedPart;
  const made = archiveFiles('x', [referring], new Map());
  const text = [...made.values()].map((bytes) => new TextDecoder().decode(bytes)).join('');
  assert.ok(!text.includes(sha) && !text.includes('Old print'));
  assert.deepEqual(made, archiveFiles('x', [set], new Map()));
  assert.ok(!blobsIn([referring]).has(sha));
});

test('an archive that is wrong is told of by its file, and nothing of it is taken', () => {
  const index = new TextDecoder().decode(files.get('project.json'));
  assert.match(problemOf(without('project.json')), /has no project\.json/);
  assert.match(problemOf(withText('project.json', '{')), /project\.json: This is not JSON/);
  assert.match(
    problemOf(withText('project.json', index.replace('"version": 1', '"version": 2'))),
    /newer version/,
  );
  assert.match(
    problemOf(withText('project.json', index.replace('"curtain-burn-away"', '"../x"'))),
    /An id is letters/,
  );
  assert.match(
    problemOf(withText('project.json', index.replace('"stage-boards"', '"curtain-burn-away"'))),
    /Two parts have the id “curtain-burn-away”/,
  );
  assert.match(
    problemOf(without('sets/proscenium.stage.json')),
    /names this file, and it is not in the archive/,
  );
  assert.match(
    problemOf(withText('sets/proscenium.stage.json', '{"props": 1}')),
    /sets\/proscenium\.stage\.json: /,
  );
  assert.match(
    problemOf(without([...files.keys()].find((each) => each.endsWith('.png'))!)),
    /reads this picture/,
  );
});

test('a set’s closure is what it stands on and nothing else', () => {
  const all = parts as unknown as readonly Part[];
  const alone = all.map((part) =>
    part.kind === 'stage'
      ? {
          ...part,
          body: {
            ...part.body,
            props: part.body.props.filter((each) => each.material === 'boards-downstage'),
          },
        }
      : part,
  );
  assert.deepEqual(
    closureOf(alone, 'proscenium').map((each) => each.id),
    ['stage-boards', 'near-and-far', 'boards-downstage', 'shared-values', 'proscenium', 'curtain'],
  );
  const scrim = closureOf(all, 'scrim').map((each) => each.id);
  assert.ok(scrim.includes('haze') && scrim.includes('wrought-iron') && !scrim.includes('curtain'));
});
