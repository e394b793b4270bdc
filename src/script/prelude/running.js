// Begins and ends scripts, runs their ticks, and tells the host what came of them.
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
let entered = new Set();
/** Tells the host where a script is, once a tick of each place: whoever ends a script that never returns knows no more. */
const enter = ({ index }, line) => {
  const place = `${index} ${line}`;
  if (entered.has(place)) return;
  entered.add(place);
  enterOf(index, line);
};
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
  enter(owner, 0);
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
  if (input.kind === 'down') for (const handler of owner.keyHandlers.get(input.code) ?? []) watch(handler());
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
  entered = new Set();
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
const handed = {
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
