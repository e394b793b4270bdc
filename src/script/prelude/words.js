// The words of a script.
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
      if (loopLine !== line) enter(owner, line);
      loopLine = line;
      running = owner.index;
    },
    // Called at the head of every handler.
    __at: (line) => enter(owner, line),
  };
};
