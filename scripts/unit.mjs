// npm run unit [words]: the unit tests alone; only those files whose path has one of the words, where any are told.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { ensureModules } from './setup/modules.mjs';
import { ROOT } from './setup/run.mjs';

/** Runs them as a process of its own. @param pipes whether what it says is read by the caller */
export const startUnit = async (words = [], pipes = false) => {
  const { bundleTests } = await import('./setup/bundleTests.mjs');
  const { bundleJobs } = await import('./setup/bundleJobs.mjs');
  const jobs = join(ROOT, '.cache/unit-jobs.mjs');
  await bundleJobs(jobs);
  const files = (await bundleTests()).filter(
    (file) => !words.length || words.some((word) => file.includes(word)),
  );
  return spawn(
    process.execPath,
    ['--enable-source-maps', '--test', '--test-reporter=spec', '--test-concurrency=2', ...files],
    {
      cwd: ROOT,
      stdio: ['ignore', pipes ? 'pipe' : 'inherit', 'inherit'],
      env: { ...process.env, NO_COLOR: '1', JOBS_FILE: jobs },
    },
  );
};

if (process.argv[1]?.endsWith('unit.mjs')) {
  await ensureModules();
  const child = await startUnit(process.argv.slice(2));
  child.on('exit', (code) => process.exit(code ?? 1));
}
