// Chance that is the same in every rehearsal of the same seed.
// PCG-XSH-RR with 32 bits of output from a 32-bit state (M. O'Neill, 2014, reduced).
const chance = (from) => {
  let state = from >>> 0;
  const unit = () => {
    state = (Math.imul(state, 747796405) + 2891336453) >>> 0;
    const word = Math.imul(((state >>> ((state >>> 28) + 4)) ^ state) >>> 0, 277803737) >>> 0;
    return (((word >>> 22) ^ word) >>> 0) / 4294967296;
  };
  return {
    unit,
    between: (low, high) => low + (high - low) * unit(),
    integer: (low, high) => Math.floor(low + (high - low + 1) * unit()),
  };
};
const own = chance(seed);
Math.random = own.unit;
const streams = new Map();
/** Another stream of chance, the same for the same name: FNV-1a of it beside the seed. */
const stream = (name) => {
  let hash = 2166136261;
  for (const letter of String(name)) hash = Math.imul(hash ^ letter.codePointAt(0), 16777619) >>> 0;
  const made = streams.get(name) ?? Object.freeze(chance((hash ^ seed) >>> 0));
  streams.set(name, made);
  return made;
};
