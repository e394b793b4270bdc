import { readFileSync } from 'node:fs';
import { compileShader } from '#core/compileShader.ts';
import { emptyShader, type ShaderDocument } from '#core/document/shader.ts';
import { prepare } from '#core/emit/columns/evaluate.ts';
import { PLANE, worleyFn } from '#core/operators/noiseFunctions.ts';
import { createBuilder } from '#core/program/builder.ts';
import { createSandbox } from '#script/createSandbox.ts';
import { ratio, timeOf, type Figure } from './measure.ts';

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
  const [few, many] = [shaderOf(12), shaderOf(200)];
  const [a, b] = [timeOf(() => compileShader(few)), timeOf(() => compileShader(many))];
  return [
    {
      name: 'compile 200 steps against 12',
      value: ratio(b, a),
      against: `× ${(200 / 12).toFixed(2)} would be linear; 200 steps took ${b.toFixed(1)} ms`,
    },
  ];
};

const fround = Math.fround;
/** The same cellular noise as a person would write it for a CPU: one loop over points, numbers in locals. */
const worleyByHand = (uv: Float32Array, out: Float32Array, count: number, cells: number): void => {
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
    out[p] = Math.sqrt(nearest);
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

const ticking = async (): Promise<Figure[]> => {
  const names = Array.from({ length: 100 }, (_, i) => `p${i}`);
  const source = `const m = material('m'); onTick((dt) => { ${names.map((name) => `m.${name} = m.${name} + dt;`).join(' ')} });`;
  const prelude = readFileSync(new URL('../src/script/prelude.js', import.meta.url), 'utf8');
  const parameters = names.map((name) => ({ name, kind: 'float' as const, value: [0] }));
  const sandbox = await createSandbox({ materials: [{ id: 'm', name: 'm', parameters }], seed: 1, prelude });
  sandbox.load(source);
  const boxed = timeOf(() => sandbox.tick([]));
  sandbox.dispose();
  const m: Record<string, number> = Object.fromEntries(names.map((name) => [name, 0]));
  const plain = timeOf(() => {
    for (let repeat = 0; repeat < 100; repeat += 1) for (const name of names) m[name] = m[name]! + 1 / 60;
  });
  return [
    {
      name: 'a tick with 100 writes in the sandbox',
      value: ratio(boxed, plain / 100),
      against: `the same in plain JavaScript; the tick took ${((boxed / (1000 / 60)) * 100).toFixed(1)} % of a sixtieth of a second`,
    },
  ];
};

export const coreFigures = async (): Promise<Figure[]> => [
  ...compiling(),
  ...columns(),
  ...(await ticking()),
];
