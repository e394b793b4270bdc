import assert from 'node:assert/strict';
import { test } from 'node:test';
import { createByteCache } from './byteCache.ts';

test('a cache is bounded by bytes, and what was used least recently goes first', () => {
  const cache = createByteCache<Uint8Array>(100, ({ length }) => length);
  cache.set('a', new Uint8Array(40));
  cache.set('b', new Uint8Array(40));
  assert.equal(cache.get('a')?.length, 40);
  cache.set('c', new Uint8Array(40));
  assert.deepEqual([cache.has('a'), cache.has('b'), cache.has('c')], [true, false, true]);
  cache.set('a', new Uint8Array(10));
  assert.equal(cache.bytes, 50, 'what is set again counts once');
  cache.set('huge', new Uint8Array(500));
  assert.deepEqual([cache.has('huge'), cache.bytes], [true, 500], 'what is too large is kept alone');
  cache.set('d', new Uint8Array(1));
  assert.deepEqual([cache.has('huge'), cache.bytes], [false, 1]);
});
