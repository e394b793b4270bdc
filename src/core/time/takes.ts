import type { TakeDocument, TakeInput, TakeMark } from '../document/kinds/take.ts';
import { clipSlot } from '../document/targets.ts';
import type { ClipsNow } from '../rigs/rig.ts';
import { createDigest } from '../numbers/digest.ts';
import { formatNumber } from '../numbers/format.ts';
import type { RehearsalInput } from './inputs.ts';
import { movedBy, type Driven, type MovedSet, type ParameterWrite } from './rehearse.ts';
import type { LayerNow } from './playFlourishes.ts';
import { TICKS_PER_SECOND } from './tick.ts';

/**
 * What is driven after a tick: parameters by “material name”, what is moved of the set by “prop id position” and the
 * like, and what there is of flourishes by “layer id~slot place”, “… shape” and “lifetime id~slot name”.
 */
export type Standing = ReadonlyMap<string, readonly number[]>;

/** An input as a take keeps it. */
export const keptInput = (tick: number, input: RehearsalInput): TakeInput => {
  const { hit, ...rest } = input as RehearsalInput & { readonly hit?: TakeInput['hit'] | null };
  return { tick, ...rest, ...(hit ? { hit } : {}) };
};

/** An input as a rehearsal hears it; null of one that lacks what it is of. */
export const heardInput = ({
  kind,
  code,
  hit,
  position,
  direction,
  cue,
  at,
  material,
  parameter,
  value,
}: TakeInput): RehearsalInput | null => {
  switch (kind) {
    case 'down':
    case 'up':
      return code === undefined ? null : { kind, code };
    case 'pointer':
    case 'click':
      return { kind, hit: hit ?? null };
    case 'walker':
      return position && direction ? { kind, position, direction } : null;
    case 'play':
      return cue === undefined ? null : { kind, cue, ...(at === undefined ? {} : { at }) };
    case 'end':
      return cue === undefined ? null : { kind, cue };
    case 'seek':
      return cue === undefined || at === undefined ? null : { kind, cue, at };
    case 'hold':
      return material === undefined || parameter === undefined || !value
        ? null
        : { kind, material, parameter, value };
    case 'release':
      return { kind };
  }
};

const list = (value: unknown): readonly number[] =>
  Array.isArray(value) ? (value as number[]) : [Number(value)];

/** What of a set is moved, by “kind id what”. */
const movesOf = ({ props, lights, camera }: MovedSet): readonly (readonly [string, readonly number[]])[] => [
  ...[...props].flatMap(([id, own]) =>
    Object.entries(own).flatMap(([what, value]): (readonly [string, readonly number[]])[] =>
      what === 'clips'
        ? Object.entries(value as ClipsNow).map(([clip, now]) => [
            `prop ${id} ${clipSlot(Number(clip))}`,
            now,
          ])
        : [[`prop ${id} ${what}`, list(value)]],
    ),
  ),
  ...[...lights].flatMap(([i, own]) =>
    Object.entries(own).map(([what, value]) => [`light ${i} ${what}`, list(value)] as const),
  ),
  ...Object.entries(camera ?? {}).map(([what, value]) => [`camera - ${what}`, list(value)] as const),
];

/** What there is of flourishes, by “layer id~slot place” and the like: of a place its age and seed before it. */
const layersOf = (layers: readonly LayerNow[]): readonly (readonly [string, readonly number[]])[] =>
  layers.flatMap(({ layer, slot, age, seed, place, shape, values }) => [
    [`layer ${layer}~${slot} place`, [age, seed, ...place]] as const,
    ...(shape.length ? [[`layer ${layer}~${slot} shape`, shape] as const] : []),
    ...[...values].map(([name, value]) => [`lifetime ${layer}~${slot} ${name}`, value] as const),
  ]);
/** Whether a key is of all the points or sprites of a layer. */
export const isShape = (key: string): boolean => key.startsWith('layer ') && key.endsWith(' shape');

/** Layers as they stand in such keys. */
const layersIn = (standing: Standing): LayerNow[] => {
  const found = new Map<string, LayerNow & { values: Map<string, readonly number[]> }>();
  for (const [key, value] of standing) {
    const [kind = '', of = '', what = ''] = key.split(' ');
    if (kind === 'layer' && what === 'place') {
      const at = of.lastIndexOf('~');
      const [age, seed, ...place] = value as [number, number, ...number[]];
      const shape = standing.get(`layer ${of} shape`) ?? [];
      found.set(of, {
        ...{ layer: of.slice(0, at), slot: Number(of.slice(at + 1)), age, seed, place, shape },
        values: new Map(),
      });
    } else if (kind === 'lifetime') found.get(of)?.values.set(what, value);
  }
  return [...found.values()];
};

/** What stands by “material name” and “kind id what”, as a stage takes it. */
export const frameOf = (
  standing: Standing,
): {
  readonly writes: readonly ParameterWrite[];
  readonly moved: MovedSet;
  readonly layers: readonly LayerNow[];
} => {
  const writes: ParameterWrite[] = [];
  const moves: Parameters<typeof movedBy>[0][number][] = [];
  for (const [key, value] of standing) {
    const [kind = '', of = '', what] = key.split(' ');
    if (what === undefined) writes.push({ material: kind, parameter: of, value });
    else if (kind !== 'layer' && kind !== 'lifetime') moves.push({ kind, of, what, value });
  }
  return { writes, moved: movedBy(moves), layers: layersIn(standing) };
};

/** Follows a rehearsal tick by tick, and marks what it stands at every second and at its end. */
export const createMarker = () => {
  const digest = createDigest();
  const written = new Map<string, readonly number[]>();
  let now: Map<string, readonly number[]> = new Map();
  const marks: TakeMark[] = [];
  let ticks = 0;
  const mark = (): TakeMark => ({
    ...{ tick: ticks, digest: digest.text() },
    // A shape is many numbers; its digest tells whether it is the same.
    values: Object.fromEntries(
      [...now].filter(([key]) => !isShape(key)).sort(([a], [b]) => (a < b ? -1 : 1)),
    ),
  });
  return {
    follow: ({ driven, writes }: { readonly driven: Driven; readonly writes: readonly ParameterWrite[] }) => {
      for (const { material, parameter, value } of writes) written.set(`${material} ${parameter}`, value);
      const before = now;
      now = new Map();
      // The order of drivers: rules, cues, scripts, the author’s hand.
      for (const { material, parameter, value } of [...driven.rules, ...driven.cues])
        now.set(`${material} ${parameter}`, value);
      for (const [key, value] of written) now.set(key, value);
      for (const { material, parameter, value } of driven.held) now.set(`${material} ${parameter}`, value);
      for (const [key, value] of movesOf(driven.moved)) now.set(key, value);
      for (const [key, value] of layersOf(driven.layers)) now.set(key, value);
      for (const [key, value] of now) {
        digest.word(key);
        // How sprites began stays as it was while none begins.
        if (isShape(key) && before.get(key) === value) continue;
        for (const x of value) digest.number(x);
      }
      ticks += 1;
      if (ticks % TICKS_PER_SECOND === 0) marks.push(mark());
    },
    now: (): Standing => now,
    /** All marks, one of the end among them. */
    marks: (): readonly TakeMark[] => (ticks % TICKS_PER_SECOND === 0 ? marks : [...marks, mark()]),
  };
};

/** A place where a replay is not what was recorded. */
export interface Difference {
  readonly seconds: number;
  readonly key: string;
  readonly was: readonly number[] | null;
  readonly is: readonly number[] | null;
}

const same = (a: readonly number[] | undefined, b: readonly number[] | undefined): boolean =>
  a === b ||
  (a !== undefined && b !== undefined && a.length === b.length && a.every((x, i) => Object.is(x, b[i])));

/**
 * What differs between two runs of marks, from the first second on in which anything does.
 * @returns an empty list where both are the same, bit for bit
 */
export const compareMarks = (was: readonly TakeMark[], is: readonly TakeMark[]): readonly Difference[] => {
  for (let i = 0; i < Math.max(was.length, is.length); i += 1) {
    const [a, b] = [was[i], is[i]];
    if (a && b && a.digest === b.digest && a.tick === b.tick) continue;
    const seconds = (a ?? b!).tick / TICKS_PER_SECOND;
    // A take whose parameter was renamed has no digests: what is in its marks is compared.
    const isDigested = a?.digest !== '' && b?.digest !== '';
    const keys = [...new Set([...Object.keys(a?.values ?? {}), ...Object.keys(b?.values ?? {})])];
    const found = keys.flatMap((key): Difference[] => {
      const [x, y] = [a?.values[key], b?.values[key]];
      return same(x, y) ? [] : [{ seconds, key, was: x ?? null, is: y ?? null }];
    });
    // What differed within the second may be the same again at its end.
    if (found.length) return found;
    if (isDigested || a?.tick !== b?.tick) return [{ seconds, key: '', was: null, is: null }];
  }
  return [];
};

/** What a key is called: “burn of Velvet”, “position of Bell”. */
export const keyName = (
  key: string,
  nameOf: {
    readonly part: (id: string) => string | undefined;
    readonly prop: (id: string) => string | undefined;
    readonly layer?: (id: string) => string | undefined;
  },
): string => {
  const [of = '', what = '', moved] = key.split(' ');
  if (moved === undefined) return `${what} of ${nameOf.part(of) ?? of}`;
  if (of === 'layer' || of === 'lifetime') {
    const id = what.slice(0, what.lastIndexOf('~'));
    return `${moved === 'place' ? 'age, seed and place' : moved} of ${nameOf.layer?.(id) ?? id}`;
  }
  if (of === 'prop') return `${moved} of ${nameOf.prop(what) ?? what}`;
  return `${moved} of ${of === 'light' ? `light ${Number(what) + 1}` : 'the camera'}`;
};

/** A difference as a sentence. @param nameOf what a key is called */
export const differenceText = (
  { seconds, key, was, is }: Difference,
  nameOf: (key: string) => string = (each) => each,
): string => {
  const numbers = (value: readonly number[] | null): string =>
    value ? value.map(formatNumber).join(' ') : 'nothing';
  if (!key)
    return `In the second before ${formatNumber(seconds)} s something differed, and is the same again.`;
  const [before, now] = [numbers(was), numbers(is)];
  return before === now
    ? `At ${formatNumber(seconds)} s ${nameOf(key)} differs in its last digits from the ${before} it was.`
    : `At ${formatNumber(seconds)} s ${nameOf(key)} is ${now}, and was ${before}.`;
};

/** The published schema of a take as it leaves. */
export const takeValuesSchema = (inputs: unknown) => ({
  $schema: 'https://json-schema.org/draft/2020-12/schema',
  $id: 'wicked-veil/take-values-1.schema.json',
  title: 'What a take drove, tick by tick, version 1',
  type: 'object',
  properties: {
    format: { const: 'wicked-veil/take-values' },
    version: { const: 1 },
    ticksPerSecond: { type: 'number' },
    inputs,
    changes: {
      type: 'array',
      description: 'Each tick in which something changed.',
      items: {
        type: 'object',
        properties: {
          tick: { type: 'integer', minimum: 0 },
          values: {
            type: 'object',
            description:
              'What stands otherwise from this tick on, by “material parameter” or “prop id position” and the like; null of what is not driven any more.',
            additionalProperties: { type: ['array', 'null'], items: { type: 'number' } },
          },
        },
        required: ['tick', 'values'],
        additionalProperties: false,
      },
    },
  },
  required: ['format', 'version', 'ticksPerSecond', 'inputs', 'changes'],
  additionalProperties: false,
});

/** A take as it leaves: every tick’s numbers, as they changed. */
export interface ExportedTake {
  readonly format: 'wicked-veil/take-values';
  readonly version: 1;
  readonly ticksPerSecond: number;
  readonly inputs: TakeDocument['inputs'];
  /** Each tick in which something changed: its number, and what that stands at from then on. */
  readonly changes: readonly {
    readonly tick: number;
    readonly values: Readonly<Record<string, readonly number[] | null>>;
  }[];
}

/** What changed from one tick to the next; null of what is not driven any more. */
export const changesBetween = (
  before: Standing,
  now: Standing,
): Readonly<Record<string, readonly number[] | null>> => ({
  ...Object.fromEntries([...now].filter(([key, value]) => !same(before.get(key), value))),
  ...Object.fromEntries([...before.keys()].filter((key) => !now.has(key)).map((key) => [key, null])),
});

/** What a take drives, tick by tick, found in a few steps wherever one looks. */
export interface Timeline {
  readonly at: (tick: number) => Standing;
}

/** Changes between two whole pictures of what stands. */
const STRIDE = 64;

export const createTimeline = (changes: ExportedTake['changes']): Timeline => {
  const whole: Standing[] = [];
  const put = (now: Map<string, readonly number[]>, { values }: ExportedTake['changes'][number]): void => {
    for (const [key, value] of Object.entries(values))
      if (value) now.set(key, value);
      else now.delete(key);
  };
  const running = new Map<string, readonly number[]>();
  changes.forEach((change, i) => {
    if (i % STRIDE === 0) whole.push(new Map(running));
    put(running, change);
  });
  return {
    at: (tick) => {
      let [low, high] = [0, changes.length];
      while (low < high) {
        const middle = (low + high) >> 1;
        if (changes[middle]!.tick <= tick) low = middle + 1;
        else high = middle;
      }
      const from = Math.floor(Math.max(low - 1, 0) / STRIDE);
      const now = new Map(whole[from] ?? []);
      for (let i = from * STRIDE; i < low; i += 1) put(now, changes[i]!);
      return now;
    },
  };
};
