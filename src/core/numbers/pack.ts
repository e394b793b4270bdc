/** Where a value of 1 to 4 numbers sits in a row of four-number slots. */
export interface Place {
  readonly slot: number;
  readonly offset: number;
  readonly size: number;
}

/**
 * Packs values into four-number slots, first fit, the largest first, so that little is wasted; a value never
 * straddles two slots. Keeps the order of `sizes`.
 * @param sizes numbers in each value, 1–4
 */
export const packSlots = (sizes: readonly number[]): { readonly places: Place[]; readonly slots: number } => {
  const used: number[] = [];
  const places = new Array<Place>(sizes.length);
  const order = sizes.map((_, i) => i).sort((a, b) => sizes[b]! - sizes[a]! || a - b);
  let slot = 0;
  let last = 4;
  for (const i of order) {
    const size = sizes[i]!;
    // A slot that is too full for one value is so for the next of its size: the search goes back only for smaller ones.
    if (size < last) slot = 0;
    last = size;
    while (slot < used.length && used[slot]! + size > 4) slot += 1;
    if (slot === used.length) used.push(0);
    places[i] = { slot, offset: used[slot]!, size };
    used[slot] = used[slot]! + size;
  }
  return { places, slots: used.length };
};

/** How packed numbers are read in a shader: `live[2].yz`. */
export const readSlot = (array: string, place: Place): string =>
  place.size === 4
    ? `${array}[${place.slot}]`
    : `${array}[${place.slot}].${'xyzw'.slice(place.offset, place.offset + place.size)}`;
