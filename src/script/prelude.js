// Runs inside the sandbox before an author's script, and gives it its words. Plain JavaScript, as the sandbox reads it.
// __setup: { materials: [{ id, name, parameters: [{ name, kind, value }] }], seed }; __nearest(name, namesJson).
(() => {
  'use strict';
  const { materials, seed } = JSON.parse(globalThis.__setup);
  const nearest = globalThis.__nearest;
  delete globalThis.__setup;
  delete globalThis.__nearest;
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

  const tickHandlers = [];
  const keyHandlers = new Map();
  const held = new Set();
  let writes = create(null);
  let logs = [];
  let logged = 0;
  const MOST_LOGS = 200;
  let ticks = 0;

  // PCG-XSH-RR with 32 bits of output from a 32-bit state (M. O'Neill, 2014, reduced).
  let state = seed >>> 0;
  const nextBits = () => {
    state = (Math.imul(state, 747796405) + 2891336453) >>> 0;
    const word = Math.imul(((state >>> ((state >>> 28) + 4)) ^ state) >>> 0, 277803737) >>> 0;
    return ((word >>> 22) ^ word) >>> 0;
  };
  const unit = () => nextBits() / 4294967296;
  Math.random = unit;

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

  const sharedOnes = new Map();
  const common = (parameter) => {
    const known = sharedOnes.get(parameter.name) ?? parameter;
    sharedOnes.set(parameter.name, known);
    return known;
  };

  const handles = new Map(
    materials.map((material) => {
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
      const handle = new Proxy(Object.create(null), {
        get: (_, name) => (typeof name === 'symbol' ? undefined : read(find(name).kind, find(name).value)),
        set: (_, name, given) => {
          const parameter = find(name);
          parameter.value = checked(material, parameter, given);
          writes[`${material.id} ${parameter.name}`] = [material.id, parameter.name, parameter.value];
          return true;
        },
        has: (_, name) => known.has(name),
        ownKeys: () => [...known.keys()],
        getOwnPropertyDescriptor: (_, name) =>
          known.has(name)
            ? {
                enumerable: true,
                configurable: true,
                value: read(known.get(name).kind, known.get(name).value),
              }
            : undefined,
      });
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

  const words = {
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
      tickHandlers.push(handler);
    },
    onKey: (code, handler) => {
      needFunction(handler, 'onKey');
      if (typeof code !== 'string')
        throw new TypeError("onKey takes a key's place first, such as 'Space' or 'KeyN'.");
      keyHandlers.set(code, [...(keyHandlers.get(code) ?? []), handler]);
    },
    isHeld: (code) => held.has(code),
    time: () => ticks / 60,
    random: Object.freeze({
      unit,
      between: (low, high) => low + (high - low) * unit(),
      integer: (low, high) => Math.floor(low + (high - low + 1) * unit()),
    }),
    clamp: (x, low, high) => Math.min(Math.max(x, low), high),
    mix: (x, y, amount) => x * (1 - amount) + y * amount,
    log: (...parts) => say(parts),
  };
  for (const [name, value] of Object.entries(words))
    Object.defineProperty(globalThis, name, { value, writable: false, configurable: false });

  // Called at the head of every loop with its line, for when one has to be stopped.
  let loopLine = 0;
  Object.defineProperty(globalThis, '__loop', {
    value: (line) => {
      loopLine = line;
    },
    writable: false,
    configurable: false,
  });

  /** What was thrown, as its name, message and stack: read here, where reading it can be stopped. */
  const describe = (thrown) => {
    const text = (value) =>
      (typeof value === 'string' ? value : value === undefined ? '' : `${String(value)}`).slice(0, 4000);
    const isObject = (typeof thrown === 'object' || typeof thrown === 'function') && thrown !== null;
    const [name, message, stack] = isObject ? [thrown.name, thrown.message, thrown.stack] : ['', thrown, ''];
    return `[${stringify(text(name))},${stringify(text(message))},${stringify(text(stack))}]`;
  };
  const take = () => {
    const taken = [];
    for (const key in writes) {
      const [material, parameter, value] = writes[key];
      let numbers = '';
      for (let i = 0; i < value.length; i += 1) numbers += `${i ? ',' : ''}${+value[i]}`;
      taken[taken.length] = `[${stringify(material)},${stringify(parameter)},[${numbers}]]`;
    }
    let lines = '';
    for (let i = 0; i < logged; i += 1) lines += `${i ? ',' : ''}${stringify(`${logs[i]}`)}`;
    writes = create(null);
    logs = [];
    logged = 0;
    return `{"writes":[${taken.join(',')}],"logs":[${lines}]}`;
  };
  const forget = () => {
    loopLine = 0;
    tickHandlers.length = 0;
    keyHandlers.clear();
  };
  const tick = (inputsJson) => {
    loopLine = 0;
    for (const { kind, code } of parse(inputsJson)) {
      if (kind === 'up') held.delete(code);
      else {
        held.add(code);
        for (const handler of keyHandlers.get(code) ?? []) handler();
      }
    }
    for (const handler of tickHandlers) handler(1 / 60);
    ticks += 1;
  };
  // Handed to the host, which keeps them: a script does not know them by any name.
  return { describe, take, forget, tick, loopLine: () => loopLine };
})();
