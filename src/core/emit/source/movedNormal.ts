/** How far off a moved surface's neighbours are taken, in metres on the mesh. */
const STEP = '0.002';

/** What a language calls what the vertex stage is handed, and how it asks for a moved point. */
export interface MeshWords {
  readonly position: string;
  readonly normal: string;
  readonly uv: string;
  readonly tangent: string;
  readonly stretch: string;
  readonly vec2: string;
  /** A direction on the mesh, in the world. */
  readonly turned: (way: string) => string;
  readonly moved: (at: string, uv: string) => string;
  readonly declare: (name: string, text: string) => string;
  /** Where the normal goes. */
  readonly out: string;
}

/**
 * The normal of the moved surface, felt from two neighbours a small step away along the tangent and across it; uv
 * moves with them by how many metres one unit of it is long.
 */
export const movedNormal = (words: MeshWords, readsUv: boolean): string[] => {
  const { position, normal, uv, tangent, stretch, vec2, turned, moved, declare, out } = words;
  const along = (way: string, x: string, y: string): string => {
    const beside = readsUv ? `${uv} + ${vec2}(${x}, ${y})` : uv;
    return `${turned(`${way} * ${STEP}`)} + ${moved(`${position} + ${way} * ${STEP}`, beside)} - offset`;
  };
  return [
    declare('sideways', `cross(${normal}, ${tangent}.xyz) * ${tangent}.w`),
    declare('alongU', along(`${tangent}.xyz`, `${STEP} / ${stretch}.x`, '0.0')),
    declare('alongV', along('sideways', '0.0', `${STEP} / ${stretch}.y`)),
    `${out} = normalize(cross(alongU, alongV)) * ${tangent}.w;`,
  ];
};
