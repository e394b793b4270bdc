// Scripts share one engine: what belongs to all of them is frozen, so that none changes it under another.

// Code made from text is parsed by a recursion that the stack limit does not bound.
delete globalThis.eval;
const refuseText = function Function() {
  throw new TypeError('A script cannot make code from text.');
};
for (const sample of [() => 0, async () => 0, function* () {}, async function* () {}])
  Object.defineProperty(getPrototypeOf(sample), 'constructor', { value: refuseText });
refuseText.prototype = getPrototypeOf(refuseText);
globalThis.Function = refuseText;

/** Own properties of these stay assignable on other objects, as they are where nothing is frozen. */
const assignable = [Object.prototype, Error.prototype, TypeError.prototype, RangeError.prototype];
for (const shared of assignable)
  for (const key of Object.getOwnPropertyNames(shared)) {
    const { value, writable } = Object.getOwnPropertyDescriptor(shared, key);
    if (!writable) continue;
    Object.defineProperty(shared, key, {
      get: () => value,
      set(next) {
        if (this === shared) throw new TypeError(`${key} is read-only.`);
        Object.defineProperty(this, key, {
          value: next,
          writable: true,
          enumerable: true,
          configurable: true,
        });
      },
    });
  }

const seen = new Set();
const freezeAll = (root) => {
  const waiting = [root];
  while (waiting.length) {
    const each = waiting.pop();
    if ((typeof each !== 'object' && typeof each !== 'function') || each === null || seen.has(each)) continue;
    seen.add(each);
    freeze(each);
    waiting.push(getPrototypeOf(each));
    for (const key of Reflect.ownKeys(each)) {
      const { value, get, set } = Object.getOwnPropertyDescriptor(each, key);
      waiting.push(value, get, set);
    }
  }
};
freezeAll(globalThis);
for (const each of [
  [][Symbol.iterator](),
  new Map().values(),
  new Set().values(),
  ''[Symbol.iterator](),
  ''.matchAll(/x/g),
  (function* () {})(),
  (async function* () {})(),
])
  freezeAll(each);
for (const sample of [async () => 0, function* () {}, async function* () {}]) freezeAll(sample);
