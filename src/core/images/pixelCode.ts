import {
  assembled,
  forward,
  get,
  i32,
  load,
  loop,
  memoryOf,
  set,
  shuffle,
  store,
  vector,
} from './vectorCode.ts';
import { unsigned, type LocalKind } from '../evaluate/wasm/encodeModule.ts';
import { LUMINANCE } from '../numbers/colour.ts';
import { CHANNELS } from './image.ts';

/**
 * A number of each of two pixels that lie beside each other, as doubles: code that leaves both. What is written here comes to
 * the same bits as the same in the language around it, operation by operation, in a fraction of the time.
 */
export type Pair = readonly number[];
/** The four numbers of two pixels. */
export interface Pixels {
  readonly r: Pair;
  readonly g: Pair;
  readonly b: Pair;
  readonly a: Pair;
}

const both =
  (name: Parameters<typeof vector>[0]) =>
  (x: Pair, y: Pair): Pair => [...x, ...y, ...vector(name)];
export const plus = both('f64x2.add');
export const minus = both('f64x2.sub');
export const times = both('f64x2.mul');
export const over = both('f64x2.div');
export const least = both('f64x2.min');
export const greatest = both('f64x2.max');
export const root = (x: Pair): Pair => [...x, ...vector('f64x2.sqrt')];
export const floor = (x: Pair): Pair => [...x, ...vector('f64x2.floor')];
export const absolute = (x: Pair): Pair => [...x, ...vector('f64x2.abs')];
export const always = (x: number): Pair => [
  ...vector('v128.const', ...new Uint8Array(Float64Array.of(x, x).buffer)),
];
/** One where something is at least as much as something else, and another where it is not, or no number. */
export const whereAtLeast = (x: Pair, y: Pair, one: Pair, other: Pair): Pair => [
  ...[...one, ...other, ...x, ...y, ...vector('f64x2.ge'), ...vector('v128.bitselect')],
];
/** As near as a float has it. */
export const rounded = (x: Pair): Pair => [
  ...[...x, ...vector('f32x4.demote_f64x2_zero'), ...vector('f64x2.promote_low_f32x4')],
];
export const held = (x: Pair): Pair => least(greatest(x, always(0)), always(1));
export const lightness = ({ r, g, b }: Pixels): Pair => {
  const [red, green, blue] = LUMINANCE;
  return plus(plus(times(always(red), r), times(always(green), g)), times(always(blue), b));
};

/** Pixels that are worked on at once, so that they stay near. */
const CHUNK = 4096;
const [PIXEL, NUMBER] = [16, 4] as const;
/** How many numbers may be told; they lie before all else, each twice. */
const MOST_TOLD = 32;

/** What a formula is made of: of so many pictures the pixels, of so many planes the numbers, and so many numbers for all. */
interface Parts {
  readonly pictures?: number;
  readonly planes?: number;
  readonly told?: number;
}
/** What a formula is written with. */
export interface Written {
  readonly pictures: readonly Pixels[];
  readonly planes: readonly Pair[];
  readonly told: readonly Pair[];
  /** What is used more than once is worked out once. */
  readonly keep: (x: Pair) => Pair;
}
/** What is given to a formula: numbers of as many pictures and planes, all of as many pixels. */
interface Numbers {
  readonly pictures?: readonly Float32Array[];
  readonly planes?: readonly Float32Array[];
  readonly told?: readonly number[];
}

/** How far it is through the pixels, and through what has one number of each. */
const [PLACE, END, BESIDE] = [0, 1, 2] as const;
const FIRST_LOCAL = 3;

/** @param write code that takes what was made of two pixels to where it is told */
const kernel = <Made>(
  { pictures = 0, planes = 0, told = 0 }: Parts,
  formula: (written: Written) => Made,
  write: (made: Made, to: number, local: () => number) => readonly number[],
) => {
  const pictureAt = (k: number): number => (MOST_TOLD + k * CHUNK) * PIXEL;
  const planeAt = (k: number): number => pictureAt(pictures) + k * CHUNK * NUMBER;
  const out = planeAt(planes);
  const build = (): (() => (...given: number[]) => void) => {
    const locals: LocalKind[] = [];
    const local = (): number => FIRST_LOCAL - 1 + locals.push('v128');
    const body: number[] = [];
    const put = (code: Pair): number => {
      const place = local();
      body.push(...code, ...set(place));
      return place;
    };
    const keep = (x: Pair): Pair => get(put(x));
    const asDoubles = vector('f64x2.promote_low_f32x4');
    const picture = (_: unknown, k: number): Pixels => {
      const [first, second] = [0, PIXEL].map((more) => put([...get(PLACE), ...load(pictureAt(k) + more)]));
      const channel = (c: number): Pair =>
        keep([...get(first!), ...get(second!), ...shuffle(c, 4 + c, c, 4 + c), ...asDoubles]);
      return { r: channel(0), g: channel(1), b: channel(2), a: channel(3) };
    };
    const plane = (_: unknown, k: number): Pair =>
      keep([...get(BESIDE), ...vector('v128.load64_zero', 0, ...unsigned(planeAt(k))), ...asDoubles]);
    const before: number[] = [];
    const number = (_: unknown, k: number): Pair => {
      const place = local();
      before.push(...i32(0), ...load(k * PIXEL), ...set(place));
      return get(place);
    };
    const made = formula({
      pictures: Array.from({ length: pictures }, picture),
      planes: Array.from({ length: planes }, plane),
      told: Array.from({ length: told }, number),
      keep,
    });
    body.push(...write(made, out, local), ...forward(PLACE, 2 * PIXEL), ...forward(BESIDE, 2 * NUMBER));
    return assembled(['i32', 'i32', 'i32'], locals, () => [...before, ...loop(body, PLACE, END)]);
  };
  let run: ReturnType<typeof build> | null = null;
  /** @param take told where numbers of so many pixels lie, and from which pixel on */
  return (
    given: Numbers,
    take: (floats: Float32Array, out: number, first: number, count: number) => void,
  ) => {
    run ??= build();
    const code = run();
    const { buffer } = memoryOf(out + CHUNK * PIXEL);
    const floats = new Float32Array(buffer);
    const doubles = new Float64Array(buffer, 0, MOST_TOLD * 2);
    given.told?.forEach((x, k) => doubles.fill(x, k * 2, k * 2 + 2));
    const pixels = given.pictures ? given.pictures[0]!.length / CHANNELS : given.planes![0]!.length;
    for (let first = 0; first < pixels; first += CHUNK) {
      const end = Math.min(first + CHUNK, pixels);
      given.pictures?.forEach((data, k) =>
        floats.set(data.subarray(first * CHANNELS, end * CHANNELS), pictureAt(k) / NUMBER),
      );
      given.planes?.forEach((data, k) => floats.set(data.subarray(first, end), planeAt(k) / NUMBER));
      code(0, (end - first) * PIXEL, 0);
      take(floats, out / NUMBER, first, end - first);
    }
  };
};
const asFloats = (x: Pair): Pair => [...x, ...vector('f32x4.demote_f64x2_zero')];

/** A formula that makes pixels. @returns what asks for it, of numbers given; it may write over what nobody asks for again */
export const pixelFormula = (parts: Parts, formula: (written: Written) => Pixels) => {
  const run = kernel(parts, formula, ({ r, g, b, a }, to, local) => {
    const [rg, ba] = [local(), local()];
    return [
      ...[...asFloats(r), ...asFloats(g), ...shuffle(0, 4, 1, 5), ...set(rg)],
      ...[...asFloats(b), ...asFloats(a), ...shuffle(0, 4, 1, 5), ...set(ba)],
      ...[...get(PLACE), ...get(rg), ...get(ba), ...shuffle(0, 1, 4, 5), ...store(to)],
      ...[...get(PLACE), ...get(rg), ...get(ba), ...shuffle(2, 3, 6, 7), ...store(to + PIXEL)],
    ];
  });
  return (given: Numbers, made?: Float32Array): Float32Array => {
    const to = made ?? new Float32Array(given.pictures?.[0]!.length ?? given.planes![0]!.length * CHANNELS);
    run(given, (floats, out, first, count) =>
      to.set(floats.subarray(out, out + count * CHANNELS), first * CHANNELS),
    );
    return to;
  };
};
/** A formula that makes a number of each pixel. */
export const planeFormula = (parts: Parts, formula: (written: Written) => Pair) => {
  const run = kernel(parts, formula, (made, to) => [
    ...[...get(BESIDE), ...asFloats(made), ...vector('v128.store64_lane', 0, ...unsigned(to), 0)],
  ]);
  return (given: Numbers): Float32Array => {
    const made = new Float32Array(given.planes?.[0]!.length ?? given.pictures![0]!.length / CHANNELS);
    run(given, (floats, out, first, count) => made.set(floats.subarray(out, out + count), first));
    return made;
  };
};

/** How light each pixel is, of pixels of four numbers. */
export const lightnessOf = (() => {
  const light = planeFormula({ pictures: 1 }, ({ pictures: [pixel] }) => lightness(pixel!));
  return (data: Float32Array): Float32Array => light({ pictures: [data] });
})();
