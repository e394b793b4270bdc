import { spawn, spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

/** The project's root folder. */
export const ROOT = fileURLToPath(new URL('../../', import.meta.url)).replace(/\/$/, '');

export const say = (text) => console.log(`\x1b[2m·\x1b[0m ${text}`);

/** Ends the command with a sentence and no stack. */
export const giveUp = (sentence) => {
  console.error(`\n${sentence}\n`);
  process.exit(1);
};

/** Runs a command to its end, showing what it prints. Resolves to its exit code. */
export const run = (command, args, options = {}) =>
  new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: ROOT, stdio: 'inherit', ...options });
    child.on('error', reject);
    child.on('exit', (code, signal) => resolve(signal ? 1 : (code ?? 1)));
  });

/** Runs a command to its end beside others. Resolves to its exit code and all it said. */
export const runQuietly = (command, args, options = {}) =>
  new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: ROOT, stdio: ['ignore', 'pipe', 'pipe'], ...options });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (said += chunk));
    child.on('error', reject);
    child.on('close', (code, signal) => resolve({ code: signal ? 1 : (code ?? 1), said }));
  });

/** Runs a command quietly; gives what it printed and whether it went well. */
export const ask = (command, args, options = {}) => {
  const { status, stdout, stderr } = spawnSync(command, args, { encoding: 'utf8', cwd: ROOT, ...options });
  return { ok: status === 0, out: (stdout ?? '').trim(), err: (stderr ?? '').trim() };
};

/** True while a process with this number lives. */
export const isAlive = (pid) => {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return error.code === 'EPERM';
  }
};
