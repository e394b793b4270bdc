import assert from 'node:assert/strict';
import { test } from 'node:test';
import { programOf } from '../../compileShader.ts';
import { sketchParameter, sketchShader } from '../../document/sketch.ts';
import { OPERATORS } from '../../operators/catalogue.ts';
import { emitWgsl } from './emitWgsl.ts';

const PARAMETERS = [
  sketchParameter('picture', 'texture', []),
  sketchParameter('shape', 'curve', [0, 0, 1, 1, 1, 1, 1, 1]),
  sketchParameter('glow', 'gradient', [0, 0, 0, 0, 1, 1, 1, 1]),
  sketchParameter('amount', 'float', [0.5]),
];

/** The module for one expression, shown in whichever way its type allows. */
const moduleFor = (expression: string): string => {
  const ways = [
    { roughness: 'made' },
    { baseColor: 'made' },
    { roughness: 'made.x + made.y' },
    { roughness: 'float(made)' },
    { roughness: 'made[0].x' },
  ].map((outputs) => {
    const shader = sketchShader({ made: [['value', { x: expression }]] }, outputs, PARAMETERS);
    return { surface: shader.surface, program: programOf(shader).program };
  });
  const way = ways.find((each) => each.program);
  assert.ok(way?.program, `${expression} compiles in none of the ways it could be shown`);
  const { code, refused } = emitWgsl(way.program, { title: 't' });
  assert.equal(refused, undefined, expression);
  return code!;
};

/** WGSL's own words, as its specification lists them: keywords, types, attributes, and the functions we may use. */
const OWN = new Set(
  `fn let var struct for if else return uniform builtin group binding location vertex fragment diagnostic off
  derivative_uniformity position front_facing const break continue loop while true false override vertex_index
  f32 i32 u32 bool vec2f vec3f vec4f vec2i vec3i vec4i vec2u vec3u vec4u mat2x2f mat3x3f mat4x4f array texture_2d texture_3d sampler
  abs acos asin atan atan2 bitcast ceil clamp cos cross degrees determinant distance dot dpdx dpdy dpdxCoarse dpdyCoarse exp
  exp2 faceForward floor fma fract fwidth fwidthCoarse inverseSqrt length log log2 max min mix normalize pow radians reflect
  refract round saturate select sign sin sinh cosh tanh smoothstep sqrt step tan textureSample textureSampleLevel
  textureDimensions textureLoad transpose trunc all any discard`.split(/\s+/),
);

const unknownNames = (code: string): string[] => {
  const bare = code.replace(/\/\/[^\n]*/g, '');
  const declared = new Set(
    [...bare.matchAll(/\b(?:fn|let|var(?:<\w+>)?|struct|const)\s+(\w+)/g)].map((each) => each[1]!),
  );
  for (const [, name] of bare.matchAll(/(\w+)\s*:\s*[\w<]/g)) declared.add(name!);
  // Members and the suffixes of numbers are not names.
  return [...bare.matchAll(/(?<![.\w])[A-Za-z_]\w*/g)]
    .map(([name]) => name)
    .filter((name) => !OWN.has(name) && !declared.has(name));
};

const balanced = (code: string): boolean => {
  const open: string[] = [];
  for (const [sign] of code.replace(/\/\/[^\n]*/g, '').matchAll(/[()[\]{}]/g))
    if ('([{'.includes(sign)) open.push(sign);
    else if (open.pop() !== { ')': '(', ']': '[', '}': '{' }[sign]) return false;
  return open.length === 0;
};

test('every operator’s example becomes WGSL that uses only names WGSL or the module has', () => {
  for (const { name, example } of OPERATORS.values()) {
    const code = moduleFor(example!);
    assert.deepEqual(unknownNames(code), [], `${name}: ${example}`);
    assert.ok(balanced(code), name);
    assert.doesNotMatch(code, /\?|\+\+\)\s*\w+\s*;\s*\n\s*\+\+|\b(?:float|int|uint|vec[234]|mat3)\(/, name);
    assert.doesNotMatch(code, /NaN|undefined|Infinity/, name);
  }
});

test('where WGSL takes no scalar beside a vector, the scalar is spread', () => {
  const said = (expression: string, wanted: RegExp) =>
    assert.match(moduleFor(expression), wanted, expression);
  said('clamp(vec3(time), 0.0, 1.0)', /clamp\(vec3f\(time\), vec3f\(0\.0\), vec3f\(1\.0\)\)/);
  said('max(vec2(time), 0.25)', /max\(vec2f\(time\), vec2f\(0\.25\)\)/);
  said('smoothstep(0.0, amount, uv)', /vec2f\(/);
  said('step(0.5, uv)', /step\(vec2f\(0\.5\), uv\)/);
});

test('what GLSL leaves open is written out, and names that WGSL keeps are changed', () => {
  assert.match(moduleFor('mod(time, 0.3)'), /fn modulo\(x: f32, y: f32\)/);
  assert.match(moduleFor('pow(time, amount)'), /fn power\(x: f32, y: f32\)/);
  assert.match(moduleFor('float(int(time) / 2)'), /fn quotient\(a: i32, b: i32\)/);
  assert.match(moduleFor('texture(picture, uv).r'), /var picture: texture_2d<f32>;/);
  assert.match(moduleFor('texture(picture, uv).r'), /var picture_sampler: sampler;/);
  assert.match(moduleFor('uv.x > 0.5 ? amount : time'), /select\(.*uv\.x/);
});
