import { packSlots, readSlot, type Place } from '../../numbers/pack.ts';
import { baseOf, componentsOf } from '../../program/types.ts';
import type { Value } from '../../program/value.ts';

/** One value that changes from frame to frame, and where its numbers go among the uniforms. */
export interface LiveSlot {
  readonly value: Value;
  /** `float` numbers go to `live`, whole numbers and booleans to `liveInt`. */
  readonly array: 'live' | 'liveInt';
  readonly place: Place;
}

export interface LiveLayout {
  readonly slots: readonly LiveSlot[];
  /** Four-number slots in each array. */
  readonly floats: number;
  readonly ints: number;
}

/** Where the values that change from frame to frame go. */
export const layOut = (values: readonly Value[]): LiveLayout => {
  // A mat3 is three columns; nothing authored makes one live today, so it is left to the pixel.
  const usable = values.filter((value) => componentsOf(value.type) <= 4);
  const isFloat = (value: Value) => baseOf(value.type) === 'float';
  const pack = (array: LiveSlot['array'], list: readonly Value[]) => {
    const { places, slots } = packSlots(list.map((value) => componentsOf(value.type)));
    return { slots, list: list.map((value, i) => ({ value, array, place: places[i]! })) };
  };
  const floats = pack('live', usable.filter(isFloat));
  const ints = pack(
    'liveInt',
    usable.filter((value) => !isFloat(value)),
  );
  // The first slot stays empty: a NaN at the head of a flat array is taken for something else on its way to WebGL.
  const moved = floats.list.map((slot) => ({
    ...slot,
    place: { ...slot.place, slot: slot.place.slot + 1 },
  }));
  return { slots: [...moved, ...ints.list], floats: floats.slots && floats.slots + 1, ints: ints.slots };
};

/** How the shader reads one of them. */
export const readLive = (slot: LiveSlot): string => {
  const text = readSlot(slot.array, slot.place);
  return slot.value.type === 'uint' || slot.value.type === 'bool' ? `${slot.value.type}(${text})` : text;
};
