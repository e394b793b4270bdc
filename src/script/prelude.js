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

  const tickHandlers = [];
  const keyHandlers = new Map();
  const held = new Set();
  let writes = new Map();
  let logs = [];
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
          writes.set(`${material.id} ${parameter.name}`, {
            material: material.id,
            parameter: parameter.name,
            value: parameter.value,
          });
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
    if (logs.length < 200)
      logs.push(
        parts
          .map((part) => (typeof part === 'string' ? part : (JSON.stringify(part) ?? String(part))))
          .join(' ')
          .slice(0, 2000),
      );
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

  globalThis.__loopLine = () => loopLine;
  globalThis.__forget = () => {
    loopLine = 0;
    tickHandlers.length = 0;
    keyHandlers.clear();
  };
  globalThis.__take = () => {
    const taken = JSON.stringify({ writes: [...writes.values()], logs });
    writes = new Map();
    logs = [];
    return taken;
  };
  globalThis.__tick = (inputsJson) => {
    loopLine = 0;
    for (const { kind, code } of JSON.parse(inputsJson)) {
      if (kind === 'up') held.delete(code);
      else {
        held.add(code);
        for (const handler of keyHandlers.get(code) ?? []) handler();
      }
    }
    for (const handler of tickHandlers) handler(1 / 60);
    ticks += 1;
  };
})();
