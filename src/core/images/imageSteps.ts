import type { ImageStep } from './declareStep.ts';
import { blur } from './steps/blur.ts';
import { combineNormals } from './steps/combineNormals.ts';
import { contrast } from './steps/contrast.ts';
import { crop } from './steps/crop.ts';
import { curves } from './steps/curves.ts';
import { distance } from './steps/distance.ts';
import { dither } from './steps/dither.ts';
import { evenOut } from './steps/evenOut.ts';
import { fill } from './steps/fill.ts';
import { gradientMap } from './steps/gradientMap.ts';
import { grey } from './steps/grey.ts';
import { halfOffset } from './steps/halfOffset.ts';
import { heal } from './steps/heal.ts';
import { invert } from './steps/invert.ts';
import { levels } from './steps/levels.ts';
import { lowPlaces } from './steps/lowPlaces.ts';
import { meshMap } from './steps/meshMap.ts';
import { mix } from './steps/mix.ts';
import { noise } from './steps/noise.ts';
import { normal } from './steps/normal.ts';
import { pack } from './steps/pack.ts';
import { picture } from './steps/picture.ts';
import { posterise } from './steps/posterise.ts';
import { ramp } from './steps/ramp.ts';
import { resize } from './steps/resize.ts';
import { shader } from './steps/shader.ts';
import { sharpen } from './steps/sharpen.ts';
import { spread } from './steps/spread.ts';
import { straighten } from './steps/straighten.ts';
import { text } from './steps/text.ts';
import { texture } from './steps/texture.ts';
import { threshold } from './steps/threshold.ts';
import { unpack } from './steps/unpack.ts';
import { warp } from './steps/warp.ts';

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
