import { readFileSync } from 'node:fs';
import { sketchParameter } from '#core/document/sketch.ts';
import {} from '#core/document/kinds/shader.ts';
import type { Flourish, FlourishLayer } from '#core/document/flourishes.ts';
import { layerStarter, ramp } from '#core/edits/flourishEdits.ts';
import { drawnLayers } from '#core/time/drawnLayers.ts';
import { createRehearsing } from '#core/time/rehearse.ts';
import { createSandbox } from '#script/createSandbox.ts';
import { playTake } from '#script/playTake.ts';
import { joinPrelude } from '#script/prelude/joined.ts';
import type { RehearsalStart } from '#script/protocol.ts';
import { setupOf } from '#script/setupOf.ts';
import { ratio, timeOf, type Figure } from './measure.ts';

const ticking = async (): Promise<Figure[]> => {
  const names = Array.from({ length: 100 }, (_, i) => `p${i}`);
  const source = `const m = material('m'); onTick((dt) => { ${names.map((name) => `m.${name} = m.${name} + dt;`).join(' ')} });`;
  const prelude = joinPrelude((part) => readFileSync(`src/script/prelude/${part}.js`, 'utf8'));
  const parameters = names.map((name) => ({ name, kind: 'float' as const, value: [0] }));
  const sandbox = await createSandbox({ materials: [{ id: 'm', name: 'm', parameters }], seed: 1, prelude });
  sandbox.load(source);
  const boxed = timeOf(() => sandbox.tick([]));
  sandbox.dispose();
  const m: Record<string, number> = Object.fromEntries(names.map((name) => [name, 0]));
  const plain = timeOf(() => {
    for (let repeat = 0; repeat < 100; repeat += 1) for (const name of names) m[name] = m[name]! + 1 / 60;
  });
  return [
    {
      name: 'a tick with 100 writes in the sandbox',
      value: ratio(boxed, plain / 100),
      against: `the same in plain JavaScript; the tick took ${((boxed / (1000 / 60)) * 100).toFixed(1)} % of a sixtieth of a second`,
    },
  ];
};

/** Eight flourishes with all there is of them, against the same motion of the same sprites in a plain loop. */
const flourishing = (): Figure[] => {
  const mesh = { kind: 'plane', size: [1, 1], divisions: [1, 1] } as const;
  const layer = (kind: 'ribbon' | 'sprites', i: number): FlourishLayer => {
    const made = layerStarter(kind, { id: `l${i}`, name: `l${i}`, material: 'm', mesh });
    return {
      ...{ ...made, life: 600 },
      ...(made.ribbon
        ? { ribbon: { ...made.ribbon, segments: 64, widths: ramp(0, 1), fade: ramp(1, 0) } }
        : {}),
      ...(made.sprites ? { sprites: { ...made.sprites, count: 125, lasts: 10 } } : {}),
    };
  };
  const flourishes = Array.from({ length: 8 }, (_, i): Flourish => ({
    ...{ id: `f${i}`, name: `f${i}`, at: [0, 1, 0], rotation: [0, 0, 0], play: 'looped', seed: i },
    ...{ starts: [{ by: 'begin' }], layers: [layer(i < 4 ? 'ribbon' : 'sprites', i)] },
  }));
  const set = {
    ...{ props: [], lights: [], flourishes },
    camera: { position: [0, 1, 4], target: [0, 1, 0], fieldOfView: 40 },
  } as unknown as NonNullable<RehearsalStart['set']>;
  const rehearsal = createRehearsing(setupOf(set, []));
  let drawn = 0;
  const mine = timeOf(() => {
    drawn = drawnLayers(flourishes, rehearsal.tick([]).layers).length;
  });
  if (drawn !== 8) throw new Error(`eight layers were to be drawn, and were ${drawn}`);
  const at = new Float64Array(3 * 500);
  let seconds = 0;
  const plain = timeOf(() => {
    for (let repeat = 0; repeat < 20; repeat += 1) {
      seconds = (seconds + 1 / 60) % 10;
      const fades = 1 - Math.exp(-seconds);
      for (let i = 0; i < 500; i += 1) {
        at[3 * i] = i * 0.01 * fades;
        at[3 * i + 1] = 1 - 2 * seconds + (1 + i * 0.01 + 2) * fades;
        at[3 * i + 2] = i * 0.02 * fades;
      }
    }
  });
  return [
    {
      name: 'a tick of 8 flourishes: 500 sprites, 4 ribbons of 64 segments',
      value: ratio(mine, plain / 20),
      against: `where the 500 sprites are, in a plain loop; the tick took ${mine.toFixed(2)} ms, with what is drawn of it`,
    },
  ];
};

/** A set's own tick: 64 curves of cues and 16 rules, against the same cubics by hand. */
const rehearsing = async (): Promise<Figure[]> => {
  const declared = Array.from({ length: 80 }, (_, i) =>
    sketchParameter(`p${i}`, i < 64 ? 'float' : 'vec3', i < 64 ? [0] : [0, 0, 0]),
  );
  const keys = Array.from({ length: 8 }, (_, i) => ({ at: i / 2, value: [i % 3], go: 'eased' as const }));
  const cue = (i: number) => ({
    ...{ id: `c${i}`, name: `c${i}`, length: 4, play: 'looped', again: 'restart', blend: 0, after: 'hold' },
    ...{ weight: 1, priority: 0, starts: [{ by: 'begin' }] },
    tracks: declared.slice(i * 8, i * 8 + 8).map(({ id }) => ({
      ...{ id, target: { kind: 'parameter', of: 'm', what: id }, keys },
    })),
  });
  const set = {
    props: [{ id: 'a', name: 'a', position: [0, 1, 0], rotation: [0, 0, 0] }],
    lights: [],
    camera: { position: [0, 1, 4], target: [0, 1, 0], fieldOfView: 40 },
    cues: Array.from({ length: 8 }, (_, i) => cue(i)),
    drives: declared.slice(64).map(({ id }) => ({ id, material: 'm', parameter: id, by: 'place', of: 'a' })),
  } as unknown as NonNullable<RehearsalStart['set']>;
  const parameters = declared.map(({ name, kind, default: value }) => ({ name, kind, value }));
  const materials = [{ id: 'm', name: 'm', declared, parameters }] as RehearsalStart['materials'];
  const rehearsal = createRehearsing(setupOf(set, materials));
  rehearsal.tick([]);
  const mine = timeOf(() => rehearsal.tick([]));
  let at = 0;
  let sum = 0;
  const plain = timeOf(() => {
    for (let repeat = 0; repeat < 100; repeat += 1) {
      at = (at + 1 / 60) % 4;
      for (let c = 0; c < 64; c += 1) {
        const i = Math.min(Math.floor(at * 2), 6);
        const t = at * 2 - i;
        sum += (i % 3) + (((i + 1) % 3) - (i % 3)) * t * t * (3 - 2 * t);
      }
    }
  });
  if (!Number.isFinite(sum)) throw new Error('the cubics by hand come to nothing');
  const prelude = joinPrelude((part) => readFileSync(`src/script/prelude/${part}.js`, 'utf8'));
  const source = "onTick(() => { prop('a').position = [Math.sin(time()), 1, 0]; });";
  const scripts = [{ id: 's', name: 's', source }];
  const began = performance.now();
  const work = playTake({ ticks: 3600, inputs: [], seed: 1 }, { scripts, materials, set, prelude });
  while (!(await work.next()).done);
  const took = performance.now() - began;
  return [
    {
      name: 'a tick of 64 cue curves and 16 rules',
      value: ratio(mine, plain / 100),
      against: `the 64 cubics alone in a plain loop; the tick took ${mine.toFixed(2)} ms`,
    },
    {
      name: 'a take of a minute of that, with a script, played again',
      value: ratio(60_000, took),
      against: 'as often as it lasts; at least 20',
    },
  ];
};

export const rehearsalFigures = async (): Promise<Figure[]> => [
  ...(await ticking()),
  ...flourishing(),
  ...(await rehearsing()),
];
