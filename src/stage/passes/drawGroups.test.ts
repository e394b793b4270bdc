import assert from 'node:assert/strict';
import test from 'node:test';
import { drawGroups, type Drawn } from './drawGroups.ts';

const thing = (item: string, away: number, more: Partial<Drawn<string>> = {}): Drawn<string> => ({
  ...{ item, away, blends: false, asks: null, isCopied: true },
  ...more,
});
const told = (drawn: readonly Drawn<string>[]): string[] =>
  drawGroups(drawn).map(
    ({ items, asks, isStale }) =>
      `${items.join('+')}${asks ? ` asks ${asks}${isStale ? ', copied anew' : ''}` : ''}`,
  );

test('who asks for the frame behind it is drawn after it, one by one from far to near', () => {
  assert.deepEqual(told([thing('wall', 9), thing('glass', 4, { blends: true })]), ['wall+glass']);
  assert.deepEqual(
    told([
      thing('near heat', 2, { asks: 'color' }),
      thing('wall', 9),
      thing('dust', 3, { blends: true }),
      thing('far heat', 5, { asks: 'color' }),
      thing('smoke', 7, { blends: true }),
      thing('rail', 1),
    ]),
    ['wall+rail+smoke', 'far heat asks color, copied anew', 'dust', 'near heat asks color, copied anew'],
  );
  // Depth alone is not changed by what asks for it: one copy serves several.
  assert.deepEqual(
    told([thing('a', 5, { asks: 'depth', blends: true }), thing('b', 3, { asks: 'depth', blends: true })]),
    ['a asks depth, copied anew', 'b asks depth'],
  );
});

test('what is left out of copies is drawn after they are made, and like all others where nobody makes one', () => {
  const lamp = thing('lamp', 1, { isCopied: false });
  assert.deepEqual(told([lamp, thing('wall', 2)]), ['lamp+wall']);
  assert.deepEqual(told([lamp, thing('wall', 9), thing('heat', 5, { asks: 'color' })]), [
    'wall',
    'heat asks color, copied anew',
    'lamp',
  ]);
});
