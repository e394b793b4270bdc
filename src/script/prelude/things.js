// What has a place: props, the pointer, who walks; and how far they are from one another.
const needFunction = (handler, word) => {
  if (typeof handler !== 'function')
    throw new TypeError(`${word} takes a function to call, not ${typeof handler}.`);
};
const say = (parts) => {
  if (logged >= MOST_LOGS) return;
  logs[logged] = parts
    .map((part) => (typeof part === 'string' ? part : (stringify(part) ?? String(part))))
    .join(' ')
    .slice(0, 2000);
  logged += 1;
};

const thrower = (kind, names) => (name) => {
  throw new ReferenceError(`There is no ${kind} “${String(name)}”.${suggestion(name, names())}`);
};
/** Things that have a place: what asks where they are. */
const places = new WeakMap();
const pointOf = (thing, word) => {
  const asked = typeof thing === 'object' && thing !== null ? places.get(thing) : undefined;
  const point = asked ? asked() : thing;
  if (point === null) return null;
  if (!Array.isArray(point) || point.length !== 3 || !point.every(Number.isFinite))
    throw new TypeError(
      `${word} takes a prop, pointer, walker or a list of 3 numbers, not ${stringify(thing) ?? String(thing)}.`,
    );
  return point;
};
const distance = (a, b) => {
  const [p, q] = [pointOf(a, 'distance'), pointOf(b, 'distance')];
  return p && q ? Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2]) : Infinity;
};

let moves = create(null);
let hasMoved = false;
const move = (own, change) => {
  moves[own.id] = { ...moves[own.id], ...change };
  hasMoved = true;
};
const propHandles = new Map();
const propNames = new Map(props.map(({ id, name }) => [id, name]));
for (const own of props) {
  const three = (field) => ({
    enumerable: true,
    get: () => [...(own[field] ?? [1, 1, 1])],
    set: (given) => {
      if (
        !Array.isArray(given) ||
        given.length !== 3 ||
        !given.every((x) => typeof x === 'number' && Number.isFinite(x))
      )
        throw new TypeError(
          `${field} of “${own.name}” takes a list of 3 finite numbers, not ${stringify(given) ?? String(given)}.`,
        );
      if (field === 'scale' && given.some((x) => x <= 0))
        throw new RangeError(`Each number of the scale of “${own.name}” should be above 0; hide it instead.`);
      own[field] = [...given];
      move(own, { [field]: own[field] });
    },
  });
  const handle = Object.seal(
    Object.defineProperties(create(null), {
      name: { value: own.name, enumerable: true },
      position: three('position'),
      rotation: three('rotation'),
      scale: three('scale'),
      hidden: {
        enumerable: true,
        get: () => own.hidden === true,
        set: (given) => {
          own.hidden = Boolean(given);
          move(own, { hidden: own.hidden });
        },
      },
      place: { enumerable: true, get: () => parse(placeOf(own.id)) },
    }),
  );
  places.set(handle, () => parse(placeOf(own.id)));
  propHandles.set(own.name, handle);
}
const noProp = thrower('prop', () => [...propHandles.keys()]);
const noCue = thrower('cue', () => cues.map(({ name }) => name));
const noFlourish = thrower('flourish', () => flourishes.map(({ name }) => name));

let hit = null;
let looks = null;
const copied = (value) => (value ? [...value] : null);
const pointer = Object.freeze(
  Object.defineProperties(create(null), {
    over: { enumerable: true, get: () => (hit ? (propNames.get(hit.prop) ?? null) : null) },
    point: { enumerable: true, get: () => copied(hit?.point) },
    normal: { enumerable: true, get: () => copied(hit?.normal) },
    uv: { enumerable: true, get: () => copied(hit?.uv) },
    distance: { enumerable: true, get: () => hit?.distance ?? Infinity },
  }),
);
places.set(pointer, () => copied(hit?.point));
const walker = Object.freeze(
  Object.defineProperties(create(null), {
    position: { enumerable: true, get: () => copied(looks?.position) },
    direction: { enumerable: true, get: () => copied(looks?.direction) },
  }),
);
places.set(walker, () => copied(looks?.position));
