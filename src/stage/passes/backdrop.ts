import { Vector4 } from 'three';
import type { StageDocument } from '#core/document/project.ts';

/** The neutral grey around the props, as displayed. */
export const SURROUND = new Vector4(0x1b / 255, 0x1b / 255, 0x1b / 255, 1);
/** Linear light that the filmic curve brings to about the surround's grey. */
export const SURROUND_LIGHT = new Vector4(0.021, 0.021, 0.021, 1);

/** What surrounds a set, as light: where there is air, nothing is seen through all of it but its own. */
export const surroundOf = ({ air }: StageDocument): Vector4 =>
  air && air.density > 0 ? new Vector4(...air.color, 0) : SURROUND_LIGHT;

/** What is seen where nothing stands, from the uniform `surround`: a little lighter in the middle where its `w` is 1. */
export const BACKDROP = `uniform vec4 surround;
vec3 backdrop() {
  float lighter = 1.5 - 0.85 * smoothstep(0.0, 0.8, distance(at, vec2(0.5, 0.6)));
  return surround.rgb * mix(1.0, lighter, surround.w);
}`;
