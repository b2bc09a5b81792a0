import { execFileSync } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { packHeard } from '@/core/survey/packed';
import type { Receiver } from '@/core/radio/receiver';
import { mapsInParts } from '@/engine/inParts';
import { workersFor } from '@/engine/pool';
import type { SurveyQuestion } from '@/engine/protocol';
import { engineOf } from '@/server/engine';
import { cellsOf, largeSite } from './sites';
import { median } from './timing';

/** The worker's file, bundled as a start does it. */
const workerFile = (): string =>
  execFileSync(
    process.execPath,
    ['-e', "import('./scripts/bundle.mjs').then(({ bundle }) => process.stdout.write(bundle('src/engine/node.worker.ts')))"],
    {
      encoding: 'utf8',
    },
  );

const RUNS = 7;
const TO_WARM_UP = 4;

/**
 * Measured maps as the application makes them, from the question to the last map: the samples handed to a worker, which learns from them and from where nothing was heard, and the maps made by as many
 * workers as a page has on a machine of so many cores.
 */
export async function benchInWorkers(row: (what: string, ms: number, note?: string) => void): Promise<void> {
  const site = largeSite();
  const { medium, zM, radios, samples, visits } = site;
  const grid = cellsOf(site);
  const scene = { key: 'large', mediumKey: 'large', medium, grid, planeZM: zM, receiver: { gainDbi: 0 } as Receiver };
  const question: SurveyQuestion = { scene, radios, heard: { samples, visits, looks: [] }, held: [] };
  const workers = workersFor(availableParallelism());
  const pool = engineOf(workerFile(), workers);
  const all: number[] = [];
  const reaches: number[] = [];
  for (let run = 0; run < TO_WARM_UP + RUNS; run++) {
    const started = performance.now();
    const learned = await pool.call('learned', { ...question, heard: packHeard({ samples, visits, looks: [] }) });
    await mapsInParts(pool, question, learned, 5);
    all.push(performance.now() - started);
    const again = performance.now();
    await mapsInParts(pool, question, learned, 4);
    reaches.push(performance.now() - again);
  }
  pool.dispose();
  row(
    '60 BSSIDs, from samples to maps, as a page makes them',
    median(all.slice(TO_WARM_UP)),
    `${workers} workers; all three, and what goes to and fro`,
  );
  row('60 BSSIDs, maps for another reach, as a page makes them', median(reaches.slice(TO_WARM_UP)), `${workers} workers`);
}
