import type { SetDrive } from '../document/drives.ts';
import { dot, minus, plus, times, unit, type Triple } from '../numbers/vectors.ts';
import { between, isNear, pointOn, whereIs, type World } from './world.ts';

/** A wave at a share of its period, from 0 to 1. */
export const waveAt = (shape: SetDrive['shape'], share: number): number => {
  const t = share - Math.floor(share);
  switch (shape) {
    case 'triangle':
      return t < 0.5 ? 2 * t : 2 - 2 * t;
    case 'square':
      return t < 0.5 ? 1 : 0;
    case 'saw':
      return t;
    default:
      return 0.5 - 0.5 * Math.cos(2 * Math.PI * t);
  }
};

/** A damped spring: where it is, and how fast it goes. */
export interface Spring {
  readonly x: number;
  readonly v: number;
}
/**
 * A spring a while later: x″ = −stiffness·x − damping·x′ − pull, its damping taken at the end of the step, so that none is
 * too strong for it. At its limit it stops.
 */
export const springOn = (
  { x, v }: Spring,
  seconds: number,
  pull: number,
  {
    stiffness,
    damping,
    limit,
  }: { readonly stiffness: number; readonly damping: number; readonly limit: number },
): Spring => {
  const faster = (v - seconds * (stiffness * x + pull)) / (1 + seconds * damping);
  const further = x + seconds * faster;
  return Math.abs(further) <= limit ? { x: further, v: faster } : { x: Math.sign(further) * limit, v: 0 };
};

/** What springs remember of what they hang on. */
interface Hung {
  readonly springs: readonly Spring[];
  readonly point: Triple | null;
  readonly speed: Triple | null;
}
/** What rules remember from tick to tick, by their ids. */
export type DriveSnapshot = ReadonlyMap<string, Hung>;

/** The two ways along the floor. */
const ACROSS: readonly Triple[] = [
  [1, 0, 0],
  [0, 0, 1],
];

/** Feeds parameters by a set's standing rules, tick by tick; with a snapshot, on from where another feed was. */
export const createDriveFeed = (before: DriveSnapshot = new Map()) => {
  const hung = new Map<string, Hung>(before);

  const hangs = (drive: SetDrive, world: World, dt: number, size: number): readonly number[] | null => {
    const now = pointOn(world, drive.of ?? '', [0, drive.turning ?? 0, 0]);
    if (!now) return null;
    const axes: readonly Triple[] = size === 2 ? ACROSS : [unit(drive.axis ?? [1, 0, 0])];
    const known = hung.get(drive.id);
    // A spring that leans another number of ways than before begins at rest.
    const one: Hung =
      known?.springs.length === axes.length
        ? known
        : { springs: axes.map(() => ({ x: 0, v: 0 })), point: null, speed: null };
    const speed = one.point && times(minus(now, one.point), 1 / dt);
    const faster = speed && one.speed && times(minus(speed, one.speed), 1 / dt);
    const { stiffness = 60, damping = 3, limit = 1, strength = 1 } = drive;
    const springs = one.springs.map((spring, i) =>
      springOn(spring, dt, faster ? dot(faster, axes[i]!) * strength : 0, { stiffness, damping, limit }),
    );
    hung.set(drive.id, { springs, point: now, speed });
    return springs.map(({ x }) => x);
  };

  /** @param size how many numbers it is to give, of a spring. @returns what the rule gives; null where what it follows is nowhere */
  const feed = (
    drive: SetDrive,
    world: World,
    tick: number,
    dt: number,
    size = 1,
  ): readonly number[] | null => {
    const [low, high] = drive.range ?? [0, 1];
    const mixed = (t: number): number => low * (1 - t) + high * t;
    switch (drive.by) {
      case 'place': {
        const at = whereIs(world, drive.of);
        return at && plus(at, drive.offset ?? [0, 0, 0]);
      }
      case 'distance': {
        const away = between(world, drive.of, drive.to);
        if (away === null) return null;
        const [begins, ends] = drive.from ?? [0, 1];
        // A falloff keeps a width, so that it can be divided by.
        const width = Math.abs(ends - begins) < 1e-4 ? 1e-4 : ends - begins;
        return [mixed(Math.min(Math.max((away - begins) / width, 0), 1))];
      }
      case 'wave':
        return [mixed(waveAt(drive.shape, (tick * dt) / (drive.period ?? 1) + (drive.phase ?? 0)))];
      case 'near':
        return [isNear(world, drive) ? high : low];
      case 'spring':
        return hangs(drive, world, dt, size);
    }
  };
  return { feed, snapshot: (): DriveSnapshot => new Map(hung) };
};

/** How many numbers a rule can give: a spring leans along one way, or both along the floor. */
export const sizesOf = ({ by }: Pick<SetDrive, 'by'>): readonly number[] =>
  by === 'place' ? [3] : by === 'spring' ? [1, 2] : [1];
