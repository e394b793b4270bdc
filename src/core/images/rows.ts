import { blank, CHANNELS, type Image } from './image.ts';

/** A picture that is made by bands of rows, so that only what is asked for is held. */
export interface Rows {
  readonly width: number;
  readonly height: number;
  /** How far a step of it looks up and down, at most. */
  readonly reach: number;
  /** The picture, where it is there as a whole. */
  readonly whole?: Image;
  /** Rows from one up to, but without, another: beyond the edges they come round. They are not to be written to. @throws Error */
  readonly take: (top: number, bottom: number) => Image;
}

/** Pixels of a band, about: few enough to stay near while step after step is done to them. */
const BAND = 2 ** 17;
/** A band is so many times as high as a step looks up or down: what stands around it is worked on in vain. */
const AT_LEAST = 4;

/** What looks further than so many rows is made of the whole: bands would have more around them than they have themselves. */
const FURTHEST = 32;
/** So many rows, where that is near enough to be done by bands. */
export const withinBand = (reach: number): number | null => (reach <= FURTHEST ? reach : null);

/** How many rows are taken at once. @param pixels of a band, about */
const bandOf = ({ width, reach }: Pick<Rows, 'width' | 'reach'>, pixels = BAND): number =>
  Math.max(Math.floor(pixels / width), AT_LEAST * reach, 1);

/** Rows from one up to another, joined of bands that each lie within the height; of a picture that comes round there are as many as one likes. */
const joined = (
  { width, height }: Pick<Rows, 'width' | 'height'>,
  [top, bottom]: readonly [number, number],
  part: (top: number, bottom: number, round: number) => Image,
): Image => {
  const parts: Image[] = [];
  for (let y = top; y < bottom; y += parts.at(-1)!.height) {
    const round = Math.floor(y / height) * height;
    parts.push(part(y - round, Math.min(bottom - round, height), round));
  }
  if (parts.length === 1) return parts[0]!;
  const data = new Float32Array((bottom - top) * width * CHANNELS);
  let at = 0;
  for (const each of parts) {
    data.set(each.data, at);
    at += each.data.length;
  }
  return { width, height: bottom - top, data };
};

/** Rows that are made each by itself. @param make rows that there are */
export const madeRows = (width: number, height: number, make: Rows['take']): Rows => ({
  ...{ width, height, reach: 0 },
  take: (...range) => joined({ width, height }, range, make),
});

/** Rows of a picture that is there, where they lie. */
export const rowsOf = (whole: Image): Rows => {
  const { width, height, data } = whole;
  const row = width * CHANNELS;
  const rows = madeRows(width, height, (top, bottom) => ({
    ...{ width, height: bottom - top, data: data.subarray(top * row, bottom * row) },
  }));
  return { ...rows, whole };
};

/** Rows of which those beyond the edges come round, whoever makes them. */
export const roundTaken = (of: Rows, top: number, bottom: number): Image =>
  joined(of, [top, bottom], of.take);

/** Rows of which the last ones are kept: asked for from the top down, with what lies around them, none is made twice. */
export const keptRows = ({ width, whole, take }: Rows): Rows['take'] => {
  const row = width * CHANNELS;
  let last = { top: 0, bottom: 0, data: new Float32Array(0) };
  if (whole) return take;
  return (top, bottom) => {
    const data = new Float32Array((bottom - top) * row);
    const isNear = last.top <= top && last.bottom > top;
    const from = isNear ? Math.min(last.bottom, bottom) : top;
    if (isNear) data.set(last.data.subarray((top - last.top) * row, (from - last.top) * row));
    if (from < bottom) data.set(take(from, bottom).data, (from - top) * row);
    last = { top, bottom, data };
    return { width, height: bottom - top, data };
  };
};

/**
 * What comes of rows by a step that looks no further up and down than so many of them.
 * @param wraps whether the upper and the lower edge lie beside each other
 * @param how makes of a band as many rows; where it looks at nothing else it is told which row of the whole its first one is
 */
export const changedRows = (
  of: Rows,
  reach: number,
  wraps: boolean,
  how: (band: Image, top: number) => Image,
): Rows => {
  const { width, height } = of;
  const read = keptRows(of);
  const row = width * CHANNELS;
  return {
    ...{ width, height, reach: Math.max(of.reach, reach) },
    take: (top, bottom) => {
      if (!reach)
        return joined(of, [top, bottom], (from, until, round) =>
          how(of.take(round + from, round + until), from),
        );
      // Where nothing comes round a step does at the edge of a band as it does at that of the whole, for it is the same.
      const first = wraps ? top - reach : Math.max(top - reach, 0);
      const { data } = how(read(first, wraps ? bottom + reach : Math.min(bottom + reach, height)), 0);
      return {
        ...{ width, height: bottom - top },
        data: data.subarray((top - first) * row, (bottom - first) * row),
      };
    },
  };
};

/** All bands, from the top down. @param pixels of each, about */
export function* bandsOf(rows: Rows, pixels = BAND): Generator<Image> {
  const high = bandOf(rows, pixels);
  for (let top = 0; top < rows.height; top += high) yield rows.take(top, Math.min(top + high, rows.height));
}

/** All rows in one picture. @param progress told how much is there, from 0 to 1 */
export const gathered = (rows: Rows, progress?: (share: number) => void, pixels = BAND): Image => {
  if (rows.whole) return rows.whole;
  const made = blank(rows.width, rows.height);
  let at = 0;
  for (const { data } of bandsOf(rows, pixels)) {
    made.data.set(data, at);
    at += data.length;
    progress?.(at / made.data.length);
  }
  return made;
};

/** The whole of a picture by what makes rows of rows. */
export const wholeBy =
  <G>(rows: (of: Rows, given: G) => Rows) =>
  (image: Image, given: G): Image => {
    const made = rows(rowsOf(image), given);
    return made.take(0, made.height);
  };
