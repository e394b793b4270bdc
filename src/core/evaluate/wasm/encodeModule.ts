/** The kinds of number WebAssembly knows that are used here. */
export type Kind = 'i32' | 'f32' | 'f64';
/** What a local holds: a number, or four floats at once. */
export type LocalKind = Kind | 'v128';

const KINDS: Readonly<Record<LocalKind, number>> = { i32: 0x7f, f32: 0x7d, f64: 0x7c, v128: 0x7b };

export interface Signature {
  readonly parameters: readonly Kind[];
  readonly results: readonly Kind[];
}

export interface WasmImport extends Signature {
  readonly from: string;
  readonly name: string;
}

export interface WasmFunction extends Signature {
  /** Kinds of the locals that follow the parameters. */
  readonly locals: readonly LocalKind[];
  /** Instructions, without the closing `end`. */
  readonly body: readonly number[];
}

export interface WasmModule {
  /** Functions only; they are numbered from 0, before the module's own. */
  readonly imports: readonly WasmImport[];
  readonly functions: readonly WasmFunction[];
  /** The place in `functions` of what is exported as `run`. */
  readonly run: number;
}

/** An unsigned number, seven bits to a byte, the lowest first. */
export const unsigned = (x: number): number[] => {
  const bytes: number[] = [];
  for (let rest = x >>> 0; ; rest >>>= 7) {
    if (rest < 0x80) return [...bytes, rest];
    bytes.push((rest & 0x7f) | 0x80);
  }
};

/** A signed 32-bit number, seven bits to a byte; the last byte's sign bit is carried on. */
export const signed = (x: number): number[] => {
  const bytes: number[] = [];
  for (let rest = x | 0; ; rest >>= 7) {
    if (rest >= -64 && rest < 64) return [...bytes, rest & 0x7f];
    bytes.push((rest & 0x7f) | 0x80);
  }
};

const list = (items: readonly (readonly number[])[]): number[] => [
  ...unsigned(items.length),
  ...items.flat(),
];
const text = (words: string): number[] => list([...words].map((letter) => [letter.charCodeAt(0)]));
const kinds = (each: readonly Kind[]): number[] => list(each.map((kind) => [KINDS[kind]]));
const section = (id: number, content: readonly number[]): number[] => [
  id,
  ...unsigned(content.length),
  ...content,
];

/** Locals are written in runs of one kind. */
const localRuns = (locals: readonly LocalKind[]): number[][] => {
  const runs: { kind: LocalKind; count: number }[] = [];
  for (const kind of locals) {
    const last = runs.at(-1);
    if (last?.kind === kind) last.count += 1;
    else runs.push({ kind, count: 1 });
  }
  return runs.map(({ kind, count }) => [...unsigned(count), KINDS[kind]]);
};

const END = 0x0b;
const FUNCTION = 0x00;
const MEMORY = 0x02;

/**
 * Writes a module in WebAssembly's binary format. It imports its memory as `columns.memory`.
 * Source: the WebAssembly core specification, 5.5.
 */
export const encodeModule = ({ imports, functions, run }: WasmModule): Uint8Array<ArrayBuffer> => {
  const signatures: string[] = [];
  const types: number[][] = [];
  const typeOf = ({ parameters, results }: Signature): number[] => {
    const key = `${parameters.join()}>${results.join()}`;
    if (!signatures.includes(key)) {
      signatures.push(key);
      types.push([0x60, ...kinds(parameters), ...kinds(results)]);
    }
    return unsigned(signatures.indexOf(key));
  };
  const importList = [
    ...imports.map((each) => [...text(each.from), ...text(each.name), FUNCTION, ...typeOf(each)]),
    [...text('columns'), ...text('memory'), MEMORY, 0x00, ...unsigned(1)],
  ];
  const functionList = functions.map(typeOf);
  const bodies = functions.map(({ locals, body }) => {
    const code = [...list(localRuns(locals)), ...body, END];
    return [...unsigned(code.length), ...code];
  });
  return Uint8Array.from([
    ...[0x00, 0x61, 0x73, 0x6d, 0x01, 0x00, 0x00, 0x00],
    ...section(1, list(types)),
    ...section(2, list(importList)),
    ...section(3, list(functionList)),
    ...section(7, list([[...text('run'), FUNCTION, ...unsigned(imports.length + run)]])),
    ...section(10, list(bodies)),
  ]);
};
