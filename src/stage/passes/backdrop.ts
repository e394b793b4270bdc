import { Vector3 } from 'three';
import type { StageDocument } from '#core/document/project.ts';

/** The neutral grey around the props, as displayed. */
export const SURROUND = new Vector3().setScalar(0x1b / 255);
/** Linear light that the filmic curve brings to about the surround's grey. */
export const SURROUND_LIGHT = new Vector3().setScalar(0.021);

/** What surrounds a set, as light: where there is air, nothing is seen through all of it but its own. */
export const surroundOf = ({ air }: StageDocument): Vector3 =>
  air && air.density > 0 ? new Vector3(...air.color) : SURROUND_LIGHT;

/** What is seen where nothing stands, from the uniform `surround`: a little lighter in the middle. */
export const BACKDROP =
  'vec3 backdrop() { return surround * (1.5 - 0.85 * smoothstep(0.0, 0.8, distance(at, vec2(0.5, 0.6)))); }';
