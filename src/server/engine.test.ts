import { expect, test } from '@jest/globals';
import { execFileSync } from 'node:child_process';
import { museumBuilding } from '@demo/museum';
import { floorsOf, variantsOf } from '@/core/design/design';
import { listenOnSite } from '@/engine/listen';
import { DEFAULT_SETTING } from '@/core/survey/setting';
import { engineOf } from './engine';

/** Bundled as a start does it. */
const outfile = execFileSync(
  process.execPath,
  ['-e', "import('./scripts/bundle.mjs').then(({ bundle }) => process.stdout.write(bundle('src/engine/node.worker.ts')))"],
  {
    encoding: 'utf8',
  },
);

test('a job in the server’s thread gives what it gives here; a broken one fails alone', async () => {
  const { design, sites } = museumBuilding();
  const floor = floorsOf(design)[0]!;
  const turns = [
    { xM: 10, yM: 20, tMs: 0 },
    { xM: 20, yM: 20, tMs: 10_000 },
  ];
  const stretch = {
    floorId: floor.id,
    variantId: variantsOf(design)[0]!.id,
    legs: [{ turns }],
    receiver: { ...DEFAULT_SETTING, bands: ['5'] as const },
    fromMs: 0,
    toMs: 5_000,
  };
  const site = sites[floor.id]!;
  const pool = engineOf(outfile);
  try {
    const heard = await pool.call('listen', { design, site, stretch });
    expect(heard.samples.length).toBeGreaterThan(10);
    expect(heard).toEqual(listenOnSite(design, site, stretch));
    await expect(pool.call('listen', { design, site, stretch: { ...stretch, floorId: 'gone' } })).rejects.toMatchObject({ code: 'RECORD_UNKNOWN' });
    await expect(pool.call('listen', { design, site, stretch })).resolves.toEqual(heard);
    await expect(engineOf(`${outfile}-that-is-not-there`).call('listen', { design, site, stretch })).rejects.toMatchObject({
      code: 'WORKER_UNLOADABLE',
    });
    await expect(engineOf(undefined).call('listen', { design, site, stretch })).resolves.toEqual(heard);
  } finally {
    pool.dispose();
  }
});
