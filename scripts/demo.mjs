// npm run demo: everything from a bare machine to a running workshop with the playhouse in it.
import { readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { ensureDebian } from './setup/debian.mjs';
import { ensureBuild, ensureModules } from './setup/modules.mjs';
import { canListen, freePort, isFree } from './setup/port.mjs';
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
/** Who runs the demo here, or null: an empty or torn file, and a process that took the number since, are nobody. */
const readOwner = () => {
  try {
    const { pid, url, started, folder } = JSON.parse(readFileSync(ownerFile, 'utf8'));
    // A copied folder has the owner's file of the one it was copied from.
    if (folder !== ROOT) return null;
    if (!isAlive(pid) || pid === process.pid || startOf(pid) !== started) return null;
    return { pid, url };
  } catch {
    return null;
  }
};
/** When a process began, in ticks of the machine: a number that is used again began at another time. */
const startOf = (pid) => {
  const text = readFileSync(`/proc/${pid}/stat`, 'utf8');
  return text.slice(text.lastIndexOf(')') + 2).split(' ')[19];
};
const writeOwner = (more = {}) => {
  // Written aside and moved, so that whoever reads it finds it whole.
  writeFileSync(
    `${ownerFile}.new`,
    JSON.stringify({ pid: process.pid, started: startOf(process.pid), folder: ROOT, ...more }),
  );
  renameSync(`${ownerFile}.new`, ownerFile);
};
const owner = readOwner();
if (owner) giveUp(`It is running already${owner.url ? ` at ${owner.url}` : ''} (process ${owner.pid}).`);
writeOwner();
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
if (!(await canListen(options.host)))
  giveUp(
    `This machine has no address ${options.host}; --host takes one of its own, 127.0.0.1, or 0.0.0.0 for all.`,
  );
postgres = await startPostgres({ reset: options.reset });
await prepareDatabase(postgres.address, { demo: true });
if (wanted !== null && !(await isFree(wanted, options.host))) {
  console.error(`Port ${wanted} is taken on ${options.host}; choose another with --port.`);
  await end(1);
}
const port = wanted ?? (await freePort(4310, options.host));
server = await startServer({ address: postgres.address, port, host: options.host, quiet: true });
writeOwner({ url: server.url });
server.child.once('exit', () => {
  if (ending) return;
  console.error('The server ended by itself; stopping.');
  void end(1);
});
// A database that dies is said and started again: the server finds it with its next request.
let mending = false;
setInterval(async () => {
  if (ending || mending || !postgres.ended()) return;
  mending = true;
  console.error('The database ended by itself; starting it again.');
  await postgres.restart();
  console.error('The database is back.');
  mending = false;
}, 1000).unref();
console.log(`\n  Wicked Veil is at ${server.url}\n  Ctrl-C stops it.\n`);
