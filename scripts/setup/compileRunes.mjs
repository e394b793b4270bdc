// A loader’s hook: takes the types away, then compiles the runes, as the bundler does.
import { readFile } from 'node:fs/promises';
import { fileURLToPath } from 'node:url';
import { transform } from 'esbuild';
import { compileModule } from 'svelte/compiler';

export const load = async (url, context, next) => {
  const [address] = url.split('?');
  if (!address.endsWith('.svelte.ts')) return next(url, context);
  const filename = fileURLToPath(address);
  const { code } = await transform(await readFile(filename, 'utf8'), { loader: 'ts', target: 'es2022' });
  const { js } = compileModule(code, { generate: 'client', filename });
  return { format: 'module', source: js.code, shortCircuit: true };
};
