// Makes package-lock.json, also against a registry that carries only this platform's binaries: such a registry leaves
// other platforms' optional packages out of the lock, and `npm ci` then refuses it. They are written in as npm would.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT, run } from './setup/run.mjs';

const OS = [
  'aix',
  'android',
  'darwin',
  'freebsd',
  'linux',
  'netbsd',
  'openbsd',
  'openharmony',
  'sunos',
  'win32',
];
const CPU = ['arm', 'arm64', 'ia32', 'loong64', 'mips64el', 'ppc64', 'riscv64', 's390x', 'wasm32', 'x64'];

const code = await run('npm', ['install', '--package-lock-only', '--no-audit', '--no-fund']);
if (code !== 0) process.exit(code);
const file = join(ROOT, 'package-lock.json');
const lock = JSON.parse(readFileSync(file, 'utf8'));
const added = {};
for (const entry of Object.values(lock.packages))
  for (const [name, version] of Object.entries(entry.optionalDependencies ?? {})) {
    const place = `node_modules/${name}`;
    if (Object.keys(lock.packages).some((each) => each.endsWith(place))) continue;
    const words = name.split(/[-/]/);
    const only = (known) => known.filter((each) => words.includes(each));
    const [os, cpu] = [only(OS), only(CPU)];
    // A package bound to no platform that the registry lacks is simply left out when it cannot be fetched.
    added[place] = {
      version: version.replace(/^[\^~]/, ''),
      ...(cpu.length ? { cpu } : {}),
      ...(entry.dev ? { dev: true } : {}),
      optional: true,
      ...(os.length ? { os } : {}),
    };
  }
lock.packages = Object.fromEntries(
  Object.entries({ ...lock.packages, ...added }).sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0)),
);
writeFileSync(file, `${JSON.stringify(lock, null, 2)}\n`);
console.log(`${Object.keys(added).length} packages of other platforms added`);
