import type { StageDocument } from '#core/document/project.ts';
import type { Judged } from '../stage.ts';
import { BACKDROP } from './backdrop.ts';

/*
 * What the last pass makes of a frame: a small program each, for what a picture does not need should cost it nothing.
 */
const SCENE = 'uniform sampler2D source;\n';
const DEPTH = 'uniform sampler2D depth;\n';
const ENCODE = `vec3 encode(vec3 x) { return mix(x * 12.92, 1.055 * pow(max(x, 0.0), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, x)); }
`;
/** Where nothing stands. */
const OUTSIDE = 'texture(depth, at).r >= 1.0';
const MARKED = `bool broken(float x) { return isnan(x) || isinf(x); }
bool below(float x) { return x < -1e-3; }
bool above(float x) { return x > 1.001; }
/** Marks a value over what is shown of it. */
vec3 marked(vec3 shown, vec3 value) {
  vec3 oxblood = vec3(0.541, 0.122, 0.106);
  vec2 chequer = mod(floor(gl_FragCoord.xy / 6.0), 2.0);
  if (broken(value.x) || broken(value.y) || broken(value.z)) return chequer.x == chequer.y ? vec3(0.0) : oxblood;
  if ((below(value.x) || below(value.y) || below(value.z)) && mod(gl_FragCoord.x - gl_FragCoord.y, 10.0) < 4.0) return oxblood;
  if ((above(value.x) || above(value.y) || above(value.z)) && mod(gl_FragCoord.x + gl_FragCoord.y, 10.0) < 4.0) return oxblood;
  return clamp(shown, 0.0, 1.0);
}
`;

type Mapping = NonNullable<StageDocument['toneMapping']>;
/** Light to what is shown of it, 0 to 1. */
const MAPPINGS: Readonly<Record<Mapping, string>> = {
  // K. Narkowicz's fit of the ACES curve, 2016.
  filmic: `vec3 mapped(vec3 x) { return clamp((x * (2.51 * x + 0.03)) / (x * (2.43 * x + 0.59) + 0.14), 0.0, 1.0); }
`,
  // Khronos, "PBR Neutral Tone Mapper", 2024.
  neutral: `vec3 mapped(vec3 c) {
  float least = min(c.r, min(c.g, c.b));
  c -= least < 0.08 ? least - 6.25 * least * least : 0.04;
  float peak = max(c.r, max(c.g, c.b));
  if (peak < 0.76) return c;
  float held = 1.0 - 0.0576 / (peak - 0.52);
  return mix(c * held / peak, vec3(held), 1.0 - 1.0 / (0.15 * (peak - held) + 1.0));
}
`,
  none: 'vec3 mapped(vec3 c) { return clamp(c, 0.0, 1.0); }\n',
};

/**
 * Scene and bloom, exposed, through the set's curve, the only place that maps tones, to sRGB; dithered by less than a step
 * of eight bits (J. Jimenez's gradient noise, 2014), so that dark greys show no bands.
 */
export const finished = (mapping: Mapping): string => `${SCENE}${BACKDROP}
uniform sampler2D bloom; uniform float bloomIntensity; uniform float exposure;
${ENCODE}${MAPPINGS[mapping]}float dither(vec2 p) { return fract(52.9829189 * fract(dot(p, vec2(0.06711056, 0.00583715)))) - 0.5; }
void main() {
  vec4 scene = texture(source, at);
  vec3 light = scene.rgb + backdrop() * (1.0 - scene.a) + texture(bloom, at).rgb * bloomIntensity * 0.2;
  color = vec4(encode(mapped(light * exposure)) + dither(gl_FragCoord.xy) / 255.0, 1.0);
}`;

/** What is shown of a value of one, two or three numbers, and the numbers that are looked at. */
const SHOWN = [
  ['scene.rrr', 'scene.rrr'],
  ['vec3(scene.rg, 0.0)', 'scene.rgr'],
  ['encode(clamp(scene.rgb, 0.0, 1.0))', 'scene.rgb'],
] as const;
/**
 * A value as it is: striped one way where it is below 0 and the other where it is above 1, chequered where it is not a
 * number.
 */
export const tapped = (components: number): string => {
  const [shown, value] = SHOWN[Math.min(components, 3) - 1]!;
  return `${SCENE}${DEPTH}${BACKDROP}
${ENCODE}${MARKED}void main() {
  vec4 scene = texture(source, at);
  color = vec4(${OUTSIDE} ? backdrop() : marked(${shown}, ${value}), 1.0);
}`;
};

/** How the finished light is looked at. */
export const judgedBy: Readonly<Record<Judged, string>> = {
  // Before exposure, marked as a value is.
  range: `${SCENE}${BACKDROP}
${ENCODE}${MARKED}void main() {
  vec4 scene = texture(source, at);
  vec3 grey = encode(vec3(clamp(dot(scene.rgb, vec3(0.2126, 0.7152, 0.0722)), 0.0, 1.0)));
  color = vec4(scene.a == 0.0 ? backdrop() : marked(grey, scene.rgb), 1.0);
}`,
  // What stands there, dimmed, and the plane of distances as it is.
  field: `${SCENE}${BACKDROP}
uniform float exposure;
${ENCODE}void main() {
  vec4 scene = texture(source, at);
  vec3 light = encode(clamp(scene.rgb * exposure * 0.35, 0.0, 1.0));
  vec3 around = mix(backdrop() * 0.5, light, clamp(scene.a, 0.0, 1.0));
  color = vec4(mix(around, scene.rgb, clamp(scene.a - 1.0, 0.0, 1.0)), 1.0);
}`,
  // Nearer is lighter, with a line every metre ahead.
  depth: `${DEPTH}${BACKDROP}
uniform vec2 reach;
vec3 farness() {
  float d = texture(depth, at).r;
  if (d >= 1.0) return backdrop();
  float metres = reach.x * reach.y / (reach.y - d * (reach.y - reach.x));
  float slope = fwidth(metres);
  float line = slope < 0.4 ? smoothstep(0.0, 1.5, abs(fract(metres - 0.5) - 0.5) / max(slope, 1e-3)) : 1.0;
  return vec3(0.08 + 0.84 * exp2(-metres / 5.0)) * mix(0.25, 1.0, line);
}
void main() { color = vec4(farness(), 1.0); }`,
  // Uv in numbered tenths.
  chequer: `${SCENE}${DEPTH}${BACKDROP}
/** Digits of three columns and five rows, from the top left, a bit each. */
const int DIGITS[10] = int[10](31599, 11415, 29671, 29647, 23497, 31183, 31215, 29257, 31727, 31695);
float inkOf(int digit, ivec2 at) {
  if (at.x < 0 || at.x > 2 || at.y < 0 || at.y > 4) return 0.0;
  return float((DIGITS[digit] >> (14 - at.y * 3 - at.x)) & 1);
}
/** Ten by ten fields, each with its tenths of u and of v; a line where u is 0, and another where v is. */
vec3 chequer(vec2 uv) {
  vec2 within = fract(uv) * 10.0;
  ivec2 tenths = min(ivec2(within), ivec2(9));
  vec2 slope = max(fwidth(uv) * 10.0, 1e-5);
  float far = smoothstep(0.06, 0.18, max(slope.x, slope.y));
  vec3 light = mix(vec3(0.86, 0.82, 0.74), vec3(0.98, 0.93, 0.8), fract(uv.x));
  vec3 dark = mix(vec3(0.16, 0.2, 0.24), vec3(0.34, 0.26, 0.2), fract(uv.y));
  bool isLight = (tenths.x + tenths.y) % 2 == 0;
  vec2 field = within - vec2(tenths);
  ivec2 dot = ivec2(int(field.x * 9.0), 6 - int(field.y * 7.0));
  float ink = max(inkOf(tenths.x, dot - ivec2(1, 1)), inkOf(tenths.y, dot - ivec2(5, 1))) * (1.0 - far);
  vec3 shown = mix(isLight ? light : dark, isLight ? dark : light, ink * 0.85);
  shown = mix(shown, (light + dark) * 0.5, smoothstep(0.5, 1.5, max(slope.x, slope.y)));
  vec2 edge = min(fract(uv), 1.0 - fract(uv)) * 10.0 / slope;
  if (edge.x < 1.2) shown = vec3(0.54, 0.12, 0.1);
  if (edge.y < 1.2) shown = vec3(0.37, 0.45, 0.04);
  return shown;
}
void main() { color = vec4(${OUTSIDE} ? backdrop() : chequer(texture(source, at).rg), 1.0); }`,
  // What all that is drawn at a pixel comes to.
  paid: `${SCENE}${DEPTH}${BACKDROP}
/** A step of grey for each quarter of a budget; above the whole of it striped, the more closely the further. */
vec3 paid(float share) {
  vec3 grey = vec3(0.12 + 0.8 * min(floor(share * 4.0), 4.0) / 4.0);
  if (share <= 1.0) return grey;
  float width = max(12.0 / floor(share + 1.0), 3.0);
  return mod(gl_FragCoord.x + gl_FragCoord.y, width) < width * 0.5 ? vec3(0.541, 0.122, 0.106) : vec3(0.92);
}
void main() {
  float share = texture(source, at).r;
  color = vec4(${OUTSIDE} && share == 0.0 ? backdrop() : paid(share), 1.0);
}`,
};
