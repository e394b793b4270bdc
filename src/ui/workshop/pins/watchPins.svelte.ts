import { formatNumber } from '#core/numbers/format.ts';
import type { Reading } from '#core/taps/readPin.ts';
import type { PinSeen, Stage } from '#stage/stage.ts';
import type { Session } from '../state/session.svelte.ts';

/** Drawn values are read once the picture has stood still for so long. */
const STILL_MS = 200;
/** How far what is drawn may be from what is computed, as a share of it or of 1: single precision, and the driver’s own functions. */
const AGREES_WITHIN = 5e-3;

/** What a step comes to at the pin that is read. */
export interface StepReading {
  readonly text: string;
  /** What the graphics card has there, where that is another. */
  readonly drawn: string | null;
  /** Whether what is drawn was looked at. */
  readonly isCompared: boolean;
  readonly told: string;
}

const digits = (numbers: readonly number[], type: Reading['type']): string =>
  type === 'bool'
    ? numbers[0]
      ? 'true'
      : 'false'
    : numbers.map((x) => (type === 'int' || type === 'uint' ? String(x) : formatNumber(x))).join(' ');

/** A corner on the grid and the pin in its pixel: how many such moves the drawn value may be away. */
const SENSITIVITY = 2;

const agree = ({ spread }: Reading, mine: readonly number[], theirs: readonly number[]): boolean =>
  mine.slice(0, theirs.length).every((x, i) => {
    const y = theirs[i]!;
    if (!Number.isFinite(x) || !Number.isFinite(y)) return Object.is(x, y) || (x !== x && y !== y);
    const moves = spread?.[i] ?? 0;
    // What a hair's breadth throws far tells nothing.
    if (!(moves < 1e6)) return true;
    return Math.abs(x - y) <= AGREES_WITHIN * Math.max(1, Math.abs(x)) + SENSITIVITY * moves;
  });

const readingOf = (reading: Reading, drawn: readonly number[] | undefined): StepReading => {
  const { numbers, type, why } = reading;
  const isCompared = drawn !== undefined;
  if (!numbers) {
    const shown = reading.isUndrawn ? undefined : drawn;
    const text = shown ? digits(shown, type) : '—';
    return { text, drawn: null, isCompared, told: shown ? `As it is drawn. ${why!}` : why! };
  }
  const text = digits(numbers, type);
  // A matrix is drawn by its first numbers alone.
  if (!drawn || type.startsWith('mat') || agree(reading, numbers, drawn))
    return { text, drawn: null, isCompared, told: 'At the pin' };
  const theirs = digits(drawn, type);
  if (theirs === text) return { text, drawn: null, isCompared, told: 'At the pin' };
  return {
    text,
    drawn: theirs,
    isCompared,
    told: `At the pin ${text} by the reference, and ${theirs} as the graphics card draws it: more than ${AGREES_WITHIN} apart. A texture that is read from far away can do this: it is read at its finest here.`,
  };
};

/** Follows the set’s pins frame by frame: where they are, and what the steps in the score come to at the one that is read. */
export const watchPins = (session: Session) => {
  let stage: Stage | null = null;
  let seen = $state.raw<ReadonlyMap<string, PinSeen | null>>(new Map());
  let drawn = $state.raw<ReadonlyMap<string, readonly number[]>>(new Map());
  let timer: ReturnType<typeof setTimeout> | null = null;
  let asked = 0;

  const pins = () => session.stage?.body.pins ?? [];
  const inHand = () => pins().find((each) => each.id === session.pin) ?? null;
  const drawNow = async (): Promise<void> => {
    timer = null;
    const pin = inHand();
    const there = pin && seen.get(pin.id);
    if (!pin || !stage || !there || there.why !== undefined || !there.screen) return;
    const mine = (asked += 1);
    const made = await stage.drawPin(pin, there.screen).catch(() => new Map<string, readonly number[]>());
    // What was read meanwhile is of another frame.
    if (mine === asked && timer === null) drawn = made;
  };
  let frames = $state(0);
  const look = (): void => {
    frames += 1;
    if (!stage || (!pins().length && !seen.size)) return;
    seen = new Map(pins().map((pin) => [pin.id, stage!.readPin(pin)]));
    drawn = new Map();
    asked += 1;
    if (timer !== null) clearTimeout(timer);
    timer = inHand() ? setTimeout(() => void drawNow(), STILL_MS) : null;
  };

  return {
    attach: (made: Stage | null): void => {
      stage = made;
    },
    /** A frame was drawn, or another pin is read. */
    look,
    get seen() {
      return seen;
    },
    /** Frames drawn: what is computed besides pins follows them. */
    get frames() {
      return frames;
    },
    get inHand() {
      return inHand();
    },
    /** The step’s value at the pin that is read; null where that is on another material’s prop. */
    of: (key: string): StepReading | null => {
      const pin = inHand();
      const there = pin && seen.get(pin.id);
      if (!there || there.why !== undefined || there.material !== session.material?.id) return null;
      const reading = there.readings.get(key);
      return reading ? readingOf(reading, drawn.get(key)) : null;
    },
    standingOf: (prop: string) => stage?.standingOf(prop) ?? null,
    overdraw: async () => (await stage?.overdraw()) ?? null,
    gpuTime: () => stage?.gpuTime() ?? null,
    /** Where the stage is seen from. */
    seenFrom: () => stage?.seen() ?? null,
    spotAt: (x: number, y: number) => stage?.pinAt(x, y) ?? null,
    close: (): void => {
      if (timer !== null) clearTimeout(timer);
      stage = null;
    },
  };
};

export type PinWatch = ReturnType<typeof watchPins>;
