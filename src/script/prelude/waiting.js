// Each script has handlers of its own, and what waits of it: one that fails is put out, and the others go on.
const MOST_WAITING = 4096;
const then = Promise.prototype.then;
const isPromise = (value) => value instanceof Promise;
const silence = (owner) => {
  for (const field of ['tickHandlers', 'clickHandlers', 'nearHandlers', 'runners', 'waiting'])
    owner[field] = [];
  owner.keyHandlers = new Map();
};
/** A promise that nobody waits for is watched, so that what goes wrong in it is told. */
const watchFor = (owner) => (value) => {
  if (isPromise(value))
    Reflect.apply(then, value, [
      undefined,
      (error) => {
        owner.failure ??= { error };
      },
    ]);
  return value;
};
/** Goes on once `isDue` says so, which is asked each tick. */
const whenFor = (owner) => (isDue) => {
  if (owner.waiting.length >= MOST_WAITING)
    throw new RangeError(`${MOST_WAITING} things wait already; is one begun each tick?`);
  return new Promise((resolve, reject) => {
    owner.waiting[owner.waiting.length] = { isDue, resolve, reject };
  });
};
const goOn = (owner) => {
  const before = owner.waiting;
  owner.waiting = [];
  for (const each of before) {
    try {
      if (each.isDue()) each.resolve();
      else owner.waiting[owner.waiting.length] = each;
    } catch (error) {
      each.reject(error);
    }
  }
};
const seconds = (given, word) => {
  if (typeof given !== 'number' || !Number.isFinite(given) || given < 0)
    throw new RangeError(`${word} takes seconds from 0, not ${stringify(given) ?? String(given)}.`);
  return given;
};
