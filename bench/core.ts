import { readFileSync } from 'node:fs';
import { compileShader, programOf } from '#core/compileShader.ts';
import { sketchShader } from '#core/document/sketch.ts';
import { emptyShader, type ShaderDocument } from '#core/document/shader.ts';
import { shader as shaderKind } from '#core/document/kinds/shader.ts';
import { valueAt } from '#core/program/kernels/column.ts';
import { prepare } from '#core/evaluate/columns/evaluate.ts';
import type { Picture } from '#core/evaluate/points/points.ts';
import { evaluateAt, tablePictures } from '#core/taps/evaluatePoints.ts';
import { numbersFor } from '#core/time/values.ts';
import { bakeValue } from '#core/taps/bakeValue.ts';
import { importGlsl } from '#core/import/importGlsl.ts';
import { PLANE, worleyFn } from '#core/operators/noiseFunctions.ts';
import { createBuilder } from '#core/program/builder.ts';
import { ratio, timeOf, type Figure } from './measure.ts';
import { rehearsalFigures } from './rehearsal.ts';

/** A shader of n steps in strands of ten, each strand using the one above. */
const shaderOf = (n: number): ShaderDocument => ({
  ...emptyShader(),
  strands: Array.from({ length: Math.ceil(n / 10) }, (_, s) => ({
    id: `s${s}`,
    name: `strand${s}`,
    note: '',
    steps: Array.from({ length: Math.min(10, n - s * 10) }, (_, i) => ({
      id: `s${s}i${i}`,
      operator: i === 0 ? 'value' : (['add', 'multiply', 'smoothstep', 'remap', 'worley'] as const)[i % 4]!,
      arguments: (i === 0 ? { x: s === 0 ? 'uv.x' : `strand${s - 1} * 0.5 + uv.y` } : {}) as Record<
        string,
        string
      >,
    })),
  })),
});

const compiling = (): Figure[] => {
  const sizes = [10, 100, 1000, 10_000];
  const times = sizes.map((n) => {
    const shader = shaderOf(n);
    const made = compileShader(shader);
    if (made.diagnostics.length) throw new Error(JSON.stringify(made.diagnostics[0]));
    return timeOf(() => compileShader(shader));
  });
  return sizes.slice(1).map((n, i) => ({
    name: `compile ${n} steps against ${sizes[i]}`,
    value: ratio(times[i + 1]!, times[i]!),
    against: `× 10 would be linear; it took ${times[i + 1]!.toFixed(1)} ms, ${(times[i + 1]! / (1000 / 60)).toFixed(1)} frames`,
  }));
};

/** One strand of one operator, whose values all wish for one name. */
const compilingAlike = (): Figure => {
  const [less, more] = [500, 2000].map((n) => {
    const steps = Array.from({ length: n }, () => ['add', { y: 'uv.x' }] as const);
    const shader = sketchShader({ chain: [['value', { x: 'uv.y' }], ...steps] }, { roughness: 'chain' });
    return timeOf(() => compileShader(shader));
  }) as [number, number];
  return {
    name: 'compile 2,000 steps of one operator against 500',
    value: ratio(more, less),
    against: `× 4 would be linear; it took ${more.toFixed(0)} ms`,
  };
};

/** Many points as `veil evaluate` takes them, against one call on columns that are there already. */
const evaluating = (): Figure[] => {
  const count = 100_000;
  const { document: curtain } = shaderKind.parse(
    JSON.parse(readFileSync('demo/gallowglass/curtain-burn-away.shader.json', 'utf8')),
  );
  const { program } = programOf(curtain!);
  const strand = curtain!.strands.find((each) => each.name === 'order')!;
  const { value } = program!.taps.findLast((tap) => tap.strand === strand.id)!;
  const grey: Picture = {
    ...{ width: 1, height: 1, wrap: 'repeat', filter: 'nearest' },
    rgba: Float32Array.from([0.5, 0.5, 0.5, 1]),
  };
  const pictures = new Map([['orderPicture', grey]]);
  const points = Array.from({ length: count }, (_, i) => ({
    inputs: { uv: [(i % 317) / 317, i / count] },
    parameters: {},
  })).map((each, _, [first]) => ({ ...each, parameters: first!.parameters }));
  const uv = Float32Array.from(
    { length: count * 2 },
    (_, k) => points[k % count]!.inputs.uv[k < count ? 0 : 1]!,
  );
  const given = {
    ...{ count, inputs: { uv }, knobs: new Map() },
    parameters: numbersFor(curtain!.parameters, { values: {}, shared: {} }),
    pictures: new Map([...pictures, ...tablePictures(curtain!.parameters, { values: {}, shared: {} })]),
  };
  const batched = timeOf(() => {
    const [column] = prepare([value])(given);
    const values = new Array<readonly number[]>(count);
    for (let i = 0; i < count; i += 1) values[i] = valueAt(column!, i);
    return values;
  }, 1500);
  const asked = timeOf(() => evaluateAt(value, points, curtain!.parameters, pictures), 1500);
  return [
    {
      name: 'evaluate 100,000 points against one batched call',
      value: ratio(asked, batched),
      against: 'at most × 1.1',
    },
  ];
};

/** A fragment of so many lines: functions that use one another, uniforms, a main that uses them all. */
const fragmentOf = (lines: number): string => {
  const functions = Math.floor(lines / 8);
  const each = (i: number): string => `float f${i}(vec2 p, float k) {
  float sum = ${i ? `f${i - 1}(p, k)` : 'level'} * 0.5;
  for (int i = 0; i < 3; i++) {
    vec2 d = p - vec2(float(i) * 0.1, ${i}.0 * 0.01);
    sum += smoothstep(0.0, 1.0, length(d)) * k;
  }
  return sum > 2.0 ? fract(sum) : sum;
}`;
  return `precision highp float;
varying vec2 vUv;
uniform float level;
${Array.from({ length: functions }, (_, i) => each(i)).join('\n')}
void main() { gl_FragColor = vec4(vec3(f${functions - 1}(vUv, 0.5)), 1.0); }`;
};

const importing = (): Figure[] => {
  const [less, more] = [1000, 2000].map((lines) => {
    const source = fragmentOf(lines);
    const check = (): void => {
      const made = importGlsl(source);
      if (!made.document) throw new Error(JSON.stringify(made.problems));
      const { diagnostics } = compileShader(made.document);
      if (diagnostics.length) throw new Error(JSON.stringify(diagnostics[0]));
    };
    check();
    return timeOf(check);
  }) as [number, number];
  return [
    {
      name: 'import and check 2,000 lines of GLSL',
      value: ratio(more, less),
      against: `1,000 lines: × 2 would be linear; it took ${more.toFixed(0)} ms`,
    },
  ];
};

const fround = Math.fround;
/** The same cellular noise as a person would write it for a CPU: one loop over points, numbers in locals. */
const worleyByHand = (
  uv: ArrayLike<number>,
  out: Float32Array,
  count: number,
  cells: number,
  weight = 1,
): void => {
  for (let p = 0; p < count; p += 1) {
    const px = fround(uv[p]! * cells);
    const py = fround(uv[count + p]! * cells);
    const bx = Math.floor(px);
    const by = Math.floor(py);
    let nearest = 8;
    for (let i = 0; i < 9; i += 1) {
      const dx = (i % 3) - 1;
      const dy = ((i / 3) | 0) - 1;
      let u = (Math.imul((bx + dx) & 0xffffff, 1664525) + 1013904223) | 0;
      let v = (Math.imul((by + dy) & 0xffffff, 1664525) + 1013904223) | 0;
      let w = 1013904223;
      u = (u + Math.imul(v, w)) | 0;
      v = (v + Math.imul(w, u)) | 0;
      w = (w + Math.imul(u, v)) | 0;
      u ^= u >>> 16;
      v ^= v >>> 16;
      w ^= w >>> 16;
      u = (u + Math.imul(v, w)) | 0;
      v = (v + Math.imul(w, u)) | 0;
      const x = dx + (u >>> 8) * 2 ** -24 - (px - bx);
      const y = dy + (v >>> 8) * 2 ** -24 - (py - by);
      nearest = Math.min(nearest, x * x + y * y);
    }
    out[p] = out[p]! + weight * fround(Math.sqrt(nearest));
  }
};

const columns = (): Figure[] => {
  const count = 65_536;
  const uv = Float32Array.from({ length: count * 2 }, (_, i) => (i * 0.61803) % 1);
  const b = createBuilder();
  const noise = b.call(
    worleyFn(PLANE, 'straight', 'nearest'),
    b.multiply(b.input('uv'), 7),
    b.uint(0),
    b.int(0),
    b.float(1),
  );
  const run = prepare([noise]);
  const points = { count, inputs: { uv }, parameters: new Map(), knobs: new Map() };
  const out = new Float32Array(count);
  worleyByHand(uv, out, count, 7);
  const [column] = run(points);
  const apart = out.reduce((worst, x, i) => Math.max(worst, Math.abs(x - column!.data[i]!)), 0);
  if (apart > 1e-4) throw new Error(`the loop by hand computes something else: ${apart} apart`);
  const mine = timeOf(() => run(points));
  const plain = timeOf(() => worleyByHand(uv, out, count, 7));
  return [
    {
      name: 'columns against a plain loop',
      value: ratio(mine, plain),
      against: `cellular noise at ${count} points by hand, ${plain.toFixed(1)} ms`,
    },
  ];
};

/** A burning edge: little to compute at each point, so what is moved in and out of memory shows. */
const lightColumns = (): Figure => {
  const count = 65_536;
  const uv = Float32Array.from({ length: count * 2 }, (_, i) => (i * 0.61803) % 1);
  const b = createBuilder();
  const burn = b.parameter('float', 'burn');
  const grain = b.swizzle(b.input('uv'), 'x');
  const edge = b.smoothstep(burn, b.add(burn, 0.1), grain);
  const run = prepare([
    b.mix(b.constant('vec3', [4, 1.2, 0.1]), b.constant('vec3', [0.02, 0.02, 0.03]), edge),
  ]);
  const points = { count, inputs: { uv }, parameters: new Map([['burn', [0.4]]]), knobs: new Map() };
  const out = new Float32Array(count * 3);
  const low = fround(0.4);
  const high = fround(low + fround(0.1));
  const byHand = (): void => {
    for (let p = 0; p < count; p += 1) {
      const t = fround(Math.min(Math.max((uv[p]! - low) / (high - low), 0), 1));
      const k = fround(t * t * (3 - 2 * t));
      out[p] = fround(4 * (1 - k)) + fround(0.02 * k);
      out[count + p] = fround(1.2 * (1 - k)) + fround(0.02 * k);
      out[2 * count + p] = fround(0.1 * (1 - k)) + fround(0.03 * k);
    }
  };
  byHand();
  const [column] = run(points);
  const apart = out.reduce((worst, x, i) => Math.max(worst, Math.abs(x - column!.data[i]!)), 0);
  if (apart > 1e-5) throw new Error(`the edge by hand is something else: ${apart} apart`);
  const mine = timeOf(() => run(points));
  const plain = timeOf(byHand);
  return {
    name: 'columns against a plain loop, light work',
    value: ratio(mine, plain),
    against: `a burning edge at ${count} points by hand, ${plain.toFixed(2)} ms`,
  };
};

/** The reference evaluator's own job: a square picture of four octaves, as veil bakes it. */
const baking = (): Figure => {
  const size = 1024;
  const octaves = [1, 2, 4, 8].map((k) => `worley(uv * ${k * 4}.0) * ${1 / k}${k === 1 ? '.0' : ''}`);
  const shader = sketchShader({ cells: [['value', { x: octaves.join(' + ') }]] }, { roughness: 'cells' });
  const { program } = programOf(shader);
  const { value } = program!.taps.findLast((each) => each.strand === 's-cells')!;
  const uv = new Float32Array(2 * size * size);
  for (let i = 0; i < size * size; i += 1) {
    uv[i] = ((i % size) + 0.5) / size;
    uv[size * size + i] = 1 - (Math.floor(i / size) + 0.5) / size;
  }
  const out = new Float32Array(size * size);
  const plainly = (): void => {
    out.fill(0);
    for (const k of [1, 2, 4, 8]) worleyByHand(uv, out, size * size, k * 4, 1 / k);
  };
  const began = performance.now();
  const { numbers } = bakeValue(value, {
    width: size,
    height: size,
    parameters: new Map(),
    pictures: new Map(),
  });
  const mine = performance.now() - began;
  const plain = timeOf(plainly, 0);
  const apart = out.reduce((worst, x, i) => Math.max(worst, Math.abs(x - numbers[i]!)), 0);
  if (apart > 1e-4) throw new Error(`the bake by hand is something else: ${apart} apart`);
  return {
    name: 'a 1024² bake of four octaves of cells',
    value: ratio(mine, plain),
    against: `a plain loop, which fills no columns; the bake took ${(mine / 1000).toFixed(1)} s`,
  };
};

export const coreFigures = async (): Promise<Figure[]> => [
  ...compiling(),
  compilingAlike(),
  ...importing(),
  ...evaluating(),
  ...columns(),
  lightColumns(),
  baking(),
  ...(await rehearsalFigures()),
];
