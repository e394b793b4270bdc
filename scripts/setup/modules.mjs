import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ask, giveUp, ROOT, run, say } from './run.mjs';

/** Where the built server's threads find what they run. */
export const BUILT_JOBS = join(ROOT, 'build/jobs.mjs');

const hashOf = (parts) => {
  const hash = createHash('sha256');
  for (const part of parts) hash.update(part);
  return hash.digest('hex');
};

/** Does `work` unless it was done before for the same key; the stamp is written only when it went well. */
const once = async (stamp, key, work) => {
  const file = join(ROOT, stamp);
  if (existsSync(file) && readFileSync(file, 'utf8') === key) return;
  await work();
  mkdirSync(join(file, '..'), { recursive: true });
  writeFileSync(file, key);
};

/** Installs the npm packages that package-lock.json names, when it changed since. */
export const ensureModules = () => {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19))
    giveUp(`Node ${process.versions.node} is too old; version 20.19 or newer is needed.`);
  const key = hashOf([readFileSync(join(ROOT, 'package-lock.json')), process.version, process.arch]);
  return once('node_modules/.wicked-veil-installed', key, async () => {
    say('installing npm packages');
    if ((await run('npm', ['ci', '--no-audit', '--no-fund', '--loglevel=error'])) !== 0)
      giveUp('npm ci failed; see above.');
  });
};

const SOURCES = [
  'src',
  'static',
  'scripts/build.mjs',
  'demo',
  'package-lock.json',
  'package.json',
  'svelte.config.js',
  'vite.config.ts',
  'tsconfig.json',
];

/** Builds the server and the pages for production, when their sources changed since. */
export const ensureBuild = () => {
  const listed = ask('git', [
    'ls-files',
    '-z',
    '--cached',
    '--others',
    '--exclude-standard',
    '--',
    ...SOURCES,
  ]);
  const files = listed.ok
    ? listed.out
        .split('\0')
        .filter((file) => file && existsSync(join(ROOT, file)))
        .sort()
    : null;
  const key = files
    ? hashOf(files.flatMap((file) => [file, readFileSync(join(ROOT, file))]))
    : `unknown ${Date.now()}`;
  return once('build/.built-from', key, async () => {
    say('building');
    if ((await run('node', ['scripts/build.mjs', '--logLevel', 'warn'])) !== 0)
      giveUp('The build failed; see above.');
  });
};
