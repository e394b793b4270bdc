import type { ParameterKind, ParameterValue } from '#core/document/shader.ts';

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

/** Something the player did, as it reaches scripts. `code` is the key's place, as in KeyboardEvent.code. */
export interface ScriptInput {
  readonly kind: 'down' | 'up';
  readonly code: string;
}

/** A mistake in a script, at its line and column, both from 1; 0 where the engine could not tell. */
export interface ScriptMistake {
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

export interface TickResult {
  readonly writes: readonly ScriptWrite[];
  readonly logs: readonly string[];
  readonly mistake: ScriptMistake | null;
}

/** From the page to the script worker. */
export type ToScriptWorker =
  | {
      readonly type: 'start';
      readonly source: string;
      readonly materials: readonly ScriptMaterial[];
      readonly seed: number;
    }
  | { readonly type: 'input'; readonly input: ScriptInput }
  | { readonly type: 'swap'; readonly source: string }
  | { readonly type: 'stop' };

/** From the script worker to the page. */
export type FromScriptWorker =
  | { readonly type: 'started' }
  | {
      readonly type: 'ticked';
      readonly tick: number;
      readonly writes: readonly ScriptWrite[];
      readonly logs: readonly string[];
    }
  | { readonly type: 'failed'; readonly mistake: ScriptMistake; readonly logs: readonly string[] };
