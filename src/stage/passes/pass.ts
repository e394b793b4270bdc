import type { Camera, Scene, Texture, WebGLRenderer, WebGLRenderTarget } from 'three';
import type { StageDocument } from '#core/document/project.ts';
import type { PropMaterial } from '../scene/propMaterial.ts';
import type { Lights } from '../scene/lights.ts';
import type { Judged } from '../stage.ts';

/** What passes hand to one another; `picture` is what is seen in the end. */
export type BufferName = 'keyShadow' | 'scene' | 'depth' | 'bloom' | 'picture';
export type Buffers = Partial<Record<BufferName, Texture | null>>;

/** What is drawn this time. */
export interface Frame {
  readonly set: StageDocument;
  readonly scene: Scene;
  /** What a material is drawn with, once it has a program. */
  readonly programOf: (material: string) => PropMaterial | undefined;
  /** All that things on the stage may be drawn with. */
  readonly programs: Iterable<readonly [string, PropMaterial]>;
  readonly camera: Camera;
  /** Where what stands on the stage is drawn, in linear light. */
  readonly target: WebGLRenderTarget;
  /** 0 for the finished picture; else how many numbers of a value are shown as they are. */
  readonly components: number;
  /** What the finished light is looked at by, in place of tones: whether it leaves 0–1, or how far it is. */
  readonly judged: Judged | null;
  /** Edges are drawn over what stands on the stage. */
  readonly edges: boolean;
  /** A plane of distances that is seen among it. */
  readonly cut: Scene | null;
}

/** One part of a frame: what it reads and what it writes. It runs only in frames in which something reads that. */
export interface PassDeclaration {
  readonly name: string;
  readonly reads: (frame: Frame) => readonly BufferName[];
  readonly writes: readonly BufferName[];
  /** Where it adds to what others wrote: whether it has anything to add. Where it makes something, reading it is reason enough. */
  readonly adds?: (frame: Frame) => boolean;
  /** @param lights what surfaces are told of light, for a pass that finds out some of it */
  readonly create: (
    renderer: WebGLRenderer,
    lights: Lights,
  ) => {
    readonly draw: (frame: Frame, buffers: Buffers) => void;
    readonly dispose: () => void;
  };
}
