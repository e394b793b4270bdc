import type { RehearsalInput } from '#core/time/inputs.ts';
import { createRehearsing, type Driven } from '#core/time/rehearse.ts';
import { playedOf, type PlayedSet } from '#core/time/remarksOn.ts';
import { whereIs } from '#core/time/world.ts';
import { arriveRig } from '#core/rigs/rig.ts';
import { createSandbox } from './createSandbox.ts';
import { setupOf } from './setupOf.ts';
import type { CuesNow, RehearsalStart, ScriptMistake, ScriptWrite, TickNews } from './protocol.ts';

/** What came of a tick. */
export interface Ticked {
  readonly driven: Driven;
  readonly standing: CuesNow;
  /** Seconds into the flourishes that play, by id. */
  readonly playing: ReadonlyMap<string, number>;
  readonly writes: readonly ScriptWrite[];
  readonly logs: readonly string[];
  /** Told once of each script; the set goes on without it. */
  readonly mistakes: readonly ScriptMistake[];
}

/** A set that is rehearsed: its rules, its cues and its scripts, tick by tick. */
export interface Ticker {
  /** @param which the script’s place among those that play, from 0 */
  readonly load: (source: string, which?: number) => Ticked;
  /** Goes on with other cues, rules and flourishes: a script knows the cues there were when it began. */
  readonly change: (changed: PlayedSet) => void;
  readonly tick: (inputs: readonly RehearsalInput[]) => Ticked;
  readonly dispose: () => void;
}

const NO_SET = {
  props: [],
  lights: [],
  camera: { position: [0, 1, 3], target: [0, 1, 0], fieldOfView: 40 },
} as const;
const NOTHING: Driven = {
  rules: [],
  cues: [],
  held: [],
  moved: { props: new Map(), lights: new Map(), camera: null },
  layers: [],
};

/** Starts a set's rehearsal. The same start and the same inputs in the same ticks give the same numbers, bit for bit. */
export const createTicker = async (
  start: Omit<RehearsalStart, 'scripts'> & {
    readonly prelude: string;
    readonly onEnter?: (script: number, line: number) => void;
  },
): Promise<Ticker> => {
  for (const [blob, rig] of start.rigs ?? []) arriveRig(blob, rig);
  const set: NonNullable<RehearsalStart['set']> = start.set ?? NO_SET;
  let said: string[] = [];
  let driven = NOTHING;
  const say = (sentence: string): void => void said.push(sentence);
  let rehearsing = createRehearsing(setupOf(set, start.materials), say);
  const sandbox = await createSandbox({
    ...{ materials: start.materials.map(({ declared: _, others: __, ...each }) => each), seed: start.seed },
    prelude: start.prelude,
    ...(start.onEnter && { onEnter: start.onEnter }),
    set: {
      props: set.props.map(({ id, name, position, rotation, scale, hidden }) => ({
        ...{ id, name, position, rotation },
        ...(scale ? { scale } : {}),
        ...(hidden ? { hidden } : {}),
      })),
      cues: (set.cues ?? []).map(({ id, name, length }) => ({ id, name, length })),
      flourishes: (set.flourishes ?? []).map(({ id, name }) => ({ id, name })),
    },
    placeOf: (what) => whereIs(rehearsing.world(), what),
    drivenTo: (material, parameter) =>
      // A cue lies over a rule.
      [...driven.cues, ...driven.rules].find(
        (each) => each.material === material && each.parameter === parameter,
      )?.value ?? null,
  });

  const finish = (result: ReturnType<typeof sandbox.tick>): Ticked => {
    for (const [id, moved] of result.moves) rehearsing.move(id, moved);
    for (const call of result.calls) {
      if (call.kind === 'flourish')
        rehearsing.flourishes.start(
          call.flourish,
          call.point && { point: call.point, ...(call.up ? { up: call.up } : {}) },
        );
      else if (call.kind === 'douse') rehearsing.flourishes.stop(call.flourish);
      else if (call.kind === 'play') rehearsing.cues.start(call.cue, call.at);
      else if (call.kind === 'end') rehearsing.cues.stop(call.cue);
      else rehearsing.cues.seek(call.cue, call.at);
    }
    const logs = [...result.logs, ...said];
    said = [];
    return {
      ...{ writes: result.writes, logs, mistakes: result.mistakes },
      standing: rehearsing.cues.standing(),
      playing: rehearsing.flourishes.standing(),
      driven: { ...driven, moved: rehearsing.moved() },
    };
  };
  const newsOf = (inputs: readonly RehearsalInput[]): TickNews => {
    const { pointer, walker } = rehearsing.world();
    const moved = driven.moved.props;
    return {
      driven: driven.rules.length > 0 || driven.cues.length > 0,
      cues: [...rehearsing.cues.standing()].map(([id, { at, moves }]) => [id, at, moves]),
      flourishes: [...rehearsing.flourishes.standing().keys()],
      ...(moved.size ? { moved: Object.fromEntries(moved) } : {}),
      ...(inputs.some(({ kind }) => kind === 'pointer' || kind === 'click') ? { pointer } : {}),
      ...(inputs.some(({ kind }) => kind === 'walker') ? { walker } : {}),
    };
  };

  return {
    load: (source, which = 0) => finish(sandbox.load(source, which)),
    change: (played) => {
      const { props, lights, camera } = set;
      const changed = { props, lights, camera, ...playedOf(played) };
      rehearsing = createRehearsing(setupOf(changed, start.materials), say, rehearsing.snapshot());
    },
    tick: (inputs) => {
      driven = rehearsing.tick(inputs);
      return finish(sandbox.tick(inputs, newsOf(inputs)));
    },
    dispose: sandbox.dispose,
  };
};
