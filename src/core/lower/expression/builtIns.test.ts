import assert from 'node:assert/strict';
import { readFileSync } from 'node:fs';
import { test } from 'node:test';
import { programOf } from '../../compileShader.ts';
import { sketchShader } from '../../document/sketch.ts';
import { valueAt } from '../../program/kernels/column.ts';
import { evaluate } from '../../evaluate/columns/evaluate.ts';
import { BUILT_IN_NAMES } from '../../language/glsl/builtInNames.ts';

/** What an expression of GLSL comes to where uv is (0.3, 0.7); x and y are its parts. */
const valueOf = (type: string, expression: string): number[] => {
  const code = `${type} made(vec2 uv) {\n  float x = uv.x, y = uv.y;\n  return ${expression};\n}`;
  return valueOfStrands(expression, { made: [{ operator: 'code', code, arguments: {} }] });
};

/** The same, as an argument of the score. */
const argumentOf = (expression: string): number[] => {
  const value = (x: string) => [{ operator: 'value', arguments: { x } }];
  return valueOfStrands(expression, { x: value('uv.x'), y: value('uv.y'), made: value(expression) });
};

const valueOfStrands = (expression: string, strands: Parameters<typeof sketchShader>[0]): number[] => {
  const shader = sketchShader(strands);
  const { program, diagnostics } = programOf(shader);
  assert.ok(program, `${expression}: ${JSON.stringify(diagnostics)}`);
  const { value } = program.taps.findLast((each) => each.strand === 's-made')!;
  const points = { count: 1, inputs: { uv: [0.3, 0.7] }, parameters: new Map(), knobs: new Map() };
  return valueAt(evaluate([value], points)[0]!, 0);
};

const { sin, cos, tan, asin, acos, atan, sinh, cosh, tanh, asinh, acosh, atanh, exp, log, log2, sqrt } = Math;

/** Each built-in, and what it comes to by hand. */
const CASES: readonly (readonly [type: string, expression: string, wanted: readonly number[]])[] = [
  ['float', 'radians(x * 100.0)', [Math.PI / 6]],
  ['float', 'degrees(x)', [(0.3 * 180) / Math.PI]],
  ['vec2', 'sin(uv)', [sin(0.3), sin(0.7)]],
  ['float', 'cos(x) + tan(y)', [cos(0.3) + tan(0.7)]],
  ['float', 'asin(x) - acos(y)', [asin(0.3) - acos(0.7)]],
  ['float', 'atan(x)', [atan(0.3)]],
  ['float', 'atan(y, -x)', [Math.atan2(0.7, -0.3)]],
  ['float', 'sinh(x) + cosh(y)', [sinh(0.3) + cosh(0.7)]],
  ['vec2', 'tanh(vec2(-x, 50.0 * y))', [tanh(-0.3), 1]],
  ['vec2', 'asinh(vec2(x, -y))', [asinh(0.3), asinh(-0.7)]],
  ['float', 'acosh(1.0 + x)', [acosh(1.3)]],
  ['float', 'atanh(-y)', [atanh(-0.7)]],
  ['float', 'pow(x, 2.5)', [0.3 ** 2.5]],
  ['float', 'exp(x) + log(y)', [exp(0.3) + log(0.7)]],
  ['float', 'exp2(x) + log2(y)', [2 ** 0.3 + log2(0.7)]],
  ['float', 'sqrt(x) + inversesqrt(y)', [sqrt(0.3) + 1 / sqrt(0.7)]],
  ['vec2', 'abs(vec2(-x, y))', [0.3, 0.7]],
  ['int', 'abs(int(-x * 10.0))', [3]],
  ['vec3', 'sign(vec3(-x, 0.0, y))', [-1, 0, 1]],
  ['int', 'sign(int(-y * 10.0))', [-1]],
  ['vec2', 'floor(uv * -2.0)', [-1, -2]],
  ['vec2', 'ceil(uv * -2.0)', [0, -1]],
  ['vec2', 'trunc(uv * -4.0)', [-1, -2]],
  ['vec2', 'round(uv * 4.0)', [1, 3]],
  ['vec3', 'roundEven(vec3(0.5, 1.5, -x * 10.0 + 0.5))', [0, 2, -2]],
  ['vec2', 'fract(uv - 1.5)', [0.8, 0.2]],
  ['vec2', 'mod(uv * -10.0, 4.0)', [1, 1]],
  ['vec2', 'min(uv, 0.5)', [0.3, 0.5]],
  ['vec2', 'max(uv, vec2(0.4, 0.4))', [0.4, 0.7]],
  ['ivec2', 'max(ivec2(uv * 10.0), 5)', [5, 7]],
  ['vec2', 'clamp(uv, 0.4, 0.6)', [0.4, 0.6]],
  ['vec2', 'mix(uv, vec2(1.0), 0.5)', [0.65, 0.85]],
  ['vec2', 'mix(uv, vec2(9.0), bvec2(true, false))', [9, 0.7]],
  ['vec2', 'step(0.5, uv)', [0, 1]],
  ['float', 'smoothstep(0.0, 0.6, x)', [0.5]],
  ['bool', 'isnan(x / 0.0 * 0.0)', [1]],
  ['bool', 'isinf(x / 0.0) && !isinf(x)', [1]],
  ['float', 'length(uv) - distance(uv, vec2(0.0))', [0]],
  ['float', 'distance(uv, vec2(0.0, 0.3))', [0.5]],
  ['float', 'dot(uv, uv.yx)', [0.42]],
  ['vec3', 'cross(vec3(x, 0.0, 0.0), vec3(0.0, y, 0.0))', [0, 0, 0.21]],
  ['vec2', 'normalize(vec2(x * 10.0, 4.0))', [0.6, 0.8]],
  ['vec2', 'reflect(vec2(x, -y), vec2(0.0, 1.0))', [0.3, 0.7]],
  ['vec2', 'refract(vec2(0.6, -0.8), vec2(0.0, 1.0), 0.5)', [0.3, -sqrt(1 - 0.09)]],
  ['vec2', 'refract(vec2(0.6, -0.8), vec2(0.0, 1.0), 2.0)', [0, 0]],
  ['vec2', 'faceforward(uv, vec2(0.0, -1.0), vec2(0.0, 1.0))', [0.3, 0.7]],
  ['vec2', 'faceforward(uv, vec2(0.0, 1.0), vec2(0.0, 1.0))', [-0.3, -0.7]],
  ['vec2', 'matrixCompMult(mat2(x, y, 1.0, 2.0), mat2(2.0, 3.0, 4.0, 5.0)) * vec2(1.0, 0.0)', [0.6, 2.1]],
  ['vec2', 'outerProduct(uv, vec2(2.0, 3.0)) * vec2(0.0, 1.0)', [0.9, 2.1]],
  ['vec2', 'transpose(mat2(1.0, 2.0, 3.0, 4.0)) * uv', [0.3 + 1.4, 0.9 + 2.8]],
  ['float', 'determinant(mat3(2.0, 0.0, x, 0.0, 3.0, 0.0, 1.0, 0.0, 1.0))', [6 - 0.9]],
  ['vec3', 'inverse(mat3(2.0, 0.0, 0.0, 0.0, 4.0, 0.0, x, 0.0, 1.0)) * vec3(1.0)', [0.35, 0.25, 1]],
  ['vec2', 'inverse(mat2(1.0, 2.0, 3.0, 4.0)) * mat2(1.0, 2.0, 3.0, 4.0) * uv', [0.3, 0.7]],
  ['bool', 'all(lessThan(uv, vec2(0.7, 0.8))) && !any(lessThan(uv, vec2(0.3, 0.6)))', [1]],
  ['bool', 'all(lessThanEqual(uv, uv))', [1]],
  ['bool', 'any(greaterThan(uv, uv))', [0]],
  ['bool', 'all(greaterThanEqual(uv, vec2(0.3, 0.9)))', [0]],
  ['bool', 'all(equal(ivec2(uv * 10.0), ivec2(3, 7)))', [1]],
  ['bool', 'any(notEqual(uv, uv.xy))', [0]],
  ['bool', 'all(not(bvec2(x > y, x > 1.0)))', [1]],
];

test('every built-in of GLSL comes to what it is by hand, in code and in an argument', () => {
  for (const [type, authored, wanted] of CASES) {
    const wholes = type.startsWith('ivec');
    const expression = wholes ? `vec2(${authored})` : authored;
    for (const found of [valueOf(wholes ? 'vec2' : type, expression), argumentOf(expression)]) {
      assert.equal(found.length, wanted.length, expression);
      found.forEach((x, i) =>
        assert.ok(
          Math.abs(x - wanted[i]!) < 2e-6 * Math.max(1, Math.abs(wanted[i]!)),
          `${expression}: ${found.join()}`,
        ),
      );
    }
  }
});

test('no built-in goes untested', () => {
  const here = CASES.map(([, expression]) => expression).join();
  // Pictures, bits, packing and modf are tried beside the other things that are decided once.
  const beside = readFileSync(new URL('../oneMeaning.test.ts', import.meta.url), 'utf8');
  const tried = new Set([...`${here}${beside}`.matchAll(/\w+(?=\()/g)].map(([name]) => name));
  const renamed = /^texture2D|^(un)?packSnorm|^(un)?packUnorm|^textureProj|^textureGradOffset$/;
  const left = BUILT_IN_NAMES.filter((name) => !tried.has(name) && !renamed.test(name));
  assert.deepEqual(left, []);
});

test('built-ins called wrongly are told how they are called', () => {
  const said = (expression: string): string => {
    const code = `float made(vec2 uv) {\n  return ${expression};\n}`;
    const { diagnostics } = programOf(sketchShader({ made: [{ operator: 'code', code, arguments: {} }] }));
    const [first] = diagnostics;
    assert.ok(first, expression);
    assert.equal(code.slice(first.from).startsWith('\n'), false, 'it stands at the call');
    return first.message;
  };
  assert.match(said('sin(uv.x, 1.0)'), /sin takes 1 argument, not 2/);
  assert.match(said('atan()'), /atan takes 1 or 2 arguments, not 0/);
  assert.match(said('clamp(uv.x, 0.0)'), /clamp takes 3 arguments, not 2/);
  assert.match(said('smothstep(0.0, 1.0, uv.x)'), /Did you mean smoothstep\?/);
  assert.match(said('dot(uv, vec3(1.0))'), /vectors of one size, not vec2 and vec3/);
  assert.match(said('cross(uv, uv)'), /vec3/);
  assert.match(said('float(any(uv))'), /bvec2, bvec3 or bvec4, not a vec2/);
  assert.match(said('float(lessThan(uv.x, uv.y))'), /two vectors of one type, not a float with a float/);
  assert.match(said('transpose(uv).x'), /a square matrix, not a vec2/);
  assert.match(said('length(uv) ? 1.0 : 0.0'), /A condition is a bool, and this is a float/);
});

test('an argument says what it cannot hold, and where', () => {
  const said = (x: string): string => {
    const { diagnostics } = programOf(sketchShader({ made: [{ operator: 'value', arguments: { x } }] }));
    assert.equal(diagnostics.length, 1, x);
    return `${x.slice(diagnostics[0]!.from, diagnostics[0]!.to)}: ${diagnostics[0]!.message}`;
  };
  assert.match(said('ivec2(uv)'), /^ivec2\(uv\): An argument takes a number or a vector of floats.*an ivec2/);
  assert.match(
    said('sin(mat2(uv, uv))'),
    /^sin\(mat2\(uv, uv\)\): This takes numbers and vectors of them, not a mat2/,
  );
  assert.match(said('outerProduct(uv, vec3(1.0))[0]'), /cannot hold this: .* not square/);
  assert.match(said('modf(uv.x, uv.y)'), /Write trunc\(x\) or fract\(x\)/);
  assert.match(said('uv < uv.yx'), /lessThan\(a, b\)/);
  assert.match(said('uv[2]'), /^2: A vec2 has components 0 to 1/);
  assert.match(said('true ? 1.0 : true'), /One choice is a float, the other a bool/);
  assert.match(said('uv += 1.0'), /To compare, write ==/);
});
