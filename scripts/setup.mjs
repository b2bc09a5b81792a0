// Prepares a checkout: packages, the build, and for tests the browser. Plain Node, no dependencies.
// `node scripts/setup.mjs [build] [browser]`. Each part is skipped when a stamp says that nothing it depends on has changed.
import { createHash } from 'node:crypto';
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

const root = path.dirname(path.dirname(fileURLToPath(import.meta.url)));
const stampDir = path.join(root, '.setup');
const wanted = new Set(process.argv.slice(2));

const [major] = process.versions.node.split('.').map(Number);
if (major < 20) fail(`Node 20 or newer is needed; this is ${process.version}. Install a newer Node and run the command again.`);

function fail(message) {
  console.error(`\nSet-up stopped: ${message}\n`);
  process.exit(1);
}

function run(command, args, options = {}) {
  return spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
}

function* filesBelow(relative) {
  const absolute = path.join(root, relative);
  if (!existsSync(absolute)) return;
  if (statSync(absolute).isFile()) return void (yield relative);
  for (const name of readdirSync(absolute).sort()) yield* filesBelow(path.join(relative, name));
}

function hashOf(...places) {
  const hash = createHash('sha256');
  for (const place of places)
    for (const file of filesBelow(place))
      hash
        .update(file)
        .update('\0')
        .update(readFileSync(path.join(root, file)));
  return hash.digest('hex');
}

/** Runs `work` unless the stamp already holds `hash`; writes the stamp last, so that a broken run is done again. */
function once(name, hash, outputs, work) {
  const stamp = path.join(stampDir, name);
  const done = existsSync(stamp) && readFileSync(stamp, 'utf8') === hash && outputs.every((file) => existsSync(path.join(root, file)));
  if (done) return;
  rmSync(stamp, { force: true });
  work();
  mkdirSync(stampDir, { recursive: true });
  writeFileSync(stamp, hash);
}

once('packages', hashOf('package-lock.json'), ['node_modules/next/package.json'], () => {
  console.log('Installing packages (once, about a minute) ...');
  // `npm ci` refuses lock files that lack other platforms' optional packages; this keeps to the locked versions as well.
  const result = run('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--include=dev', '--loglevel=error']);
  if (result.status !== 0) fail('npm could not install the packages. Check that the npm registry can be reached, then run the command again.');
});

if (wanted.has('build')) {
  const sources = ['src', 'demo', 'next.config.ts', 'tsconfig.json', 'package-lock.json', 'public'];
  once('build', hashOf(...sources), ['.next/BUILD_ID'], () => {
    console.log('Building (once, under a minute) ...');
    const result = run(process.execPath, ['node_modules/next/dist/bin/next', 'build'], { env: { ...process.env, NEXT_TELEMETRY_DISABLED: '1' } });
    if (result.status !== 0) fail('the build failed; the lines above say where.');
  });
}

if (wanted.has('browser') && !(existsSync('/usr/bin/chromium') && existsSync('/usr/bin/chromedriver'))) {
  const packages = ['chromium', 'chromium-driver', 'fonts-liberation', 'fonts-dejavu-core'];
  const byHand = `The end-to-end tests need Debian's Chromium. Install it with:\n  sudo apt-get update && sudo apt-get install -y --no-install-recommends ${packages.join(' ')}`;
  if (process.getuid?.() !== 0 || !existsSync('/usr/bin/apt-get')) fail(byHand);
  console.log("Installing Debian's Chromium for the end-to-end tests (once) ...");
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  run('apt-get', ['update', '-qq'], { env });
  if (run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', ...packages], { env }).status !== 0) fail(byHand);
}
