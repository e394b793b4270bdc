import type { Budget } from '../document/budgets.ts';
import type { Edit } from '../document/patch.ts';
import type { PartOf } from '../document/project.ts';
import type { SetThing } from '../document/things.ts';
import type { Program } from '../program/value.ts';
import type { Measured } from './measure.ts';
import type { ShaderCost } from './shaderCost.ts';
import type { Worn } from './worn.ts';

/** A shader that works, and all that is looked at of it. */
export interface Subject {
  readonly shader: PartOf<'shader'>;
  /** With knobs still live. */
  readonly program: Program;
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  readonly worn: readonly Worn[];
  readonly cost: ShaderCost;
  readonly measured: Measured;
}

/** A place in a script that names a material, or a parameter of one. */
export interface ScriptUse {
  readonly material: string;
  readonly parameter: string | null;
  /** From 1. */
  readonly line: number;
  /** It is written to there, not only read. */
  readonly sets?: boolean;
}

/** A place in a script that listens to a key, by the key's code. */
export interface ScriptKey {
  readonly key: string;
  /** From 1. */
  readonly line: number;
}

/** A place in a script that names a prop, a cue or a flourish of its set. */
export interface ScriptThing {
  readonly kind: SetThing;
  readonly name: string;
  /** From 1. */
  readonly line: number;
}

/** What checks look at: shaders, and the set that they stand on with its scripts, where there are any. */
export interface Scene {
  readonly subjects: readonly Subject[];
  readonly set: PartOf<'stage'> | null;
  readonly materials: readonly PartOf<'material'>[];
  /** Textures that materials read. */
  readonly textures?: readonly PartOf<'texture'>[];
  readonly shaders: readonly PartOf<'shader'>[];
  /** What plays in the set. */
  readonly scripts: readonly {
    readonly part: PartOf<'script'>;
    readonly uses: readonly ScriptUse[];
    readonly things?: readonly ScriptThing[];
    readonly keys?: readonly ScriptKey[];
  }[];
  /** Names of parameters that some script of the project reads or sets. */
  readonly scripted: ReadonlySet<string>;
  readonly budget: Budget;
}

/** Where something was found; whoever shows it can go there. */
export type Place =
  | { readonly kind: 'step'; readonly strand: string; readonly step: string; readonly argument?: string }
  | { readonly kind: 'strand'; readonly strand: string }
  | { readonly kind: 'output'; readonly output: string }
  | { readonly kind: 'parameter'; readonly parameter: string }
  | { readonly kind: 'prop'; readonly prop: string }
  /** A cue of the set, a curve of one or a rule, by its id. */
  | { readonly kind: 'cue'; readonly of: string }
  | { readonly kind: 'line'; readonly line: number; readonly name: string }
  | { readonly kind: 'part' };

/** Something wrong or doubtful that a check found. */
export interface Found {
  /** The part it is about, by id. */
  readonly part: string;
  readonly place: Place;
  /** What it is, with its figure, as sentences. */
  readonly message: string;
  /** What would mend it, where that is known. */
  readonly fix?: Edit;
}

export interface Check {
  /** As documents that silence it name it. */
  readonly name: string;
  readonly title: string;
  /** Why it matters, as a sentence. */
  readonly why: string;
  /** What has to be there: a shader alone, or the set it stands on, too. */
  readonly of: 'shader' | 'set';
  readonly look: (scene: Scene) => readonly Found[];
}

/** What was found, and by which check; `note` where an author has answered it. */
export interface Finding extends Found {
  readonly check: string;
  /** The place as documents name it. */
  readonly at: string;
  readonly note: string | null;
}

/** A place as documents name it. A script's line moves: what it names stands for it. */
export const keyOf = (place: Place): string => {
  switch (place.kind) {
    case 'step':
      return ['step', place.step, ...(place.argument ? [place.argument] : [])].join('/');
    case 'strand':
      return `strand/${place.strand}`;
    case 'output':
      return `output/${place.output}`;
    case 'parameter':
      return `parameter/${place.parameter}`;
    case 'prop':
      return `prop/${place.prop}`;
    case 'cue':
      return `cue/${place.of}`;
    case 'line':
      return `name/${place.name}`;
    case 'part':
      return 'part';
  }
};
