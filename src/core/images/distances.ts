import { OPCODES } from '../evaluate/wasm/code.ts';
import { beyond } from './image.ts';
import { assembled, forward, four, get, load, loop, memoryOf, set, store, vector } from './vectorCode.ts';

const FLOAT = 4;

/** Least of f(q) + (p − q)² along a line, at each p (P. Felzenszwalb and D. Huttenlocher, 2012). */
const createParabolas = (n: number) => {
  const [v, z] = [new Int32Array(n), new Float64Array(n + 1)];
  return (f: Float64Array, from: number, to: number, d: Float64Array): void => {
    let k = 0;
    v[0] = from;
    z[0] = -Infinity;
    z[1] = Infinity;
    for (let q = from + 1; q < to; q += 1) {
      const own = f[q]! + q * q;
      let p = v[k]!;
      let s = (own - f[p]! - p * p) / (2 * (q - p));
      while (s <= z[k]!) {
        k -= 1;
        p = v[k]!;
        s = (own - f[p]! - p * p) / (2 * (q - p));
      }
      k += 1;
      v[k] = q;
      z[k] = s;
      z[k + 1] = Infinity;
    }
    k = 0;
    for (let q = from; q < to; q += 1) {
      while (z[k + 1]! < q) k += 1;
      const p = v[k]!;
      d[q] = (q - p) * (q - p) + f[p]!;
    }
  };
};
/** Of so few places those beside each are tried sooner than parabolas are laid. */
const FEW = 64;
/**
 * Least squares along a line. Between two places of 0 nothing counts but what lies there: what lies beyond one of them is
 * further than that is itself.
 * @param f the squares of a line; FEW places of Infinity lie before it and after it
 * @param most squares above it may be told as anything above it
 */
const leastAlong = (
  f: Float64Array,
  most: number,
  parabolas: ReturnType<typeof createParabolas>,
  to: Float64Array,
): void => {
  const last = f.length - FEW;
  for (let from = FEW; from < last;) {
    if (f[from] === 0 && f[from + 1] === 0) {
      to[from] = 0;
      from += 1;
      continue;
    }
    // As far as the next 0, which ends this stretch and begins another.
    let end = from + 1;
    let least = f[from]!;
    for (; end < last; end += 1) {
      const x = f[end]!;
      if (x < least) least = x;
      if (x === 0) break;
    }
    const past = Math.min(end + 1, last);
    const places = past - from;
    if (least > most) to.fill(Infinity, from, past);
    else if (places > FEW) parabolas(f, from, past, to);
    else
      for (let p = from; p < past; p += 1) {
        let found = f[p]!;
        // What is read beyond the stretch is true too, and never nearer.
        for (let k = 1; k < places && k * k < found; k += 1) {
          const square = k * k;
          const before = f[p - k]! + square;
          const after = f[p + k]! + square;
          if (before < found) found = before;
          if (after < found) found = after;
        }
        to[p] = found;
      }
    from = Math.max(end, from + 1);
  }
};
/** Further than any picture is wide. */
const NOWHERE = 1e6;
/** `(to, from, end)`: of each column, what is told of a row until that end, or one more than in another, whichever is less. */
const further = assembled(['i32', 'i32', 'i32'], [], () => {
  const [to, from, end] = [0, 1, 2] as const;
  return loop(
    [
      ...[...get(to), ...get(from), ...load(), ...four(1), ...vector('f32x4.add')],
      ...[...get(to), ...load(), ...vector('f32x4.pmin'), ...store()],
      ...[...forward(to, 16), ...forward(from, 16)],
    ],
    ...([to, end] as const),
  );
});
/** Nothing where a row of the mask is 1, and elsewhere further than anything. */
const begin = (floats: Float32Array, at: number, mask: Float32Array): void => {
  for (let x = 0; x < mask.length; x += 1) floats[at + x] = mask[x] === 1 ? 0 : NOWHERE;
};
/** Columns that are worked on at once: what is held beside the picture does not grow with how wide it is. */
const STRIP = 1024;
/**
 * Rows from each pixel to the nearest of its column where the mask is 1, down and up.
 * @param most what is further may be told as further than it is
 */
const rowsAway = (
  mask: Float32Array,
  width: number,
  height: number,
  wraps: boolean,
  most: number,
): Float32Array => {
  const run = further();
  const wide = Math.ceil(Math.min(width, STRIP) / 4) * 4;
  const floats = new Float32Array(memoryOf(height * wide * FLOAT).buffer);
  const away = new Float32Array(mask.length);
  const step = (row: number, before: number): void => {
    const to = row * wide * FLOAT;
    run(to, before * wide * FLOAT, to + wide * FLOAT);
  };
  // Where it comes round, what is nearest may lie beyond the edge: on from there, as far as that counts.
  const round = wraps ? Math.min(height, Math.ceil(most) + 1) : 0;
  for (let left = 0; left < width; left += wide) {
    const right = Math.min(left + wide, width);
    for (let y = 0; y < height; y += 1)
      begin(floats, y * wide, mask.subarray(y * width + left, y * width + right));
    for (let y = 1; y < height; y += 1) step(y, y - 1);
    for (let y = 0; y < round; y += 1) step(y, y ? y - 1 : height - 1);
    for (let y = height - 2; y >= 0; y -= 1) step(y, y + 1);
    for (let y = height - 1; y >= height - round; y -= 1) step(y, y < height - 1 ? y + 1 : 0);
    for (let y = 0; y < height; y += 1)
      away.set(floats.subarray(y * wide, y * wide + right - left), y * width + left);
  }
  return away;
};
/**
 * `(line, end, to, squares, last)`: of each float of a line until that end the least of itself and of those up to some way before
 * and after it, each with the square of how far that is.
 */
const near = assembled(['i32', 'i32', 'i32', 'i32', 'i32'], ['i32', 'i32', 'i32', 'v128', 'v128'], () => {
  const [line, end, to, squares, last, before, after, at, made, square] = [
    0, 1, 2, 3, 4, 5, 6, 7, 8, 9,
  ] as const;
  const nearer = (place: number): number[] => [
    ...[...get(made), ...get(place), ...load(), ...get(square), ...vector('f32x4.add')],
    ...[...vector('f32x4.pmin'), ...set(made)],
  ];
  return loop(
    [
      ...[...get(line), ...load(), ...set(made), ...get(squares), ...set(at)],
      ...[...get(line), ...set(before), ...get(line), ...set(after)],
      ...loop(
        [
          ...[...forward(before, -FLOAT), ...forward(after, FLOAT)],
          ...[...get(at), OPCODES['f32.load'], 2, 0, ...vector('f32x4.splat'), ...set(square)],
          ...[...nearer(before), ...nearer(after), ...forward(at, FLOAT)],
        ],
        ...([at, last] as const),
      ),
      ...[...get(to), ...get(made), ...store(), ...forward(to, 16), ...forward(line, 16)],
    ],
    ...([line, end] as const),
  );
});
/** Writes the squares of a row, none further than so much, and beside them those that lie there. @returns the greatest of the row */
const squareRow = (
  away: Float32Array,
  columns: Int32Array,
  furthest: number,
  line: Float32Array | Float64Array,
): number => {
  const first = FEW + columns.length / 2;
  const width = away.length;
  let most = 0;
  for (let x = 0; x < width; x += 1) {
    const far = away[x]! < furthest ? away[x]! : furthest;
    if (far > most) most = far;
    line[first + x] = far * far;
  }
  for (let i = 0; i < columns.length; i += 1) {
    const x = away[columns[i]!]!;
    const far = x < furthest ? x : furthest;
    line[FEW + (i < first - FEW ? i : width + i)] = far * far;
  }
  return most;
};
const rootRow = (squares: Float32Array | Float64Array, to: Float32Array): void => {
  for (let x = 0; x < to.length; x += 1) to[x] = Math.sqrt(squares[x]!);
};

/**
 * Goes along rows whose furthest place is so near that floats hold all squares as they are, all places of each at once.
 * @returns what writes a row, if it is such a one
 */
const createNearRows = (width: number, columns: Int32Array, furthest: number) => {
  const run = near();
  const first = FEW + columns.length / 2;
  const wide = Math.ceil(width / 4) * 4;
  const line = FEW * FLOAT;
  const to = line + (wide + 2 * first) * FLOAT;
  const floats = new Float32Array(memoryOf(to + wide * FLOAT).buffer);
  for (let k = 0; k < FEW; k += 1) floats[k] = (k + 1) ** 2;
  floats.fill(Infinity, line / FLOAT, to / FLOAT);
  const squares = floats.subarray(line / FLOAT, to / FLOAT);
  const made = floats.subarray(to / FLOAT, to / FLOAT + width);
  return (away: Float32Array, row: Float32Array): boolean => {
    const most = squareRow(away, columns, furthest, squares);
    if (most > FEW) return false;
    const start = line + first * FLOAT;
    run(start, start + wide * FLOAT, to, 0, Math.max(most, 1) * FLOAT);
    rootRow(made, row);
    return true;
  };
};

/**
 * Pixels from each to the nearest where the mask is 1; far where there is none.
 * @param most what is further may be told as further than it is
 */
export const distances = (
  mask: Float32Array,
  { width, height }: { readonly width: number; readonly height: number },
  wraps: readonly [boolean, boolean],
  most = Infinity,
): Float32Array => {
  const away = rowsAway(mask, width, height, wraps[1], most);
  // Where it comes round, what is nearest lies no further than half-way to the next round.
  const beside = wraps[0] ? Math.min((width >> 1) + 1, Math.ceil(most) + 1) : 0;
  const columns = Int32Array.from({ length: 2 * beside }, (_, i) =>
    beyond(i < beside ? i - beside : width + i - beside, width, true),
  );
  const line = new Float64Array(width + 2 * (beside + FEW)).fill(Infinity);
  const squares = new Float64Array(line.length);
  const parabolas = createParabolas(line.length);
  const goNear = createNearRows(width, columns, Math.ceil(most) + 1);
  const made = new Float32Array(width * height);
  for (let y = 0; y < height; y += 1) {
    const range = [y * width, (y + 1) * width] as const;
    const [from, to] = [away.subarray(...range), made.subarray(...range)];
    if (goNear(from, to)) continue;
    squareRow(from, columns, Infinity, line);
    leastAlong(line, most * most, parabolas, squares);
    rootRow(squares.subarray(FEW + beside), to);
  }
  return made;
};
