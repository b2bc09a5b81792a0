// Trials that take minutes, run by hand and not by npm test: `npm run trials -- kill malformed writers locks sizes` (all without a name).
import { air } from './air';
import { disk } from './disk';
import { frames } from './frames';
import { kills } from './kills';
import { locks } from './locks';
import { malformed } from './malformed';
import { sizes } from './sizes';
import { writers } from './writers';

const TRIALS: Readonly<Record<string, () => Promise<string>>> = { air, disk, frames, kills, malformed, writers, locks, sizes };
const asked = process.argv.slice(3);
for (const name of asked.length > 0 ? asked : Object.keys(TRIALS)) {
  const trial = TRIALS[name];
  if (trial === undefined) throw new Error(`No trial ${name}. Known: ${Object.keys(TRIALS).join(', ')}.`);
  const started = Date.now();
  console.log(`${name}: ${await trial()} (${((Date.now() - started) / 1000).toFixed(0)} s)`);
}
process.exit(0);
