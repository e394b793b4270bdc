/** A word that scripts have: how it is called, and what it does. */
export interface ScriptWord {
  readonly name: string;
  readonly call: string;
  readonly does: string;
}

const word = (name: string, call: string, does: string): ScriptWord => ({ name, call, does });

/** Every word that `prelude/words.js` gives a script, as completion and the reference tell of them. */
export const SCRIPT_WORDS: readonly ScriptWord[] = [
  word('material', "material('Velvet')", 'A material’s parameters, to be read and set by their names.'),
  word(
    'prop',
    "prop('Bell')",
    'A prop: position, rotation, scale, hidden, to be read and set; place, where it is in the world.',
  ),
  word(
    'cue',
    "cue('kindle')",
    'A cue: play(seconds?), which can be awaited to its end, stop(), seek(seconds), at, length, isPlaying.',
  ),
  word(
    'flourish',
    "flourish('Sweep')",
    'A flourish: play(), or at(point, up?) where a prop, the pointer or a point is; both can be awaited to its end. stop(), isPlaying.',
  ),
  word('onTick', 'onTick((dt) => …)', 'Called 60 times a second, with dt in seconds.'),
  word('onKey', "onKey('Space', () => …)", 'Called when a key goes down, told by its place: Space, KeyN.'),
  word(
    'onClick',
    'onClick(prop?, (hit) => …)',
    'Called when the stage is clicked, or that prop: hit has prop, point, normal, uv and distance.',
  ),
  word(
    'onNear',
    'onNear(a, b, metres, enter, leave?)',
    'Called when two things come as near as that, and when they part again.',
  ),
  word('isHeld', "isHeld('KeyW')", 'Whether a key is down now.'),
  word('pointer', 'pointer', 'What the pointer is over: over, point, normal, uv, distance.'),
  word('walker', 'walker', 'Who looks: position and direction.'),
  word('distance', 'distance(a, b)', 'Metres between props, the pointer, the walker or points.'),
  word('near', 'near(a, b, metres)', 'Whether they are as near as that.'),
  word('wait', 'await wait(seconds)', 'Goes on so many seconds later; in an async function.'),
  word('until', 'await until(() => …)', 'Goes on once that is true, which is asked each tick.'),
  word(
    'tween',
    "await tween(from, to, seconds, (x) => …, 'smooth')",
    'Hands over what lies between, each tick: straight, smooth, in, out, or an ease of your own.',
  ),
  word(
    'spring',
    'spring({ stiffness, damping, limit, value })',
    'A damped spring: set its target, call step(dt), read its value and velocity.',
  ),
  word(
    'random',
    'random.unit(), random.between(a, b), random.integer(a, b)',
    'Seeded chance; random.stream(name) is a stream of its own, the same for the same name.',
  ),
  word('time', 'time()', 'Seconds rehearsed.'),
  word('clamp', 'clamp(x, low, high)', 'x, held between them.'),
  word('mix', 'mix(x, y, amount)', 'What lies between, by a share.'),
  word('log', 'log(…)', 'Writes to the log.'),
];

/** The page on what scripts can say. */
export const scriptsPage = (): string => `# Scripts

Made by \`npm run docs\` from the words themselves.

A set plays up to eight scripts, in JavaScript, in an engine of their own: with no page, no network and no clock, sixty ticks a second. The
same keys, clicks and places in the same ticks give the same numbers, bit for bit. Each tick goes: the set's rules, its cues,
then the scripts in their order, over both; a value that is held by hand lies over all. A script reads what is driven beneath
it until a script sets it: of two that set a value the later one counts. Each has names of its own; they share the chance of
\`random\`, unless they ask for a stream by name. A script that throws is stopped, with its name and line; the others keep
running. One that does not return within about 1.5 s is killed, and the rehearsal ends.

| word | how | what |
| --- | --- | --- |
${SCRIPT_WORDS.map(({ name, call, does }) => `| \`${name}\` | \`${call}\` | ${does} |`).join('\n')}

Functions that are \`async\` are coroutines: what they await goes on in the tick it is ready in. What goes wrong in one is told
with its line, as everything else is. At most 4096 things wait at once; one tick lasts at most 200 ms.

Scripts share one engine, so its built-in objects are frozen: nothing can be added to \`Array.prototype\` or \`globalThis\`. There
is no \`eval\` and no \`Function\` from text. Functions may call each other about 350 levels deep.

\`\`\`js
const sheet = material('Thunder steel');
onClick(prop('Thunder sheet'), async ({ point: [x, y] }) => {
  await tween(0, sheet.life, sheet.life, (age) => { sheet.first = [x, y, 0, age]; }, 'straight');
  sheet.first = [x, y, 0, -1];
});
\`\`\`
`;
