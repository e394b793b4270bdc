// Unit tests are put together before they run: a loader would read and translate every module anew for each of their files.
import { readFile, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build, transform } from 'esbuild';
import { compileModule } from 'svelte/compiler';
import { ROOT } from './run.mjs';

const FOLDERS = ['src', 'cli'];
const OUT = '.cache/unit';

/** A module knows where its source lies, and one with runes (.svelte.ts) is compiled as the bundler does. */
const sources = {
  name: 'sources',
  setup: ({ onLoad }) => {
    onLoad({ filter: /\.ts$/ }, async ({ path }) => {
      const text = await readFile(path, 'utf8');
      const contents = text.replaceAll('import.meta.url', JSON.stringify(pathToFileURL(path).href));
      if (!path.endsWith('.svelte.ts')) return { contents, loader: 'ts' };
      const { code } = await transform(contents, { loader: 'ts', target: 'es2022' });
      const { js } = compileModule(code, { generate: 'client', filename: path });
      return { contents: js.code, loader: 'js' };
    });
  },
};

/** Puts all unit tests together. @returns the files to run */
export const bundleTests = async () => {
  const found = await Promise.all(
    FOLDERS.map(async (folder) =>
      (await readdir(join(ROOT, folder), { recursive: true }))
        .filter((file) => file.endsWith('.test.ts'))
        .map((file) => join(folder, file)),
    ),
  );
  const tests = found.flat().sort();
  await rm(join(ROOT, OUT), { recursive: true, force: true });
  await build({
    entryPoints: tests,
    ...{ outdir: OUT, outbase: '.', absWorkingDir: ROOT, plugins: [sources] },
    ...{ bundle: true, splitting: true, format: 'esm', platform: 'node', target: 'node20' },
    ...{ packages: 'external', sourcemap: true, sourcesContent: false, logLevel: 'warning' },
  });
  return tests.map((file) => join(OUT, file.replace(/\.ts$/, '.js')));
};
