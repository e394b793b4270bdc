import type { TakeDocument, TakeMark } from '#core/document/kinds/take.ts';
import { changesBetween, createMarker, heardInput, type Standing } from '#core/time/takes.ts';
import { createTicker } from './createTicker.ts';
import type { Ticked } from './createTicker.ts';
import type { RehearsalStart, ScriptMistake } from './protocol.ts';

/** What came of a take that was played again. */
export interface Played {
  readonly marks: readonly TakeMark[];
  readonly changes: readonly {
    readonly tick: number;
    readonly values: Readonly<Record<string, readonly number[] | null>>;
  }[];
  readonly logs: readonly string[];
  /** The first thing that went wrong, and the script’s name. */
  readonly mistake: (ScriptMistake & { readonly name: string }) | null;
}

/** Ticks between two looks at how far it is. */
const STRETCH = 120;

/**
 * Plays a take again: the same inputs in the same ticks, as fast as it goes. Yields its share every so often.
 * @param onTick hears of each tick, for who draws it
 */
export async function* playTake(
  take: Pick<TakeDocument, 'ticks' | 'inputs' | 'seed'>,
  start: Omit<RehearsalStart, 'seed'> & {
    readonly prelude: string;
    readonly onEnter?: (script: number, line: number) => void;
  },
  onTick: (tick: number, ticked: Ticked) => void = () => undefined,
): AsyncGenerator<number, Played> {
  const ticker = await createTicker({ ...start, seed: take.seed });
  const marker = createMarker();
  const changes: { tick: number; values: Readonly<Record<string, readonly number[] | null>> }[] = [];
  const logs: string[] = [];
  let before: Standing = new Map();
  let next = 0;
  const begun = start.scripts.map(({ source }, i) => ticker.load(source, i));
  const named = ([mistake]: readonly ScriptMistake[]): Played['mistake'] =>
    mistake ? { ...mistake, name: start.scripts[mistake.script]?.name ?? '' } : null;
  let mistake = named(begun.flatMap(({ mistakes }) => mistakes));
  logs.push(...begun.flatMap((each) => each.logs));
  const begins = begun.flatMap(({ writes }) => writes);
  try {
    for (let tick = 0; tick < take.ticks; tick += 1) {
      const inputs = [];
      for (; next < take.inputs.length && take.inputs[next]!.tick <= tick; next += 1) {
        const heard = heardInput(take.inputs[next]!);
        if (heard) inputs.push(heard);
      }
      const ticked = ticker.tick(inputs);
      // What is set as scripts begin belongs to the first tick.
      const writes = tick ? ticked.writes : [...begins, ...ticked.writes];
      marker.follow({ driven: ticked.driven, writes });
      onTick(tick, { ...ticked, writes });
      const now = marker.now();
      const values = changesBetween(before, now);
      if (Object.keys(values).length) changes.push({ tick, values });
      before = now;
      logs.push(...ticked.logs);
      mistake ??= named(ticked.mistakes);
      if (tick % STRETCH === STRETCH - 1) yield (tick + 1) / take.ticks;
    }
    return { marks: marker.marks(), changes, logs, mistake };
  } finally {
    ticker.dispose();
  }
}
