import type { ParameterValue } from '../document/shader.ts';
import type { Triple } from '../numbers/vectors.ts';

/** What the pointer is over: in the world, in metres, and how far it is from who looks. */
export interface Hit {
  /** The prop's id. */
  readonly prop: string;
  readonly point: Triple;
  readonly normal: Triple;
  readonly uv: readonly [number, number];
  readonly distance: number;
}

/** Something that came from outside, and all of it: the same inputs in the same ticks give the same rehearsal. */
export type RehearsalInput =
  /** `code` is the key's place, as in KeyboardEvent.code. */
  | { readonly kind: 'down' | 'up'; readonly code: string }
  | { readonly kind: 'pointer' | 'click'; readonly hit: Hit | null }
  /** Who looks: where, and which way. */
  | { readonly kind: 'walker'; readonly position: Triple; readonly direction: Triple }
  /** The author holds a material’s parameter, over all that drives it, until all that is held is let go. */
  | {
      readonly kind: 'hold';
      readonly material: string;
      readonly parameter: string;
      readonly value: ParameterValue;
    }
  | { readonly kind: 'release' }
  /** The author starts a cue, ends it, or holds it at a time. */
  | { readonly kind: 'play'; readonly cue: string; readonly at?: number }
  | { readonly kind: 'end'; readonly cue: string }
  | { readonly kind: 'seek'; readonly cue: string; readonly at: number };
