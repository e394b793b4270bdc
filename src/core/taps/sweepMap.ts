import { typeOfParameter } from '../program/value.ts';
import { isNothing, isWhole, prepareShown, type SweepAsk } from './sweep.ts';

/** A second parameter, and its range. */
export interface Second {
  readonly parameter: string;
  readonly from: number;
  readonly to: number;
}
/** How much shows over two parameters: rows along the second, from its least. */
export interface SweptMap {
  readonly xs: readonly number[];
  readonly ys: readonly number[];
  readonly share: readonly (readonly number[])[];
  /** Where nothing shows, and where all of it does. */
  readonly nothing: readonly (readonly boolean[])[];
  readonly whole: readonly (readonly boolean[])[];
}

const SPOTS = 1024;

const along = (from: number, to: number, count: number, isWholeNumber: boolean): readonly number[] => {
  const all = Array.from({ length: count }, (_, i) => from + ((to - from) * i) / (count - 1));
  return isWholeNumber ? [...new Set(all.map(Math.round))] : all;
};

/**
 * Measures how much shows over a grid of two parameters. Yields the share done.
 * @param ask as for a sweep; `samples` along each
 * @throws Error that says why it cannot be measured
 */
export function* sweepMap(ask: SweepAsk, second: Second): Generator<number, SweptMap> {
  const { program, parameter, samples, from, to } = ask;
  for (const name of [parameter, second.parameter])
    if (typeOfParameter(program, name) === null) throw new Error(`Nothing in this shader reads ${name}.`);
  if (parameter === second.parameter) throw new Error('A map goes over two parameters; these are the same.');
  if (!(to > from && second.to > second.from))
    throw new Error('A sweep goes from a smaller number to a greater one; these are the same.');
  const isInt = (name: string): boolean => typeOfParameter(program, name) === 'int';
  const xs = along(from, to, samples, isInt(parameter));
  const ys = along(second.from, second.to, samples, isInt(second.parameter));
  const measure = prepareShown({
    ...ask,
    spots: ask.spots ?? SPOTS,
    second: second.parameter,
    coverAlone: true,
  });
  const rows: { share: number[]; nothing: boolean[]; whole: boolean[] }[] = [];
  for (const y of ys) {
    const measured = xs.map((x) => measure(x, y));
    rows.push({
      share: measured.map((each) => each.share),
      nothing: measured.map(isNothing),
      whole: measured.map(isWhole),
    });
    yield rows.length / ys.length;
  }
  return {
    ...{ xs, ys, share: rows.map(({ share }) => share) },
    ...{ nothing: rows.map(({ nothing }) => nothing), whole: rows.map(({ whole }) => whole) },
  };
}

/** A map as comma-separated values: a row for each pair. */
export const mapCsv = ({ xs, ys, share }: SweptMap, first: string, second: string): string =>
  [
    `${first},${second},share`,
    ...ys.flatMap((y, k) => xs.map((x, i) => [x, y, share[k]![i]!].join())),
    '',
  ].join('\n');
