import { AROUND } from './around.ts';

/** How many lights a lit surface reads. */
export const LIGHTS = 4;

/**
 * The lit surface: glTF 2.0's metallic-roughness model (specification, appendix B): GGX distribution, Smith's
 * height-correlated visibility, Schlick's Fresnel. Light colours are linear, already times their intensity; a
 * light's `w` is 0 for a direction and 1 for a point that fades with the square of its distance.
 *
 * The fill is a sky whose radiance grows evenly from straight below to straight above. What a mirror of some roughness
 * gathers of it is known but for one number, a cubic fitted to the integral over GGX (2/3 where wholly rough, as for a
 * diffuse surface). How much of it is reflected at once, whatever its colour and at its edges, are two more (the
 * split sum, B. Karis, SIGGRAPH 2013, in polynomials fitted over roughness and angle: 0.023 and 0.012 off in
 * the mean), and what bounces again between the facets follows (C. Fdez-Agüera, "A Multiple-Scattering Microfacet Model
 * for Real-Time Image-based Lighting", 2019), so that a white surface in a white sky is white.
 *
 * Unit vectors have dot products above 1 by rounding, and opposite ones a half vector of no length: the base of a power
 * is kept from being negative and a length from being 0, because either makes NaN; the normal stands in for what has no
 * direction.
 */
const lighting = (
  shadow: string,
  shadowed: string,
  environment: string,
) => `vec3 lightSurface(vec3 baseColor, float metallic, float roughness, float occlusion, vec3 n, vec3 v, vec3 at) {
  float rough = clamp(roughness, 0.0, 1.0);
  float a = max(rough * rough, 0.002);
  vec3 f0 = mix(vec3(0.04), baseColor, metallic);
  vec3 diffuse = baseColor * (1.0 - metallic) / 3.14159265;
  float nv = max(dot(n, v), 1e-3);
  float gathered = 1.0 - a / 3.0 * (1.48 + 0.22 * a - 0.7 * a * a);
  vec3 sky = mix(ambientDown, ambientUp, reflect(-v, n).y * gathered * 0.5 + 0.5);
  vec3 around = mix(ambientDown, ambientUp, n.y / 3.0 + 0.5);${environment}
  float edge = min(pow(max(1.0 - nv, 0.0), 5.0) * (1.087 + rough * (-1.682 + rough * (-0.283 + 0.95 * rough))), 1.0);
  float lost = a * (0.408 + nv * (0.826 - 0.847 * nv) - a * (0.291 - nv * (0.337 + 0.287 * nv)));
  vec3 once = f0 * (1.0 - lost - edge) + edge;
  vec3 mean = f0 + (1.0 - f0) / 21.0;
  vec3 again = lost * once * mean / (1.0 - lost * mean);
  vec3 sum = occlusion * (once * sky + (again + baseColor * (1.0 - metallic) * (1.0 - once - again)) * around);${shadow}
  for (int i = 0; i < lightCount; ++i) {
    vec3 toLight = lightPosition[i].xyz - at * lightPosition[i].w;
    float far2 = dot(toLight, toLight);
    float fade = lightPosition[i].w > 0.0 ? 1.0 / max(far2, 1e-4) : 1.0;
    vec3 l = toLight * inversesqrt(far2 + 1e-12);
    float nl = max(dot(n, l), 0.0);
    vec3 h = normalize(l + v + n * 1e-6);
    float nh = max(dot(n, h), 0.0);
    float d = (nh * a * a - nh) * nh + 1.0;
    float distribution = a * a / (3.14159265 * d * d);
    float visibility = 0.5 / max(nl * sqrt(nv * nv * (1.0 - a * a) + a * a) + nv * sqrt(nl * nl * (1.0 - a * a) + a * a), 1e-5);
    vec3 fresnel = f0 + (1.0 - f0) * pow(max(1.0 - dot(v, h), 0.0), 5.0);
    sum += ((1.0 - fresnel) * diffuse + fresnel * distribution * visibility) * nl * fade * lightColor[i]${shadowed};
  }
  return sum;
}`;
/** As a game takes it: what throws shadows there is the game's. */
export const LIGHTING = lighting('', '', '');

/** Rows of the map of what is around: gathered by six roughnesses from 0 to 1, then by a diffuse surface. */
export const ENVIRONMENT_ROWS = 7;
export const AROUND_ROW = ENVIRONMENT_ROWS - 1;
/** Texels of a row from straight above to straight below. */
export const ENVIRONMENT_HEIGHT = 128;

/** How many places around a point are asked for the light, and from one to the next the golden angle's turn. */
const SHADOW_PLACES = 16;
const COS = Math.cos(2.39996323).toFixed(8);
const SIN = Math.sin(2.39996323).toFixed(8);

/**
 * As the stage draws it: the first light is held back by what stands in its way, by the share of places around a point
 * that it reaches (percentage-closer filtering, W. Reeves et al., 1987; places as H. Vogel's sunflower has them).
 * `keyShadowSpread`: how far these lie in the map, how far a surface stands off itself in metres, and 1 where there is
 * a shadow at all. `environmentTurn`: the cosine and sine of how far a picture of everything around is turned, its strength,
 * and 1 where there is one; it takes the sky's place. A renderer without a graphics card works out both sides of a
 * branch, but leaves out a loop of no turns: so what a set may be without stands in loops.
 */
export const STAGE_LIGHTING = `float keyShadow(vec3 at, vec3 n) {
  int places = keyShadowSpread.w > 0.0 ? ${SHADOW_PLACES} : 0;
  vec4 p = keyShadowMatrix * vec4(at + n * keyShadowSpread.z, 1.0);
  vec3 q = p.xyz / p.w;
  if (p.w <= 0.0 || any(lessThan(q.xy, vec2(0.0))) || any(greaterThan(q.xy, vec2(1.0)))) return 1.0;
  float turn = 6.2831853 * fract(52.9829189 * fract(dot(gl_FragCoord.xy, vec2(0.06711056, 0.00583715))));
  vec2 way = vec2(cos(turn), sin(turn));
  float reached = 0.0;
  for (int i = 0; i < places; ++i) {
    vec2 place = q.xy + sqrt((float(i) + 0.5) / ${SHADOW_PLACES}.0) * way * keyShadowSpread.xy;
    reached += step(min(q.z, 1.0), texture(keyShadowMap, place).r);
    way = vec2(way.x * ${COS} - way.y * ${SIN}, way.x * ${SIN} + way.y * ${COS});
  }
  return places > 0 ? reached / ${SHADOW_PLACES}.0 : 1.0;
}
${AROUND}
vec3 environmentRow(vec3 d, float row) {
  vec2 place = aroundPlace(turnedAround(d, environmentTurn.xy));
  float down = clamp(1.0 - place.y, 0.5 / ${ENVIRONMENT_HEIGHT}.0, 1.0 - 0.5 / ${ENVIRONMENT_HEIGHT}.0);
  return textureLod(environmentMap, vec2(place.x, (row + down) / ${ENVIRONMENT_ROWS}.0), 0.0).rgb * environmentTurn.z;
}
vec3 environmentGathered(vec3 d, float rough) {
  float row = min(rough * ${AROUND_ROW - 1}.0, ${AROUND_ROW - 1}.0 - 1e-4);
  return mix(environmentRow(d, floor(row)), environmentRow(d, floor(row) + 1.0), fract(row));
}
${lighting(
  `
  float reached = keyShadow(at, n);`,
  ' * (i == 0 ? reached : 1.0)',
  `
  int pictures = environmentTurn.w > 0.0 ? 1 : 0;
  for (int i = 0; i < pictures; ++i) {
    sky = environmentGathered(reflect(-v, n), rough);
    around = environmentRow(n, ${AROUND_ROW}.0);
  }`,
)}`;
export const STAGE_LIGHT_UNIFORMS: readonly string[] = [
  'highp sampler2D environmentMap',
  'vec4 environmentTurn',
  'highp sampler2D keyShadowMap',
  'mat4 keyShadowMatrix',
  'vec4 keyShadowSpread',
];

/**
 * What of a surface's light is left after the air between it and the camera: its radiance falls by a constant share a
 * metre (Beer and Lambert). `airColor`: the air's own light, and that share; `airLens`: the picture's half height and
 * width a metre away, and one over its size in pixels.
 */
export const AIR = `float airLeft() {
  if (airColor.a <= 0.0) return 1.0;
  float away = length(vec3((gl_FragCoord.xy * airLens.zw * 2.0 - 1.0) * airLens.xy, 1.0)) / gl_FragCoord.w;
  return exp(-airColor.a * away);
}`;
export const AIR_UNIFORMS: readonly string[] = ['vec4 airColor', 'vec4 airLens'];

/** What whoever draws hands over for it. */
export const LIGHT_UNIFORMS: readonly string[] = [
  'int lightCount',
  `vec4 lightPosition[${LIGHTS}]`,
  `vec3 lightColor[${LIGHTS}]`,
  'vec3 ambientUp',
  'vec3 ambientDown',
];
