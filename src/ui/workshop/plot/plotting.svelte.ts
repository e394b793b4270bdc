import type { Chart } from 'chart.js';
import { tapKey } from '#core/compileShader.ts';
import {
  lengthOf,
  plot,
  type Against,
  type PlaceReading,
  type Plotted,
  type PlotLine,
} from '#core/taps/plot.ts';
import { isTable } from '#core/document/shader.ts';
import type { Pin } from '#core/document/project.ts';
import { placesNear } from '../pins/placesNear.ts';
import type { PinWatch } from '../pins/watchPins.svelte.ts';
import type { Rehearsal } from '../rehearsal.svelte.ts';
import type { Session } from '../state/session.svelte.ts';
import { nameOfStep } from './nameOfStep.ts';

const SAMPLES = 200;
export const MOST_LINES = 8;
/** How much of a rehearsal a running trace shows, in seconds. */
const TRACE_SECONDS = 10;
/** How often it is taken, in seconds. */
const TRACE_STEP = 0.1;

/** What a value can be drawn against, as the tab’s list has it. */
export type AgainstKey = 'time' | 'u' | 'v' | `parameter ${string}` | `pin ${string}`;

const PARAMETER = 'parameter/';
/** The line of a parameter's own value. */
export const parameterLine = (name: string): string => PARAMETER + name;
/** The parameter that a line is of; null of a step's. */
export const parameterOf = (key: string): string | null =>
  key.startsWith(PARAMETER) ? key.slice(PARAMETER.length) : null;

const READING = 'reading/';
/** A line of what is read of the place itself. */
export interface ReadingLine {
  readonly key: string;
  readonly name: string;
  readonly reading: PlaceReading;
}

/** What is plotted, against what, and where. */
export const createPlotting = (session: Session, pins: PinWatch, rehearsal: Rehearsal) => {
  /** Keys of steps, by the shader they are of. */
  let chosen = $state.raw<Readonly<Record<string, readonly string[]>>>({});
  let wanted = $state<AgainstKey | null>(null);
  let chart = $state.raw<Chart | null>(null);
  let range = $state.raw<readonly [number, number] | null>(null);
  let trace = $state.raw<
    readonly { readonly time: number; readonly values: readonly (readonly number[])[] }[]
  >([]);

  const strands = $derived(session.document?.strands ?? []);
  const good = $derived(session.shaderState?.good ?? null);
  const shaderId = $derived(session.score?.id ?? '');
  const parameters = $derived(
    (session.openMotif ? [] : (session.document?.parameters ?? [])).filter(
      ({ kind }) => kind === 'float' || kind === 'int',
    ),
  );
  /** Parameters whose own value can be a line: those that are numbers. */
  const numbered = $derived(
    (session.openMotif ? [] : (session.document?.parameters ?? [])).filter(
      ({ kind }) => !isTable(kind) && kind !== 'texture' && kind !== 'noise',
    ),
  );
  const keys = $derived.by((): readonly string[] => {
    const own = chosen[shaderId]?.filter((key) => {
      const name = parameterOf(key);
      if (key.startsWith(READING)) return readings.some((each) => each.key === key);
      return name === null ? good?.taps.has(key) : numbered.some((each) => each.name === name);
    });
    if (own) return own;
    // Until lines are chosen: the last strands of one number.
    return strands
      .flatMap(({ id, steps }) => {
        const key = steps.length ? tapKey(id, steps.at(-1)!.id) : '';
        const tap = good?.taps.get(key);
        return tap !== undefined && good!.program.taps[tap - 1]!.value.type === 'float' ? [key] : [];
      })
      .slice(-2);
  });
  const firstParameter = $derived(parameters[0]);
  const against = $derived.by((): AgainstKey => {
    const isThere =
      wanted &&
      (wanted.startsWith('parameter ')
        ? parameters.some(({ name }) => `parameter ${name}` === wanted)
        : wanted.startsWith('pin ')
          ? ends.some(({ id }) => `pin ${id}` === wanted)
          : true);
    return isThere ? wanted! : firstParameter ? `parameter ${firstParameter.name}` : 'u';
  });
  const onSet = $derived(
    session.stage?.body.props.filter(({ material }) => material === session.material?.id) ?? [],
  );
  /** The pin that is read, where it is on a prop of what is shown. */
  const pin = $derived.by((): Pin | null => {
    const held = pins.inHand;
    return held && onSet.some(({ id }) => id === held.prop) ? held : null;
  });
  /** Other pins on the same prop: ends of a line from this one. */
  const ends = $derived(
    pin
      ? (session.stage?.body.pins ?? []).filter((each) => each.prop === pin.prop && each.id !== pin.id)
      : [],
  );
  const prop = $derived(
    onSet.find(({ id }) => id === (pin?.prop ?? session.props.at(-1))) ?? onSet[0] ?? null,
  );
  const readings = $derived.by((): readonly ReadingLine[] => {
    const set = session.stage?.body;
    const eye = pins.frames >= 0 ? pins.seenFrom() : null;
    if (!set || !prop) return [];
    return [
      ...(['position', 'normal', 'uv'] as const).map((kind): ReadingLine => ({
        ...{ key: READING + kind, name: kind, reading: { kind } },
      })),
      ...[
        ...(eye ? [{ key: 'camera', name: 'the camera', at: eye.position }] : []),
        ...placesNear(set, { pin: pin?.id ?? null, prop: prop.id }, pins.seen),
      ].map(({ key, name, at }): ReadingLine => ({
        ...{ key: `${READING}to ${key}`, name: `to ${name}`, reading: { kind: 'distance', to: at } },
      })),
    ];
  });
  const readingOf = (key: string): ReadingLine | undefined => readings.find((each) => each.key === key);
  const asked = $derived.by((): Against => {
    if (against === 'time' || against === 'u' || against === 'v') return { kind: against };
    if (against.startsWith('pin '))
      return { kind: 'line', to: ends.find(({ id }) => `pin ${id}` === against)!.at };
    return { kind: 'parameter', name: against.slice('parameter '.length) };
  });
  /** Moves on once a second: what follows from it is drawn no more often. */
  const lastSecond = $derived(Math.max(Math.ceil(rehearsal.time), TRACE_SECONDS));
  const natural = $derived.by((): readonly [number, number] => {
    if (asked.kind === 'parameter') {
      const { min, max } = parameters.find(({ name }) => name === asked.name)!;
      return max > min ? [min, max] : [min, min + 1];
    }
    if (asked.kind === 'line') return [0, Math.max(lengthOf(pin!.at, asked.to), 1e-3)];
    if (asked.kind !== 'time') return [0, 1];
    return [lastSecond - TRACE_SECONDS, lastSecond];
  });
  const isTrace = $derived(rehearsal.running && asked.kind === 'time' && pin !== null);

  const made = $derived.by((): { readonly plotted: Plotted } | { readonly why: string } => {
    // What is computed follows every frame: values, knobs, places, the camera.
    void [pins.seen, pins.frames, session.values.driven, session.material?.body, session.shaderState?.knobs];
    if (!good || !prop)
      return { why: prop ? 'This shader does not work yet.' : 'This material is on no prop of the set.' };
    if (isTrace)
      return {
        plotted: {
          x: trace.map(({ time }) => time),
          lines: keys.map((_, i) => ({ values: trace.map(({ values }) => values[i] ?? []) })),
        },
      };
    const there = pins.standingOf(prop.id);
    if (!there) return { why: 'Its prop is not drawn yet.' };
    const [from, to] = range ?? natural;
    try {
      const read = keys.flatMap((key) => readingOf(key) ?? []);
      const steps = keys.filter((key) => parameterOf(key) === null && !key.startsWith(READING));
      const { x, lines } = plot({
        ...{
          program: good.program,
          taps: steps.map((key) => good.taps.get(key)!),
          readings: read.map(({ reading }) => reading),
          against: asked,
          from,
          to,
        },
        ...{ ...there, samples: SAMPLES, at: pin?.at ?? null },
      });
      /** A parameter stands where it stands, but for the one that it is drawn against. */
      const lineOf = (key: string): PlotLine => {
        const name = parameterOf(key);
        if (key.startsWith(READING))
          return lines[steps.length + read.findIndex((each) => each.key === key)] ?? { why: 'It is gone.' };
        if (name === null) return lines[steps.indexOf(key)]!;
        const isAgainst = asked.kind === 'parameter' && asked.name === name;
        const stands = there.given.parameters.get(name) ?? [];
        return { values: x.map((each) => (isAgainst ? [each] : stands)) };
      };
      return { plotted: { x, lines: keys.map(lineOf) } };
    } catch (error) {
      return { why: (error as Error).message };
    }
  });

  return {
    get keys() {
      return keys;
    },
    get against() {
      return against;
    },
    get asked() {
      return asked;
    },
    get parameters() {
      return parameters;
    },
    /** Parameters whose own value can be a line. */
    get numbered() {
      return numbered;
    },
    /** What of the place itself can be a line. */
    get readings() {
      return readings;
    },
    /** What a line is called. */
    nameOf: (key: string): string =>
      readingOf(key)?.name ?? (session.score ? nameOfStep(session.score.body, key) : key),
    get ends() {
      return ends;
    },
    get pin() {
      return pin;
    },
    get prop() {
      return prop;
    },
    get range() {
      return isTrace ? natural : (range ?? natural);
    },
    get made() {
      return made;
    },
    get isTrace() {
      return isTrace;
    },
    /** What is drawn now, for a picture of it. */
    get chart() {
      return chart;
    },
    setChart: (drawn: Chart | null): void => {
      chart = drawn;
    },
    setAgainst: (key: AgainstKey): void => {
      wanted = key;
      range = null;
    },
    setRange: (from: number, to: number): void => {
      range = [from, to];
    },
    add: (key: string): void => {
      if (!keys.includes(key) && keys.length < MOST_LINES) chosen = { ...chosen, [shaderId]: [...keys, key] };
    },
    remove: (key: string): void => {
      chosen = { ...chosen, [shaderId]: keys.filter((each) => each !== key) };
    },
    /** Takes what the steps come to at the pin now into the running trace. */
    follow: (): void => {
      if (!isTrace) {
        if (trace.length) trace = [];
        return;
      }
      const held = pin && pins.seen.get(pin.id);
      if (!held || held.why !== undefined) return;
      const { time } = rehearsal;
      const last = trace.at(-1)?.time ?? -Infinity;
      if (time >= last && time - last < TRACE_STEP) return;
      const given = prop && pins.standingOf(prop.id)?.given.parameters;
      const values = keys.map((key) => {
        const name = parameterOf(key);
        const told = readingOf(key)?.reading;
        if (told?.kind === 'distance') return [lengthOf(held.place.position, told.to)];
        if (told) return held.place[told.kind];
        return (name === null ? held.readings.get(key)?.numbers : given?.get(name)) ?? [];
      });
      trace = [
        ...trace.filter((each) => each.time > time - TRACE_SECONDS && each.time < time),
        { time, values },
      ];
    },
  };
};

export type Plotting = ReturnType<typeof createPlotting>;
