import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { BUILT_JOBS } from './modules.mjs';
import { giveUp, ROOT, run } from './run.mjs';

/** Makes tables, and the demo data where wanted. */
export const prepareDatabase = async (address, { demo = false } = {}) => {
  const args = ['--import', 'tsx', 'src/server/prepare.ts', ...(demo ? ['--demo'] : [])];
  const code = await run(process.execPath, args, {
    env: { ...process.env, DATABASE_URL: address, JOBS_FILE: BUILT_JOBS },
  });
  if (code !== 0) giveUp('The database could not be prepared; see above.');
};

/**
 * Starts the built server and waits until it answers.
 * @returns {Promise<{ url: string, child: import('node:child_process').ChildProcess, stop: (signal?: string) => Promise<void> }>}
 */
export const startServer = async ({ address, port, host = '127.0.0.1', quiet = false }) => {
  const child = spawn(process.execPath, [join(ROOT, 'scripts/serve.mjs')], {
    cwd: ROOT,
    stdio: ['ignore', quiet ? 'ignore' : 'inherit', 'inherit', 'ipc'],
    env: {
      ...process.env,
      NODE_ENV: 'production',
      DATABASE_URL: address,
      JOBS_FILE: BUILT_JOBS,
      PORT: String(port),
      HOST: host,
      // Bodies are bounded where they are read, with a sentence.
      BODY_SIZE_LIMIT: 'Infinity',
      SHUTDOWN_TIMEOUT: '1',
    },
    detached: true,
  });
  const url = `http://${host === '0.0.0.0' ? '127.0.0.1' : host}:${port}`;
  const ended = new Promise((resolve) => child.once('exit', resolve));
  for (let i = 0; i < 400; i += 1) {
    if (child.exitCode !== null) giveUp('The server ended as soon as it began; see above.');
    const answered = await fetch(`${url}/api/health`).then(
      () => true,
      () => false,
    );
    if (answered) break;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  const stop = async (signal = 'SIGTERM') => {
    if (child.exitCode === null && child.signalCode === null) child.kill(signal);
    const late = setTimeout(() => child.kill('SIGKILL'), 4000);
    await ended;
    clearTimeout(late);
  };
  return { url, child, stop };
};
