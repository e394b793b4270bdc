import assert from 'node:assert/strict';
import { test } from 'node:test';
import { OPERATORS } from './catalogue.ts';
import { UV, P, N, V, T, CAMERA, TIME, flat, at, close } from './atOnePoint.testing.ts';

// ---- the field's formulas, written down once more by hand

const {
  abs,
  acos,
  asin,
  atan2,
  ceil,
  cos,
  exp,
  floor,
  hypot,
  log,
  log2,
  max,
  min,
  PI,
  sin,
  sqrt,
  tan,
  trunc,
} = Math;
const sat = (x: number) => min(max(x, 0), 1);
const fract = (x: number) => x - floor(x);
const smooth = (t: number) => sat(t) ** 2 * (3 - 2 * sat(t));
const dot = (a: readonly number[], b: readonly number[]) => a.reduce((sum, x, i) => sum + x * b[i]!, 0);
const sub = (a: readonly number[], b: readonly number[]) => a.map((x, i) => x - b[i]!);
const scaled = (a: readonly number[], k: number) => a.map((x) => x * k);
const unit = (a: readonly number[]) => scaled(a, 1 / hypot(...a));
const cross = ([a, b, c]: readonly number[], [x, y, z]: readonly number[]) => [
  b! * z! - c! * y!,
  c! * x! - a! * z!,
  a! * y! - b! * x!,
];
const turn = ([x, y]: readonly number[], turns: number) => {
  const [c, s] = [cos(2 * PI * turns), sin(2 * PI * turns)];
  return [c * x! - s * y!, s * x! + c * y!];
};
const [u, v] = UV;
const color = [0.8, 0.3, 0.1];
const COLOR = 'vec3(0.8, 0.3, 0.1)';
const over = [0.2, 0.6, 0.9];
const OVER = 'vec3(0.2, 0.6, 0.9)';
const luma = 0.2126 * 0.8 + 0.7152 * 0.3 + 0.0722 * 0.1;
const toLinear = (c: number) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
const toSrgb = (c: number) => (c <= 0.0031308 ? c * 12.92 : 1.055 * c ** (1 / 2.4) - 0.055);
const blended = (f: (x: number, y: number) => number) => color.map((x, i) => x + (f(x, over[i]!) - x) * 0.5);
/** As W3C’s Compositing and Blending Level 1 has them, the backdrop first. */
const softLight = (x: number, y: number) =>
  y <= 0.5
    ? x - (1 - 2 * y) * x * (1 - x)
    : x + (2 * y - 1) * ((x <= 0.25 ? ((16 * x - 12) * x + 4) * x : sqrt(x)) - x);
const dodge = (x: number, y: number) => (x === 0 ? 0 : y === 1 ? 1 : min(1, x / (1 - y)));
const burn = (x: number, y: number) => (x === 1 ? 1 : y === 0 ? 0 : 1 - min(1, (1 - x) / y));
const unpack = (n: readonly number[]) => n.map((x) => x * 2 - 1);
const pack = (n: readonly number[]) => n.map((x) => x * 0.5 + 0.5);
const BASE = [0.6, 0.55, 0.95];
const DETAIL = [0.4, 0.62, 0.9];
const base = unpack(BASE);
const detail = unpack(DETAIL);
const combined = (n: readonly number[]) => pack(unit(n));
const NORMALS = 'vec3(0.6, 0.55, 0.95), vec3(0.4, 0.62, 0.9), 1.0';
const light = unit([0.4, 0.8, 0.45]);
const gauss = (r: number, variance: number) => exp((-r * r) / (2 * variance)) / (2 * PI * variance);
const PROFILE: readonly (readonly [number, readonly number[]])[] = [
  [0.0064, [0.233, 0.455, 0.649]],
  [0.0484, [0.1, 0.336, 0.344]],
  [0.187, [0.118, 0.198, 0]],
  [0.567, [0.113, 0.007, 0.007]],
  [1.99, [0.358, 0.004, 0]],
  [7.41, [0.078, 0, 0]],
];
const ringAt = (centre: readonly number[], age: number, life: number) => {
  const away = hypot(...sub(P, centre));
  return (
    (cos(2 * PI * (1 - 4 * away + 2 * age)) * 0.5 + 0.5) * sat(1 - age / life) * (4 * away <= 2 * age ? 1 : 0)
  );
};
const turnedUv = turn([u - 0.5, v - 0.5], 0.125);

/** An expression, and what it must come to. */
const CASES: readonly (readonly [string, number | readonly number[]])[] = [
  ['value(uv.x)', u],
  ['cameraDistance()', hypot(...sub(P, CAMERA))],
  ['sceneDepth()', 6],
  ['depthGap()', 6 - 4.5],
  ['sceneColor()', [6, 0.5, 0.25]],
  ['sceneLevel(screenUv, 1.5)', [6, 0.5, 0.25]],
  ['sceneBlurred(screenUv, 0.5)', [6, 0.5, 0.25]],
  ['surfaceNearness(0.5)', 1 - 0.2 / 0.5],
  // numbers
  ['add(uv, 0.25)', [u + 0.25, v + 0.25]],
  ['subtract(uv.x, 1.0)', u - 1],
  ['multiply(uv, uv)', [u * u, v * v]],
  ['divide(uv.x, uv.y)', u / v],
  ['power(uv.x, 3.0)', u ** 3],
  ['power(-2.0, 2.0)', 0],
  ['min(uv.x, uv.y)', u],
  ['max(uv.x, uv.y)', v],
  ['mod(-0.3, 0.25)', -0.3 - 0.25 * floor(-0.3 / 0.25)],
  ['negate(uv.x)', -u],
  ['abs(uv - 0.5)', [0.2, 0.2]],
  ['sign(vec3(-2.0, 0.0, 3.0))', [-1, 0, 1]],
  ['fract(-0.3)', fract(-0.3)],
  ['floor(-1.2)', floor(-1.2)],
  ['ceil(1.2)', ceil(1.2)],
  ['round(vec2(1.5, -1.5))', [2, -1]],
  ['trunc(-1.7)', trunc(-1.7)],
  ['sqrt(uv.x)', sqrt(u)],
  ['sqrt(-4.0)', 0],
  ['inversesqrt(uv.x)', 1 / sqrt(u)],
  ['exp(uv.x)', exp(u)],
  ['exp2(uv.x)', 2 ** u],
  ['log(uv.x)', log(u)],
  ['log(0.0)', log(2 ** -126)],
  ['log2(uv.x)', log2(u)],
  ['sin(uv.x)', sin(u)],
  ['cos(uv.x)', cos(u)],
  ['tan(uv.x)', tan(u)],
  ['asin(uv.x)', asin(u)],
  ['asin(3.0)', PI / 2],
  ['acos(uv.x)', acos(u)],
  ['atan(uv.y)', atan2(v, 1)],
  ['atan(uv.y - 1.0, -uv.x)', atan2(v - 1, -u)],
  ['atan(0.0, 0.0)', 0],
  ['radians(90.0)', PI / 2],
  ['degrees(uv.x)', (u * 180) / PI],
  // shaping
  ['step(0.5, uv)', [0, 1]],
  ['smoothstep(0.2, 0.8, uv.x)', smooth(0.1 / 0.6)],
  ['smoothstep(0.8, 0.2, uv.x)', 1 - smooth(0.1 / 0.6)],
  ['mix(uv.x, uv.y, 0.25)', u * 0.75 + v * 0.25],
  ['clamp(uv, 0.4, 0.6)', [0.4, 0.6]],
  ['saturate(uv * 2.0)', [0.6, 1]],
  ['remap(uv.x, 0.2, 0.8, -1.0, 3.0)', -1 + (0.1 / 0.6) * 4],
  ['invert(uv.x)', 1 - u],
  ['band(uv.x, 0.25, 0.1, 0.1)', ((u - 0.25) / 0.1) * ((0.35 - u) / 0.1)],
  ['quantise(uv.x, 5.0)', floor(u * 5) / 4],
  ['quantise(1.0, 5.0)', 1],
  ['wave(uv.x)', sin(2 * PI * u) * 0.5 + 0.5],
  ['wave(uv.x, 0.0, triangle)', 1 - abs(fract(u + 0.25) * 2 - 1)],
  ['wave(uv.x, 0.0, square)', 1],
  ['wave(uv.y, 0.0, square)', 0],
  ['wave(uv.x, 0.9, saw)', fract(u + 0.9)],
  ['wave(uv.x, 0.0, sine, true)', sin(2 * PI * u)],
  ['ease(uv.x, in, 3.0)', u ** 3],
  ['ease(uv.x, out, 3.0)', 1 - (1 - u) ** 3],
  ['ease(uv.x, inOut, 3.0)', (2 * u) ** 3 / 2],
  ['ease(uv.y, inOut, 3.0)', 1 - (2 * (1 - v)) ** 3 / 2],
  ['ease(uv.x, smoother)', u ** 3 * (u * (u * 6 - 15) + 10)],
  ['ease(uv.x, overshoot, 2.0)', 1 + 3 * (u - 1) ** 3 + 2 * (u - 1) ** 2],
  ['curve(0.0, shape)', 0],
  ['curve(2.0, shape)', 0.5],
  ['curve(64.0 / 255.0, shape)', smooth(64 / 255 / 0.5)],
  // uv
  ['tile(uv, vec2(4.0, 2.0))', [u * 4, v * 2]],
  ['offset(uv, vec2(0.1, -0.1))', [u + 0.1, v - 0.1]],
  ['scroll(uv, vec2(0.1, 0.2))', [u + 0.1 * TIME, v + 0.2 * TIME]],
  ['rotate(uv, 0.125)', [turnedUv[0]! + 0.5, turnedUv[1]! + 0.5]],
  [
    'swirl(uv, 0.5, 0.4)',
    turn([u - 0.5, v - 0.5], 0.5 * (1 - hypot(0.2, 0.2) / 0.4) ** 2).map((x) => x + 0.5),
  ],
  ['polar(uv)', [fract(atan2(0.2, -0.2) / (2 * PI)), hypot(0.2, 0.2)]],
  ['flipbook(uv, 4, 2, 5.0)', [(u + 1) / 4, (v + 0) / 2]],
  ['flipbook(uv, 4, 2, 8.0)', [u / 4, (v + 1) / 2]],
  ['planar(position, y, 0.5)', [P[0] / 0.5, P[2] / 0.5]],
  ['planar(position, x, 0.5)', [P[2] / 0.5, P[1] / 0.5]],
  // falloffs
  ['sphereFalloff(position, vec3(0.0, 1.0, 0.0), 1.0, 0.5)', sat((1 - hypot(0.4, 0.2, 0.5)) / 0.5)],
  [
    'boxFalloff(position, vec3(0.0, 1.0, 0.0), vec3(1.0, 1.0, 1.4), 0.5)',
    (0.1 / 0.5) * (0.3 / 0.5) * (0.2 / 0.5),
  ],
  ['ellipse(uv, vec2(0.5), vec2(0.8, 1.2), 2.0)', sat((1 - hypot(0.5, 1 / 3)) * 2)],
  ['rectangle(uv, vec2(0.5), vec2(0.5, 1.0), 0.0, 0.1)', sat(0.05 / 0.1) * 1],
  ['rectangle(uv, vec2(0.5), vec2(0.1, 1.0), 0.125, 0.1)', sat(0.05 / 0.1)],
  ['ring(uv, vec2(0.5), 0.3, 0.1)', sat(1 - (2 * abs(hypot(0.2, 0.2) - 0.3)) / 0.1)],
  ['distanceFalloff(position, cameraPosition, 10.0, 2.0)', (hypot(...sub(P, CAMERA)) / 10) ** 2],
  ['heightFalloff(position, 1.0, 0.5)', 0.2 / 0.5],
  ['facing(normal, viewDirection, 2.0, 0.1)', 0.1 + 0.9 * (1 - dot(N, V)) ** 2],
  [
    'rings(position, 4.0, 2.0, 0.5, 2.0, vec4(0.4, 1.0, -0.5, 0.7), vec4(0.4, 1.2, -0.2, 1.1))',
    ((ringAt([0.4, 1, -0.5], 0.7, 2) + ringAt([0.4, 1.2, -0.2], 1.1, 2)) * 0.5) / 4,
  ],
  // vectors
  ['length(uv)', hypot(u, v)],
  ['distance(position, cameraPosition)', hypot(...sub(P, CAMERA))],
  ['normalize(position)', unit(P)],
  ['normalize(vec3(0.0))', [0, 0, 0]],
  ['dot(normal, viewDirection)', dot(N, V)],
  ['cross(normal, tangent)', cross(N, T)],
  ['reflect(-viewDirection, normal)', sub(scaled(V, -1), scaled(N, 2 * dot(N, scaled(V, -1))))],
  [
    'refract(-viewDirection, normal, 0.75)',
    (() => {
      const i = scaled(V, -1);
      const d = dot(N, i);
      const k = 1 - 0.75 ** 2 * (1 - d * d);
      return sub(scaled(i, 0.75), scaled(N, 0.75 * d + sqrt(k)));
    })(),
  ],
  ['refract(vec3(1.0, 0.0, 0.0), vec3(0.0, 1.0, 0.0), 1.5)', [0, 0, 0]],
  ['extract(position, y)', P[1]],
  ['extract(uv, z)', 0],
  ['combine2(uv.y, uv.x)', [v, u]],
  ['combine3(uv.x, uv.y, 0.5)', [u, v, 0.5]],
  ['combine4(uv.x)', [u, 0, 0, 1]],
  ['rotateAbout(vec3(1.0, 0.0, 0.0), vec3(0.0, 2.0, 0.0), 0.25)', [0, 0, -1]],
  // The prop stands at (1, 0, 0), twice as large, its x axis along −z.
  ['changeSpace(vec3(1.0, 0.0, 0.0), object, world, point)', [1, 0, -2]],
  ['changeSpace(vec3(1.0, 0.0, -2.0), world, object, point)', [1, 0, 0]],
  ['changeSpace(vec3(1.0, 0.0, 0.0), object, world, direction)', [0, 0, -2]],
  ['changeSpace(position, world, view, point)', [0.4, 0.2, -4.5]],
  ['changeSpace(position, world, world, point)', P],
  // colour
  [`luminance(${COLOR})`, luma],
  [`mean(${COLOR})`, 0.4],
  [`contrast(${COLOR}, 2.0, 0.5)`, color.map((c) => (c - 0.5) * 2 + 0.5)],
  [`saturation(${COLOR}, 0.25)`, color.map((c) => luma + (c - luma) * 0.25)],
  [`hue(${COLOR}, 1.0 / 3.0)`, [0.1, 0.8, 0.3]],
  [`exposure(${COLOR}, 2.0)`, scaled(color, 4)],
  ['srgbToLinear(vec3(0.02, 0.5, 1.0))', [0.02, 0.5, 1].map(toLinear)],
  ['linearToSrgb(vec3(0.002, 0.5, 1.0))', [0.002, 0.5, 1].map(toSrgb)],
  ['gradientMap(0.25, glow)', scaled([1, 0.5, 0], 0.5)],
  ['gradientMap(1.0, glow)', [1, 1, 0.25]],
  [`blend(${COLOR}, ${OVER}, 0.5)`, blended((_, y) => y)],
  [`blend(${COLOR}, ${OVER}, 0.5, add)`, blended((x, y) => x + y)],
  [`blend(${COLOR}, ${OVER}, 0.5, subtract)`, blended((x, y) => x - y)],
  [`blend(${COLOR}, ${OVER}, 0.5, multiply)`, blended((x, y) => x * y)],
  [`blend(${COLOR}, ${OVER}, 0.5, screen)`, blended((x, y) => 1 - (1 - x) * (1 - y))],
  [
    `blend(${COLOR}, ${OVER}, 0.5, hardLight)`,
    blended((x, y) => (y < 0.5 ? 2 * x * y : 1 - (1 - x) * (2 - 2 * y))),
  ],
  [
    `blend(${COLOR}, ${OVER}, 0.5, overlay)`,
    blended((x, y) => (x < 0.5 ? 2 * x * y : 1 - (1 - y) * (2 - 2 * x))),
  ],
  [`blend(${COLOR}, ${OVER}, 0.5, softLight)`, blended(softLight)],
  [`blend(${COLOR}, ${OVER}, 0.5, darken)`, blended(min)],
  [`blend(${COLOR}, ${OVER}, 0.5, lighten)`, blended(max)],
  [`blend(${COLOR}, ${OVER}, 0.5, difference)`, blended((x, y) => abs(x - y))],
  [`blend(${COLOR}, ${OVER}, 0.5, dodge)`, blended(dodge)],
  [`blend(${COLOR}, ${OVER}, 0.5, burn)`, blended(burn)],
  ...[
    [0.2, 0.9],
    [0.25, 0.7],
    [0.9, 0.8],
    [0, 1],
    [1, 0],
    [0.5, 1],
    [0.5, 0],
    [1, 1],
    [0, 0],
  ].flatMap(([x, y]) =>
    Object.entries({ softLight, dodge, burn }).map(
      ([way, by]) =>
        [`blend(vec3(${x!.toFixed(2)}), vec3(${y!.toFixed(2)}), 1.0, ${way}).x`, by(x!, y!)] as const,
    ),
  ),
  // images: texels are a quarter wide; (0.3, 0.7) is the second column, the third row.
  ['sample(picture, uv)', [1 / 3, 2 / 3, 0.25, 1]],
  ['sample(picture, uv + 1.0)', [1 / 3, 2 / 3, 0.25, 1]],
  ['triplanar(picture, vec3(uv, 0.3), vec3(0.0, 0.0, 1.0))', [1 / 3, 2 / 3, 0.25, 1]],
  ['normalFromHeight(picture, uv, vec2(0.25), 1.0, red)', pack(unit([(0 - 2 / 3) * 5, 0, 1]))],
  [
    'heightThreshold(picture, vec2(0.1, 0.1), vec2(0.25), vec3(0.0, 0.1, 0.9), 2.0, red)',
    // To the left of the first column lies the last, for the picture repeats.
    [0, 0.1, 0.9].map((s) => max((1 / 3 + 1 + 0 + 0) / 4 - 0 - s, 0) * 2),
  ],
  [
    'shimmer(picture, uv, vec2(0.3, 0.6), vec2(1.0), vec2(0.0), vec2(1.0), vec2(0.25, 0.0))',
    [u + 0.3 * (1 / 3 - 0.5), v + 0.6 * (1 - 0.5)],
  ],
  [`slopeRelief(${COLOR}, 4.0)`, color],
  [`slopeRelief(${COLOR}, 4.0, red, width, alone)`, [0, 0, 0]],
  // normals
  ['unpackNormal(vec3(0.5, 0.75, 1.0))', [0, 0.5, 1]],
  ['packNormal(vec3(0.0, 0.5, 1.0))', [0.5, 0.75, 1]],
  ['normalStrength(vec3(0.6, 0.55, 0.95), 2.0)', combined([base[0]! * 2, base[1]! * 2, base[2]!])],
  [`combineNormals(${NORMALS}, mix)`, combined(detail)],
  [`combineNormals(${NORMALS}, add)`, combined(base.map((x, i) => x + detail[i]!))],
  [
    `combineNormals(${NORMALS}, whiteout)`,
    combined([base[0]! + detail[0]!, base[1]! + detail[1]!, base[2]! * detail[2]!]),
  ],
  [
    `combineNormals(${NORMALS}, baseHeight)`,
    combined([base[0]! + detail[0]!, base[1]! + detail[1]!, base[2]!]),
  ],
  [`combineNormals(${NORMALS}, unitHeight)`, combined([base[0]! + detail[0]!, base[1]! + detail[1]!, 1])],
  [
    `combineNormals(${NORMALS}, reoriented)`,
    (() => {
      const t = [base[0]!, base[1]!, base[2]! + 1];
      const d = [-detail[0]!, -detail[1]!, detail[2]!];
      return combined(sub(scaled(t, dot(t, d) / t[2]!), d));
    })(),
  ],
  [
    `combineNormals(${NORMALS}, basis)`,
    (() => {
      const [x, y, z] = base as [number, number, number];
      const sum = [0, 1, 2].map(
        (i) => [z, y, -x][i]! * detail[0]! + [x, z, -y][i]! * detail[1]! + base[i]! * detail[2]!,
      );
      return combined(sum);
    })(),
  ],
  ...['reoriented', 'mix', 'add', 'basis', 'whiteout', 'baseHeight', 'unitHeight'].map(
    (method) =>
      [
        `combineNormals(vec3(0.6, 0.55, 0.95), vec3(0.4, 0.62, 0.9), 0.0, ${method})`,
        combined(base),
      ] as const,
  ),
  // On a mirrored uv v grows the other way; on a back face the whole frame is turned.
  ['tangentToWorld(vec3(0.5, 1.0, 0.5))', cross(N, T)],
  ['tangentToWorld(vec3(0.5, 1.0, 0.5), normal, tangent, -bitangent)', scaled(cross(N, T), -1)],
  ['tangentToWorld(vec3(0.5, 1.0, 0.5), -normal, -tangent, -bitangent)', scaled(cross(N, T), -1)],
  ['tangentToWorld(vec3(1.0, 0.5, 0.5), -normal, -tangent, -bitangent)', scaled(T, -1)],
  ['tangentToWorld(vec3(0.5, 0.5, 1.0))', N],
  // light
  ['lambert(normal, vec3(0.4, 0.8, 0.45))', dot(N, light)],
  ['lambert(-normal, vec3(0.4, 0.8, 0.45))', 0],
  ['wrapLight(normal, vec3(0.4, 0.8, 0.45), 0.5)', sat((dot(N, light) + 0.5) / 1.5)],
  [
    'diffusionProfile(0.5)',
    [0, 1, 2].map((c) => PROFILE.reduce((sum, [variance, tint]) => sum + tint[c]! * gauss(0.5, variance), 0)),
  ],
  // slopes are nothing where the value is the same at all four pixels
  ['dFdx(uv.x)', 0],
  ['dFdy(uv)', [0, 0]],
  ['fwidth(uv.x)', 0],
  // logic
  ['less(uv.x, uv.y)', 1],
  ['greater(uv.x, uv.y)', 0],
  ['lessOrEqual(0.5, 0.5)', 1],
  ['greaterOrEqual(0.4, 0.5)', 0],
  ['near(0.5, 0.5004, 0.001)', 1],
  ['and(true, uv.x > 0.5)', 0],
  ['or(true, uv.x > 0.5)', 1],
  ['not(frontFacing)', 0],
  ['select(uv.x > 0.5, 2.0, 3.0)', 3],
  ['select(frontFacing, vec2(1.0), 0.0)', [1, 1]],
];

/** Their values hang on a hash; what must hold of them is tested below. */
const NOISES = [...OPERATORS.values()].filter((each) => each.family === 'noise').map((each) => each.name);
const SPREAD = ['blur', 'thicknessDifference'];

test('every operator comes to what its formula says', () => {
  for (const [expression, wanted] of CASES)
    close(at(expression), typeof wanted === 'number' ? [wanted] : [...wanted], expression);
});

test('no operator goes untested', () => {
  const seen = new Set([...CASES.map(([text]) => /^\w+/.exec(text)![0]), ...NOISES, ...SPREAD]);
  assert.deepEqual(
    [...OPERATORS.keys()].filter((name) => !seen.has(name)),
    [],
  );
});

test('every choice of a choosing operator is a word of its own and means something', () => {
  for (const each of OPERATORS.values())
    for (const [name, input] of Object.entries(each.inputs)) {
      if (input.type !== 'choice') continue;
      assert.ok(input.options!.length > 1, `${each.name}.${name}`);
      assert.equal(new Set(input.options).size, input.options!.length);
    }
});

test('a blur keeps what is even, and its weights sum to one', () => {
  for (const kind of ['gaussian', 'box'])
    for (const repeats of ['once', 'twice', 'thrice'])
      for (const taps of [2, 5, 9])
        close(
          at(`blur(picture, uv, vec2(0.1), ${taps}, ${kind}, ${repeats})`, {}, flat),
          [0.2, 0.4, 0.6, 1],
          `${kind} ${repeats} ${taps}`,
        );
  close(at('thicknessDifference(picture, uv)', {}, flat), [0], 'even thickness');
  const [narrow, wide] = [0.01, 0.3].map((r) => at(`blur(picture, vec2(0.1, 0.1), vec2(${r}), 9)`)[0]!);
  assert.ok(narrow! < 0.05 && wide! > 0.2, `a wide blur reaches brighter columns: ${narrow} ${wide}`);
});
