import { lossFieldInto } from '@/core/fields/lossField';
import { positionsOf, type Positions } from '@/core/planning/positions/positions';
import { BANDS, bandIndex } from '@/core/radio/band';
import { antennasOf, outlinesFor, planeOf } from './derived';
import type { Params, PlacedRadio, Progress, Result } from './protocol';

/** Levels of one radio at every cell of a scene, in one band. */
function levelsOf({ model, pose, txPowerDbm }: PlacedRadio, { scene, band }: Params<'positions'>): Float32Array {
  const cells = scene.grid.cols * scene.grid.rows;
  const lane = bandIndex(band);
  const outs = BANDS.map(() => new Float32Array(cells));
  const only = antennasOf(model).map((antenna, i) => (i === lane ? antenna : null));
  lossFieldInto(outlinesFor(scene), { pose, antennas: only }, planeOf(scene), outs);
  return outs[lane]!.map((lossDb) => txPowerDbm - lossDb);
}

/** Computes the levels from every candidate and from what stands, then searches and bounds. */
export function* positions(params: Params<'positions'>): Generator<Progress<'positions'>, Result<'positions'>, boolean | undefined> {
  const { scene, candidates, standing, groups, seed, idleRounds } = params;
  const all = [...standing, ...candidates];
  const levels: Float32Array[] = [];
  for (const radio of all) {
    levels.push(levelsOf(radio, params));
    yield { done: levels.length / all.length, best: null };
  }
  const locked = standing.map((_, j) => j);
  const search = positionsOf(levels, groups, scene.grid.cellM ** 2, locked, seed, idleRounds);
  // Told by their place among the candidates.
  const told = (best: Positions): Positions => ({ ...best, chosen: best.chosen?.map((j) => j - standing.length) ?? null });
  let step = search.next();
  while (!step.done) {
    const stop = yield { done: 1, best: told(step.value) };
    step = search.next(stop);
  }
  return told(step.value);
}
