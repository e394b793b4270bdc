import { signed, unsigned, type Kind, type WasmFunction } from './encodeModule.ts';

/** One component of a value: a number known beforehand, or a local of the function being written. */
export type Part =
  | { readonly kind: Kind; readonly constant: number; readonly local?: undefined }
  | { readonly kind: Kind; readonly local: number; readonly constant?: undefined };

/** Instructions by their names in the specification, less what stands for a number that follows. */
export const OPCODES = {
  block: 0x02,
  loop: 0x03,
  if: 0x04,
  else: 0x05,
  end: 0x0b,
  br: 0x0c,
  br_if: 0x0d,
  call: 0x10,
  select: 0x1b,
  'local.get': 0x20,
  'local.set': 0x21,
  'i32.load': 0x28,
  'f32.load': 0x2a,
  'i32.store': 0x36,
  'f32.store': 0x38,
  'i32.const': 0x41,
  'f32.const': 0x43,
  'f64.const': 0x44,
  'i32.eqz': 0x45,
  'i32.eq': 0x46,
  'i32.ne': 0x47,
  'i32.lt_s': 0x48,
  'i32.lt_u': 0x49,
  'i32.gt_s': 0x4a,
  'i32.gt_u': 0x4b,
  'i32.le_s': 0x4c,
  'i32.le_u': 0x4d,
  'f32.eq': 0x5b,
  'f32.ne': 0x5c,
  'f32.lt': 0x5d,
  'f32.gt': 0x5e,
  'f32.le': 0x5f,
  'f64.gt': 0x64,
  'i32.add': 0x6a,
  'i32.sub': 0x6b,
  'i32.mul': 0x6c,
  'i32.div_s': 0x6d,
  'i32.div_u': 0x6e,
  'i32.rem_s': 0x6f,
  'i32.rem_u': 0x70,
  'i32.and': 0x71,
  'i32.or': 0x72,
  'i32.xor': 0x73,
  'i32.shl': 0x74,
  'i32.shr_s': 0x75,
  'i32.shr_u': 0x76,
  'f32.abs': 0x8b,
  'f32.neg': 0x8c,
  'f32.ceil': 0x8d,
  'f32.floor': 0x8e,
  'f32.trunc': 0x8f,
  'f32.sqrt': 0x91,
  'f32.add': 0x92,
  'f32.sub': 0x93,
  'f32.mul': 0x94,
  'f32.div': 0x95,
  'f32.min': 0x96,
  'f32.max': 0x97,
  'f64.abs': 0x99,
  'f64.sqrt': 0x9f,
  'f64.add': 0xa0,
  'f64.sub': 0xa1,
  'f64.mul': 0xa2,
  'f64.div': 0xa3,
  'f64.min': 0xa4,
  'f64.max': 0xa5,
  'f32.convert_i32_s': 0xb2,
  'f32.convert_i32_u': 0xb3,
  'f32.demote_f64': 0xb6,
  'f64.promote_f32': 0xbb,
  'i32.reinterpret_f32': 0xbc,
  'f32.reinterpret_i32': 0xbe,
} as const;

export type Instruction = keyof typeof OPCODES;

/** The same result whichever of a value's bits it holds: floats are compared by what they are, −0 kept from 0. */
const floatBytes = (x: number, size: 4 | 8): number[] => {
  const bytes = new DataView(new ArrayBuffer(size));
  if (size === 4) bytes.setFloat32(0, x, true);
  else bytes.setFloat64(0, x, true);
  return Array.from({ length: size }, (_, i) => bytes.getUint8(i));
};

/** A function being written, instruction after instruction, for a machine that works on a stack. */
export interface Code {
  /** Plain instructions, in order. */
  op(...instructions: readonly Instruction[]): void;
  /** Puts a part on the stack. */
  get(...parts: readonly Part[]): void;
  /** Puts a float part on the stack as a double. */
  wide(part: Part): void;
  constant(kind: Kind, x: number): void;
  /** Takes the top of the stack into a new local. */
  keep(kind: Kind): Part;
  /** A new local that is still 0. */
  local(kind: Kind): Part & { readonly local: number };
  set(part: Part): void;
  call(index: number): void;
  /** Reads the number at the address on the stack, `offset` bytes on. */
  load(kind: 'i32' | 'f32', offset: number): void;
  /** Stores the top of the stack at the address below it. */
  store(kind: 'i32' | 'f32', offset: number): void;
  /** Writes f32 to i32, held to the range of the type. */
  truncate(type: 'int' | 'uint'): void;
  /** A loop that is left where `whileTrue` puts 0 on the stack. */
  repeat(whileTrue: () => void, body: () => void): void;
  finish(results: readonly Kind[]): WasmFunction;
  /** How many locals there are, parameters included. */
  readonly size: () => number;
}

export const createCode = (parameters: readonly Kind[]): Code => {
  const body: number[] = [];
  const locals: Kind[] = [];
  const op: Code['op'] = (...instructions) => {
    for (const each of instructions) body.push(OPCODES[each]);
  };
  const constant: Code['constant'] = (kind, x) => {
    body.push(
      OPCODES[`${kind}.const`],
      ...(kind === 'i32' ? signed(x) : floatBytes(x, kind === 'f32' ? 4 : 8)),
    );
  };
  const get: Code['get'] = (...parts) => {
    for (const part of parts)
      if (part.local === undefined) constant(part.kind, part.constant);
      else body.push(OPCODES['local.get'], ...unsigned(part.local));
  };
  const local: Code['local'] = (kind) => {
    locals.push(kind);
    return { kind, local: parameters.length + locals.length - 1 };
  };
  const set: Code['set'] = (part) => {
    body.push(OPCODES['local.set'], ...unsigned(part.local!));
  };
  // Numbers in memory here are four bytes, so their alignment is 2².
  const memory = (opcode: number, offset: number): void => {
    body.push(opcode, 2, ...unsigned(offset));
  };
  return {
    op,
    get,
    constant,
    local,
    set,
    wide: (part) => {
      if (part.local === undefined) constant('f64', part.constant);
      else {
        get(part);
        op('f64.promote_f32');
      }
    },
    keep: (kind) => {
      const part = local(kind);
      set(part);
      return part;
    },
    call: (index) => void body.push(OPCODES.call, ...unsigned(index)),
    load: (kind, offset) => memory(OPCODES[`${kind}.load`], offset),
    store: (kind, offset) => memory(OPCODES[`${kind}.store`], offset),
    // i32.trunc_sat_f32_s and _u, which have a prefix; what is not a number becomes 0.
    truncate: (type) => void body.push(0xfc, type === 'int' ? 0x00 : 0x01),
    repeat: (whileTrue, inside) => {
      const NOTHING = 0x40;
      body.push(OPCODES.block, NOTHING, OPCODES.loop, NOTHING);
      whileTrue();
      body.push(OPCODES['i32.eqz'], OPCODES.br_if, 1);
      inside();
      body.push(OPCODES.br, 0, OPCODES.end, OPCODES.end);
    },
    finish: (results) => ({ parameters, results, locals, body }),
    size: () => parameters.length + locals.length,
  };
};
