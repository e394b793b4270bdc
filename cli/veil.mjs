#!/usr/bin/env node
// Starts the command line. TypeScript is put together once after each change and kept, so that starting takes no time.
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';

const root = join(dirname(fileURLToPath(import.meta.url)), '..');
const kept = join(root, 'node_modules/.cache/veil');

/** What the sources are now: every file's size and time. */
const stampOf = () => {
  const hash = createHash('sha1');
  for (const folder of ['cli', 'src/core', 'src/script', 'src/stage/field'])
    for (const file of readdirSync(join(root, folder), { recursive: true }).sort()) {
      if (!/\.(ts|js)$/.test(file) || file.endsWith('.test.ts')) continue;
      const { size, mtimeMs } = statSync(join(root, folder, file));
      hash.update(`${file} ${size} ${mtimeMs};`);
    }
  return hash.update(process.version).digest('hex').slice(0, 16);
};

const folder = join(kept, stampOf());
const main = join(folder, 'main.js');
try {
  if (!existsSync(main)) {
    const { build } = await import('esbuild');
    // Put together aside and renamed once it is whole: another that starts meanwhile finds all of it or none.
    const aside = `${folder}.${process.pid}`;
    mkdirSync(aside, { recursive: true });
    await build({
      entryPoints: [join(root, 'cli/main.ts'), join(root, 'cli/takeThread.ts')],
      outdir: aside,
      ...{ bundle: true, splitting: true, format: 'esm', platform: 'node', target: 'node20' },
      ...{ packages: 'external', logLevel: 'silent', absWorkingDir: root },
    });
    try {
      renameSync(aside, folder);
    } catch {
      // Another was faster, and made the same.
      rmSync(aside, { recursive: true, force: true });
    }
    for (const older of readdirSync(kept))
      if (!older.includes('.') && join(kept, older) !== folder)
        rmSync(join(kept, older), { recursive: true, force: true });
  }
} catch {
  // A folder that cannot be written to: the sources are read as they are.
}
if (existsSync(main)) await import(pathToFileURL(main).href);
else {
  const { register } = await import('tsx/esm/api');
  register();
  await import('./main.ts');
}
