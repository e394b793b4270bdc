import type { Page } from '@playwright/test';
import { programOf } from '#core/compileShader.ts';
import { shaderNumbers, type ShaderDocument } from '#core/document/shader.ts';
import { emitGlsl } from '#core/emit/glsl/emitGlsl.ts';
import { emitWgsl } from '#core/emit/wgsl/emitWgsl.ts';
import { evaluateFunction } from '#core/evaluate/columns/interpret.ts';
import { createBuilder, nextFunction } from '#core/program/builder.ts';
import { INPUTS, type InputName } from '#core/program/inputs.ts';
import { baseOf, componentsOf } from '#core/program/types.ts';
import { reachable, type Program, type ProgramFunction, type Value } from '#core/program/value.ts';
import { COUNT, createChance, MOST_AT_ONCE, randomArgument, runAll } from '../probe.ts';
import { runsInWgsl, runWgsl } from '../runWgsl.ts';
import type { Column } from '#core/program/kernels/column.ts';

/** Compiles both stages in WebGL 2, links them, and the module in WebGPU; gives the drivers' words where one refuses. */
const compileBoth = async (given: { vertex: string; fragment: string; wgsl: string }): Promise<string> => {
  const page = globalThis as unknown as { fuzzGl?: WebGL2RenderingContext; fuzzDevice?: GPUDevice };
  const gl = (page.fuzzGl ??= document.createElement('canvas').getContext('webgl2')!);
  const program = gl.createProgram();
  for (const [kind, source] of [
    [gl.VERTEX_SHADER, given.vertex],
    [gl.FRAGMENT_SHADER, given.fragment],
  ] as const) {
    const shader = gl.createShader(kind)!;
    gl.shaderSource(shader, source);
    gl.compileShader(shader);
    if (!gl.getShaderParameter(shader, gl.COMPILE_STATUS)) return `WebGL 2: ${gl.getShaderInfoLog(shader)}`;
    gl.attachShader(program, shader);
  }
  gl.linkProgram(program);
  const linked = gl.getProgramParameter(program, gl.LINK_STATUS) as boolean;
  const log = gl.getProgramInfoLog(program);
  gl.deleteProgram(program);
  if (!linked) return `WebGL 2, linking: ${log}`;

  if (!page.fuzzDevice) {
    const adapter = await navigator.gpu.requestAdapter();
    page.fuzzDevice = await adapter!.requestDevice();
  }
  const device = page.fuzzDevice;
  const module = device.createShaderModule({ code: given.wgsl });
  const { messages } = await module.getCompilationInfo();
  const wrong = messages.filter((each) => each.type === 'error');
  if (wrong.length)
    return `WebGPU: ${wrong.map((each) => `${each.lineNum}:${each.linePos} ${each.message}`).join('\n')}`;
  const sizes = [3, 3, 2, 2, 4, 4, 2, 3];
  device.pushErrorScope('validation');
  await device
    .createRenderPipelineAsync({
      layout: 'auto',
      vertex: {
        module,
        buffers: [
          {
            arrayStride: 92,
            attributes: sizes.map((n, i) => ({
              shaderLocation: i,
              format: `float32x${n}` as GPUVertexFormat,
              offset: sizes.slice(0, i).reduce((sum, each) => sum + each * 4, 0),
            })),
          },
        ],
      },
      fragment: { module, targets: [{ format: 'rgba16float' }] },
    })
    .catch(() => null);
  const error = await device.popErrorScope();
  return error ? `WebGPU, pipeline: ${error.message}` : '';
};

/** What outputs of a program read of what the shader is given. */
const readBy = (values: readonly Value[]): InputName[] => [
  ...new Set(reachable(values).flatMap((each) => (each.op === 'input' ? [each.payload as InputName] : []))),
];

/** One output of a program as a function of what is read; parameters stand at their defaults. */
const asFunction = (
  value: Value,
  document: ShaderDocument,
  reads: readonly InputName[],
  nudge = 1,
): ProgramFunction => {
  const numbers = new Map(
    document.parameters.map((each) => [each.name, shaderNumbers(each.kind, each.default)]),
  );
  const b = createBuilder();
  const values = reachable([value]);
  const made = new Map<Value, Value>();
  for (const each of values)
    made.set(
      each,
      each.op === 'input'
        ? b.argument(each.type, reads.indexOf(each.payload as InputName))
        : each.op === 'parameter'
          ? b.constant(each.type, numbers.get(each.payload as string)!)
          : each.op === 'constant' && nudge !== 1 && baseOf(each.type) === 'float'
            ? b.constant(
                each.type,
                (each.payload as readonly number[]).map((x) => x * nudge),
              )
            : b.intern(
                each.op,
                each.type,
                each.inputs.map((input) => made.get(input)!),
                each.payload,
                each.fn,
              ),
    );
  const parameters = reads.map((name) => ({ name: `given_${name}`, type: INPUTS[name].type }));
  const id = nextFunction();
  return { id, name: `probe${id}`, parameters, result: made.get(value)!, locals: new Map() };
};

/** How much of a value's error may come from the last bits of what it was made from. */
const SENSITIVITY = 96;
const TOLERANCE = 2e-3;
/** Points that may lie on a step's very edge. */
const MOST_APART = 0.02;

/** Each number moved a little, every one in a way of its own. */
const nudged = (column: Column, chance: () => number): Column => ({
  ...column,
  data:
    column.data instanceof Float32Array
      ? column.data.map((x) => x * (1 + (chance() - 0.5) * 2 ** -18) + (chance() - 0.5) * 2 ** -20)
      : column.data,
});
const NUDGES = 10;

/**
 * How many of a device's numbers differ from those of the columns by more than rounding can explain, and the first of them.
 * @param moved the columns once more, with all that they are made from moved a little
 */
const unlike = (
  numbers: ArrayLike<number>,
  columns: Column,
  moved: () => Column,
): { readonly apart: number; readonly first: string } => {
  const bound = (mine: number): number => TOLERANCE * Math.max(1, Math.abs(mine));
  let near: readonly Column[] | undefined;
  // What a value hangs on by its last bits shows when they are moved; what stands in the source is rounded too.
  const spreadAt = (i: number): number => {
    near ??= Array.from({ length: NUDGES }, moved);
    return Math.max(...near.map((each) => Math.abs(each.data[i]! - columns.data[i]!)));
  };
  let apart = 0;
  let first = '';
  for (let i = 0; i < numbers.length; i += 1) {
    const [mine, theirs] = [columns.data[i]!, numbers[i]!];
    if (!(Math.abs(mine) < 1e6) || Math.abs(mine - theirs) <= bound(mine)) continue;
    const spread = spreadAt(i);
    if (!(spread < 1e6) || Math.abs(mine - theirs) <= bound(mine) + SENSITIVITY * spread) continue;
    apart += 1;
    first ||= `point ${i % COUNT}: columns ${mine}, there ${theirs}`;
  }
  return { apart, first };
};

/** Compares outputs at thousands of points, the first on both devices; says where too many differ by more than rounding can explain. */
const compare = async (
  page: Page,
  document: ShaderDocument,
  outputs: readonly (readonly [name: string, value: Value])[],
  isFirst: boolean,
): Promise<string> => {
  const reads = readBy(outputs.map(([, value]) => value));
  const functions = outputs.map(([, value]) => asFunction(value, document, reads));
  const chance = createChance(outputs.map(([name]) => name).join().length * 31 + reads.length);
  const args = reads.map((name) => {
    const range: readonly [number, number] =
      name === 'instanceAge' || name === 'time' ? [0, 3] : name.startsWith('uv') ? [0, 1] : [-1, 1];
    return randomArgument(INPUTS[name].type, chance, range, []);
  });
  const both = await runAll(page, functions, args);
  for (const [i, [output, value]] of outputs.entries()) {
    const [fn, { gpu, columns }] = [functions[i]!, both[i]!];
    // WebGPU in software is slow to begin: it draws one output of each.
    const inWgsl = isFirst && i === 0 && runsInWgsl(fn) ? await runWgsl(page, fn, args) : null;
    const moved = (): Column => {
      const factor = 1 + (chance() - 0.5) * 2 ** -18;
      const nearby = args.map((arg) => nudged(arg, chance));
      return evaluateFunction(asFunction(value, document, reads, factor), nearby, COUNT);
    };
    for (const [device, numbers] of [['WebGL 2', gpu] as const, ['WebGPU', inWgsl] as const]) {
      if (!numbers) continue;
      const { apart, first } = unlike(numbers, columns, moved);
      if (apart > numbers.length * MOST_APART)
        return `${apart} of ${numbers.length} numbers differ; ${output} in ${device} at ${first}`;
    }
  }
  return '';
};

/** Compiles a shader everywhere and compares what it computes. @returns what is wrong, or nothing */
export const tryShader = async (page: Page, document: ShaderDocument): Promise<string> => {
  const { program, diagnostics } = programOf(document);
  if (!program) return `it has mistakes: ${diagnostics[0]!.message}`;
  const options = { title: 'fuzz' };
  const glsl = emitGlsl(program, { ...options, purpose: 'handover' });
  const wgsl = emitWgsl(program, options);
  if (wgsl.code === null) return `WGSL: ${wgsl.refused}`;
  const refused = await page.evaluate(compileBoth, {
    vertex: glsl.vertex,
    fragment: glsl.fragment,
    wgsl: wgsl.code,
  });
  if (refused)
    return `${refused}\n${refused.startsWith('WebGPU') ? wgsl.code : `${glsl.vertex}\n${glsl.fragment}`}`;
  const outputs = Object.entries(program.outputs).filter(([, { type }]) => componentsOf(type) <= 4);
  for (let at = 0; at < outputs.length; at += MOST_AT_ONCE) {
    const wrong = await compare(page, document, outputs.slice(at, at + MOST_AT_ONCE), at === 0);
    if (wrong) return wrong;
  }
  return '';
};

export type { Program };
