// Serves Upper Room on this machine: `node scripts/serve.mjs [--dev] [--empty]`, with PORT, HOST, UPPER_ROOM_HOSTS, UPPER_ROOM_PASSPHRASE and
// UPPER_ROOM_DATA from the environment.
// One process serves pages and owns the data folder, so that ctrl-C can close both in order.
import { createServer } from 'node:http';
import { setTimeout as delay } from 'node:timers/promises';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { bundle, bundled } from './bundle.mjs';

// Whoever read the output may go: what can be told to nobody any more is no fault, and telling of it would be the next one.
for (const stream of [process.stdout, process.stderr])
  stream.on('error', (error) => {
    if (error.code !== 'EPIPE') throw error;
  });

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const args = new Set(process.argv.slice(2));
const known = new Set(['--dev', '--empty']);
for (const arg of args) if (!known.has(arg)) stop(`Unknown option ${arg}. Known: ${[...known].join(', ')}.`);

const port = Number(process.env.PORT ?? 3000);
if (!Number.isInteger(port) || port < 1 || port > 65535) stop(`PORT must be a whole number from 1 to 65535, not "${process.env.PORT}".`);
const host = process.env.HOST ?? '127.0.0.1';
process.env.UPPER_ROOM_DATA ??= path.join(root, 'data');
if (args.has('--empty')) process.env.UPPER_ROOM_EMPTY = '1';
process.env.NEXT_TELEMETRY_DISABLED = '1';
const dev = args.has('--dev');
process.env.NODE_ENV = dev ? 'development' : 'production';

// The engine's thread, for what the server computes.
process.env.UPPER_ROOM_ENGINE = bundle('src/engine/node.worker.ts');
const { edge, refusalOf, urlHost } = await bundled('src/server/edge.ts');
const passPhrase = process.env.UPPER_ROOM_PASSPHRASE || null;
const refusal = refusalOf({ host, passPhrase });
if (refusal !== null) stop(refusal);
const names = (process.env.UPPER_ROOM_HOSTS ?? '').split(/[\s,]+/).filter(Boolean);
const admitted = edge({ host, names, passPhrase });
const address = `http://${urlHost(host)}:${port}`;

function stop(message) {
  console.error(`\n${message}\n`);
  process.exit(1);
}

let handle = (_request, response) => {
  response.statusCode = 503;
  response.setHeader('Retry-After', '2');
  response.end('Upper Room is starting.');
};
const server = createServer((request, response) => {
  admitted(request, response).then(
    (admits) => admits && handle(request, response),
    (error) => {
      console.error(error);
      response.writeHead(500).end();
    },
  );
});
// Whoever opens a connection must ask within a while, and not hold it with a request that never ends.
server.headersTimeout = 20_000;
server.requestTimeout = 120_000;

// The port is taken before anything slow happens: a busy one is said at once and nothing is touched.
server.on('error', (error) => {
  if (error.code === 'EADDRINUSE')
    stop(`Port ${port} on ${host} is in use. Stop the other program, or choose another port: PORT=${port + 1} npm start`);
  if (error.code === 'EACCES') stop(`Port ${port} may not be opened by this user. Choose one above 1023: PORT=3000 npm start`);
  stop(`The server could not listen on ${host}:${port}: ${error.message}`);
});
await new Promise((resolve) => server.listen(port, host, resolve));

/** Asks the application itself, past the edge: a start needs no pass phrase. */
function healthOf() {
  const probe = createServer((request, response) => handle(request, response));
  return new Promise((resolve, reject) => {
    probe.listen(0, '127.0.0.1', () => {
      fetch(`http://127.0.0.1:${probe.address().port}/api/health`)
        .then(resolve, reject)
        .finally(() => probe.close());
    });
  });
}

const { default: next } = await import('next');
const app = next({ dev, dir: root, hostname: host, port, httpServer: server });
const closeKey = Symbol.for('upper-room.close');
try {
  await app.prepare();
  handle = app.getRequestHandler();
  // The store is opened before anything is announced: a data folder that another process has is refused here.
  const health = await healthOf();
  if (!health.ok) {
    const problem = await health.json();
    stop(`Upper Room could not start: ${problem.title} ${problem.detail}`);
  }
} catch (error) {
  stop(`Upper Room could not start: ${error.message}`);
}
console.log(
  `\nUpper Room is ready: ${address}\n${passPhrase === null ? '' : 'Asked for at the door: the pass phrase of UPPER_ROOM_PASSPHRASE\n'}${process.env.DATABASE_URL ? 'Database: PostgreSQL, by DATABASE_URL' : `Data folder: ${process.env.UPPER_ROOM_DATA}`}\nctrl-C ends it.\n`,
);

let ending = false;
async function end() {
  if (ending) return;
  ending = true;
  console.log('\nClosing ...');
  server.close();
  server.closeAllConnections?.();
  await Promise.race([Promise.resolve(globalThis[closeKey]?.()), delay(5000)]);
  process.exit(0);
}
process.on('SIGINT', end);
process.on('SIGTERM', end);
