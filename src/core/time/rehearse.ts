import type { CueStart } from '../document/cues.ts';
import { clipIn } from '../document/targets.ts';
import type { StageDocument } from '../document/project.ts';
import type { ParameterValue } from '../document/shader.ts';
import { createDriveFeed, type DriveSnapshot } from './feedDrives.ts';
import type { RehearsalInput } from './inputs.ts';
import { createCuePlayer, type CueSnapshot } from './playCues.ts';
import { createFlourishPlayer, type FlourishPlayer, type LayerNow } from './playFlourishes.ts';
import { remarksOn, ruleSlot, whyNot, type RehearsalRemark, type RehearsedSet } from './remarksOn.ts';
import { slotOf, standsAt, takenBy, type ParametersOf, type Slot } from './slots.ts';
import { TICK_SECONDS } from './tick.ts';
import { isNear, propsNow, type MovedProp, type World } from './world.ts';

/** A parameter, by name, and what it is driven to. */
export interface ParameterWrite {
  readonly material: string;
  readonly parameter: string;
  readonly value: ParameterValue;
}

/** What of the set itself stands otherwise than it is authored. */
export interface MovedSet {
  readonly props: ReadonlyMap<string, MovedProp>;
  readonly lights: ReadonlyMap<number, Partial<StageDocument['lights'][number]>>;
  readonly camera: Partial<StageDocument['camera']> | null;
}

/** All that rules and cues drive in a tick; what is not in it stands as it is authored. */
export interface Driven {
  readonly rules: readonly ParameterWrite[];
  readonly cues: readonly ParameterWrite[];
  /** What the author holds by hand, over all of it and over scripts. */
  readonly held: readonly ParameterWrite[];
  readonly moved: MovedSet;
  /** What there is of flourishes. */
  readonly layers: readonly LayerNow[];
}

export interface RehearsalSetup {
  readonly set: RehearsedSet;
  readonly parametersOf: ParametersOf;
  /** What a material's parameter stands at where nothing drives it. */
  readonly authored: (material: string, parameter: string) => ParameterValue;
}

/** All that a rehearsal remembers, to go on from where cues, rules or flourishes were edited. */
export interface RehearsalSnapshot {
  readonly ticks: number;
  readonly pointer: World['pointer'];
  readonly walker: World['walker'];
  readonly byScript: ReadonlyMap<string, MovedProp>;
  readonly wasNear: ReadonlyMap<string, boolean>;
  readonly held: ReadonlyMap<string, ParameterWrite>;
  readonly cues: CueSnapshot;
  readonly drives: DriveSnapshot;
  readonly flourishes: ReturnType<FlourishPlayer['carried']>;
}

export interface Rehearsing {
  /** Goes on by a tick: what came in, then rules, then cues. */
  readonly tick: (inputs: readonly RehearsalInput[]) => Driven;
  readonly world: () => World;
  readonly cues: ReturnType<typeof createCuePlayer>;
  readonly flourishes: FlourishPlayer;
  /** Cues that have ended in the tick that was. */
  readonly ended: () => readonly string[];
  /** Props that a script has moved stand so from the next tick on. */
  readonly move: (id: string, moved: MovedProp) => void;
  readonly moved: () => MovedSet;
  readonly snapshot: () => RehearsalSnapshot;
  readonly remarks: readonly RehearsalRemark[];
}

/** What is moved of a set, put together of what of each thing is moved. */
export const movedBy = (
  moves: readonly {
    readonly kind: string;
    readonly of: string;
    readonly what: string;
    readonly value: readonly number[];
  }[],
): MovedSet => {
  const moved = {
    props: new Map<string, object>(),
    lights: new Map<number, object>(),
    camera: null as object | null,
  };
  for (const { kind, of, what, value } of moves) {
    const clip = kind === 'prop' ? clipIn(what) : null;
    if (clip !== null) {
      const before = moved.props.get(of) as MovedProp | undefined;
      const clips = { ...before?.clips, [clip]: [value[0]!, value[1]!] as const };
      moved.props.set(of, { ...before, clips });
      continue;
    }
    const own = { [what]: what === 'hidden' ? value[0] === 1 : value.length === 1 ? value[0] : value };
    if (kind === 'prop') moved.props.set(of, { ...moved.props.get(of), ...own });
    else if (kind === 'light') moved.lights.set(Number(of), { ...moved.lights.get(Number(of)), ...own });
    else moved.camera = { ...moved.camera, ...own };
  }
  return moved as MovedSet;
};

const NOTHING_MOVED: MovedSet = { props: new Map(), lights: new Map(), camera: null };

/** Rehearses what a set itself does: its rules, its cues and its flourishes. The same inputs in the same ticks give the same numbers. */
export const createRehearsing = (
  { set, parametersOf, authored }: RehearsalSetup,
  onSaid: (sentence: string) => void = () => undefined,
  before: RehearsalSnapshot | null = null,
): Rehearsing => {
  const rules = (set.drives ?? []).flatMap((rule) => {
    const slot = ruleSlot(rule, set, parametersOf);
    return whyNot(rule, set, parametersOf) === null && !('why' in slot) ? [{ rule, slot }] : [];
  });
  const list = set.cues ?? [];
  const showy = set.flourishes ?? [];
  const flourishes = createFlourishPlayer(showy, parametersOf, before?.flourishes);
  const cues = createCuePlayer(
    list,
    (track) => {
      const slot = slotOf(track.target, set, parametersOf);
      return 'why' in slot ? null : slot;
    },
    onSaid,
    { waiting: showy, start: flourishes.start },
    before?.cues,
  );
  const drives = createDriveFeed(before?.drives);
  /** Whether what a cue waits for was near in the last tick, by cue and start. */
  const wasNear = new Map<string, boolean>(before?.wasNear);
  const held = new Map<string, ParameterWrite>(before?.held);
  const byScript = new Map<string, MovedProp>(before?.byScript);
  let byCues: MovedSet = NOTHING_MOVED;
  let ticks = before?.ticks ?? 0;
  let pointer: World['pointer'] = before?.pointer ?? null;
  let walker: World['walker'] = before?.walker ?? null;
  let world: World = { props: set.props, pointer, walker };
  let ended: readonly string[] = [];

  const all = (): MovedSet => ({
    ...byCues,
    props: byScript.size
      ? new Map(
          [...byCues.props.keys(), ...byScript.keys()].map((id) => [
            id,
            { ...byCues.props.get(id), ...byScript.get(id) },
          ]),
        )
      : byCues.props,
  });
  const look = (): void => {
    world = { props: propsNow(set.props, all().props), pointer, walker };
  };

  const startedBy = (inputs: readonly RehearsalInput[], id: string, start: CueStart, i: number): boolean => {
    switch (start.by) {
      case 'begin':
        return ticks === 0;
      case 'key':
        return inputs.some((each) => each.kind === 'down' && each.code === start.key);
      case 'click':
        return inputs.some(
          (each) =>
            each.kind === 'click' &&
            (start.prop === undefined ? each.hit !== null : each.hit?.prop === start.prop),
        );
      case 'near':
      case 'away': {
        const near = isNear(world, start);
        const key = `${id} ${i}`;
        const before = wasNear.get(key) ?? false;
        wasNear.set(key, near);
        return start.by === 'near' ? near && !before : before && !near;
      }
      case 'cue':
        return false;
    }
  };

  const take = (inputs: readonly RehearsalInput[]): void => {
    for (const each of inputs)
      switch (each.kind) {
        case 'pointer':
        case 'click':
          pointer = each.hit;
          break;
        case 'walker':
          walker = { position: each.position, direction: each.direction };
          break;
        case 'hold': {
          const { material, parameter, value } = each;
          held.set(`${material} ${parameter}`, { material, parameter, value });
          break;
        }
        case 'release':
          held.clear();
          break;
        case 'play':
          if (!cues.start(each.cue, each.at)) flourishes.start(each.cue);
          break;
        case 'end':
          cues.stop(each.cue);
          flourishes.stop(each.cue);
          break;
        case 'seek':
          cues.seek(each.cue, each.at);
          break;
      }
  };

  const writeOf = ({ target, parameter }: Slot, value: readonly number[]): ParameterWrite => ({
    ...{ material: target.of, parameter: parameter!.name, value },
  });

  const tick = (inputs: readonly RehearsalInput[]): Driven => {
    flourishes.advance();
    ended = cues.advance();
    take(inputs);
    look();
    for (const each of [...list, ...showy]) {
      // Every start is looked at: what is near is remembered even where another has started it.
      const starts = each.starts.map((start, i) => startedBy(inputs, each.id, start, i));
      if (!starts.includes(true) || each.off) continue;
      if ('layers' in each) flourishes.start(each.id);
      else cues.start(each.id);
    }
    const fed = new Map<string, ParameterValue>();
    const givenBy: ParameterWrite[] = [];
    // Cues move props before rules look where these are; what a rule gives is what cues are mixed over.
    const beneath = (slot: Slot): ParameterValue => {
      if (slot.parameter) return fed.get(slot.key) ?? authored(slot.target.of, slot.parameter.name);
      return standsAt(set, slot);
    };
    byCues = movedBy(
      [...cues.values(beneath, true).values()].map(({ slot: { target }, value }) => ({ ...target, value })),
    );
    look();
    for (const { rule, slot } of rules) {
      const value = drives.feed(rule, world, ticks, TICK_SECONDS, slot.size);
      if (!value) continue;
      const taken = takenBy(slot, value);
      fed.set(slot.key, taken);
      givenBy.push(writeOf(slot, taken));
    }
    const driven = [...cues.values(beneath).values()];
    ticks += 1;
    return {
      rules: givenBy,
      cues: driven.flatMap(({ slot, value }) => (slot.parameter ? [writeOf(slot, value)] : [])),
      held: [...held.values()],
      moved: all(),
      layers: flourishes.now(world),
    };
  };

  return {
    tick,
    world: () => world,
    cues,
    flourishes,
    ended: () => ended,
    move: (id, moved) => void byScript.set(id, { ...byScript.get(id), ...moved }),
    moved: all,
    snapshot: () => ({
      ...{ ticks, pointer, walker, byScript, wasNear, held },
      ...{ cues: cues.snapshot(), drives: drives.snapshot(), flourishes: flourishes.carried() },
    }),
    remarks: remarksOn(set, parametersOf),
  };
};
