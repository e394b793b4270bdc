// npm test: lint and production build, unit tests, browser tests, each with all its own set-up. The last line sums them up.
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureDebian } from './setup/debian.mjs';
import { ensureBuild, ensureModules } from './setup/modules.mjs';
import { freePort } from './setup/port.mjs';
import { startPostgres } from './setup/postgres.mjs';
import { ROOT, run } from './setup/run.mjs';
import { prepareDatabase, startServer } from './setup/server.mjs';
import { startUnit } from './unit.mjs';

const total = { passed: 0, failed: 0 };
const count = ({ passed, failed }) => {
  total.passed += passed;
  total.failed += failed;
};
const heading = (text) => console.log(`\n— ${text}`);

/** Node's runner tells its figures in its last lines. */
const runUnit = async () => {
  const child = await startUnit([], true);
  return new Promise((resolve) => {
    let text = '';
    child.stdout.on('data', (chunk) => {
      text += chunk;
      process.stdout.write(chunk);
    });
    child.on('exit', (code) => {
      const figure = (name) => Number(new RegExp(`ℹ ${name} (\\d+)`).exec(text)?.[1] ?? 0);
      const failed = figure('fail') + figure('cancelled');
      resolve({ passed: figure('pass'), failed: code !== 0 && !failed ? 1 : failed });
    });
  });
};

const runBrowser = async (postgres) => {
  const report = join(ROOT, 'test-results/report.json');
  rmSync(report, { force: true });
  await prepareDatabase(postgres.address, { demo: true });
  const server = await startServer({ address: postgres.address, port: await freePort(), quiet: true });
  const code = await run('npx', ['--no-install', 'playwright', 'test', ...process.argv.slice(2)], {
    env: {
      ...process.env,
      BASE_URL: server.url,
      TEST_DATABASE_URL: postgres.address,
      PLAYWRIGHT_JSON_OUTPUT_NAME: report,
    },
  });
  await server.stop();
  if (!existsSync(report)) return { passed: 0, failed: 1 };
  const { stats } = JSON.parse(readFileSync(report, 'utf8'));
  const failed = stats.unexpected + stats.flaky;
  return { passed: stats.expected, failed: code !== 0 && !failed ? 1 : failed };
};

await ensureDebian({ browser: true });
await ensureModules();
heading('lint and build');
const { lint } = await import('./lint.mjs');
const postgres = await startPostgres({ name: '.postgres-test', reset: true });
process.env.TEST_DATABASE_URL = postgres.address;
const unit = async () => {
  heading('unit tests');
  count(await runUnit());
};
try {
  count(await lint([ensureBuild], [unit]));
  heading('browser tests');
  count(await runBrowser(postgres));
} finally {
  await postgres.stop();
}
console.log(`\n${total.passed} passed, ${total.failed} failed`);
process.exit(total.failed ? 1 : 0);
