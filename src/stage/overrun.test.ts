import assert from 'node:assert/strict';
import { test } from 'node:test';
import { createOverrun } from './overrun.ts';

test('what the graphics card gave up over is the program that was changed last, not long ago, until it is another', () => {
  let time = 0;
  const overrun = createOverrun(() => time);
  // All programs of a set are new at once: none of them can be named.
  overrun.changed('velvet', 'a', true);
  overrun.changed('boards', 'b', true);
  assert.equal(overrun.lost(), false);
  overrun.changed('velvet', 'endless', false);
  time = 9_000;
  assert.equal(overrun.lost(), true);
  assert.deepEqual(overrun.muted(), ['velvet']);
  // Lost again while it is muted: another reason.
  assert.equal(overrun.lost(), false);
  // Another set and back: the same source stays muted, a mended one does not.
  assert.equal(overrun.changed('velvet', 'endless', true), false);
  assert.ok(overrun.isMuted('velvet'));
  assert.equal(overrun.changed('velvet', 'mended', true), true);
  assert.deepEqual(overrun.muted(), []);
  overrun.changed('boards', 'c', false);
  time = 30_000;
  assert.equal(overrun.lost(), false, 'it was drawn for long');
});
