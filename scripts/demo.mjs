// npm run demo: everything from a bare machine to a running workshop with the playhouse in it.
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { ensureDebian } from './setup/debian.mjs';
import { ensureBuild, ensureModules } from './setup/modules.mjs';
import { freePort, isFree } from './setup/port.mjs';
import { startPostgres } from './setup/postgres.mjs';
import { giveUp, isAlive, ROOT } from './setup/run.mjs';
import { prepareDatabase, startServer } from './setup/server.mjs';

const HELP = `Starts Wicked Veil with its demo data.

  npm run demo -- [options]

  --port N     listen there (4310, or the next one free)
  --host H     listen on this address (127.0.0.1: this machine only)
  --reset      begin again with fresh demo data; everything saved is lost
  --help       this text`;

const readOptions = () => {
  try {
    return parseArgs({
      options: {
        port: { type: 'string' },
        host: { type: 'string', default: '127.0.0.1' },
        reset: { type: 'boolean', default: false },
        help: { type: 'boolean', default: false },
      },
    }).values;
  } catch (error) {
    return giveUp(`${error.message}\n\n${HELP}`);
  }
};

const options = readOptions();
if (options.help) {
  console.log(HELP);
  process.exit(0);
}
const wanted = options.port === undefined ? null : Number(options.port);
if (wanted !== null && !(Number.isInteger(wanted) && wanted > 0 && wanted < 65536))
  giveUp(`--port takes a number from 1 to 65535, not ${options.port}.`);

const ownerFile = join(ROOT, '.postgres-owner');
if (existsSync(ownerFile)) {
  const { pid, url } = JSON.parse(readFileSync(ownerFile, 'utf8'));
  const alive = isAlive(pid) && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes('demo.mjs');
  if (alive && pid !== process.pid)
    giveUp(`It is running already${url ? ` at ${url}` : ''} (process ${pid}).`);
}
writeFileSync(ownerFile, JSON.stringify({ pid: process.pid }));

let postgres = null;
let server = null;
let ending = false;
const end = async (code) => {
  if (ending) return;
  ending = true;
  await server?.stop();
  await postgres?.stop();
  rmSync(ownerFile, { force: true });
  process.exit(code);
};
process.on('SIGINT', () => void end(0));
process.on('SIGTERM', () => void end(0));
process.on('SIGHUP', () => void end(0));

await ensureDebian();
await ensureModules();
await ensureBuild();
postgres = await startPostgres({ reset: options.reset });
await prepareDatabase(postgres.address, { demo: true });
if (wanted !== null && !(await isFree(wanted, options.host))) {
  console.error(`Port ${wanted} is taken on ${options.host}; choose another with --port.`);
  await end(1);
}
const port = wanted ?? (await freePort(4310, options.host));
server = await startServer({ address: postgres.address, port, host: options.host, quiet: true });
writeFileSync(ownerFile, JSON.stringify({ pid: process.pid, url: server.url }));
server.child.once('exit', () => {
  if (ending) return;
  console.error('The server ended by itself; stopping.');
  void end(1);
});
console.log(`\n  Wicked Veil is at ${server.url}\n  Ctrl-C stops it.\n`);
