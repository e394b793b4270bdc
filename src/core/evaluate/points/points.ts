import type { InputName } from '../../program/inputs.ts';

/** A picture the columns can sample: RGBA floats in linear light (or plain data), rows from the bottom up. */
export interface Picture {
  readonly width: number;
  readonly height: number;
  readonly rgba: Float32Array;
  /** How many pictures lie one behind another: a volume, read by a `sampler3D`. It has one level of detail. */
  readonly depth?: number;
  readonly wrap: 'repeat' | 'clamp';
  /** Up and down, where that is another way than across. */
  readonly wrapDown?: 'repeat' | 'clamp';
  readonly filter: 'linear' | 'nearest';
  /** What its mipmaps are means of: light by sRGB's curve, or directions of length 1; plain numbers where it is not given. */
  readonly holds?: 'color' | 'directions' | undefined;
}

/** Where and when a program is evaluated. */
export interface Points {
  readonly count: number;
  /**
   * Inputs by name: `count` numbers per component, component after component, or just one number per component
   * for all points. What a program reads and is not given here is an error that names it.
   */
  readonly inputs: Partial<Readonly<Record<InputName, ArrayLike<number>>>>;
  /** Numbers for each parameter and knob the program reads. */
  readonly parameters: ReadonlyMap<string, readonly number[]>;
  readonly knobs: ReadonlyMap<string, readonly number[]>;
  /**
   * Parameters and knobs that differ from point to point, as in a sweep: `count` numbers per component, component after
   * component. They stand over those above.
   */
  readonly columns?: ReadonlyMap<string, ArrayLike<number>>;
  readonly pictures?: ReadonlyMap<string, Picture>;
  /** True when every four points are a 2×2 quad (left, right, left above, right above), as slopes need. */
  readonly quads?: boolean;
}
