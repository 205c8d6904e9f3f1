// npm start: everything Basil needs on this machine, from nothing. Says what it is doing; Ctrl-C stops all of it.
import { spawn } from 'node:child_process';
import { mkdirSync, rmSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { ROOT, ensurePackages } from './lib/packages.mjs';
import { ensureBuilt } from './lib/build.mjs';
import { ensureKernel } from './lib/kernel.mjs';
import { freePort, startPostgres } from './lib/postgres.mjs';
import { followNpm, makeRoom, remember, runFileOf } from './lib/runFile.mjs';
import { WORKER_MEMORY } from './lib/workerMemory.mjs';

const USAGE = 'npm start -- [--port N] [--data DIR] [--no-demo]';

function readOptions() {
  try {
    const { values } = parseArgs({ options: { port: { type: 'string' }, data: { type: 'string' }, 'no-demo': { type: 'boolean' } } });
    const port = values.port === undefined ? 4170 : Number(values.port);
    if (!Number.isInteger(port) || port < 1 || port > 65535) throw new Error(`--port ${values.port} is not a port`);
    const data = values.data === undefined ? join(ROOT, '.basil') : resolve(process.env.INIT_CWD ?? process.cwd(), values.data);
    return { port, data, demo: !values['no-demo'] };
  } catch (error) {
    console.error(`${error.message}. Use: ${USAGE}`);
    process.exit(2);
  }
}

/** How much the worker steps back where cores are wanted: pages answer while it bakes. */
const WORKER_NICENESS = 10;

const options = readOptions();
process.chdir(ROOT);
mkdirSync(options.data, { recursive: true });

const RUN_FILE = runFileOf(options.data);

process.env.BASIL_DATA = options.data;
const room = await makeRoom(RUN_FILE);
if (room.running) {
  console.log(
    room.address ? `Basil is at ${room.address}   (it runs already, over the same data)` : 'Basil is still starting over the same data.',
  );
  process.exit(0);
}

// Whoever read what is printed here may be gone.
for (const output of [process.stdout, process.stderr]) output.on('error', () => undefined);

const children = new Map();
let postgres = null;
let ending = false;
let address = null;

const leaveWord = () =>
  remember(
    RUN_FILE,
    address,
    [...children.values()].map((c) => c.pid),
  );

/** Starts a child that is started again when it dies, after a moment that grows with each death in a row. */
function keep(name, args, env, niceness = 0) {
  let started = 0;
  let deaths = 0;
  const begin = () => {
    started = Date.now();
    // The kernel ends it when this process dies of whatever.
    const command = ['-n', String(niceness), 'setpriv', '--pdeathsig', 'KILL', '--', process.execPath, ...args];
    const child = spawn('nice', command, {
      cwd: ROOT,
      stdio: ['ignore', 'ignore', 'inherit'],
      env: { ...process.env, ...env, BASIL_DATA: options.data },
    });
    children.set(name, child);
    leaveWord();
    child.on('exit', (code, signal) => {
      if (ending) return;
      deaths = Date.now() - started > 60_000 ? 1 : deaths + 1;
      const pause = Math.min(30, 2 ** (deaths - 1) / 2);
      console.log(`The ${name} ended (${signal ?? `code ${code}`}); starting it again in ${pause} s ...`);
      setTimeout(() => !ending && begin(), pause * 1000);
    });
  };
  begin();
}

async function end(code) {
  if (ending) return;
  ending = true;
  console.log('\nStopping ...');
  const gone = [...children.values()].map(
    (child) => new Promise((done) => (child.exitCode !== null || child.signalCode !== null ? done() : child.once('exit', done))),
  );
  for (const child of children.values()) child.kill('SIGTERM');
  const late = setTimeout(() => [...children.values()].forEach((child) => child.kill('SIGKILL')), 6000);
  await Promise.all(gone);
  clearTimeout(late);
  postgres?.stop();
  rmSync(RUN_FILE, { force: true });
  process.exit(code);
}
process.on('SIGINT', () => void end(0));
process.on('SIGTERM', () => void end(0));
process.on('SIGHUP', () => void end(0));
followNpm(() => void end(0));

async function answers(url) {
  for (let tries = 0; tries < 600 && !ending; tries++) {
    try {
      if ((await fetch(url)).ok) return true;
    } catch {
      // not yet
    }
    await new Promise((done) => setTimeout(done, 100));
  }
  return false;
}

leaveWord();
ensurePackages();
ensureKernel();
ensureBuilt();
const port = await freePort(options.port);
if (port !== options.port) console.log(`Port ${options.port} is in use; taking ${port}.`);
const cataloguePort = options.demo ? await freePort(port + 1) : null;
// Its skies take a while to compute, so it begins before the rest.
if (cataloguePort) keep('catalogue', ['--import', 'tsx', join(ROOT, 'bin/catalogue.ts'), String(cataloguePort)], {});
console.log('Starting the database ...');
postgres = await startPostgres(options.data);
const { register } = await import('tsx/esm/api');
register();
const { prepareDatabase } = await import('./lib/prepare.ts');
await prepareDatabase(postgres.address, options.demo ? join(ROOT, 'demo', 'tamarisk-halt.glb') : null);

const catalogues = [process.env.BASIL_CATALOGUES, cataloguePort && `http://127.0.0.1:${cataloguePort}/catalogue.json`]
  .filter(Boolean)
  .join();
const env = { BASIL_CATALOGUES: catalogues, DATABASE_URL: postgres.address, NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1' };
keep('bake worker', ['--import', 'tsx', join(ROOT, 'bin/worker.ts')], { ...env, ...WORKER_MEMORY }, WORKER_NICENESS);
keep('web server', [join(ROOT, 'node_modules/next/dist/bin/next'), 'start', '-H', '127.0.0.1', '-p', String(port)], env);
address = `http://127.0.0.1:${port}`;
leaveWord();
if (!(await answers(`${address}/api/health`))) {
  console.error('The web server did not answer within a minute; its messages are above.');
  await end(1);
}
console.log(`\nBasil is at ${address}   (Ctrl-C stops it; the log of the worker is in ${join(options.data, 'logs')})\n`);
