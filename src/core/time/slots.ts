import { isTable, parameterSize, type Parameter } from '../document/shader.ts';
import type { StageDocument } from '../document/project.ts';
import { mixTables } from '../numbers/mixTables.ts';
import { clipIn, MOVED, type Target } from '../document/targets.ts';

/** What a material's parameters are, by its id; null where there is no such material. */
export type ParametersOf = (material: string) => readonly Parameter[] | null;

/** Something that can be driven: a parameter by its name, or what of the set is moved. */
export interface Slot {
  /** The same for the same thing, whoever drives it. */
  readonly key: string;
  readonly target: Target;
  /** As an author reads it: “burn”, “Bell rotation”. */
  readonly name: string;
  readonly size: number;
  readonly whole: boolean;
  /** Of a parameter. */
  readonly parameter: Parameter | null;
  /** Of a curve or a gradient, whose numbers are keys, however many. */
  readonly table?: 'curve' | 'gradient';
  /** Of a clip of a prop: its place. A key’s number is seconds into it; what is given is that and how much of it counts. */
  readonly clip?: number;
  /** Of a texture: the pictures it is chosen from. */
  readonly pictures?: readonly string[];
}

/** What of a set is looked at to find what is driven. */
export type Driveable = Pick<StageDocument, 'props' | 'lights' | 'choices'>;

/** The same for the same thing, whoever drives it. */
export const slotKey = ({ kind, of, what }: Target): string => `${kind} ${of} ${what}`;

/** Finds what is driven. @returns why it cannot be, as a sentence, where it cannot */
export const slotOf = (
  target: Target,
  set: Driveable,
  parametersOf: ParametersOf,
): Slot | { readonly why: string } => {
  const { kind, of, what } = target;
  const key = slotKey(target);
  if (kind === 'parameter') {
    const parameters = parametersOf(of);
    if (!parameters) return { why: 'The material whose parameter this drove was deleted.' };
    const parameter = parameters.find((each) => each.id === what);
    if (!parameter) return { why: 'The parameter that this drove was deleted.' };
    const made = { key, target, name: parameter.name, whole: false, parameter };
    if (isTable(parameter.kind)) return { ...made, size: 4, table: parameter.kind };
    if (parameter.kind === 'texture') {
      const pictures = set.choices?.find((each) => each.material === of && each.parameter === what)?.pictures;
      return pictures
        ? { ...made, size: 1, whole: true, pictures }
        : { why: `${parameter.name} is a picture, and there are none that it is chosen from.` };
    }
    return {
      ...{ key, target, name: parameter.name, size: parameterSize(parameter.kind), parameter },
      whole: parameter.kind === 'int' || parameter.kind === 'bool' || parameter.kind === 'noise',
    };
  }
  const clip = kind === 'prop' ? clipIn(what) : null;
  if (clip !== null) {
    const prop = set.props.find((each) => each.id === of);
    if (!prop) return { why: 'The prop that this moved was deleted.' };
    const own = prop.mesh.kind === 'imported' ? prop.mesh.clips?.[clip] : undefined;
    if (!own) return { why: `${prop.name} is of a mesh that has not the clip that this played.` };
    return { key, target, size: 1, whole: false, parameter: null, name: `${prop.name} ${own.name}`, clip };
  }
  const sizes: Readonly<Record<string, number>> = MOVED[kind];
  const size = Object.hasOwn(sizes, what) ? sizes[what] : undefined;
  if (size === undefined)
    return { why: `Of a ${kind} there is ${Object.keys(sizes).join(', ')}, and no “${what}”.` };
  const made = { key, target, size, whole: false, parameter: null };
  if (kind === 'camera') return { ...made, name: `camera ${what}` };
  if (kind === 'light')
    return set.lights[Number(of)]
      ? { ...made, name: `light ${Number(of) + 1} ${what}` }
      : { why: 'The light that this moved was deleted.' };
  const prop = set.props.find((each) => each.id === of);
  return prop ? { ...made, name: `${prop.name} ${what}` } : { why: 'The prop that this moved was deleted.' };
};

/** Why a track's keys do not fit what it drives, or null. */
export const misfitOf = (slot: Slot, numbers: number): string | null =>
  numbers === slot.size || (slot.table && numbers > 0 && numbers % 4 === 0)
    ? null
    : `${slot.name} has ${slot.size} ${slot.size === 1 ? 'number' : 'numbers'}, and the keys here have ${numbers}: it was made for another kind of parameter.`;

/** What a slot takes: whole where it is whole, held where it cannot be otherwise. */
export const takenBy = (slot: Slot, value: readonly number[]): readonly number[] => {
  const { whole, parameter, target, pictures } = slot;
  if (pictures) return value.map((x) => Math.min(Math.max(Math.round(x), 0), pictures.length - 1));
  if (whole) return parameter?.kind === 'bool' ? value.map((x) => (x >= 0.5 ? 1 : 0)) : value.map(Math.round);
  // A size of nothing flattens: what stands on the prop would have no place.
  return target.what === 'scale' ? value.map((x) => Math.max(x, 1e-4)) : value;
};

/** What of the set stands at a slot as it is authored. */
export const standsAt = (
  { props, lights, camera }: Pick<StageDocument, 'props' | 'lights' | 'camera'>,
  { target, clip }: Slot,
): readonly number[] => {
  if (clip !== undefined) return [0];
  const own =
    target.kind === 'prop'
      ? props.find((each) => each.id === target.of)
      : target.kind === 'light'
        ? lights[Number(target.of)]
        : camera;
  const value = (own as Readonly<Record<string, unknown>> | undefined)?.[target.what];
  return typeof value === 'number' ? [value] : ((value as readonly number[] | undefined) ?? [1, 1, 1]);
};

/** What lies between two values of a slot, by a share; of a curve or a gradient, between its lines. */
export const mixedAt = (
  { table }: Slot,
  from: readonly number[],
  to: readonly number[],
  share: number,
): readonly number[] => {
  if (share === 1 || !from.length) return to;
  return table ? mixTables(table, from, to, share) : to.map((x, c) => from[c]! * (1 - share) + x * share);
};
