import { baseOf, componentsOf, type Scalar, type Type } from '../types.ts';
import type { Operation } from './operation.ts';
import { fromHalf, toHalf } from '../../numbers/half.ts';
import type { Numbers } from './column.ts';

/** A column to be read. */
export interface Source {
  readonly type: Type;
  readonly data: ArrayLike<number>;
  readonly stride: number;
  readonly uniform: boolean;
}

/** Computes one operation for n points into `out`, component after component. */
export type Kernel = (value: Operation, inputs: readonly Source[], out: Numbers, n: number) => void;

/** Reads component c at point i. */
const get = (column: Source, c: number, i: number): number =>
  column.data[c * column.stride + (column.uniform ? 0 : i)]!;

/** One operation on one component of its inputs. What it gives is rounded to its type when it is stored. */
export type Lane = (x: number, y: number, z: number) => number;

/** Runs a lane for each component, spreading scalars over vectors and uniform columns over points. */
export const componentwise =
  (laneOf: Readonly<Partial<Record<Scalar, Lane>>>): Kernel =>
  (value, inputs, out, n) => {
    const lane = laneOf[baseOf(inputs[0]!.type)]!;
    const [A, B, C] = inputs as [Source, Source?, Source?];
    const [xs, ys, zs] = [A.data, B?.data, C?.data];
    const [dx, dy, dz] = [by(A), B ? by(B) : 0, C ? by(C) : 0];
    for (let c = 0; c < componentsOf(value.type); c += 1) {
      const to = c * n;
      const [x, y, z] = [at(A, c), B ? at(B, c) : 0, C ? at(C, c) : 0];
      // A loop for each number of inputs: what is not there is not read, at any point.
      if (zs)
        for (let i = 0; i < n; i += 1)
          out[to + i] = lane(xs[x + (i & dx)]!, ys![y + (i & dy)]!, zs[z + (i & dz)]!);
      else if (ys) for (let i = 0; i < n; i += 1) out[to + i] = lane(xs[x + (i & dx)]!, ys[y + (i & dy)]!, 0);
      else for (let i = 0; i < n; i += 1) out[to + i] = lane(xs[x + (i & dx)]!, 0, 0);
    }
  };
/** Where a component starts; one number stands for all the components beside it. */
const at = (column: Source, c: number): number => (componentsOf(column.type) > 1 ? c * column.stride : 0);
/** A mask on the point's number: none of it counts in a uniform column. */
const by = (column: Source): number => (column.uniform ? 0 : -1);

/** What a sum starts from: −0 and anything else is just that, also where it is −0. */
const NOTHING = -0;

/** Sums products of components in order, each rounded to float as a GPU rounds it. */
const dotAt = (A: Source, B: Source, i: number): number => {
  let sum = NOTHING;
  for (let c = 0; c < componentsOf(A.type); c += 1)
    sum = Math.fround(sum + Math.fround(get(A, c, i) * get(B, c, i)));
  return sum;
};

export const dot: Kernel = (_, [A, B], out, n) => {
  for (let i = 0; i < n; i += 1) out[i] = dotAt(A!, B!, i);
};
export const length: Kernel = (_, [A], out, n) => {
  for (let i = 0; i < n; i += 1) out[i] = Math.sqrt(dotAt(A!, A!, i));
};
export const distance: Kernel = (_, [A, B], out, n) => {
  const size = componentsOf(A!.type);
  for (let i = 0; i < n; i += 1) {
    let sum = 0;
    for (let c = 0; c < size; c += 1) {
      const d = Math.fround(get(A!, c, i) - get(B!, c, i));
      sum += d * d;
    }
    out[i] = Math.sqrt(sum);
  }
};
/** The zero vector, which GLSL leaves open, stays zero. */
export const normalize: Kernel = (value, [A], out, n) => {
  for (let i = 0; i < n; i += 1) {
    const size = Math.sqrt(dotAt(A!, A!, i));
    for (let c = 0; c < componentsOf(value.type); c += 1)
      out[c * n + i] = size > 0 ? get(A!, c, i) / size : 0;
  }
};
export const reflect: Kernel = (value, [I, N], out, n) => {
  for (let i = 0; i < n; i += 1) {
    const d = 2 * dotAt(N!, I!, i);
    for (let c = 0; c < componentsOf(value.type); c += 1) out[c * n + i] = get(I!, c, i) - d * get(N!, c, i);
  }
};
export const cross: Kernel = (_, [A, B], out, n) => {
  for (let i = 0; i < n; i += 1)
    for (let c = 0; c < 3; c += 1) {
      const j = (c + 1) % 3;
      const k = (c + 2) % 3;
      out[c * n + i] = get(A!, j, i) * get(B!, k, i) - get(A!, k, i) * get(B!, j, i);
    }
};
/** Source-major, as in GLSL: the result's row r is Σ m[k][r]·v[k]. */
export const transform: Kernel = (value, [M, V], out, n) => {
  const columns = componentsOf(value.type) / 3;
  for (let i = 0; i < n; i += 1)
    for (let column = 0; column < columns; column += 1)
      for (let r = 0; r < 3; r += 1) {
        let sum = NOTHING;
        for (let k = 0; k < 3; k += 1) sum += get(M!, k * 3 + r, i) * get(V!, column * 3 + k, i);
        out[(column * 3 + r) * n + i] = sum;
      }
};
export const select: Kernel = (value, [condition, yes, no], out, n) => {
  for (let c = 0; c < componentsOf(value.type); c += 1)
    for (let i = 0; i < n; i += 1) out[c * n + i] = get(get(condition!, 0, i) ? yes! : no!, c, i);
};
/** True where every component is equal. */
export const equal: Kernel = (_, [A, B], out, n) => {
  for (let i = 0; i < n; i += 1) {
    let same = 1;
    for (let c = 0; c < componentsOf(A!.type); c += 1) if (get(A!, c, i) !== get(B!, c, i)) same = 0;
    out[i] = same;
  }
};
const copyComponent = (from: Source, c: number, out: Numbers, to: number, n: number): void => {
  const start = c * from.stride;
  for (let i = 0; i < n; i += 1) out[to + i] = from.data[start + (from.uniform ? 0 : i)]!;
};
export const construct: Kernel = (value, inputs, out, n) => {
  let to = 0;
  for (const input of inputs)
    for (let c = 0; c < componentsOf(input.type); c += 1, to += n) copyComponent(input, c, out, to, n);
  // One scalar fills the whole vector.
  for (; to < componentsOf(value.type) * n; to += n) copyComponent(inputs[0]!, 0, out, to, n);
};
export const swizzle: Kernel = (value, [A], out, n) => {
  [...(value.payload as string)].forEach((letter, c) =>
    copyComponent(A!, 'xyzw'.indexOf(letter), out, c * n, n),
  );
};
/** The largest floats that an int and a uint hold. */
const LARGEST_INT = 2147483520;
const LARGEST_UINT = 4294967040;

/** float to int drops the fraction and keeps to the type's range; anything to bool asks "is it not zero?". */
export const convert: Kernel = (value, [A], out, n) => {
  const whole = baseOf(A!.type) === 'float' && (value.type === 'int' || value.type === 'uint');
  const [low, high] = value.type === 'int' ? [-2147483648, LARGEST_INT] : [0, LARGEST_UINT];
  for (let i = 0; i < n; i += 1) {
    const x = get(A!, 0, i);
    if (value.type === 'bool') out[i] = x === 0 ? 0 : 1;
    else out[i] = whole ? Math.min(Math.max(Math.trunc(x), low), high) : x;
  }
};
/** One slope for each 2×2 quad, from its first row and column: the coarse slopes that GLSL allows and drivers favour. */
export const slope: Kernel = (value, [A], out, n) => {
  for (let c = 0; c < componentsOf(value.type); c += 1)
    for (let i = 0; i < n; i += 1) {
      const q = i & ~3;
      const here = get(A!, c, q);
      const dx = get(A!, c, q + 1) - here;
      const dy = get(A!, c, q + 2) - here;
      out[c * n + i] = value.op === 'dFdx' ? dx : value.op === 'dFdy' ? dy : Math.abs(dx) + Math.abs(dy);
    }
};

const word = new Float32Array(1);
const VIEWS = { float: word, int: new Int32Array(word.buffer), uint: new Uint32Array(word.buffer) } as const;
type Word = keyof typeof VIEWS;

/** The same 32 bits, read as another type. */
export const bitcast: Kernel = (value, [A], out, n) => {
  const [from, to] = [VIEWS[A!.type as Word], VIEWS[value.type as Word]];
  for (let i = 0; i < n; i += 1) {
    const x = get(A!, 0, i);
    from[0] = x;
    // Engines keep what is not a number in many patterns of bits; one of them stands for all.
    out[i] = Number.isNaN(x) && to !== word ? 0x7fc00000 : to[0]!;
  }
};

/** How one component is packed into 16 bits, and read again (GLSL ES 3.00, 8.4). */
const PACKED = {
  Half: [toHalf, fromHalf],
  Snorm: [
    (x: number) => Math.floor(Math.min(Math.max(x, -1), 1) * 32767 + 0.5) & 0xffff,
    (x: number) => Math.min(Math.max(((x << 16) >> 16) / 32767, -1), 1),
  ],
  Unorm: [(x: number) => Math.floor(Math.min(Math.max(x, 0), 1) * 65535 + 0.5), (x: number) => x / 65535],
} as const;
export const pack =
  (kind: keyof typeof PACKED): Kernel =>
  (_, [A], out, n) => {
    const [put] = PACKED[kind];
    for (let i = 0; i < n; i += 1) out[i] = (put(get(A!, 0, i)) | (put(get(A!, 1, i)) << 16)) >>> 0;
  };
export const unpack =
  (kind: keyof typeof PACKED): Kernel =>
  (_, [A], out, n) => {
    const [, take] = PACKED[kind];
    for (let i = 0; i < n; i += 1) {
      out[i] = take(get(A!, 0, i) & 0xffff);
      out[n + i] = take(get(A!, 0, i) >>> 16);
    }
  };
