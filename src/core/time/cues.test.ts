import assert from 'node:assert/strict';
import { test } from 'node:test';
import { spanOf } from '#ui/parts/spanOf.ts';
import { parsePart } from '../document/parsePart.ts';
import type { Cue } from '../document/project.ts';
import type { RehearsalInput } from './inputs.ts';
import { createRehearsing } from './rehearse.ts';
import { remarksOn } from './remarksOn.ts';
import { trackAt } from './trackAt.ts';
import {
  setupFor,
  parameters,
  idOf,
  key,
  cue,
  burns,
  ramp,
  setOf,
  rehearse,
  play,
  down,
  near,
  EMPTY_SET,
} from './cues.testing.ts';

test('a track is straight, held, or eased so that nothing overshoots, and level beyond its ends', () => {
  const keys = [key(0.5, 2), key(1, 4, { go: 'held' }), key(2, 0, { go: 'eased' }), key(3, 10)];
  for (const [at, value] of [
    [0, 2],
    [0.75, 3],
    [1.999, 4],
    [2, 0],
    [3, 10],
    [9, 10],
  ] as const)
    near(trackAt(keys, at)[0], value);
  // Level at its ends, an eased piece is the smooth step.
  near(trackAt([key(0, 0, { go: 'eased' }), key(1, 1)], 0.25)[0], 3 * 0.25 ** 2 - 2 * 0.25 ** 3);
  const bumpy = [0, 1, 1.1, 5, 4.9].map((y, i) => key(i, y, { go: 'eased' }));
  for (let t = 0; t <= 4; t += 0.01) {
    const [low, high] = [Math.floor(t), Math.min(Math.floor(t) + 1, 4)].map((i) => bumpy[i]!.value[0]!);
    const y = trackAt(bumpy, t)[0]!;
    assert.ok(y >= Math.min(low!, high!) - 1e-9 && y <= Math.max(low!, high!) + 1e-9, `at ${t} it is ${y}`);
  }
  // Slopes that are told are kept: here those of t³.
  const cubic = [key(0, 0, { go: 'eased', out: [0] }), key(2, 8, { into: [12] })];
  near(trackAt(cubic, 1)[0], 1);
  // A step: of two keys at one time the later counts from then on.
  near(trackAt([key(0, 1), key(1, 1), key(1, 7), key(2, 7)], 1)[0], 7);
});

test('a key starts a cue at its first value; it ends at its last, holds it, or lets it go', () => {
  const starts: Cue['starts'] = [{ by: 'key', key: 'Space' }];
  const held = rehearse(setOf([cue('burn', { tracks: ramp, starts })]));
  assert.deepEqual(held.on().cues, []);
  assert.deepEqual(held.on([down('Space')]).cues, [{ material: 'velvet', parameter: 'burn', value: [0] }]);
  near(held.run(30).cues[0]?.value[0], 0.5);
  near(held.run(60).cues[0]?.value[0], 1);
  const gone = rehearse(setOf([cue('burn', { tracks: ramp, starts, after: 'let go' })]));
  gone.on([down('Space')]);
  near(gone.run(59).cues[0]?.value[0], 59 / 60);
  assert.deepEqual(gone.on().cues, [], 'what is authored stands again');
});

test('started again mid-way it begins anew, turns round or refuses, and blends over a time', () => {
  const at = (more: Partial<Cue>): number[] => {
    const { on, run } = rehearse(setOf([cue('burn', { tracks: ramp, ...more })]));
    on([play('burn')]);
    run(30);
    return [on([play('burn')]).cues[0]!.value[0]!, run(6).cues[0]!.value[0]!];
  };
  const [anew, refused, turned] = [at({}), at({ again: 'refuse' }), at({ again: 'turn round' })];
  near(anew[1], 0.1);
  near(refused[1], 37 / 60);
  near(turned[0], 31 / 60);
  near(turned[1], 25 / 60);
  const blended = at({ blend: 0.2 });
  near(blended[0], 0.5, 0.02);
  // Half of the smooth step between what stood and what it gives.
  near(blended[1], (blended[0]! + 0.1) / 2, 1e-9);
});

test('a cue has two sides: back at a pace of its own, by curves of its own', () => {
  const stepped = (id: string, side: 'there' | 'back', value: number): Cue['tracks'][number] => ({
    ...{ id, side, keys: [key(0, value)] },
    target: { kind: 'parameter', of: 'velvet', what: idOf('steps') },
  });
  const tracks = [...ramp, stepped('a', 'there', 7), stepped('b', 'back', 3)];
  const { on, run } = rehearse(setOf([cue('burn', { again: 'turn round', back: 4, tracks })]));
  const told = ({ cues }: ReturnType<typeof on>): (number | undefined)[] =>
    ['burn', 'steps'].map((name) => cues.find(({ parameter }) => parameter === name)?.value[0]);
  on([play('burn')]);
  assert.deepEqual(told(run(30)), [0.5, 7]);
  // Turned round mid-way it goes a quarter as fast, with what it has on the way back; turned again, as before.
  on([play('burn')]);
  const [burn, steps] = told(run(23));
  near(burn, 31 / 60 - 23 / 240);
  assert.equal(steps, 3);
  on([play('burn')]);
  const [again, there] = told(run(11));
  near(again, 31 / 60 - 24 / 240 + 11 / 60);
  assert.equal(there, 7);
  const swing = rehearse(setOf([cue('swing', { play: 'there and back', back: 0.5, tracks: ramp })]));
  swing.on([play('swing')]);
  near(swing.run(60).cues[0]?.value[0], 1);
  near(swing.run(15).cues[0]?.value[0], 0.5);
});

test('cues loop, go there and back, and start each other at a frame or at their end', () => {
  const swing = cue('swing', { play: 'there and back', tracks: ramp });
  const toll = cue('toll', { starts: [{ by: 'cue', cue: 'swing', at: 14 / 60 }], tracks: [] });
  const rest = cue('rest', { starts: [{ by: 'cue', cue: 'swing' }] });
  const { on, run, rehearsing } = rehearse(setOf([swing, toll, rest]));
  on([play('swing')]);
  run(13);
  assert.equal(rehearsing.cues.standing().has('toll'), false);
  run(1);
  assert.deepEqual(rehearsing.cues.standing().get('toll'), { at: 0, moves: true });
  near(run(46).cues[0]?.value[0], 1);
  near(run(30).cues[0]?.value[0], 0.5);
  assert.equal(rehearsing.cues.standing().has('rest'), false);
  run(30);
  assert.equal(rehearsing.cues.standing().has('rest'), true);
  const looped = rehearse(setOf([cue('burn', { play: 'looped', tracks: ramp })]));
  looped.on([play('burn')]);
  near(looped.run(90).cues[0]?.value[0], 0.5);
});

test('what starts each other without end is told once, and the rest goes on', () => {
  const a = cue('a', { starts: [{ by: 'cue', cue: 'b', at: 0 }] });
  const b = cue('b', { starts: [{ by: 'cue', cue: 'a', at: 0 }] });
  const { on, run, said } = rehearse(setOf([a, b, cue('burn', { tracks: ramp })]));
  on([play('a'), play('burn')]);
  near(run(60).cues[0]?.value[0], 1);
  on([play('b')]);
  assert.deepEqual(said, ['Cues start each other without end: a → b → a. Each is started once a tick.']);
});

test('where two meet the higher lies over the lower, by its weight; over what a rule gives, else what is authored', () => {
  const drives = [
    { id: 'wave', material: 'velvet', parameter: idOf('burn'), by: 'wave', period: 2, range: [4, 4] },
  ];
  const low = cue('low', { tracks: burns(key(0, 10)), priority: 1, weight: 0.5 });
  const high = cue('high', { tracks: burns(key(0, 20)), priority: 2, weight: 0.25 });
  const { on } = rehearse(setOf([high, low], { drives }));
  const driven = on([play('high'), play('low')]);
  near(driven.rules[0]?.value[0], 4);
  near(driven.cues[0]?.value[0], (4 * 0.5 + 10 * 0.5) * 0.75 + 20 * 0.25);
  const alone = rehearse(setOf([low]));
  near(alone.on([play('low')]).cues[0]?.value[0], 5);
});

test('cues that are changed while it is rehearsed go on from where they stand', () => {
  const one = rehearse(setOf([cue('burn', { tracks: ramp, starts: [{ by: 'begin' }] })]));
  one.run(31);
  const slower = setOf([cue('burn', { tracks: burns(key(0, 10), key(1, 20)), starts: [{ by: 'begin' }] })]);
  const two = createRehearsing(
    {
      set: slower,
      parametersOf: () => parameters,
      authored: () => [0],
    },
    undefined,
    one.rehearsing.snapshot(),
  );
  near(two.tick([]).cues[0]?.value[0], 10 + 10 * (31 / 60));
  assert.deepEqual(
    createRehearsing(
      { set: setOf([]), parametersOf: () => parameters, authored: () => [0] },
      undefined,
      two.snapshot(),
    ).tick([]).cues,
    [],
  );
});

test('an edit while it is rehearsed loses nothing: springs, blends, ways back, loops and turns go on bit for bit', () => {
  const cues = [
    cue('swing', {
      play: 'there and back',
      again: 'turn round',
      back: 0.4,
      tracks: burns(key(0, 0), key(1, 3)),
    }),
    cue('blend', { blend: 0.5, priority: 1, weight: 0.6, tracks: burns(key(0, 5), key(1, 2)) }),
    cue('loop', {
      ...{ play: 'looped', length: 0.7, starts: [{ by: 'begin' }] },
      tracks: [
        {
          ...{ id: 'bell', target: { kind: 'prop', of: 'bell', what: 'position' } },
          keys: [key(0, [0, 2, 0]), key(0.3, [0.5, 2, 0]), key(0.7, [0, 2, 0])],
        } as Cue['tracks'][number],
      ],
    }),
    cue('after', {
      starts: [{ by: 'cue', cue: 'blend', at: 0.5 }],
      after: 'let go',
      tracks: burns(key(0, 9)),
    }),
  ];
  const drives = [
    { id: 's', material: 'velvet', parameter: idOf('burn'), by: 'spring', of: 'bell', axis: [1, 0, 0] },
  ].map((each) => ({ ...each, stiffness: 80, damping: 2, limit: 9, strength: 30 }));
  const set = setOf(cues, { drives });
  const inputsAt = (tick: number): readonly RehearsalInput[] =>
    [5, 40, 100].includes(tick) ? [play('swing')] : tick === 20 || tick === 90 ? [play('blend')] : [];
  const whole = rehearse(set);
  let edited = createRehearsing(setupFor(set));
  const seen = new Set<number>();
  for (let tick = 0; tick < 240; tick += 1) {
    const wanted = whole.on(inputsAt(tick));
    assert.deepEqual(edited.tick(inputsAt(tick)), wanted, `tick ${tick}`);
    seen.add(wanted.rules[0]?.value[0] ?? 0);
    // Each edit is another document with the same in it.
    edited = createRehearsing(setupFor(structuredClone(set)), undefined, edited.snapshot());
  }
  assert.ok(seen.size > 3, `the spring moved: ${[...seen].join(' ')}`);
});

test('a curve between equal keys is level to the last bit, and its lane has room to be dragged in', () => {
  for (const y of [0.3, 1 / 3, 0.1 + 0.2, 7.7, -1e6 / 3]) {
    const keys = [key(0, y, { go: 'eased' }), key(0.9, y, { go: 'eased' }), key(2, y, { go: 'eased' })];
    const samples = Array.from({ length: 400 }, (_, i) => trackAt(keys, i / 200)[0]!);
    assert.deepEqual(new Set(samples), new Set([y]));
    const { low, high } = spanOf([...samples, y + 2e-16 * Math.abs(y)]);
    near(high - low, Math.abs(y), 1e-6 * Math.abs(y));
  }
  assert.deepEqual(spanOf([0, 0]), { low: -0.5, high: 0.5 });
  assert.deepEqual(spanOf([2, 3]), { low: 2, high: 3 });
});

test('what nothing can be done with is said at its place, and the rest plays', () => {
  const tracks = [
    ...ramp,
    { id: 'gone', target: { kind: 'parameter', of: 'velvet', what: 'gone' }, keys: [key(0, 1)] },
    { id: 'none', target: { kind: 'parameter', of: 'none', what: 'x' }, keys: [key(0, 1)] },
    { id: 'kind', target: { kind: 'parameter', of: 'velvet', what: idOf('heat') }, keys: [key(0, 1)] },
    { id: 'prop', target: { kind: 'prop', of: 'rope', what: 'position' }, keys: [key(0, [0, 0, 0])] },
    { id: 'what', target: { kind: 'prop', of: 'bell', what: 'colour' }, keys: [key(0, 1)] },
  ] as unknown as Cue['tracks'];
  const starts: Cue['starts'] = [
    { by: 'click', prop: 'rope' },
    { by: 'cue', cue: 'none' },
  ];
  const set = setOf([cue('burn', { tracks, starts })], {
    drives: [{ id: 'r', material: 'velvet', parameter: idOf('burn'), by: 'place', of: 'bell' }],
  });
  assert.deepEqual(
    remarksOn(set, (id) => (id === 'velvet' ? parameters : null)).map(({ message }) => message),
    [
      'A place gives three numbers, and burn has 1.',
      'The prop whose click starts this was deleted.',
      'The cue that starts this was deleted.',
      'The parameter that this drove was deleted.',
      'The material whose parameter this drove was deleted.',
      'heat has 4 numbers, and the keys here have 1: it was made for another kind of parameter.',
      'The prop that this moved was deleted.',
      'Of a prop there is position, rotation, scale, and no “colour”.',
    ],
  );
  const { on, run } = rehearse(set);
  on([play('burn')]);
  near(run(30).cues[0]?.value[0], 0.5);
});

test('a cue of no length, of too many keys, with keys out of order is refused with its place', () => {
  const said = (each: object): string =>
    parsePart('stage', { ...EMPTY_SET, cues: [each] }).problems.map(
      ({ path, message }) => `${path} ${message}`,
    )[0]!;
  assert.match(
    said(cue('a', { length: 0 })),
    /^cues\[0\]\.length A cue lasts more than 0 and up to 600 seconds/,
  );
  assert.match(
    said(cue('a', { tracks: burns(...Array.from({ length: 10_000 }, () => key(0, 0))) })),
    /^cues\[0\]\.tracks\[0\]\.keys .*256/,
  );
  assert.match(
    said(cue('a', { tracks: burns(key(0.5, 0), key(0.2, 0)) })),
    /\[1\]\.at The keys are not in order/,
  );
  assert.match(
    said(cue('a', { tracks: burns(key(2, 0)) })),
    /keys\[0\]\.at This should lie between 0 and 1, and is 2/,
  );
  const spring = { id: 's', material: 'velvet', parameter: 'x', by: 'spring', of: 'bell', damping: -1 };
  assert.match(
    parsePart('stage', { ...EMPTY_SET, drives: [spring] }).problems[0]!.message,
    /between 0 and 1000, and is -1/,
  );
});
