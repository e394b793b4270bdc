import assert from 'node:assert/strict';
import { test } from 'node:test';
import { parsePart } from '../document/parsePart.ts';
import type { Flourish, FlourishLayer } from '../document/flourishes.ts';
import type { Cue, StageDocument } from '../document/project.ts';
import { ramp } from '../edits/flourishEdits.ts';
import { drawnLayers } from './drawnLayers.ts';
import { layersAt, layersBesideCue } from './layersAt.ts';
import { MOST_PLAYS } from '../document/flourishes.ts';
import { createFlourishPlayer } from './playFlourishes.ts';
import { remarksOn } from './remarksOn.ts';
import { spriteAt } from './sprites.ts';
import {
  idOf,
  layer,
  flourish,
  setOf,
  parametersOf,
  rehearse,
  play,
  near,
  sprites,
} from './flourishes.testing.ts';

test('a sprite falls as the formulas say, with drag and without', () => {
  // From (1, 2, 3), at (4, 5, 6) m/s.
  const born = [0, 1, 2, 3, 4, 5, 6, 0];
  const free = spriteAt(sprites({ gravity: 10, drag: 0 }), born, 0, 0.5);
  assert.deepEqual(free, [3, 2 + 2.5 - 1.25, 6]);
  // The same by small steps: v′ = g − k·v.
  let [y, v] = [2, 5];
  const steps = 200_000;
  for (let i = 0; i < steps; i += 1) {
    v += (-10 - 3 * v) * (0.5 / steps);
    y += v * (0.5 / steps);
  }
  const held = spriteAt(sprites({ gravity: 10, drag: 3 }), born, 0, 0.5);
  near(held[1], y, 1e-4);
  near(held[0], 1 + (4 * (1 - Math.exp(-1.5))) / 3);
});

test('a layer begins, lives and ends at its own time; its curves go over its life, beyond 0–1 too', () => {
  const set = setOf([
    flourish('sweep', [
      layer('mesh', 'a', {
        ...{ start: 0.1, life: 0.5, spin: 360, size: 2, at: [1, 0, 0] },
        values: [{ parameter: idOf('gone'), curves: [ramp(-4, 8)] }],
      }),
      layer('mesh', 'b', { start: 0, life: 0.2, off: true }),
    ]),
  ]);
  const { on, run } = rehearse(set);
  assert.deepEqual(on([play('sweep')]), [], 'it has not begun');
  const [first] = run(6);
  assert.equal(first!.age, 0);
  assert.deepEqual(first!.values.get('gone'), [-4]);
  const [half] = run(15);
  near(half!.age, 0.25);
  near(half!.values.get('gone')![0], 2);
  // A quarter of a second at 360° a second is a quarter turn about z, twice as large, a metre to the right.
  for (const [i, x] of [0, 2, 0, -2, 0, 0, 0, 0, 2, 1, 0, 0].entries()) near(half!.place[i], x, 1e-9);
  assert.equal(run(15).length, 1, 'its last tick');
  assert.deepEqual(on(), []);
});

test('it begins at a frame of a cue, on what a click hit, or over and over; another takes the place of the first of eight', () => {
  const cue: Cue = {
    ...{ id: 'swing', name: 'swing', length: 1, play: 'once', again: 'restart', blend: 0, after: 'hold' },
    ...{ weight: 1, priority: 0, starts: [], tracks: [] },
  };
  const one = [layer('mesh', 'a', { life: 0.2 })];
  const set = setOf([flourish('sweep', one, { starts: [{ by: 'cue', cue: 'swing', at: 14 / 30 }] })], {
    cues: [cue],
  });
  const { on } = rehearse(set);
  on([play('swing')]);
  for (let tick = 1; tick < 28; tick += 1) assert.deepEqual(on(), [], `nothing in tick ${tick}`);
  assert.equal(on()[0]?.age, 0, 'frame 14 of 30 is tick 28');

  const clicked = rehearse(
    setOf([flourish('spray', [layer('mesh', 'a')], { of: 'pointer', starts: [{ by: 'click' }] })]),
  );
  const hit = { prop: 'rod', point: [5, 1, 2], normal: [1, 0, 0], uv: [0, 0], distance: 3 } as const;
  const [at] = clicked.on([{ kind: 'click', hit }]);
  assert.deepEqual(at!.place.slice(9), [5, 1, 2]);
  assert.deepEqual(
    at!.place.slice(3, 6).map((x) => Math.round(x * 1e9) / 1e9),
    [1, 0, 0],
    'its y along the normal',
  );

  const many = rehearse(setOf([flourish('spray', [layer('mesh', 'a', { life: 9 })])]));
  const all = many.on(Array.from({ length: MOST_PLAYS + 1 }, () => play('spray')));
  assert.equal(all.length, MOST_PLAYS);
  assert.equal(new Set(all.map(({ slot }) => slot)).size, MOST_PLAYS);
  assert.equal(new Set(all.map(({ seed }) => seed)).size, MOST_PLAYS, 'each has its own chance');

  const round = rehearse(setOf([flourish('arc', one, { play: 'looped', starts: [{ by: 'begin' }] })]));
  assert.equal(round.run(13)[0]!.age, 0.2);
  assert.equal(round.on()[0]!.age, 0);
});

test('beside a cue that is looked at stand those that it starts, as far as they are by then, and those from the beginning', () => {
  const cue = { id: 'swing', length: 1 } as Cue;
  const one = (id: string, more: Partial<Flourish>) =>
    flourish(id, [layer('mesh', `${id}-a`, { life: 0.4 })], more);
  const set = setOf(
    [
      one('mid', { starts: [{ by: 'cue', cue: 'swing', at: 0.5 }] }),
      one('end', { starts: [{ by: 'cue', cue: 'swing' }] }),
      one('round', { play: 'looped', of: 'rod', starts: [{ by: 'begin' }] }),
      one('key', { starts: [{ by: 'key', key: 'KeyF' }] }),
      one('off', { off: true, starts: [{ by: 'begin' }] }),
    ],
    { cues: [cue] },
  );
  const seen = (seconds: number) =>
    layersBesideCue({ set, parametersOf }, 'swing', seconds).map(({ layer: id, age }) => [
      id,
      Number(age.toFixed(3)),
    ]);
  assert.deepEqual(seen(0.25), [['round-a', 0.25]]);
  assert.deepEqual(seen(0.75), [
    ['mid-a', 0.25],
    ['round-a', 0.35],
  ]);
  assert.deepEqual(seen(1), [
    ['end-a', 0],
    ['round-a', 0.2],
  ]);
  const moved = set.props.map((each) =>
    each.id === 'rod' ? { ...each, position: [7, 0, 0] as const } : each,
  );
  assert.equal(layersBesideCue({ set, parametersOf }, 'swing', 0.1, moved)[0]!.place[9], 7);
});

test('sprites begin at once or by rate, from where their place is by then, and take its motion along', () => {
  const shower = (more: object, own: object = {}) =>
    setOf([
      flourish('f', [
        layer('sprites', 's', {
          life: 0.5,
          sprites: sprites({ lasts: 0.24, speed: [0, 0], ...more }),
          ...own,
        }),
      ]),
    ]);
  const at = (set: StageDocument, seconds: number) => {
    const [drawn] = drawnLayers(set.flourishes!, layersAt({ set, parametersOf }, 'f', seconds));
    return drawn?.drawn.kind === 'sprites' ? drawn.drawn.sprites : null;
  };
  const once = shower({ count: 5, size: 2, sizes: ramp(1, 0) });
  const now = at(once, 0.1)!;
  assert.deepEqual(now.orders, [0, 0.25, 0.5, 0.75, 1]);
  for (const size of now.sizes) near(size, 2 * (1 - 0.1 / 0.24));
  assert.equal(new Set(now.seeds).size, 5);
  assert.equal(at(once, 0.3)!.points.length, 0, 'all are gone');
  const rate = shower({ count: 100, rate: 60 });
  assert.equal(at(rate, 0.1)!.ages.length, 7);
  assert.equal(at(rate, 0.45)!.ages.length, 15, 'a quarter of a second of them');
  assert.equal(at(rate, 0.7)!.ages.length, 3, 'none begins after its life; the last are dying');
  assert.equal(at(shower({ count: 3, rate: 60 }), 0.45)!.ages.length, 3, 'and no more than there may be');

  // A place that moves a metre a second to the right.
  const moving = rehearse(
    setOf(
      [
        flourish(
          'f',
          [layer('sprites', 's', { life: 1, sprites: sprites({ rate: 60, speed: [0, 0], inherits: 0.5 }) })],
          {
            ...{ of: 'bell', follows: true, starts: [{ by: 'begin' }] },
          },
        ),
      ],
      {
        cues: [
          {
            ...{ id: 'c', name: 'c', length: 1, play: 'once', again: 'restart', blend: 0, after: 'hold' },
            ...{ weight: 1, priority: 0, starts: [{ by: 'begin' }] },
            tracks: [
              {
                ...{ id: 't', target: { kind: 'prop', of: 'bell', what: 'position' } },
                keys: [
                  { at: 0, value: [0, 2, 0], go: 'straight' },
                  { at: 1, value: [1, 2, 0], go: 'straight' },
                ],
              },
            ],
          },
        ],
      },
    ),
  );
  const { shape } = moving.run(4)[0]!;
  assert.equal(shape.length, 4 * 8);
  near(shape[3 * 8 + 1], 3 / 60, 1e-12);
  near(shape[3 * 8 + 4], 0.5, 1e-9);
});

test('flourishes that are changed while they play go on, and what is started then has a chance of its own', () => {
  const own = flourish('f', [layer('mesh', 'a', { life: 9 })]);
  const set = setOf([own]);
  const first = createFlourishPlayer(set.flourishes!, parametersOf);
  const world = { props: set.props, pointer: null, walker: null };
  first.start('f');
  first.now(world);
  const again = createFlourishPlayer([{ ...own, name: 'other' }], parametersOf, first.carried());
  again.advance();
  again.start('f');
  const [old, young] = again.now(world);
  assert.deepEqual([old!.age, young!.age], [1 / 60, 0]);
  assert.notEqual(old!.seed, young!.seed);
  assert.deepEqual(createFlourishPlayer([], parametersOf, first.carried()).now(world), []);
});

test('the same starts in the same ticks give the same numbers, whoever asks; another seed others', () => {
  const make = (seed: number) =>
    rehearse(setOf([flourish('f', [layer('sprites', 's')], { seed, starts: [{ by: 'key', key: 'KeyF' }] })]));
  const numbersOf = (seed: number) => {
    const { on } = make(seed);
    const all = [];
    for (let i = 0; i < 90; i += 1) all.push(on(i % 40 === 3 ? [{ kind: 'down', code: 'KeyF' }] : []));
    return JSON.stringify(all.map((each) => each.map(({ shape, seed: own, age }) => [shape, own, age])));
  };
  assert.equal(numbersOf(1), numbersOf(1));
  assert.notEqual(numbersOf(1), numbersOf(2));
});

test('what a layer lost is told at its place, and what cannot be is refused with it', () => {
  const set = setOf([
    flourish(
      'f',
      [
        layer('mesh', 'a', { material: 'gone' }),
        layer('mesh', 'b', {
          values: [
            { parameter: idOf('plain'), curves: [ramp(0, 1)] },
            { parameter: idOf('tint'), curves: [ramp(0, 1)] },
            { parameter: 'lost', curves: [ramp(0, 1)] },
          ],
        }),
        layer('sprites', 'c', { sprites: sprites({ along: 'a' }) }),
      ],
      { of: 'nothing', starts: [{ by: 'click', prop: 'nothing' }] },
    ),
  ]);
  assert.deepEqual(
    remarksOn(set, parametersOf).map(({ of, message }) => `${of.layer ?? of.start ?? of.id}: ${message}`),
    [
      '0: The prop whose click starts this was deleted.',
      'f: The prop that this was on was deleted: it plays nowhere but where a script puts it.',
      'a: The material of this layer was deleted.',
      'b: plain is no lifetime parameter; a layer’s curves drive those alone.',
      'b: tint has 2 numbers, and there are 1 curves here: they were made for another kind of parameter.',
      'b: A parameter that this layer drove was deleted.',
      'c: The ribbon that these sprites sat on was deleted.',
    ],
  );
  const wrong = (own: object): string[] => {
    const body = {
      ...{ format: 'wicked-veil/stage', version: 1, props: [], lights: [], exposure: 1 },
      ...{ ambientUp: [0, 0, 0], ambientDown: [0, 0, 0], bloom: { threshold: 1, intensity: 0 } },
      camera: { position: [0, 1, 4], target: [0, 1, 0], fieldOfView: 40 },
      flourishes: [flourish('f', [{ ...layer('sprites', 's'), ...own } as FlourishLayer])],
    };
    return parsePart('stage', body).problems.map(({ path, message }) => `${path}: ${message}`);
  };
  assert.deepEqual(wrong({}), []);
  assert.match(
    wrong({ life: 0 })[0]!,
    /layers\[0\]\.life: This should lie between 0\.0166.* and 600, and is 0\./,
  );
  assert.match(
    wrong({ kind: 'ribbon' })[0]!,
    /layers\[0\]: A layer of the kind ribbon says in “ribbon” what it is/,
  );
  assert.match(
    wrong({ sprites: sprites({ count: 1.5 }) })[0]!,
    /sprites\.count: A whole number is wanted here/,
  );
  assert.match(wrong({ sprites: sprites({ count: 9999 }) })[0]!, /between 1 and 512/);
  assert.match(
    wrong({ sprites: sprites({ along: 's' }) })[0]!,
    /sit on a ribbon layer, and not on themselves/,
  );
  assert.match(wrong({ sizes: [0, 1, 0] })[0]!, /sizes: Its numbers come four to a key/);
  assert.match(wrong({ spin: NaN })[0]!, /spin/);
});
