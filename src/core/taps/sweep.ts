import { prepare } from '../evaluate/columns/evaluate.ts';
import { inputsAt, standCorners, type Given, type Standing } from '../evaluate/points/onMesh.ts';
import type { Points } from '../evaluate/points/points.ts';
import { spotsOver } from '../evaluate/points/spots.ts';
import type { Column } from '../program/kernels/column.ts';
import { componentsOf } from '../program/types.ts';
import { reachable, shadingOf, typeOfParameter, type Program, type Value } from '../program/value.ts';
import { lackOf } from './lackOf.ts';

/** What is swept: a parameter of one number, over what is measured on a mesh. */
export interface SweepAsk {
  readonly program: Program;
  readonly parameter: string;
  readonly from: number;
  readonly to: number;
  /** How many values of the parameter, at least 2. */
  readonly samples: number;
  /** The id of a strand that stands for how much shows; else the surface's own opacity. */
  readonly strand?: string | undefined;
  readonly standing: Standing;
  readonly given: Given;
  /** How many points of the mesh are looked at. */
  readonly spots?: number;
}

export interface SweepSample {
  readonly at: number;
  /** How much of the mesh shows, from 0 to 1 by area. */
  readonly share: number;
  /** The greatest of what shows: base colour and emission, or the strand itself. */
  readonly brightest: number;
  /** How much of it became another since the sample before, on average; 0 at the first. */
  readonly change: number;
}
/** Where something holds, from and to; an end that is the swept range's own may go on beyond it. */
export interface Span {
  readonly from: number;
  readonly to: number;
}
export interface Swept {
  readonly samples: readonly SweepSample[];
  readonly nothing: readonly Span[];
  readonly whole: readonly Span[];
  readonly spots: number;
}

/** What is less than half a step of an 8-bit picture is not seen. */
const UNSEEN = 1 / 512;
/** glTF 2.0's alphaCutoff. */
const CUTOFF = 0.5;
/** Ends are found to this share of the range, or this much of the parameter where that is less. */
const PRECISION = 1e-3;
const SPOTS = 4096;
const SLOPES: ReadonlySet<string> = new Set(['dFdx', 'dFdy', 'fwidth']);

/** What a sweep measures, and how it tells what shows. */
interface Subject {
  readonly roots: readonly Value[];
  readonly coverOf: (columns: readonly Column[], i: number) => number;
  readonly brightOf: (columns: readonly Column[], i: number) => number;
}

const numberAt = ({ data, stride, uniform }: Column, i: number, c = 0): number =>
  data[c * stride + (uniform ? 0 : i)]!;
const held = (x: number): number => (x > 0 ? Math.min(x, 1) : 0);
const greatest = (column: Column, i: number): number => {
  let most = -Infinity;
  for (let c = 0; c < componentsOf(column.type); c += 1) most = Math.max(most, numberAt(column, i, c));
  return most;
};

/** @throws Error that says why nothing can be measured */
const subjectOf = (program: Program, strand: string | undefined, coverAlone = false): Subject => {
  if (strand !== undefined) {
    const value = program.taps.findLast((tap) => tap.strand === strand)?.value;
    if (!value) throw new Error('This strand has no step that works.');
    if (componentsOf(value.type) !== 1)
      throw new Error('This strand has several numbers at each point; what shows is told by one.');
    return {
      roots: [value],
      coverOf: ([column], i) => held(numberAt(column!, i)),
      brightOf: ([column], i) => numberAt(column!, i),
    };
  }
  const { alphaMode } = shadingOf(program);
  const { opacity, baseColor, emission } = program.outputs;
  if (alphaMode === 'opaque' || !opacity)
    throw new Error(
      'All of this surface always shows: it is opaque. Choose a strand that stands for how much shows.',
    );
  const colours = coverAlone ? [] : [baseColor, emission].filter((each): each is Value => each !== undefined);
  return {
    roots: [opacity, ...colours],
    coverOf: ([column], i) => {
      const alpha = numberAt(column!, i);
      return alphaMode === 'cutout' ? (alpha < CUTOFF ? 0 : 1) : held(alpha);
    },
    brightOf: ([, ...columns], i) => columns.reduce((sum, column) => sum + greatest(column, i), 0),
  };
};

/** The strands that a parameter changes and that are one number at each point, by id, in their order. */
export const sweptStrands = (program: Program, parameter: string): readonly string[] => {
  const last = new Map(program.taps.map((tap) => [tap.strand, tap.value]));
  return [...last].flatMap(([strand, value]) =>
    componentsOf(value.type) === 1 &&
    reachable([value]).some(({ op, payload }) => op === 'parameter' && payload === parameter)
      ? [strand]
      : [],
  );
};

/** How much of a surface shows: at each spot, on the whole, at least and at most; and the brightest of it. */
export interface Measured {
  readonly cover: Float32Array;
  readonly share: number;
  readonly least: number;
  readonly most: number;
  readonly brightest: number;
}

/**
 * Prepares to measure how much of a surface shows, with its parameter at a value; with the time there, in seconds, where
 * no parameter is told.
 * @throws Error that says why it cannot be
 */
export const prepareShown = (
  ask: Pick<SweepAsk, 'program' | 'strand' | 'standing' | 'given' | 'spots'> & {
    readonly parameter: string | null;
    /** True where how bright it is is not asked: what is needed for that alone is not computed. */
    readonly coverAlone?: boolean;
    /** A second parameter, whose value is told with each measuring. */
    readonly second?: string;
  },
): ((at: number, second?: number) => Measured) => {
  const { program, parameter, standing, given } = ask;
  const subject = subjectOf(program, ask.strand, ask.coverAlone);
  const offset = program.outputs['vertexOffset'];
  for (const value of subject.roots) {
    const lack = lackOf(value, standing.near !== undefined);
    if (lack) throw new Error(`It cannot be measured here. ${lack}`);
  }
  const count = ask.spots ?? SPOTS;
  const spots = spotsOver(standing.mesh, standing.placement, count);
  const quads = reachable(subject.roots).some(({ op }) => SLOPES.has(op));
  const each = quads ? 4 : 1;
  const run = prepare(subject.roots);
  const moved = parameter === null ? 'input' : 'parameter';
  const follows =
    offset &&
    reachable([offset]).some(
      ({ op, payload }) =>
        (op === moved && payload === (parameter ?? 'time')) || (op === 'parameter' && payload === ask.second),
    );
  const pointsAt = (numbers: Given, time: number) =>
    inputsAt(
      standCorners({ ...standing, time }, spots.corners, offset, numbers),
      spots,
      quads,
      subject.roots,
    );
  let still: Pick<Points, 'count' | 'inputs' | 'quads'> | null = null;
  return (at, second) => {
    const parameters = new Map(given.parameters);
    if (parameter !== null) parameters.set(parameter, [at]);
    if (ask.second !== undefined && second !== undefined) parameters.set(ask.second, [second]);
    const numbers: Given = { ...given, parameters };
    const time = parameter === null ? at : standing.time;
    const points = follows ? pointsAt(numbers, time) : (still ??= pointsAt(numbers, time));
    const columns = run({ ...points, inputs: { ...points.inputs, time: [time] }, ...numbers });
    const cover = new Float32Array(count);
    let [sum, least, most, brightest] = [0, Infinity, -Infinity, 0];
    for (let i = 0; i < count; i += 1) {
      const shown = subject.coverOf(columns, i * each);
      cover[i] = shown;
      sum += shown;
      least = Math.min(least, shown);
      most = Math.max(most, shown);
      if (shown > UNSEEN) brightest = Math.max(brightest, subject.brightOf(columns, i * each));
    }
    return { cover, share: sum / count, least, most, brightest };
  };
};

export const isNothing = ({ most }: Measured): boolean => most <= UNSEEN;
export const isWhole = ({ least }: Measured): boolean => least >= 1 - UNSEEN;

/**
 * Runs a parameter through its range: how much shows at each value, and where nothing and where all of it does, its ends
 * found by bisection. Yields the share done, so that who runs it can tell and stop.
 * @throws Error that says why it cannot be swept
 */
export function* sweep(ask: SweepAsk): Generator<number, Swept> {
  const whole = typeOfParameter(ask.program, ask.parameter) === 'int';
  // A whole number is swept by whole numbers, each once.
  const [from, to] = whole ? [Math.ceil(ask.from), Math.floor(ask.to)] : [ask.from, ask.to];
  const wanted = whole ? Math.min(ask.samples, to - from + 1) : ask.samples;
  if (!(to > from))
    throw new Error('A sweep goes from a smaller number to a greater one; these are the same.');
  if (typeOfParameter(ask.program, ask.parameter) === null)
    throw new Error(`Nothing in this shader reads ${ask.parameter}.`);
  const measure = prepareShown(ask);
  const samples: SweepSample[] = [];
  const seen: { readonly at: number; readonly nothing: boolean; readonly whole: boolean }[] = [];
  let before: Float32Array | null = null;
  for (let i = 0; i < wanted; i += 1) {
    const along = from + ((to - from) * i) / (wanted - 1);
    const at = whole ? Math.round(along) : along;
    const measured = measure(at);
    const { cover, share, brightest } = measured;
    const last: Float32Array | null = before;
    const change = last ? cover.reduce((sum, x, k) => sum + Math.abs(x - last[k]!), 0) / cover.length : 0;
    samples.push({ at, share, brightest, change });
    seen.push({ at, nothing: isNothing(measured), whole: isWhole(measured) });
    before = cover;
    yield ((i + 1) / wanted) * 0.9;
  }
  const precision = whole ? 1 : Math.min(PRECISION, (to - from) * PRECISION);
  /** The value nearest to where it still holds, between one where it does and one where it does not. */
  const endOf = (holds: (measured: Measured) => boolean, inside: number, outside: number): number => {
    let [yes, no] = [inside, outside];
    while (Math.abs(yes - no) > precision) {
      const middle = whole ? Math.trunc((yes + no) / 2) : (yes + no) / 2;
      if (holds(measure(middle))) yes = middle;
      else no = middle;
    }
    return yes;
  };
  const spansOf = (which: 'nothing' | 'whole', holds: (measured: Measured) => boolean): Span[] => {
    const spans: Span[] = [];
    for (let i = 0; i < seen.length; i += 1) {
      if (!seen[i]![which]) continue;
      let end = i;
      while (end + 1 < seen.length && seen[end + 1]![which]) end += 1;
      spans.push({
        from: i === 0 ? from : endOf(holds, seen[i]!.at, seen[i - 1]!.at),
        to: end === seen.length - 1 ? to : endOf(holds, seen[end]!.at, seen[end + 1]!.at),
      });
      i = end;
    }
    return spans;
  };
  const nothing = spansOf('nothing', isNothing);
  yield 0.95;
  return { samples, nothing, whole: spansOf('whole', isWhole), spots: ask.spots ?? SPOTS };
}

/** Two ends between which a parameter takes all of it from nothing to whole, or as far as it goes. */
export const drivenRange = ({ nothing, whole }: Swept, from: number, to: number): Span => {
  const [gone] = nothing;
  const [all] = whole;
  if (gone && all)
    return gone.to <= all.from ? { from: gone.to, to: all.from } : { from: all.to, to: gone.from };
  if (gone) return gone.from <= from ? { from: gone.to, to } : { from, to: gone.from };
  if (all) return all.from <= from ? { from: all.to, to } : { from, to: all.from };
  return { from, to };
};

const figure = (x: number): string => String(Number(x.toFixed(3))).replace('-', '−');

/** What a sweep found, as sentences. */
export const sweptSentences = ({ samples, nothing, whole }: Swept, unit = ''): readonly string[] => {
  const [first, last] = [samples[0]!.at, samples.at(-1)!.at];
  const told = (x: number): string => `${figure(x)}${unit && ` ${unit}`}`;
  const where = ({ from, to }: Span): string =>
    from <= first && to >= last
      ? 'anywhere in this range'
      : from <= first
        ? `up to ${told(to)}`
        : to >= last
          ? `from ${told(from)}`
          : `from ${told(from)} to ${told(to)}`;
  const of = (what: string, never: string, spans: readonly Span[]): string =>
    spans.length ? `${what} ${spans.map(where).join(', and ')}.` : never;
  const best = samples.reduce((a, b) => (b.brightest > a.brightest ? b : a));
  const steepest = samples.reduce((a, b) => (b.change > a.change ? b : a));
  return [
    of('Nothing shows', 'Something shows everywhere in this range.', nothing),
    of('All of it shows', 'Nowhere in this range does all of it show.', whole),
    `Brightest ${figure(best.brightest)} at ${told(best.at)}, steepest at ${told(steepest.at)}.`,
  ];
};

/** A sweep as comma-separated values, with a heading. */
export const sweptCsv = ({ samples }: Swept, parameter: string): string =>
  [
    `${parameter},share,brightest,change`,
    ...samples.map(({ at, share, brightest, change }) => [at, share, brightest, change].join()),
    '',
  ].join('\n');
