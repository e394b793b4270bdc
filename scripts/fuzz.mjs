// npm run fuzz -- --count 5000 --seed 1: random shaders, compiled and compared in the browser.
import { parseArgs } from 'node:util';
import { ensureDebian } from './setup/debian.mjs';
import { ensureModules } from './setup/modules.mjs';
import { run } from './setup/run.mjs';

const { values } = parseArgs({
  options: { count: { type: 'string', default: '1000' }, seed: { type: 'string', default: '1' } },
});
await ensureDebian({ browser: true });
await ensureModules();
process.exit(
  await run('npx', ['playwright', 'test', 'fuzz'], {
    env: { ...process.env, FUZZ_COUNT: values.count, FUZZ_SEED: values.seed },
  }),
);
