import { isSampler, baseOf, type Type } from '../../program/types.ts';
import type { Kind, WasmImport } from './encodeModule.ts';

/** What a number of the type is held in; a sampler is its place among the pictures. */
export const kindOf = (type: Type): 'i32' | 'f32' =>
  baseOf(type) === 'float' && !isSampler(type) ? 'f32' : 'i32';

const doubles = (name: string, count: number): WasmImport => ({
  from: 'math',
  name,
  parameters: Array.from({ length: count }, () => 'f64' as Kind),
  results: ['f64'],
});

/** What the module asks of its host: JavaScript's own functions, and a picture's colour written to `SAMPLED`. */
export const IMPORTS: readonly WasmImport[] = [
  ...['sin', 'cos', 'tan', 'asin', 'acos', 'atan', 'exp', 'log', 'log2'].map((name) => doubles(name, 1)),
  ...['atan2', 'pow'].map((name) => doubles(name, 2)),
  { from: 'columns', name: 'sample', parameters: ['i32', 'f32', 'f32'], results: [] },
];
const IMPORTED = new Map(IMPORTS.map((each, i) => [each.name, i]));
/** The number an imported function is called by. */
export const importOf = (name: string): number => IMPORTED.get(name)!;
/** The address a picture's colour is written to. */
export const SAMPLED = 0;
