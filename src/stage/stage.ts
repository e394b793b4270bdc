import type { Triple } from '#core/numbers/vectors.ts';
import type { CompiledShader } from '#core/compileShader.ts';
import type { StageDocument } from '#core/document/project.ts';
import type { SurfaceSettings } from '#core/document/shader.ts';
import type { Given, Standing } from '#core/evaluate/points/onMesh.ts';
import type { PinPlace, Reading } from '#core/taps/readPin.ts';
import type { Hit } from '#core/time/inputs.ts';
import type { Baking } from './field/bakery.ts';
import type { GpuTime } from './gpuTimer.ts';
import type { Walking } from './walk.ts';
import type { StageLayer } from './scene/layers.ts';
import { isSameMap, type StageNumbers } from './scene/numbers.ts';

export type { StageNumbers };

/**
 * What is drawn of a view in place of tones: of finished light, where it leaves 0–1 or is no number, and how far off it is;
 * of uv, a numbered chequer; of what is paid at each pixel, quarters of a budget; of distances to surfaces, a plane of contour
 * lines.
 */
export type Judged = 'range' | 'depth' | 'chequer' | 'paid' | 'field';

/** A plane through the set, on which distances to surfaces are seen. */
export interface Cut {
  /** The axis of the world that it is square to, and where on it, in metres. */
  readonly axis: 0 | 1 | 2;
  readonly at: number;
  /** From one contour line to the next, in metres. */
  readonly apart: number;
}

/** How often a pixel is drawn that anything is drawn at: on the mean, and at most; and the share of all that are. */
export interface Overdraw {
  readonly mean: number;
  readonly most: number;
  readonly covered: number;
}

/** What the stage shows: the finished picture, one tap of one material, or a view of the surface. */
export interface View {
  /** Tap number in its shader; 0 is the finished picture, negative numbers are views of the surface. */
  readonly tap: number;
  /** The material whose tap is shown; the others leave the stage meanwhile. Null shows all. */
  readonly material: string | null;
  readonly judged?: Judged | null;
  /** What each material costs, as a share of a budget: shown where the tap is that view's. */
  readonly costs?: ReadonlyMap<string, number>;
  /** Where distances are seen; read where the field is what is judged. */
  readonly cut?: Cut | null;
}

/** The least and the greatest corner of the box of all that distances are told to; null where nothing is. */
export type Reach = readonly [Triple, Triple] | null;

export interface StageMaterial {
  readonly shader: CompiledShader;
  readonly settings: SurfaceSettings;
}

/** Whether both show the same, so that none is drawn again for being told anew. */
export const isSameView = (a: View, b: View): boolean => {
  return (
    a.tap === b.tap &&
    a.material === b.material &&
    (a.judged ?? null) === (b.judged ?? null) &&
    JSON.stringify(a.cut ?? null) === JSON.stringify(b.cut ?? null) &&
    isSameMap(a.costs ?? new Map(), b.costs ?? new Map(), Object.is)
  );
};

/** A rendered step: four floats a pixel, bottom row first, as `measureTap` and `paintTap` read them. */
export interface TapPicture {
  /** The step or output it is of: its strand and its own id. */
  readonly key: string;
  readonly components: number;
  readonly rgba: Float32Array;
}

/** The step that is shown, as it is on screen: four floats a pixel, as `histogramOf` reads them. */
export interface DrawnTap {
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
  /** Lines drawn over the picture, with a dot at each of their points, in the world. */
  readonly lines?: readonly (readonly Triple[])[];
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
  /** What it is drawn on, for whoever shows it. */
  readonly canvas: HTMLCanvasElement;
  /**
   * Sets what stands on the stage. Materials without a working shader keep their last good one.
   * @param awaits whether shaders of more materials are still on their way
   */
  readonly setScene: (
    stage: StageDocument,
    materials: ReadonlyMap<string, StageMaterial>,
    awaits?: boolean,
  ) => void;
  /** Sets a material's numbers; shows in the next frame, compiles nothing. */
  readonly setNumbers: (material: string, numbers: StageNumbers) => void;
  /** Shows what there is of flourishes, each with numbers of its own. */
  readonly setLayers: (layers: readonly StageLayer[]) => void;
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
  /** What the pointer is over at a place of the canvas, in CSS pixels from its upper left; null where there is nothing. */
  readonly hitAt: (x: number, y: number) => Hit | null;
  /** A prop’s mesh where it stands and what its program is given, for whoever computes with it; null where it is not drawn. */
  readonly standingOf: (prop: string) => { readonly standing: Standing; readonly given: Given } | null;
  /** What is read at a pin now, by the reference evaluator; null where its prop is not drawn. */
  readonly readPin: (pin: Pinned) => PinSeen | null;
  /** The same steps as the graphics card has them there, by their keys; what it does not draw has none. */
  readonly drawPin: (
    pin: Pinned,
    screen: readonly [number, number],
  ) => Promise<ReadonlyMap<string, readonly number[]>>;
  /** How often pixels are drawn as the stage stands; null where nothing can be drawn. */
  readonly overdraw: () => Promise<Overdraw | null>;
  /** How long the graphics card took for the newest frame it has answered for, where the browser tells. */
  readonly gpuTime: () => GpuTime;
  /** The numbers of the step that is shown; null where none is. */
  readonly readTap: () => Promise<DrawnTap | null>;
  /** Turns the camera to some props, or to the whole set, from where it looks now. */
  readonly frame: (ids: readonly string[]) => void;
  readonly seen: () => Seen;
  /** Looks from a place, at once. */
  readonly look: (seen: Seen) => void;
  /** Looks as a set’s camera does, its field of view too, at once. */
  readonly film: (camera: StageDocument['camera']) => void;
  /** Looks out of the eyes of somebody who walks on what is solid, or from behind; or turns round the set. */
  readonly walk: (how: Walking) => void;
  /** Where who plays stands and looks: the walker, where somebody walks; else the camera. */
  readonly player: () => Seen;
  /** A key’s place for the walker, or null for all of them. @returns whether it has a use for it */
  readonly walkKey: (code: string | null, down: boolean) => boolean;
  /** Draws the wanted steps of a material, by their keys, over its prop, laid out by uv. */
  readonly pictures: (material: string, keys: readonly string[], size: number) => Promise<TapPicture[]>;
  readonly resize: (width: number, height: number, pixelRatio: number) => void;
  readonly counts: () => StageCounts;
  /** Draws once everything is linked, and gives the picture as a PNG. */
  readonly snapshot: () => Promise<Blob | null>;
  readonly dispose: () => void;
}

/** A prop that would count for distances to surfaces, and whose mesh gives none. */
export interface LeftOut {
  readonly prop: string;
  /** As the end of a sentence. */
  readonly why: string;
  /** It would, were it taken without an inside. */
  readonly isOpen: boolean;
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
  /** Props that count for distances to surfaces and whose meshes give none: all of them, whenever they are others. */
  readonly onLeftOut?: (props: readonly LeftOut[]) => void;
  /** The plane of distances was dragged along its axis. */
  readonly onCut?: (at: number) => void;
  /** The box in which the plane of distances lies, as it is drawn; null where nothing counts. */
  readonly onReach?: (reach: Reach) => void;
  /** A frame was drawn; what it took of the page, in milliseconds. */
  readonly onFrame?: (script: number) => void;
  /** A picture has arrived or a program was linked: step pictures made before are out of date. */
  readonly onChanged?: () => void;
}
