import type { CompiledShader } from '#core/compileShader.ts';
import type { StageDocument } from '#core/document/project.ts';
import type { SurfaceSettings } from '#core/document/shader.ts';
import type { Given, Standing } from '#core/evaluate/points/onMesh.ts';
import type { PinPlace, Reading } from '#core/taps/readPin.ts';
import type { Baking } from './field/bakery.ts';
import type { MaterialNumbers } from './scene/propMaterial.ts';

/** What finished light can be looked at by in place of tones: where it leaves 0–1 or is no number, and how far off it is. */
export type Judged = 'range' | 'depth';

/** What the stage shows: the finished picture, one tap of one material, or a view of the surface. */
export interface View {
  /** Tap number in its shader; 0 is the finished picture, negative numbers are views of the surface. */
  readonly tap: number;
  /** The material whose tap is shown; the others leave the stage meanwhile. Null shows all. */
  readonly material: string | null;
  readonly judged?: Judged | null;
}

export interface StageMaterial {
  readonly shader: CompiledShader;
  readonly settings: SurfaceSettings;
}

/** A material's numbers, and where the picture of each texture comes from. */
export interface StageNumbers extends Omit<MaterialNumbers, 'textures'> {
  readonly pictures?: ReadonlyMap<string, string>;
}

/** A rendered step: four floats a pixel, bottom row first, as `measureTap` and `paintTap` read them. */
export interface TapPicture {
  /** The step or output it is of: its strand and its own id. */
  readonly key: string;
  readonly components: number;
  readonly rgba: Float32Array;
}

export interface StageCounts {
  readonly frames: number;
  /** Programs linked by the GPU since the stage was made. */
  readonly links: number;
  /** What it keeps on the graphics card now. */
  readonly held: { readonly programs: number; readonly textures: number; readonly geometries: number };
}

/** Where a prop stands: metres, degrees about x, y and z, and its size along its own axes. */
export interface Place {
  readonly id: string;
  readonly position: readonly [number, number, number];
  readonly rotation: readonly [number, number, number];
  readonly scale: readonly [number, number, number];
}

/** The props in hand, the last of them with handles, and what these do. */
export interface Hand {
  readonly ids: readonly string[];
  /** `lay`: what is in hand is dragged over what else stands there, and lies on it. */
  readonly mode: 'move' | 'turn' | 'scale' | 'lay';
  readonly snap: boolean;
}

/** Where the stage is seen from. */
export interface Seen {
  readonly position: readonly [number, number, number];
  readonly target: readonly [number, number, number];
}

/** A point put on a prop: the point of its mesh nearest to a place in the mesh's own space. */
export interface Pinned {
  readonly prop: string;
  readonly at: readonly [number, number, number];
}

/** What is read at a pin, or why nothing is. */
export type PinSeen =
  | {
      readonly place: PinPlace;
      /** On the picture, (0, 0) at its upper left and (1, 1) at its lower right; null where it is behind the camera. */
      readonly screen: readonly [number, number] | null;
      readonly material: string;
      /** By the step's or the output's key. */
      readonly readings: ReadonlyMap<string, Reading>;
      readonly why?: undefined;
    }
  | { readonly why: string };

export interface Stage {
  /** Sets what stands on the stage. Materials without a working shader keep their last good one. */
  readonly setScene: (stage: StageDocument, materials: ReadonlyMap<string, StageMaterial>) => void;
  /** Sets a material's numbers; shows in the next frame, compiles nothing. */
  readonly setNumbers: (material: string, numbers: StageNumbers) => void;
  readonly setTime: (seconds: number) => void;
  readonly setView: (view: View) => void;
  /** Gives up baking distances to surfaces; what is missing counts as far away. */
  readonly cancelBaking: () => void;
  readonly resetCamera: () => void;
  /** Outlines what is in hand, and gives the last of it handles. */
  readonly hold: (hand: Hand) => void;
  /** The prop seen at a point of the canvas, in CSS pixels from its upper left; null where there is none, or a handle. */
  readonly pick: (x: number, y: number) => string | null;
  /** The point of the prop seen at a place of the canvas, in CSS pixels from its upper left; null where there is none. */
  readonly pinAt: (x: number, y: number) => Pinned | null;
  /** A prop’s mesh where it stands and what its program is given, for whoever computes with it; null where it is not drawn. */
  readonly standingOf: (prop: string) => { readonly standing: Standing; readonly given: Given } | null;
  /** What is read at a pin now, by the reference evaluator; null where its prop is not drawn. */
  readonly readPin: (pin: Pinned) => PinSeen | null;
  /** The same steps as the graphics card has them there, by their keys; what it does not draw has none. */
  readonly drawPin: (
    pin: Pinned,
    screen: readonly [number, number],
  ) => Promise<ReadonlyMap<string, readonly number[]>>;
  /** Turns the camera to some props, or to the whole set, from where it looks now. */
  readonly frame: (ids: readonly string[]) => void;
  readonly seen: () => Seen;
  /** Draws the wanted steps of a material, by their keys, over its prop, laid out by uv. */
  readonly pictures: (material: string, keys: readonly string[], size: number) => Promise<TapPicture[]>;
  readonly resize: (width: number, height: number, pixelRatio: number) => void;
  readonly counts: () => StageCounts;
  /** Draws once everything is linked, and gives the picture as a PNG. */
  readonly snapshot: () => Promise<Blob | null>;
  readonly dispose: () => void;
}

export interface StageEvents {
  /** The driver refused a material's shader, and what it said; null once it takes one. */
  readonly onRefused?: (material: string, shader: CompiledShader, log: string | null) => void;
  /** The GPU went away or came back, or a picture could not be loaded. */
  readonly onTrouble?: (sentence: string | null) => void;
  /** Materials that are not drawn, since the graphics card gave up over them, until their shaders are others. */
  readonly onMuted?: (materials: readonly string[]) => void;
  /** Props were dragged by their handles; `onSettled` ends a drag. */
  readonly onPlaced?: (places: readonly Place[]) => void;
  readonly onSettled?: () => void;
  /** Distances to surfaces are being baked in a worker; null once they are. */
  readonly onBaking?: (baking: Baking | null) => void;
  /** A frame was drawn; what it took of the page, in milliseconds. */
  readonly onFrame?: (script: number) => void;
  /** A picture has arrived or a program was linked: step pictures made before are out of date. */
  readonly onChanged?: () => void;
}
