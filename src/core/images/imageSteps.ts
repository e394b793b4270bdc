import type { ImageStep } from './declareStep.ts';
import { blur } from './steps/blur.ts';
import { heal } from './steps/heal.ts';
import { mix, pack, unpack } from './steps/joining.ts';
import { combineNormals, normal } from './steps/normals.ts';
import { crop, halfOffset, resize, straighten } from './steps/sizes.ts';
import { text } from './steps/text.ts';
import { fill, noise, picture, ramp, shader, texture } from './steps/sources.ts';
import { meshMap } from './steps/meshMap.ts';
import { distance, evenOut, lowPlaces, sharpen, spread, warp } from './steps/spatial.ts';
import {
  contrast,
  curves,
  dither,
  gradientMap,
  grey,
  invert,
  levels,
  posterise,
  threshold,
} from './steps/tones.ts';

/** Every image step there is. */
export const IMAGE_STEPS: ReadonlyMap<string, ImageStep> = new Map(
  [
    ...[noise, ramp, fill, text, picture, texture, shader, meshMap],
    ...[crop, resize, straighten, halfOffset, heal],
    ...[grey, levels, curves, invert, contrast, threshold, gradientMap, posterise, dither],
    ...[blur, sharpen, evenOut, warp, lowPlaces, distance, spread],
    ...[normal, combineNormals, mix, pack, unpack],
  ].map((each) => [each.name, each as ImageStep]),
);
