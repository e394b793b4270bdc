import type { Page } from '@playwright/test';
import { levelsOf } from '#core/evaluate/columns/levels.ts';
import { uniformColumn, type Column } from '#core/program/kernels/column.ts';
import type { Picture } from '#core/evaluate/points/points.ts';
import { evaluateFunction } from '#core/evaluate/columns/interpret.ts';
import { GLSL } from '#core/emit/glsl/spell.ts';
import { writeFunctions } from '#core/emit/source/statements.ts';
import { baseOf, componentsOf, isSampler, type Type } from '#core/program/types.ts';
import { createBuilder } from '#core/program/builder.ts';
import { reachable, type ProgramFunction } from '#core/program/value.ts';

declare global {
  // ECMAScript 2026, which the browser has and TypeScript’s own lists do not yet.
  interface Uint8ArrayConstructor {
    fromBase64(text: string): Uint8Array<ArrayBuffer>;
  }
  interface Uint8Array {
    toBase64(): string;
  }
}

/** Points are the pixels of a square this wide, in 2×2 quads, so that slopes can be compared too. */
export const SIDE = 64;
export const COUNT = SIDE * SIDE;

/** A generator of numbers that is the same every time (a 32-bit PCG step). */
export const createChance = (seed: number): (() => number) => {
  let state = seed >>> 0;
  return () => {
    state = (Math.imul(state, 747796405) + 2891336453) >>> 0;
    const word = Math.imul(((state >>> ((state >>> 28) + 4)) ^ state) >>> 0, 277803737) >>> 0;
    return (((word >>> 22) ^ word) >>> 0) / 4294967296;
  };
};

/** The pixel that the i-th point of the columns is. */
const pixelOf = (i: number): number => {
  const quad = i >> 2;
  const x = (quad % (SIDE / 2)) * 2 + (i & 1);
  const y = Math.floor(quad / (SIDE / 2)) * 2 + ((i >> 1) & 1);
  return y * SIDE + x;
};

/** Arguments for every point: random numbers, with those that make trouble mixed in. */
export const randomArgument = (
  type: Type,
  chance: () => number,
  range: readonly [number, number],
  special: readonly number[],
): Column => {
  if (isSampler(type)) return uniformColumn(type, [0]);
  const size = componentsOf(type);
  const data = new Float32Array(size * COUNT);
  for (let i = 0; i < data.length; i += 1) {
    const x =
      special.length && chance() < 0.2
        ? special[Math.floor(chance() * special.length)]!
        : range[0] + (range[1] - range[0]) * chance();
    data[i] = type === 'bool' ? Number(chance() < 0.5) : baseOf(type) === 'float' ? x : Math.floor(x);
  }
  const kept =
    baseOf(type) === 'float'
      ? data
      : baseOf(type) === 'uint'
        ? Uint32Array.from(data)
        : Int32Array.from(data);
  return { type, data: kept, stride: COUNT, uniform: false };
};

/** The picture that every sampler reads: noise of its own, 16 texels wide, read without filtering. */
const PICTURE_SIDE = 16;
const picture = (): Picture => {
  const chance = createChance(5);
  const rgba = Float32Array.from({ length: PICTURE_SIDE ** 2 * 4 }, chance);
  return { width: PICTURE_SIDE, height: PICTURE_SIDE, rgba, wrap: 'repeat', filter: 'nearest' };
};

/** The same numbers as a volume of 8 × 8 × 4 texels. */
const volume = (): Picture => ({ ...picture(), width: 8, height: 8, depth: 4 });

const readArgument = (type: Type, name: string): string => {
  const fetch = `texelFetch(${name}, ivec2(gl_FragCoord.xy), 0)`;
  const size = componentsOf(type);
  if (baseOf(type) === 'float') return size === 4 ? fetch : `${fetch}.${'xyz'.slice(0, size)}`;
  return `${type}(floatBitsToInt(${fetch}.x))`;
};

/** A fragment stage that computes all of some functions, of the same arguments, each into a picture of its own. */
const harness = (functions: readonly ProgramFunction[]): string => {
  const [{ parameters }] = functions as readonly [ProgramFunction];
  const b = createBuilder();
  const args = parameters.map((parameter, i) => b.argument(parameter.type, i));
  const given = parameters.map((each, i) => (isSampler(each.type) ? `input${i}` : each.name));
  const drawn = functions.map(({ name, result: { type } }) => {
    const size = componentsOf(type);
    const called = `${name}(${given.join(', ')})`;
    const numbers = baseOf(type) === 'float' ? called : `intBitsToFloat(int(${called}))`;
    return size === 4 ? numbers : `vec4(${[numbers, ...new Array<string>(4 - size).fill('0.0')].join(', ')})`;
  });
  return [
    '#version 300 es',
    'precision highp float;',
    'precision highp int;',
    'precision highp sampler2D;',
    ...drawn.map((_, i) => `layout(location = ${i}) out vec4 drawn${i};`),
    ...parameters.map(({ type }, i) =>
      type === 'sampler3D' ? `uniform highp sampler3D input${i};` : `uniform sampler2D input${i};`,
    ),
    ...writeFunctions(
      GLSL,
      functions.map((fn) => b.call(fn, ...args)),
    ),
    'void main() {',
    ...parameters
      .map((each, i) => [each, i] as const)
      .filter(([each]) => !isSampler(each.type))
      .map(([each, i]) => `  ${each.type} ${each.name} = ${readArgument(each.type, `input${i}`)};`),
    ...drawn.map((numbers, i) => `  drawn${i} = ${numbers};`),
    '}',
  ].join('\n');
};

/** As many pictures are drawn at once by any WebGL 2. */
export const MOST_AT_ONCE = 4;

/** What a function came to on the GPU and in the columns. */
export interface Both {
  readonly gpu: Float32Array | Int32Array;
  readonly columns: Column;
}

/**
 * Runs functions of the program, at most `MOST_AT_ONCE` and all of the same parameters, on the GPU and in the columns, on the
 * same arguments.
 * @param written what the GPU runs, where it is another way to write the same
 */
export const runAll = async (
  page: Page,
  functions: readonly ProgramFunction[],
  args: readonly Column[],
  written: readonly ProgramFunction[] = functions,
): Promise<readonly Both[]> => {
  const read = args.some((each) => each.type === 'sampler3D') ? volume() : picture();
  const all = { quads: true, pictures: new Map([['picture', read]]) };
  const byLevel = new Set(
    functions
      .flatMap(({ result }) => reachable([result]))
      .flatMap(({ op, inputs }) => (op === 'textureLod' ? [inputs[0]!.payload] : [])),
  );
  const textures = args.map((arg, i) => {
    const packed = (numbers: Float32Array) => Buffer.from(numbers.buffer as ArrayBuffer).toString('base64');
    if (arg.type === 'sampler3D') return packed(read.rgba);
    // Where it is read by level, with its levels, one after another: cards make none of such numbers.
    if (isSampler(arg.type))
      return (byLevel.has(i) ? levelsOf(read) : [read]).map((level) => packed(level.rgba)).join(' ');
    const texels = new Float32Array(COUNT * 4);
    const bits = new Int32Array(texels.buffer);
    for (let k = 0; k < COUNT; k += 1)
      for (let c = 0; c < componentsOf(arg.type); c += 1) {
        const at = pixelOf(k) * 4 + c;
        if (baseOf(arg.type) === 'float') texels[at] = arg.data[c * arg.stride + k]!;
        else bits[at] = arg.data[c * arg.stride + k]!;
      }
    return Buffer.from(texels.buffer).toString('base64');
  });
  const source = harness(written);
  const drawn = await page.evaluate(draw, {
    ...{ source, textures, side: SIDE, pictures: functions.length },
    volumes: args.map((arg) => arg.type === 'sampler3D'),
  });
  if (typeof drawn === 'string')
    throw new Error(`${functions.map(({ name }) => name).join(', ')}: ${drawn}\n${source}`);
  return functions.map((fn, n) => {
    const bytes = Buffer.from(drawn[n]!, 'base64');
    const texels = new Float32Array(
      bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength),
    );
    const isFloat = baseOf(fn.result.type) === 'float';
    const raw = isFloat ? texels : new Int32Array(texels.buffer);
    const size = componentsOf(fn.result.type);
    const gpu = isFloat ? new Float32Array(COUNT * size) : new Int32Array(COUNT * size);
    for (let i = 0; i < COUNT; i += 1)
      for (let c = 0; c < size; c += 1) gpu[c * COUNT + i] = raw[pixelOf(i) * 4 + c]!;
    return { gpu, columns: evaluateFunction(fn, args, COUNT, all) };
  });
};
/** As `runAll`, of one. */
export const runBoth = async (
  page: Page,
  fn: ProgramFunction,
  args: readonly Column[],
  written: ProgramFunction = fn,
): Promise<Both> => (await runAll(page, [fn], args, [written]))[0]!;

/** Runs in the page: draws one square with WebGL 2, integers carried as bits. */
const draw = async (given: {
  readonly source: string;
  readonly textures: readonly string[];
  /** Which of them are volumes of 8 × 8 × 4. */
  readonly volumes: readonly boolean[];
  readonly side: number;
  /** How many it draws at once. */
  readonly pictures: number;
}): Promise<string | string[]> => {
  const { source, textures, volumes, side, pictures } = given;
  // A context takes longer to make than most programs; one serves the page until the driver takes it away.
  const page = globalThis as unknown as { probeContext?: WebGL2RenderingContext };
  if (!page.probeContext || page.probeContext.isContextLost())
    page.probeContext = document.createElement('canvas').getContext('webgl2')!;
  const gl = page.probeContext;
  gl.getExtension('EXT_color_buffer_float');
  const made: WebGLTexture[] = [];
  const texture = (): WebGLTexture => {
    const each = gl.createTexture();
    made.push(each);
    return each;
  };
  const program = gl.createProgram();
  const shaders: WebGLShader[] = [];
  for (const [kind, text] of [
    [
      gl.VERTEX_SHADER,
      '#version 300 es\nvoid main() { gl_Position = vec4(vec2(gl_VertexID & 1, gl_VertexID >> 1) * 4.0 - 1.0, 0.0, 1.0); }',
    ],
    [gl.FRAGMENT_SHADER, source],
  ] as const) {
    const shader = gl.createShader(kind)!;
    shaders.push(shader);
    gl.shaderSource(shader, text);
    gl.compileShader(shader);
    if (gl.getShaderInfoLog(shader)?.includes('ERROR')) return gl.getShaderInfoLog(shader)!;
    gl.attachShader(program, shader);
  }
  gl.linkProgram(program);
  if (!gl.getProgramParameter(program, gl.LINK_STATUS)) return gl.getProgramInfoLog(program) ?? 'not linked';
  gl.useProgram(program);
  const plain = () => {
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
  };
  textures.forEach((text, i) => {
    const levels = text.split(' ').map((each) => new Float32Array(Uint8Array.fromBase64(each).buffer));
    gl.activeTexture(gl.TEXTURE0 + i);
    gl.uniform1i(gl.getUniformLocation(program, `input${i}`), i);
    if (volumes[i]) {
      gl.bindTexture(gl.TEXTURE_3D, texture());
      gl.texImage3D(gl.TEXTURE_3D, 0, gl.RGBA32F, 8, 8, 4, 0, gl.RGBA, gl.FLOAT, levels[0]!);
      gl.texParameteri(gl.TEXTURE_3D, gl.TEXTURE_MIN_FILTER, gl.NEAREST);
      gl.texParameteri(gl.TEXTURE_3D, gl.TEXTURE_MAG_FILTER, gl.NEAREST);
      return;
    }
    gl.bindTexture(gl.TEXTURE_2D, texture());
    levels.forEach((texels, level) => {
      const across = Math.sqrt(texels.length / 4);
      gl.texImage2D(gl.TEXTURE_2D, level, gl.RGBA32F, across, across, 0, gl.RGBA, gl.FLOAT, texels);
    });
    plain();
    if (levels.length > 1) gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl.NEAREST_MIPMAP_NEAREST);
  });
  gl.activeTexture(gl.TEXTURE0 + textures.length);
  const frame = gl.createFramebuffer();
  gl.bindFramebuffer(gl.FRAMEBUFFER, frame);
  const places = Array.from({ length: pictures }, (_, i) => gl.COLOR_ATTACHMENT0 + i);
  for (const place of places) {
    const target = texture();
    gl.bindTexture(gl.TEXTURE_2D, target);
    gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA32F, side, side);
    plain();
    gl.framebufferTexture2D(gl.FRAMEBUFFER, place, gl.TEXTURE_2D, target, 0);
  }
  gl.drawBuffers(places);
  gl.viewport(0, 0, side, side);
  gl.drawArrays(gl.TRIANGLES, 0, 3);
  const out = places.map((place) => {
    const numbers = new Float32Array(side * side * 4);
    gl.readBuffer(place);
    gl.readPixels(0, 0, side, side, gl.RGBA, gl.FLOAT, numbers);
    return new Uint8Array(numbers.buffer).toBase64();
  });
  if (gl.isContextLost()) return 'the driver lost its context over it';
  for (const each of made) gl.deleteTexture(each);
  gl.deleteFramebuffer(frame);
  gl.deleteProgram(program);
  for (const each of shaders) gl.deleteShader(each);
  return out;
};

/** How far apart the two are at the worst point: 0 for whole numbers that agree, else relative (absolute below 1). */
export const worstDifference = (
  gpu: ArrayLike<number>,
  columns: Column,
): { readonly worst: number; readonly at: string } => {
  let worst = 0;
  let at = '';
  const asInts = gpu instanceof Int32Array;
  for (let i = 0; i < gpu.length; i += 1) {
    const mine = asInts ? columns.data[i]! | 0 : columns.data[i]!;
    const theirs = gpu[i]!;
    // Past 1e37 a driver may give its largest number or infinity; neither can be used.
    const beyond = (x: number) => !(Math.abs(x) < 1e37);
    const bothBroken = beyond(mine) && beyond(theirs);
    const apart =
      bothBroken || mine === theirs
        ? 0
        : asInts
          ? Infinity
          : Math.abs(mine - theirs) / Math.max(1, Math.abs(mine));
    if (!(apart <= worst)) {
      worst = Number.isNaN(apart) ? Infinity : apart;
      at = `point ${i % COUNT}: columns ${mine}, GPU ${theirs}`;
    }
  }
  return { worst, at };
};
