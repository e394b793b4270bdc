// What the host tells, what of the engine is put out of reach, and what crosses to the host after each tick.
const { materials, props, cues, flourishes, seed } = JSON.parse(globalThis.__setup);
const nearest = globalThis.__nearest;
const placeOf = globalThis.__place;
const underOf = globalThis.__under;
const enterOf = globalThis.__enter;
delete globalThis.__setup;
delete globalThis.__nearest;
delete globalThis.__place;
delete globalThis.__under;
delete globalThis.__enter;
// Wall-clock time and unseeded chance would make a rehearsal impossible to repeat.
delete globalThis.Date;

// What the host relies on is kept before a script can put anything in its place.
const { stringify, parse } = JSON;
const { freeze, getPrototypeOf, create } = Object;

// Loops of the engine's own are not interrupted: what goes over a length goes over one that ends soon.
const LONGEST = 10_000_000;
for (const name of Object.getOwnPropertyNames(Array.prototype)) {
  const own = Array.prototype[name];
  if (typeof own !== 'function' || name === 'constructor') continue;
  const apply = Reflect.apply;
  Object.defineProperty(Array.prototype, name, {
    value: {
      [name](...given) {
        if (this !== null && this !== undefined && this.length > LONGEST)
          throw new RangeError(
            `${name} would go over ${this.length} elements; at most ${LONGEST} are allowed.`,
          );
        return apply(own, this, given);
      },
    }[name],
  });
}

const held = new Set();
// What is set crosses to the host once a tick, as numbers in these: how many places were set, and which; and what
// stands at each. A place is a parameter of a material, in the order of the setup.
let placeCount = 0;
let numberCount = 0;
for (const { parameters } of materials)
  for (const { value } of parameters) {
    placeCount += 1;
    numberCount += value.length;
  }
const order = new Int32Array(1 + placeCount);
const store = new Float64Array(numberCount);
let logs = [];
let logged = 0;
const MOST_LOGS = 200;
let ticks = 0;
let begun = false;
