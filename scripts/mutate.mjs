// Mutation testing of the core. `npm run mutate` takes all of it (many hours); `npm run mutate -- --sample 10` one tenth of its lines, drawn by
// chance in runs of forty, the same for the same `--seed`; `npm run mutate -- --mutate src/core/radio/noise.ts` what is named.
import { spawnSync } from 'node:child_process';
import { readdirSync, readFileSync, statSync } from 'node:fs';
import path from 'node:path';

const args = process.argv.slice(2);
const numberOf = (name, otherwise) => {
  const at = args.indexOf(name);
  if (at < 0) return otherwise;
  const value = Number(args[at + 1]);
  if (!(value > 0)) {
    console.error(`${name} wants a number above 0, for example: npm run mutate -- --sample 10 --seed 1`);
    process.exit(2);
  }
  args.splice(at, 2);
  return value;
};
const samplePercent = numberOf('--sample', null);
const seed = numberOf('--seed', 1);

/** Lines of a run: a function's worth, so that few mutants are cut by its ends. */
const RUN_LINES = 40;
/** The files that stryker.config.mjs leaves out. */
const LEFT_OUT = new Set(['src/core/errors.ts', 'src/core/radio/catalogue.ts', 'src/core/design/limits.ts']);

function* sources(folder) {
  for (const name of readdirSync(folder).sort()) {
    const file = path.join(folder, name);
    if (statSync(file).isDirectory()) yield* sources(file);
    else if (name.endsWith('.ts') && !name.endsWith('.test.ts') && !LEFT_OUT.has(file)) yield file;
  }
}

/** Mulberry32: any small generator does, as long as it is the same everywhere. */
function random(state) {
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

if (samplePercent !== null) {
  const runs = [...sources('src/core')].flatMap((file) => {
    const lines = readFileSync(file, 'utf8').split('\n').length;
    return Array.from({ length: Math.ceil(lines / RUN_LINES) }, (_, i) => `${file}:${i * RUN_LINES + 1}-${Math.min(lines, (i + 1) * RUN_LINES)}`);
  });
  const next = random(seed);
  const drawn = runs.map((run) => ({ run, at: next() })).sort((a, b) => a.at - b.at);
  const chosen = drawn.slice(0, Math.ceil((runs.length * samplePercent) / 100)).map(({ run }) => run);
  console.log(`${chosen.length} of ${runs.length} runs of ${RUN_LINES} lines, seed ${seed}.`);
  args.push('--mutate', chosen.join(','));
}
const { status } = spawnSync(process.execPath, ['node_modules/@stryker-mutator/core/bin/stryker.js', 'run', ...args], { stdio: 'inherit' });
process.exit(status ?? 1);
