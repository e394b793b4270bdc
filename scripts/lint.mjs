// npm run lint: every check of the source that runs nothing of it.
import { ensureModules } from './setup/modules.mjs';
import { run } from './setup/run.mjs';

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

/** Runs the checks; gives how many passed and failed. */
export const lint = async () => {
  let passed = 0;
  await run('npx', ['--no-install', 'svelte-kit', 'sync']);
  for (const [name, [command, args]] of CHECKS) {
    const code = await run(command, args);
    console.log(code === 0 ? `✔ ${name}` : `✖ ${name}`);
    if (code === 0) passed += 1;
  }
  return { passed, failed: CHECKS.length - passed };
};

if (process.argv[1]?.endsWith('lint.mjs')) {
  await ensureModules();
  const { failed } = await lint();
  process.exit(failed ? 1 : 0);
}
