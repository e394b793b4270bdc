import assert from 'node:assert/strict';
import { afterEach, beforeEach, test } from 'node:test';
import type { Part } from '#core/document/project.ts';
import { dropDraft, keepDraft, readDrafts } from './drafts.ts';

/** As much of a browser's storage as drafts use; its keys are its own. */
const createStorage = (limit = Infinity): Storage => {
  const storage = {} as Record<string, string>;
  const own = { enumerable: false };
  return Object.defineProperties(storage, {
    setItem: {
      ...own,
      value: (key: string, text: string) => {
        if (text.length > limit) throw new DOMException('full', 'QuotaExceededError');
        storage[key] = text;
      },
    },
    getItem: { ...own, value: (key: string) => storage[key] ?? null },
    removeItem: { ...own, value: (key: string) => Reflect.deleteProperty(storage, key) },
  }) as unknown as Storage;
};
const part = (id: string, revision = 3): Part =>
  ({ id, kind: 'script', name: 'Curtain', revision, body: { source: 'tick' } }) as unknown as Part;

const page = globalThis as { localStorage?: Storage };
const before = Object.getOwnPropertyDescriptor(globalThis, 'localStorage');
const useStorage = (storage: Storage): void => {
  Object.defineProperty(globalThis, 'localStorage', { value: storage, configurable: true, writable: true });
};
beforeEach(() => useStorage(createStorage()));
afterEach(() => {
  if (before) Object.defineProperty(globalThis, 'localStorage', before);
  else delete page.localStorage;
});

test('drafts are kept for each project and read back as they were', () => {
  assert.equal(keepDraft('house', 't1', part('curtain')), true);
  keepDraft('house', 't1', part('boards', 0));
  keepDraft('other', 't1', part('curtain'));
  assert.deepEqual(
    readDrafts('house').map((each) => [each.id, each.revision]),
    [
      ['curtain', 3],
      ['boards', 0],
    ],
  );
  assert.deepEqual(readDrafts('house')[0]!.body, { source: 'tick' });
  keepDraft('house', 't1', part('curtain', 4));
  assert.equal(readDrafts('house').length, 2, 'a later one takes the place of an earlier');
  dropDraft('house', 't1', 'curtain');
  assert.deepEqual(
    readDrafts('house').map((each) => each.id),
    ['boards'],
  );
  assert.equal(readDrafts('other').length, 1);
  keepDraft('house', 't2', part('boards'), { source: 'sent' });
  dropDraft('house', 't1', 'boards');
  assert.deepEqual(
    readDrafts('house').map((each) => [each.id, each.tab, each.sent]),
    [['boards', 't2', { source: 'sent' }]],
    'one tab does not drop what is another’s',
  );
});

test('what lies in storage and is no draft is passed over', () => {
  keepDraft('house', 't1', part('curtain'));
  localStorage.setItem('wicked-veil.draft.house.a', 'not { json');
  localStorage.setItem('wicked-veil.draft.house.b', 'null');
  localStorage.setItem('wicked-veil.draft.house.c', '{"id":"c","revision":"three"}');
  localStorage.setItem('wicked-veil.draft.house.d', '{"revision":3}');
  localStorage.setItem('theme', 'blackout');
  assert.deepEqual(
    readDrafts('house').map((each) => each.id),
    ['curtain'],
  );
});

test('a full or shut storage is said, and nothing is thrown', () => {
  useStorage(createStorage(20));
  assert.equal(keepDraft('house', 't1', part('curtain')), false);
  assert.deepEqual(readDrafts('house'), []);
  Object.defineProperty(globalThis, 'localStorage', {
    configurable: true,
    get: () => {
      throw new DOMException('shut', 'SecurityError');
    },
  });
  assert.equal(keepDraft('house', 't1', part('curtain')), false);
  assert.deepEqual(readDrafts('house'), []);
  assert.doesNotThrow(() => dropDraft('house', 't1', 'curtain'));
});
