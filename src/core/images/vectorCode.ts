import { OPCODES } from '../evaluate/wasm/code.ts';
import { encodeModule, signed, unsigned, type Kind, type LocalKind } from '../evaluate/wasm/encodeModule.ts';

/** Instructions that work on rows of numbers in memory, by their places in the specification's list of vector instructions. */
const VECTOR = {
  ...{ 'v128.load': 0x00, 'v128.store': 0x0b, 'v128.const': 0x0c, 'i8x16.shuffle': 0x0d },
  ...{
    'f32x4.splat': 0x13,
    'f64x2.splat': 0x14,
    'i32x4.extract_lane': 0x1b,
    'f32x4.gt': 0x44,
    'f64x2.gt': 0x4a,
    'f64x2.ge': 0x4c,
  },
  ...{
    'v128.and': 0x4e,
    'v128.or': 0x50,
    'v128.xor': 0x51,
    'v128.bitselect': 0x52,
    'v128.store64_lane': 0x5b,
    'v128.load64_zero': 0x5d,
  },
  ...{ 'f32x4.demote_f64x2_zero': 0x5e, 'f64x2.promote_low_f32x4': 0x5f, 'f64x2.floor': 0x75 },
  ...{ 'i64x2.all_true': 0xc3, 'i32x4.trunc_sat_f64x2_s_zero': 0xfc },
  ...{
    'f32x4.abs': 0xe0,
    'f32x4.add': 0xe4,
    'f32x4.sub': 0xe5,
    'f32x4.mul': 0xe6,
    'f32x4.div': 0xe7,
    'f32x4.pmin': 0xea,
    'f32x4.pmax': 0xeb,
  },
  ...{
    'f64x2.abs': 0xec,
    'f64x2.sqrt': 0xef,
    'f64x2.add': 0xf0,
    'f64x2.sub': 0xf1,
    'f64x2.mul': 0xf2,
    'f64x2.div': 0xf3,
    'f64x2.min': 0xf4,
    'f64x2.max': 0xf5,
  },
} as const;

export const vector = (name: keyof typeof VECTOR, ...more: readonly number[]): number[] => [
  ...[0xfd, ...unsigned(VECTOR[name])],
  ...more,
];
/** Sixteen bytes from an address and so many more; it need not be aligned. */
export const load = (more = 0): number[] => vector('v128.load', 0, ...unsigned(more));
export const store = (more = 0): number[] => vector('v128.store', 0, ...unsigned(more));
/** The same float in all four. */
export const four = (x: number): number[] => {
  const bytes = new Uint8Array(Float32Array.of(x, x, x, x).buffer);
  return vector('v128.const', ...bytes);
};
export const get = (local: number): number[] => [OPCODES['local.get'], ...unsigned(local)];
export const set = (local: number): number[] => [OPCODES['local.set'], ...unsigned(local)];
/** Floats of the two last vectors by their places: the first one’s four, then the second’s. */
export const shuffle = (...places: readonly number[]): number[] =>
  vector('i8x16.shuffle', ...places.flatMap((place) => [0, 1, 2, 3].map((byte) => place * 4 + byte)));
/** The lower two of four floats, or the upper two, as doubles. */
export const lowerDoubles = (local: number): number[] => [
  ...get(local),
  ...vector('f64x2.promote_low_f32x4'),
];
export const upperDoubles = (local: number): number[] => [
  ...[...get(local), ...get(local), ...shuffle(2, 3, 2, 3), ...vector('f64x2.promote_low_f32x4')],
];
export const i32 = (value: number): number[] => [OPCODES['i32.const'], ...signed(value)];
export const plus: readonly number[] = [OPCODES['i32.add']];
export const forward = (local: number, by: number): number[] => [
  ...[...get(local), ...i32(by), ...plus, ...set(local)],
];
/** Does it, and again while one local is below another. */
export const loop = (body: readonly number[], a: number, b: number): number[] => [
  ...[OPCODES.loop, 0x40, ...body, ...get(a), ...get(b)],
  ...[OPCODES['i32.lt_u'], OPCODES.br_if, 0, OPCODES.end],
];

const PAGE = 65536;
let memory: WebAssembly.Memory | null = null;
/** The memory that all of these share, of at least so many bytes: what one leaves there another writes over. */
export const memoryOf = (bytes: number): WebAssembly.Memory => {
  memory ??= new WebAssembly.Memory({ initial: 1 });
  const missing = bytes - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / PAGE));
  return memory;
};

/** Makes the one function of a module, over the shared memory, as it is first asked for. */
export const assembled = (
  parameters: readonly Kind[],
  locals: readonly LocalKind[],
  body: () => readonly number[],
): (() => (...given: number[]) => void) => {
  let made: ((...given: number[]) => void) | null = null;
  return () => {
    if (made) return made;
    const code = encodeModule({
      ...{ imports: [], run: 0 },
      functions: [{ parameters, results: [], locals, body: [...body()] }],
    });
    const { exports } = new WebAssembly.Instance(new WebAssembly.Module(code), {
      columns: { memory: memoryOf(0) },
    });
    made = exports['run'] as (...given: number[]) => void;
    return made;
  };
};
