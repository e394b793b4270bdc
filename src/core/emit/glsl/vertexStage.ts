/** How far off a moved surface's neighbours are taken, in metres on the mesh. */
const STEP = '0.002';

export const SCREEN_OF = 'vec2 screenOf(vec4 clip) { return clip.xy / max(clip.w, 1e-4) * 0.5 + 0.5; }';

/**
 * The normal of the moved surface, felt from two neighbours a small step away along the tangent and across it; uv
 * moves with them by how many metres one unit of it is long.
 */
export const movedNormal = (readsUv: boolean): string[] => {
  const uv = (step: string) => (readsUv ? `a_uv + ${step}` : 'a_uv');
  return [
    'vec3 sideways = cross(a_normal, a_tangent.xyz) * a_tangent.w;',
    `vec3 alongU = mat3(modelMatrix) * a_tangent.xyz * ${STEP} + moved(a_position + a_tangent.xyz * ${STEP}, ${uv(`vec2(${STEP} / a_stretch.x, 0.0)`)}) - offset;`,
    `vec3 alongV = mat3(modelMatrix) * sideways * ${STEP} + moved(a_position + sideways * ${STEP}, ${uv(`vec2(0.0, ${STEP} / a_stretch.y)`)}) - offset;`,
    'v_normal = normalize(cross(alongU, alongV)) * a_tangent.w;',
  ];
};
