// npm run build: the pages and the server, and beside them the file that the server's threads run.
import { bundleJobs } from './setup/bundleJobs.mjs';
import { BUILT_JOBS } from './setup/modules.mjs';
import { run } from './setup/run.mjs';

const code = await run('npx', ['--no-install', 'vite', 'build', ...process.argv.slice(2)]);
if (code !== 0) process.exit(code);
await bundleJobs(BUILT_JOBS);
