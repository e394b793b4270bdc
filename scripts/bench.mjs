// npm run bench: figures as ratios from one run.
import { ensureDebian } from './setup/debian.mjs';
import { ensureBuild, ensureModules } from './setup/modules.mjs';
import { freePort } from './setup/port.mjs';
import { startPostgres } from './setup/postgres.mjs';
import { ROOT, run } from './setup/run.mjs';
import { prepareDatabase, startServer } from './setup/server.mjs';

await ensureDebian({ browser: true });
await ensureModules();
await ensureBuild();
const postgres = await startPostgres({ name: '.postgres-bench', reset: true });
await prepareDatabase(postgres.address, { demo: true });
const server = await startServer({ address: postgres.address, port: await freePort(), quiet: true });
// What is measured is bundled as the application is: a loader for tests names every function anew at each call.
const { build } = await import('vite');
await build({
  root: ROOT,
  configFile: false,
  logLevel: 'warn',
  build: { ssr: 'bench/run.ts', outDir: '.cache/bench', target: 'node20', emptyOutDir: true },
});
// And what is timed in a page, as a page has it.
await build({
  root: ROOT,
  configFile: false,
  logLevel: 'warn',
  build: {
    lib: { entry: 'bench/stagePage.ts', formats: ['es'], fileName: () => 'stagePage.js' },
    // The page is handed one script.
    rollupOptions: { output: { codeSplitting: false } },
    outDir: '.cache/bench-page',
    emptyOutDir: true,
  },
});
const code = await run(process.execPath, ['.cache/bench/run.js'], {
  env: { ...process.env, BASE_URL: server.url, DATABASE_URL: postgres.address },
});
await server.stop();
await postgres.stop();
process.exit(code);
