import type { Page } from '@playwright/test';
import type { Column } from '#core/program/kernels/column.ts';
import { writeFunctions } from '#core/emit/source/statements.ts';
import { createWgsl, WGSL_TYPES } from '#core/emit/wgsl/spell.ts';
import { createBuilder } from '#core/program/builder.ts';
import { baseOf, componentsOf, type Type } from '#core/program/types.ts';
import { functionsOf, reachable, type ProgramFunction } from '#core/program/value.ts';
import { COUNT } from './probe.ts';

/** What a compute shader has not: neighbours, and here no textures. */
const NOT_HERE: ReadonlySet<string> = new Set(['dFdx', 'dFdy', 'fwidth', 'texture']);

/** True where a function can be run alone in WGSL, point by point. */
export const runsInWgsl = (fn: ProgramFunction): boolean =>
  [fn, ...functionsOf(reachable([fn.result]))].every(
    (each) => !each.opaque && reachable([each.result]).every((value) => !NOT_HERE.has(value.op)),
  ) && fn.parameters.every((each) => each.type !== 'sampler2D');

/** Numbers are carried as the bits of 32-bit words. */
const read = (type: Type, at: number): string => {
  const word = (c: number) => `given[${(at + c) * COUNT}u + i]`;
  const kind = WGSL_TYPES[baseOf(type)];
  const parts = Array.from({ length: componentsOf(type) }, (_, c) =>
    type === 'bool' ? `(${word(c)} != 0u)` : `bitcast<${kind}>(${word(c)})`,
  );
  return parts.length > 1 ? `${WGSL_TYPES[type]}(${parts.join(', ')})` : parts[0]!;
};
const write = (type: Type): string[] =>
  Array.from({ length: componentsOf(type) }, (_, c) => {
    const part = componentsOf(type) > 1 ? `result.${'xyzw'[c]}` : 'result';
    return `  made[${c * COUNT}u + i] = ${type === 'bool' ? `u32(${part})` : `bitcast<u32>(${part})`};`;
  });

const harness = (fn: ProgramFunction): string => {
  const b = createBuilder();
  const call = b.call(fn, ...fn.parameters.map((each, i) => b.argument(each.type, i)));
  let at = 0;
  const given = fn.parameters.map(({ type }) => {
    const text = read(type, at);
    at += componentsOf(type);
    return text;
  });
  return [
    '@group(0) @binding(0) var<storage, read> given: array<u32>;',
    '@group(0) @binding(1) var<storage, read_write> made: array<u32>;',
    // Numbers known while compiling that are no numbers are refused; a variable hides them.
    'var<private> nanBits: u32 = 0x7fc00000u;',
    'var<private> infinityBits: u32 = 0x7f800000u;',
    ...writeFunctions(createWgsl('vertex'), [call]),
    '@compute @workgroup_size(64) fn main(@builtin(global_invocation_id) at: vec3u) {',
    '  let i = at.x;',
    // Used or not, it is bound.
    '  _ = given[0];',
    `  let result = ${fn.name}(${given.join(', ')});`,
    ...write(fn.result.type),
    '}',
  ].join('\n');
};

/** Runs in the page: computes every point with WebGPU; words come and go as base64. */
const compute = async (given: { readonly code: string; readonly words: string; readonly bytes: number }) => {
  const page = globalThis as unknown as { fuzzDevice?: GPUDevice };
  page.fuzzDevice ??= await (await navigator.gpu.requestAdapter())!.requestDevice();
  const device = page.fuzzDevice;
  const words = Uint8Array.fromBase64(given.words);
  const buffer = (size: number, usage: number) => device.createBuffer({ size: Math.max(size, 16), usage });
  const input = buffer(words.length, GPUBufferUsage.STORAGE | GPUBufferUsage.COPY_DST);
  device.queue.writeBuffer(input, 0, words);
  const output = buffer(given.bytes, GPUBufferUsage.STORAGE | GPUBufferUsage.COPY_SRC);
  const back = buffer(given.bytes, GPUBufferUsage.MAP_READ | GPUBufferUsage.COPY_DST);
  device.pushErrorScope('validation');
  const module = device.createShaderModule({ code: given.code });
  const pipeline = device.createComputePipeline({ layout: 'auto', compute: { module } });
  const refused = await device.popErrorScope();
  if (refused) return `!${refused.message}`;
  const encoder = device.createCommandEncoder();
  const pass = encoder.beginComputePass();
  pass.setPipeline(pipeline);
  const entries = [input, output].map((each, binding) => ({ binding, resource: { buffer: each } }));
  pass.setBindGroup(0, device.createBindGroup({ layout: pipeline.getBindGroupLayout(0), entries }));
  pass.dispatchWorkgroups(64);
  pass.end();
  encoder.copyBufferToBuffer(output, 0, back, 0, given.bytes);
  device.queue.submit([encoder.finish()]);
  await back.mapAsync(GPUMapMode.READ);
  const bytes = new Uint8Array(back.getMappedRange().slice(0));
  for (const each of [input, output, back]) each.destroy();
  return bytes.toBase64();
};

/**
 * Runs a function of the program at every point in the browser's WebGPU.
 * @returns its numbers, component after component, as the columns have them
 * @throws Error with the compiler's words and the source
 */
export const runWgsl = async (
  page: Page,
  fn: ProgramFunction,
  args: readonly Column[],
): Promise<Float32Array | Int32Array> => {
  const code = harness(fn);
  const words = Buffer.concat(
    args.map((arg) => {
      const all = arg.uniform
        ? (arg.data.constructor as Float32ArrayConstructor).from(
            { length: componentsOf(arg.type) * COUNT },
            (_, i) => arg.data[Math.floor(i / COUNT)]!,
          )
        : arg.data;
      return Buffer.from(all.buffer as ArrayBuffer, all.byteOffset, all.byteLength);
    }),
  ).toString('base64');
  const bytes = componentsOf(fn.result.type) * COUNT * 4;
  const made = await page.evaluate(compute, { code, words, bytes });
  if (made.startsWith('!')) throw new Error(`${fn.name}: ${made.slice(1)}\n${code}`);
  const { buffer } = Uint8Array.from(Buffer.from(made, 'base64'));
  return baseOf(fn.result.type) === 'float' ? new Float32Array(buffer) : new Int32Array(buffer);
};
