// npm run lint: every check of the source that runs nothing of it.
import { ensureModules } from './setup/modules.mjs';
import { run, runQuietly } from './setup/run.mjs';

const npx = (...args) => ['npx', ['--no-install', ...args]];

export const CHECKS = [
  ['Arrows between the rooms, and no circles', ['node', ['scripts/arrows.mjs']]],
  ['ESLint and the import rules of the house', npx('eslint', '.', '--max-warnings', '0')],
  ['Prettier', npx('prettier', '--check', '--log-level', 'warn', '.')],
  [
    'svelte-check',
    npx('svelte-check', '--tsconfig', './tsconfig.json', '--output', 'human', '--fail-on-warnings'),
  ],
];

/** A check's words, told when it is done, so that two do not speak at once. */
const check = async (name, [command, args]) => {
  const { code, said } = await runQuietly(command, args);
  process.stdout.write(said);
  console.log(code === 0 ? `✔ ${name}` : `✖ ${name}`);
  return code === 0;
};

/** Runs the checks, the long ones side by side; gives how many passed and failed. */
export const lint = async () => {
  await run('npx', ['--no-install', 'svelte-kit', 'sync']);
  const [arrows, eslint, ...rest] = CHECKS;
  const inTurn = async (checks) => {
    const passed = [];
    for (const [name, call] of checks) passed.push(await check(name, call));
    return passed;
  };
  const passed = (await Promise.all([inTurn([eslint]), inTurn([arrows, ...rest])]))
    .flat()
    .filter(Boolean).length;
  return { passed, failed: CHECKS.length - passed };
};

if (process.argv[1]?.endsWith('lint.mjs')) {
  await ensureModules();
  const { failed } = await lint();
  process.exit(failed ? 1 : 0);
}
