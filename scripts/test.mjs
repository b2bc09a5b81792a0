// Runs every check and closes with one line, "N passed, N failed". Lint and types count as one check each.
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, existsSync } from 'node:fs';
import os from 'node:os';
import path from 'node:path';

let passed = 0;
let failed = 0;
const out = mkdtempSync(path.join(os.tmpdir(), 'upper-room-test-'));

/** No check may hang the run: the whole must stay under 15 minutes. */
const LIMIT_MS = 12 * 60_000;

function check(name, command, args) {
  console.log(`\n--- ${name}`);
  const started = Date.now();
  const ok = spawnSync(command, args, { stdio: 'inherit', timeout: LIMIT_MS, killSignal: 'SIGKILL' }).status === 0;
  console.log(`--- ${name}: ${ok ? 'passed' : 'FAILED'} in ${((Date.now() - started) / 1000).toFixed(1)} s`);
  return ok;
}

for (const [name, args] of [
  ['lint', ['node_modules/eslint/bin/eslint.js', '.', '--max-warnings', '0']],
  ['types', ['node_modules/typescript/bin/tsc', '--noEmit']],
]) {
  if (check(name, process.execPath, args)) passed += 1;
  else failed += 1;
}
for (const [name, extra] of [
  ['unit', []],
  ['e2e', ['--runInBand', '--forceExit', '--verbose']],
]) {
  const file = path.join(out, `${name}.json`);
  const ok = check(name, process.execPath, [
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
