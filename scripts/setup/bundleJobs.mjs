import { build } from 'esbuild';
import { ROOT } from './run.mjs';

/** Bundles what the server's threads run into one file: a thread knows neither TypeScript nor the house's own paths. */
export const bundleJobs = (outfile) =>
  build({
    entryPoints: ['src/server/jobs/jobs.worker.ts'],
    ...{ outfile, absWorkingDir: ROOT, bundle: true, format: 'esm', platform: 'node', target: 'node20' },
    ...{ packages: 'external', logLevel: 'warning' },
  });
