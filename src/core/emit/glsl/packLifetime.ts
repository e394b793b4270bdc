import { packSlots, readSlot } from '../../numbers/pack.ts';
import { componentsOf } from '../../program/types.ts';
import type { ProgramParameter } from '../../program/value.ts';

/** Where the parameters of an effect's lifetime are packed, four numbers to a vector. */
export interface LifetimePacking {
  /** How each is read: `lifetime[1].yz`. */
  readonly reads: ReadonlyMap<string, string>;
  /** Vectors in all. */
  readonly slots: number;
}

/** Packs the lifetime parameters of a program; the same parameters always land in the same places. */
export const packLifetime = (parameters: readonly ProgramParameter[]): LifetimePacking => {
  const own = parameters.filter((each) => each.scope === 'lifetime');
  const { places, slots } = packSlots(own.map((each) => componentsOf(each.type)));
  return {
    slots,
    reads: new Map(own.map((each, i) => [each.name, readSlot('lifetime', places[i]!)])),
  };
};
