import type { Cue, Flourish, Prop, TakeDocument } from '#core/document/project.ts';
import type { Parameter, ParameterKind, ParameterValue } from '#core/document/shader.ts';
import type { Hit, RehearsalInput } from '#core/time/inputs.ts';
import type { LayerNow } from '#core/time/playFlourishes.ts';
import type { Rig } from '#core/rigs/rig.ts';
import type { PlayedSet, RehearsedSet } from '#core/time/remarksOn.ts';
import type { MovedSet, ParameterWrite } from '#core/time/rehearse.ts';
import type { MovedProp } from '#core/time/world.ts';
import type { LastKnown } from './watchEngine.ts';

/** What a script may know of a material. */
export interface ScriptMaterial {
  readonly id: string;
  readonly name: string;
  readonly parameters: readonly {
    readonly name: string;
    readonly kind: ParameterKind;
    readonly value: ParameterValue;
    /** One value for every material that has it. */
    readonly shared?: boolean;
  }[];
}

/** What a script may know of a set besides its materials. */
export interface ScriptSet {
  readonly props: readonly Pick<Prop, 'id' | 'name' | 'position' | 'rotation' | 'scale' | 'hidden'>[];
  readonly cues: readonly Pick<Cue, 'id' | 'name' | 'length'>[];
  readonly flourishes: readonly Pick<Flourish, 'id' | 'name'>[];
}

/** A mistake in a script, at its line and column, both from 1; 0 where the engine could not tell. */
export interface ScriptMistake {
  /** Which of the scripts, from 0; -1 where it is the engine itself. */
  readonly script: number;
  readonly message: string;
  readonly line: number;
  readonly column: number;
}

/** One parameter set by a script in a tick. */
export interface ScriptWrite {
  readonly material: string;
  readonly parameter: string;
  readonly value: ParameterValue;
}

/** What a script asks of a cue or a flourish. */
export type CueCall =
  | {
      readonly kind: 'flourish';
      readonly flourish: string;
      readonly point?: readonly [number, number, number];
      readonly up?: readonly [number, number, number];
    }
  | { readonly kind: 'douse'; readonly flourish: string }
  | { readonly kind: 'play'; readonly cue: string; readonly at?: number }
  | { readonly kind: 'end'; readonly cue: string }
  | { readonly kind: 'seek'; readonly cue: string; readonly at: number };

/** What the set itself did in a tick, before its script is called. */
export interface TickNews {
  /** Whether rules or cues drive any parameter. */
  readonly driven?: boolean;
  readonly moved?: Readonly<Record<string, MovedProp>>;
  readonly cues?: readonly (readonly [cue: string, at: number, moves: boolean])[];
  /** Flourishes that play, by id. */
  readonly flourishes?: readonly string[];
  readonly pointer?: Hit | null;
  readonly walker?: { readonly position: readonly number[]; readonly direction: readonly number[] } | null;
}

export interface TickResult {
  readonly writes: readonly ScriptWrite[];
  /** Props that stand otherwise from now on, by their ids. */
  readonly moves: ReadonlyMap<string, MovedProp>;
  readonly calls: readonly CueCall[];
  readonly logs: readonly string[];
  /** Told once of each script that failed, which goes on no more. */
  readonly mistakes: readonly ScriptMistake[];
}

/** A material with all that cues, rules and scripts may drive of it. */
export interface RehearsedMaterial extends ScriptMaterial {
  readonly declared: readonly Parameter[];
  /** What curves, gradients and textures stand at, by name: keys, and the place of a picture among the set’s choices. */
  readonly others?: Readonly<Record<string, ParameterValue>>;
}

/** A script that plays, by its part’s id and name. */
export interface PlayedScript {
  readonly id: string;
  readonly name: string;
  readonly source: string;
}

/** What is rehearsed: a set, what stands in it, and its scripts in the order in which they hear of a tick. */
export interface RehearsalStart {
  readonly scripts: readonly PlayedScript[];
  readonly materials: readonly RehearsedMaterial[];
  readonly set: RehearsedSet | null;
  /** What moves meshes that others hang on, by their blobs: a mesh itself is not needed. */
  readonly rigs?: readonly (readonly [blob: string, rig: Rig])[];
  readonly seed: number;
}

/** From the page to the script worker. */
export type ToScriptWorker =
  | ({ readonly type: 'start' } & RehearsalStart)
  | { readonly type: 'input'; readonly input: RehearsalInput }
  /** The author has changed cues, rules or flourishes. */
  | ({ readonly type: 'change' } & PlayedSet)
  /** Asks for what was recorded so far. */
  | { readonly type: 'tape' }
  /** The author has changed a script, by its place among those that play. */
  | { readonly type: 'swap'; readonly script: number; readonly source: string }
  | { readonly type: 'stop' };

/** What was recorded of a rehearsal, from its beginning. */
export type Tape = Pick<TakeDocument, 'ticks' | 'inputs' | 'marks' | 'seed'>;

/** Where cues stand: seconds into each, and whether it goes on. */
export type CuesNow = ReadonlyMap<string, { readonly at: number; readonly moves: boolean }>;

/** From the script worker to the page. */
export type FromScriptWorker =
  | { readonly type: 'started' }
  /** A script is about to run; nothing is heard until it is done. */
  | ({ readonly type: 'entered' } & LastKnown)
  | { readonly type: 'tape'; readonly tape: Tape | { readonly why: string } }
  | {
      readonly type: 'ticked';
      readonly tick: number;
      /** What the script has written since the last. */
      readonly writes: readonly ScriptWrite[];
      /** All that rules, cues and flourishes drive; null where that is as it was. */
      readonly driven: {
        readonly rules: readonly ParameterWrite[];
        readonly cues: readonly ParameterWrite[];
        readonly moved: MovedSet;
        readonly standing: CuesNow;
        readonly layers: readonly LayerNow[];
        /** Seconds into the flourishes that play, by id. */
        readonly playing: ReadonlyMap<string, number>;
      } | null;
      readonly logs: readonly string[];
    }
  | { readonly type: 'failed'; readonly mistake: ScriptMistake; readonly logs: readonly string[] };
