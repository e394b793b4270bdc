// Runs inside the sandbox before the authors' scripts, and gives each its words. Plain JavaScript, as the sandbox reads it.
// __setup: { materials: [{ id, name, parameters: [{ name, kind, value }] }], props: [{ id, name, position, rotation, scale,
// hidden }], cues: [{ id, name, length }], flourishes: [{ id, name }], seed }; __nearest(name, namesJson); __place(id) gives a point as JSON, or null;
// __under(slot) what a cue or a rule drives a parameter to in this tick, as JSON, or null.
(() => {
  'use strict';
  const { materials, props, cues, flourishes, seed } = JSON.parse(globalThis.__setup);
  const nearest = globalThis.__nearest;
  const placeOf = globalThis.__place;
  const underOf = globalThis.__under;
  delete globalThis.__setup;
  delete globalThis.__nearest;
  delete globalThis.__place;
  delete globalThis.__under;
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
  for (const each of [JSON, Reflect, Array.prototype, Map.prototype, Set.prototype, Function.prototype])
    freeze(each);
  for (const each of [[][Symbol.iterator](), new Map().values(), new Set().values()])
    freeze(getPrototypeOf(each));

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

  const suggestion = (wanted, known) => {
    const near = nearest(String(wanted), JSON.stringify(known));
    return near ? ` Did you mean ${near}?` : known.length ? ` There is ${known.join(', ')}.` : '';
  };
  const sizes = { float: 1, int: 1, bool: 1, vec2: 2, vec3: 3, vec4: 4, color: 4, noise: 2 };

  const read = (kind, value) => (sizes[kind] > 1 ? [...value] : kind === 'bool' ? value[0] !== 0 : value[0]);
  const checked = (material, { name, kind }, given) => {
    const numbers = Array.isArray(given) ? given : [typeof given === 'boolean' ? Number(given) : given];
    const size = sizes[kind];
    const fits = numbers.length === size || (kind === 'color' && numbers.length === 3);
    if (!fits || numbers.some((x) => typeof x !== 'number'))
      throw new TypeError(
        `${name} of “${material.name}” takes ${size === 1 ? 'a number' : `a list of ${kind === 'color' ? '3 or 4' : size} numbers`}, not ${JSON.stringify(given) ?? String(given)}.`,
      );
    if (numbers.some((x) => !Number.isFinite(x)))
      throw new RangeError(
        `${name} of “${material.name}” was given ${numbers.join(', ')}, which is not a finite number.`,
      );
    const kept = kind === 'int' || kind === 'noise' ? numbers.map(Math.round) : numbers.map(Number);
    return kind === 'color' && kept.length === 3 ? [...kept, 0] : kept;
  };

  /** What a parameter stands at: as a script has set it, else as a cue or a rule drives it, else as it is authored. */
  const now = ({ kind, own, value, slot }) =>
    read(kind, own ?? (isDriven ? parse(underOf(slot)) : null) ?? value);
  /** Whether cues or rules drive anything in this tick: the host is asked what, where a script wants to know. */
  let isDriven = false;
  /** Places that were set in this tick. */
  let changed = [];
  const sharedOnes = new Map();
  const common = (parameter) => {
    const known = sharedOnes.get(parameter.name) ?? parameter;
    sharedOnes.set(parameter.name, known);
    return known;
  };

  let [slots, offset] = [0, 0];
  const handles = new Map(
    materials.map((material) => {
      const owns = new Map(
        material.parameters.map(({ name, value }) => {
          const place = { slot: slots, offset, isChanged: false };
          slots += 1;
          offset += value.length;
          return [name, place];
        }),
      );
      const known = new Map(
        material.parameters.map((parameter) => [
          parameter.name,
          // A shared parameter is the same one in every material that has it.
          parameter.shared ? common(parameter) : parameter,
        ]),
      );
      const find = (name) => {
        const parameter = known.get(name);
        if (!parameter)
          throw new ReferenceError(
            `“${material.name}” has no parameter “${String(name)}”.${suggestion(name, [...known.keys()])}`,
          );
        return parameter;
      };
      // Names there are, are looked up without a trap; only one that there is not falls through to what refuses it.
      const handle = create(
        new Proxy(create(null), {
          get: (_, name) => (typeof name === 'symbol' ? undefined : void find(name)),
          set: (_, name) => {
            find(name);
            return false;
          },
          has: () => false,
        }),
      );
      for (const [name, parameter] of known) {
        const place = owns.get(name);
        parameter.slot ??= place.slot;
        const isPlain = parameter.kind === 'float';
        Object.defineProperty(handle, name, {
          enumerable: true,
          get: () => now(parameter),
          set: (given) => {
            // Most of what is written is one number.
            if (isPlain && typeof given === 'number' && given - given === 0) {
              if (parameter.own) parameter.own[0] = given;
              else parameter.own = [given];
            } else parameter.own = checked(material, parameter, given);
            if (place.isChanged) return;
            place.isChanged = true;
            place.parameter = parameter;
            changed[changed.length] = place;
          },
        });
      }
      Object.preventExtensions(handle);
      return [material.name, handle];
    }),
  );

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
          throw new RangeError(
            `Each number of the scale of “${own.name}” should be above 0; hide it instead.`,
          );
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
  let calls = [];
  const call = (...given) => {
    if (calls.length >= 1000) throw new RangeError('Cues and flourishes were called 1000 times in one tick.');
    calls[calls.length] = given;
  };
  let standing = create(null);
  const cuesFor = (when) =>
    new Map(
      cues.map(({ id, name, length }) => {
        /** Ticks at which it was told to play, which the set hears of after the script. */
        let asked = -1;
        const isRunning = () => asked === ticks || standing[id]?.moves === true;
        return [
          name,
          Object.freeze(
            Object.defineProperties(create(null), {
              name: { value: name, enumerable: true },
              length: { value: length, enumerable: true },
              at: { enumerable: true, get: () => standing[id]?.at ?? 0 },
              isPlaying: { enumerable: true, get: isRunning },
              play: {
                value: (at) => {
                  call('play', id, at === undefined ? null : seconds(at, 'play'));
                  asked = ticks;
                  return when(() => !isRunning());
                },
              },
              stop: {
                value: () => {
                  asked = -1;
                  call('end', id);
                },
              },
              seek: { value: (at) => call('seek', id, seconds(at, 'seek')) },
            }),
          ),
        ];
      }),
    );

  let plays = [];
  const flourishesFor = (when) =>
    new Map(
      flourishes.map(({ id, name }) => {
        let asked = -1;
        const isRunning = () => asked === ticks || plays.includes(id);
        const begin = (...given) => {
          call('flourish', id, ...given);
          asked = ticks;
          return when(() => !isRunning());
        };
        return [
          name,
          Object.freeze(
            Object.defineProperties(create(null), {
              name: { value: name, enumerable: true },
              isPlaying: { enumerable: true, get: isRunning },
              play: { value: () => begin() },
              at: {
                value: (where, up) => {
                  const point = pointOf(where, 'at');
                  // What is nowhere has no place for it.
                  return point
                    ? begin(point, up === undefined ? null : pointOf(up, 'at'))
                    : Promise.resolve();
                },
              },
              stop: {
                value: () => {
                  asked = -1;
                  call('douse', id);
                },
              },
            }),
          ),
        ];
      }),
    );

  const EASES = {
    straight: (t) => t,
    smooth: (t) => t * t * (3 - 2 * t),
    in: (t) => t * t,
    out: (t) => t * (2 - t),
  };
  /** A script's words, which tell whose they are by themselves, however long after they are called. */
  const wordsFor = (owner) => {
    const when = whenFor(owner);
    const [cueHandles, flourishHandles] = [cuesFor(when), flourishesFor(when)];
    return {
      material: (name) => {
        const handle = handles.get(name);
        if (!handle)
          throw new ReferenceError(
            `There is no material “${String(name)}”.${suggestion(name, [...handles.keys()])}`,
          );
        return handle;
      },
      onTick: (handler) => {
        needFunction(handler, 'onTick');
        owner.tickHandlers.push(handler);
      },
      onKey: (code, handler) => {
        needFunction(handler, 'onKey');
        if (typeof code !== 'string')
          throw new TypeError("onKey takes a key's place first, such as 'Space' or 'KeyN'.");
        owner.keyHandlers.set(code, [...(owner.keyHandlers.get(code) ?? []), handler]);
      },
      isHeld: (code) => held.has(code),
      onClick: (...given) => {
        const handler = given.at(-1);
        needFunction(handler, 'onClick');
        if (given.length > 1 && !places.has(given[0]))
          throw new TypeError('onClick takes a prop first, as prop gives it, and then a function to call.');
        owner.clickHandlers.push({ on: given.length > 1 ? given[0].name : null, handler });
      },
      onNear: (a, b, within, enter, leave) => {
        needFunction(enter, 'onNear');
        if (leave !== undefined) needFunction(leave, 'onNear');
        if (typeof within !== 'number' || !(within >= 0))
          throw new RangeError('onNear takes metres from 0 third.');
        owner.nearHandlers.push({ isNear: () => distance(a, b) <= within, was: false, enter, leave });
      },
      prop: (name) => propHandles.get(name) ?? noProp(name),
      cue: (name) => cueHandles.get(name) ?? noCue(name),
      flourish: (name) => flourishHandles.get(name) ?? noFlourish(name),
      pointer,
      walker,
      distance,
      near: (a, b, within) => distance(a, b) <= within,
      wait: (given) => {
        const due = ticks + Math.max(1, Math.round(seconds(given, 'wait') * 60));
        return when(() => ticks >= due);
      },
      until: (condition) => {
        needFunction(condition, 'until');
        return when(() => Boolean(condition()));
      },
      spring: ({ stiffness = 60, damping = 6, limit = Infinity, value = 0 } = {}) => {
        if (
          !(stiffness > 0) ||
          !(damping >= 0) ||
          !(limit >= 0) ||
          !Number.isFinite(stiffness + damping + value)
        )
          throw new RangeError('spring takes a stiffness above 0, a damping and a limit from 0.');
        const made = { value, velocity: 0, target: value };
        made.step = (dt = 1 / 60) => {
          // Its damping is taken at the end of the step, so that none is too strong for it.
          made.velocity = (made.velocity - dt * stiffness * (made.value - made.target)) / (1 + dt * damping);
          const further = made.value + dt * made.velocity;
          const held = Math.min(Math.max(further, made.target - limit), made.target + limit);
          if (held !== further) made.velocity = 0;
          made.value = held;
          return held;
        };
        return made;
      },
      tween: (from, to, over, set, ease = 'smooth') => {
        needFunction(set, 'tween');
        const eased = typeof ease === 'function' ? ease : EASES[ease];
        if (!eased)
          throw new ReferenceError(
            `There is no ease “${String(ease)}”.${suggestion(ease, Object.keys(EASES))}`,
          );
        const [span, began] = [Math.max(seconds(over, 'tween'), 1 / 60), ticks];
        const between = (a, b, t) =>
          Array.isArray(a) ? a.map((x, i) => x * (1 - t) + b[i] * t) : a * (1 - t) + b * t;
        const runner = { done: false };
        runner.step = () => {
          const t = Math.min((ticks - began) / 60 / span, 1);
          set(between(from, to, eased(t)));
          runner.done = t >= 1;
        };
        if (owner.runners.length >= MOST_WAITING)
          throw new RangeError(`${MOST_WAITING} tweens run already; is one begun each tick?`);
        owner.runners.push(runner);
        return when(() => runner.done);
      },
      time: () => ticks / 60,
      random: Object.freeze({ ...own, stream }),
      clamp: (x, low, high) => Math.min(Math.max(x, low), high),
      mix: (x, y, amount) => x * (1 - amount) + y * amount,
      log: (...parts) => say(parts),
      __watch: watchFor(owner),
      // Called at the head of every loop with its line, for when one has to be stopped.
      __loop: (line) => {
        loopLine = line;
        running = owner.index;
      },
    };
  };
  let loopLine = 0;
  /** Which script runs, or ran last. */
  let running = 0;

  /** What was thrown, as its name, message and stack: read here, where reading it can be stopped. */
  const describe = (thrown) => {
    const text = (value) =>
      (typeof value === 'string' ? value : value === undefined ? '' : `${String(value)}`).slice(0, 4000);
    const isObject = (typeof thrown === 'object' || typeof thrown === 'function') && thrown !== null;
    const [name, message, stack] = isObject ? [thrown.name, thrown.message, thrown.stack] : ['', thrown, ''];
    return `[${stringify(text(name))},${stringify(text(message))},${stringify(text(stack))}]`;
  };
  /** What is left of a tick besides numbers; nothing where that is all. */
  const take = () => {
    const { length } = changed;
    for (let i = 0; i < length; i += 1) {
      const place = changed[i];
      const { own } = place.parameter;
      for (let k = 0; k < own.length; k += 1) store[place.offset + k] = own[k];
      order[1 + i] = place.slot;
      place.isChanged = false;
    }
    order[0] = length;
    changed = [];
    if (!logged && !hasMoved && !calls.length) return '';
    let lines = '';
    for (let i = 0; i < logged; i += 1) lines += `${i ? ',' : ''}${stringify(`${logs[i]}`)}`;
    const text = `{"logs":[${lines}],"moves":${stringify(moves)},"calls":${stringify(calls)}}`;
    moves = create(null);
    hasMoved = false;
    calls = [];
    logs = [];
    logged = 0;
    return text;
  };
  const owners = [];
  const forget = (index) => {
    const made = { index, failure: null, ended: false };
    silence(made);
    if (owners[index]) {
      owners[index].ended = true;
      silence(owners[index]);
    }
    owners[index] = made;
    loopLine = 0;
    return '';
  };
  /** Runs a part of a script: what it throws ends it alone. */
  const guard = (owner, work) => {
    if (owner.ended || owner.failure) return;
    if (running !== owner.index) [running, loopLine] = [owner.index, 0];
    try {
      work(owner);
    } catch (error) {
      owner.failure ??= { error };
    }
  };
  const begin = (index, script) => guard(owners[index], (owner) => script(wordsFor(owner)));
  const end = (index) => {
    owners[index].ended = true;
    silence(owners[index]);
    return '';
  };
  /** What the set itself did in this tick, before the script. */
  const hear = ({ driven, moved, cues: stands, flourishes: going, pointer: over, walker: from }) => {
    isDriven = driven === true;
    for (const own of props) if (moved?.[own.id]) Object.assign(own, moved[own.id]);
    standing = create(null);
    for (const [id, at, isMoving] of stands ?? []) standing[id] = { at, moves: isMoving };
    plays = going ?? [];
    if (over !== undefined) hit = over;
    if (from !== undefined) looks = from;
  };
  const hearInput = (input, owner) => {
    const watch = watchFor(owner);
    if (input.kind === 'down')
      for (const handler of owner.keyHandlers.get(input.code) ?? []) watch(handler());
    else if (input.kind === 'click')
      for (const { on, handler } of owner.clickHandlers)
        if (hit && (on === null || on === propNames.get(hit.prop)))
          watch(handler({ ...hit, prop: propNames.get(hit.prop) ?? null }));
  };
  const step = (owner) => {
    const watch = watchFor(owner);
    for (const each of owner.nearHandlers) {
      const isNear = each.isNear();
      if (isNear !== each.was) watch((isNear ? each.enter : each.leave)?.());
      each.was = isNear;
    }
    if (owner.runners.length) {
      for (const runner of [...owner.runners]) runner.step();
      owner.runners = owner.runners.filter(({ done }) => !done);
    }
    if (owner.waiting.length) goOn(owner);
    for (const handler of owner.tickHandlers) watch(handler(1 / 60));
  };
  const tick = (inputsJson) => {
    loopLine = 0;
    // What awaits goes on after the handlers, and in their tick.
    if (begun) ticks += 1;
    begun = true;
    const { inputs, news } = parse(inputsJson);
    if (news) hear(news);
    for (const input of inputs) {
      if (input.kind === 'up') held.delete(input.code);
      else if (input.kind === 'down') held.add(input.code);
      else if (input.kind === 'click') hit = input.hit;
      else continue;
      for (const owner of owners) guard(owner, () => hearInput(input, owner));
    }
    for (const owner of owners) guard(owner, step);
  };
  /** Scripts that went wrong, in handlers or in what nobody waited for: each is told of once, and ended. */
  const check = () => {
    let told = '';
    for (const owner of owners) {
      if (!owner.failure || owner.ended) continue;
      end(owner.index);
      told += `${told ? ',' : ''}[${owner.index},${describe(owner.failure.error)}]`;
    }
    return told && `[${told}]`;
  };
  // Handed to the host, which keeps them: a script does not know them by any name.
  return {
    describe,
    take,
    forget,
    begin,
    end,
    tick,
    check,
    running: () => `${running} ${loopLine}`,
    names: Object.keys(wordsFor({})).join(),
    order: order.buffer,
    store: store.buffer,
  };
})();
