// npm run lint: every check of the source that runs nothing of it.
import { ensureModules } from './setup/modules.mjs';
import { run, runQuietly } from './setup/run.mjs';

const npx = (...args) => ['npx', ['--no-install', ...args]];

/** The longest first: two are done at a time. */
export const CHECKS = [
  [
    'svelte-check',
    npx('svelte-check', '--tsconfig', './tsconfig.json', '--output', 'human', '--fail-on-warnings'),
  ],
  ['ESLint and the import rules of the house', npx('eslint', '.', '--max-warnings', '0')],
  ['Prettier', npx('prettier', '--check', '--log-level', 'warn', '.')],
  ['Arrows between the rooms, and no circles', ['node', ['scripts/arrows.mjs']]],
];

/** A check's words, told when it is done, so that two do not speak at once. */
const check = async (name, [command, args]) => {
  const { code, said } = await runQuietly(command, args);
  process.stdout.write(said);
  console.log(code === 0 ? `✔ ${name}` : `✖ ${name}`);
  return code === 0;
};

/**
 * Runs the checks, two at a time; gives how many passed and failed.
 * @param beside long work that runs nothing of the source either, done in the same time
 * @param next what begins as soon as no check waits, while the last is still done
 */
export const lint = async (beside = [], next = []) => {
  await run('npx', ['--no-install', 'svelte-kit', 'sync']);
  let passed = 0;
  const waiting = [
    ...beside,
    ...CHECKS.map(([name, call]) => async () => {
      if (await check(name, call)) passed += 1;
    }),
    ...next,
  ];
  const inTurn = async () => {
    for (let work = waiting.shift(); work; work = waiting.shift()) await work();
  };
  await Promise.all([inTurn(), inTurn()]);
  return { passed, failed: CHECKS.length - passed };
};

if (process.argv[1]?.endsWith('lint.mjs')) {
  await ensureModules();
  const { failed } = await lint();
  process.exit(failed ? 1 : 0);
}
