// Runs every check and closes with one line, "N passed, N failed". Lint and types count as one check each.
import { spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, existsSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';

let passed = 0;
let failed = 0;
const out = mkdtempSync(path.join(os.tmpdir(), 'upper-room-test-'));

/** No check may hang the run. On a machine of its own the longest takes a quarter of an hour; beside work that takes both cores end-to-end tests took more than twenty minutes. */
const LIMIT_MS = 35 * 60_000;

function check(name, args) {
  console.log(`\n--- ${name}`);
  const started = Date.now();
  return new Promise((resolve) => {
    const child = spawn(process.execPath, args, { stdio: 'inherit', timeout: LIMIT_MS, killSignal: 'SIGKILL' });
    child.on('close', (code) => {
      console.log(`--- ${name}: ${code === 0 ? 'passed' : 'FAILED'} in ${((Date.now() - started) / 1000).toFixed(1)} s`);
      resolve(code === 0);
    });
  });
}

const read = await Promise.all([
  check('lint', ['node_modules/eslint/bin/eslint.js', '.', '--max-warnings', '0']),
  check('types', ['node_modules/typescript/bin/tsc', '--noEmit']),
]);
passed += read.filter((ok) => ok).length;
failed += read.filter((ok) => !ok).length;

for (const [name, extra] of [
  // By itself Jest leaves a core free, which of two is half.
  ['unit', ['--maxWorkers=2']],
  // Each file has a server and a browser of its own, so two can run beside each other.
  ['e2e', ['--maxWorkers=2', '--forceExit', '--verbose']],
]) {
  const file = path.join(out, `${name}.json`);
  const ok = await check(name, [
    '--experimental-vm-modules',
    'node_modules/jest/bin/jest.js',
    '--selectProjects',
    name,
    '--json',
    `--outputFile=${file}`,
    ...extra,
  ]);
  const report = existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : { numPassedTests: 0, numFailedTests: 0, numTotalTests: 0 };
  passed += report.numPassedTests;
  failed += report.numFailedTests;
  // A suite that could not even be loaded has no failed tests of its own.
  if ((!ok && report.numFailedTests === 0) || report.numTotalTests === 0) failed += 1;
}
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
