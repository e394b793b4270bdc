// npm run bench: figures as ratios from one run.
import { ensureDebian } from './setup/debian.mjs';
import { ensureBuild, ensureModules } from './setup/modules.mjs';
import { freePort } from './setup/port.mjs';
import { startPostgres } from './setup/postgres.mjs';
import { run } from './setup/run.mjs';
import { prepareDatabase, startServer } from './setup/server.mjs';

await ensureDebian({ browser: true });
await ensureModules();
await ensureBuild();
const postgres = await startPostgres({ name: '.postgres-bench', reset: true });
await prepareDatabase(postgres.address, { demo: true });
const server = await startServer({ address: postgres.address, port: await freePort(), quiet: true });
const code = await run(process.execPath, ['--import', 'tsx', 'bench/run.ts'], {
  env: { ...process.env, BASE_URL: server.url },
});
await server.stop();
await postgres.stop();
process.exit(code);
