/**
 * Where a direction lies in a picture of everything around: from 0 to 1 across and from its foot up, its middle upstage at −z
 * (equirectangular). Straight up and straight down have no side to be on. `turned`: the cosine and sine of how far the picture
 * is turned about the upright axis.
 */
export const AROUND = `vec3 turnedAround(vec3 d, vec2 turned) {
  vec2 way = mat2(turned.x, turned.y, -turned.y, turned.x) * vec2(d.x, -d.z);
  return vec3(way.x, d.y, -way.y);
}
vec2 aroundPlace(vec3 d) {
  float turn = abs(d.x) + abs(d.z) < 1e-6 ? 0.0 : atan(d.x, -d.z);
  return vec2(turn / 6.2831853 + 0.5, 1.0 - acos(clamp(d.y, -1.0, 1.0)) / 3.14159265);
}`;
