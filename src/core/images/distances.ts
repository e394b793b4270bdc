import { beyond } from './image.ts';

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
/**
 * Rows from each pixel to the nearest of its column where the mask is 1, a row after another, down and up.
 * @param most what is further may be told as further than it is
 */
const rowsAway = (
  mask: Uint8Array,
  width: number,
  height: number,
  wraps: boolean,
  most: number,
): Int32Array => {
  const away = new Int32Array(mask.length);
  for (let i = 0; i < width; i += 1) away[i] = mask[i] ? 0 : NOWHERE;
  for (let i = width; i < away.length; i += 1) away[i] = mask[i] ? 0 : away[i - width]! + 1;
  const pass = (row: number, before: number): void => {
    const [to, from] = [row * width, before * width];
    for (let x = 0; x < width; x += 1) {
      const further = away[from + x]! + 1;
      if (further < away[to + x]!) away[to + x] = further;
    }
  };
  // Where it comes round, what is nearest may lie beyond the edge: on from there, as far as that counts.
  const round = wraps ? Math.min(height, Math.ceil(most) + 1) : 0;
  for (let y = 0; y < round; y += 1) pass(y, y ? y - 1 : height - 1);
  for (let y = height - 2; y >= 0; y -= 1) pass(y, y + 1);
  for (let y = height - 1; y >= height - round; y -= 1) pass(y, y < height - 1 ? y + 1 : 0);
  return away;
};
/**
 * Pixels from each to the nearest where the mask is 1; far where there is none.
 * @param most what is further may be told as further than it is
 */
export const distances = (
  mask: Uint8Array,
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
  const first = FEW + beside;
  const line = new Float64Array(width + 2 * (beside + FEW)).fill(Infinity);
  const squares = new Float64Array(line.length);
  const parabolas = createParabolas(line.length);
  const made = new Float32Array(width * height);
  for (let y = 0; y < height; y += 1) {
    const row = y * width;
    for (let x = 0; x < width; x += 1) line[first + x] = away[row + x]! * away[row + x]!;
    for (let i = 0; i < columns.length; i += 1) {
      const x = away[row + columns[i]!]!;
      line[FEW + (i < beside ? i : width + i)] = x * x;
    }
    leastAlong(line, most * most, parabolas, squares);
    for (let x = 0; x < width; x += 1) made[row + x] = Math.sqrt(squares[first + x]!);
  }
  return made;
};
