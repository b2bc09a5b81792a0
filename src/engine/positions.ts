import { linkOf } from '@/core/fields/quality';
import { lossFieldInto } from '@/core/fields/lossField';
import type { Crowd, RateLadder } from '@/core/planning/positions/crowd';
import { shortM2, type CoverProblem } from '@/core/planning/positions/coverProblem';
import { improve } from '@/core/planning/positions/improve';
import { groupShares, lostWithout, problemOf, type Columns, type PositionGroup } from '@/core/planning/positions/positions';
import { proposed, type Positions } from '@/core/planning/positions/proposed';
import { thinOut as thinned } from '@/core/planning/positions/thin';
import type { Spot } from '@/core/planning/positions/tidy';
import { BANDS, bandIndex, type Band } from '@/core/radio/band';
import { modelKey, radioModelOf } from '@/core/radio/catalogue';
import { noiseDbm } from '@/core/radio/noise';
import type { Receiver } from '@/core/radio/receiver';
import { antennasOf, outlinesFor, planeOf } from './derived';
import type { Ask, CrowdAsked, HungRadio, Params, PlacedRadio, PositionQuestion, Progress, Result, Scene } from './protocol';

const cellsOf = ({ grid }: Scene): number => grid.cols * grid.rows;

/** Where the points of each scene begin, and how many there are in all: the scenes' points one after the other. */
function layout(scenes: readonly Scene[]): { at: number[]; points: number } {
  let points = 0;
  const at = scenes.map((scene) => {
    const begin = points;
    points += cellsOf(scene);
    return begin;
  });
  return { at, points };
}

/** Levels of one radio at every point of the scenes, in one band. @param known its loss to the points of each scene, where somebody has it */
function levelsOf({ model, pose, txPowerDbm }: PlacedRadio, { scenes, band }: PositionQuestion, known?: HungRadio['lossDb']): Float32Array {
  const { at, points } = layout(scenes);
  const levels = new Float32Array(points);
  const lane = bandIndex(band);
  const only = antennasOf(model).map((antenna, i) => (i === lane ? antenna : null));
  scenes.forEach((scene, s) => {
    let lossDb = known?.[s] ?? null;
    if (lossDb === null) {
      const outs = BANDS.map(() => new Float32Array(cellsOf(scene)));
      lossFieldInto(outlinesFor(scene), { pose, antennas: only }, planeOf(scene), outs);
      lossDb = outs[lane]!;
    }
    for (let i = 0; i < lossDb.length; i++) levels[at[s]! + i] = txPowerDbm - lossDb[i]!;
  });
  return levels;
}

/** What a radio offers a client by level: the rates of their link. */
function linkWith({ model, widthMhz }: PlacedRadio, band: Band, receiver: Receiver) {
  const { streams } = radioModelOf(model, band)!;
  return linkOf({ channel: { band, widthMhz }, streams, generation: model.generation }, receiver);
}

/** The level at which a radio gives what is asked, in dBm; infinite where it never does. */
function fromDbm(ask: Ask, radio: PlacedRadio, band: Band, receiver: Receiver): number {
  if (ask.what === 'level') return ask.dbm;
  if (ask.what === 'snr') return ask.db + noiseDbm(band, radio.widthMhz, receiver.noiseFigureDb);
  const { steps, noiseDownDbm } = linkWith(radio, band, receiver);
  const step = steps.find(({ mbps }) => mbps >= ask.mbps);
  return step === undefined ? Infinity : noiseDownDbm + step.snrDb;
}

/** A mask of one scene among the points of all. */
function amongAll(scenes: readonly Scene[], scene: number, mask: Uint8Array): Uint8Array {
  const { at, points } = layout(scenes);
  const all = new Uint8Array(points);
  all.set(mask, at[scene]);
  return all;
}

function groupsOf({ scenes, band, demands }: PositionQuestion, radios: readonly PlacedRadio[]): PositionGroup[] {
  // Demands of one zone have one mask: so have the groups.
  const masks = new Map<Uint8Array, Uint8Array>();
  return demands.map(({ scene, zone, name, mask, need, ask, share }) => {
    const all = masks.get(mask) ?? amongAll(scenes, scene, mask);
    masks.set(mask, all);
    return { zone, name, mask: all, need, share, fromDbm: radios.map((radio) => fromDbm(ask, radio, band, scenes[scene]!.receiver)) };
  });
}

/** The area that each point stands for, in m2. */
function areasOf(scenes: readonly Scene[]): Float64Array {
  const { at, points } = layout(scenes);
  const areas = new Float64Array(points);
  scenes.forEach((scene, s) => areas.fill(scene.grid.cellM ** 2, at[s], at[s]! + cellsOf(scene)));
  return areas;
}

function crowdOf({ people, mbpsEach, airtimeShare }: CrowdAsked, { scenes, band }: PositionQuestion, radios: readonly PlacedRadio[]): Crowd {
  const { at, points } = layout(scenes);
  const demandMbps = new Float64Array(points);
  for (const { scene, mask, count } of people) {
    const cells = mask.reduce((sum, inside) => sum + inside, 0);
    for (let i = 0; i < mask.length; i++) if (mask[i] === 1) demandMbps[at[scene]! + i]! += (count * mbpsEach) / cells;
  }
  const ladders: RateLadder[] = [];
  const known = new Map<string, number>();
  const ladderOf = radios.map((radio) => {
    const key = `${modelKey(radio.model)}/${radio.widthMhz}`;
    const k = known.get(key) ?? ladders.length;
    if (k === ladders.length) {
      const { steps, noiseDownDbm } = linkWith(radio, band, scenes[0]!.receiver);
      ladders.push({ fromDbm: steps.map(({ snrDb }) => noiseDownDbm + snrDb), mbps: steps.map(({ mbps }) => mbps) });
      known.set(key, k);
    }
    return k;
  });
  return { demandMbps, airtimeShare, ladders, ladderOf };
}

/** Computes the levels from every candidate and from what stands, then searches and bounds. */
export function* positions(params: Params<'positions'>): Generator<Progress<'positions'>, Result<'positions'>, boolean | undefined> {
  const { scenes, candidates, standing, crowd, seed, idleRounds } = params;
  const all = [...standing, ...candidates];
  const levelsDbm: Float32Array[] = [];
  for (const radio of all) {
    levelsDbm.push(levelsOf(radio, params));
    yield { done: levelsDbm.length / all.length, best: null };
  }
  // Those that stand have places of their own.
  const first = candidates.reduce((most, { place }) => Math.max(most, place), -1) + 1;
  const columns: Columns = {
    levelsDbm,
    places: [...standing.map((_, i) => first + i), ...candidates.map(({ place }) => place)],
    locked: standing.map((_, j) => j),
  };
  const spotOf = ({ pose: { xM, yM }, scene }: PlacedRadio, clearanceM: number, kind: number): Spot => ({ xM, yM, floor: scene, clearanceM, kind });
  const spots = [...standing.map((radio) => spotOf(radio, Infinity, -1)), ...candidates.map((one) => spotOf(one, one.clearanceM, one.kind))];
  const search = proposed(
    columns,
    spots,
    groupsOf(params, all),
    areasOf(scenes),
    crowd === null ? null : crowdOf(crowd, params, all),
    seed,
    idleRounds,
  );
  const told = (best: Positions): Positions => ({ ...best, chosen: best.chosen?.map((j) => j - standing.length) ?? null });
  let step = search.next();
  while (!step.done) {
    const stop = yield { done: 1, best: told(step.value) };
    step = search.next(stop);
  }
  return told(step.value);
}

/** What hangs, as columns: each at a place of its own. */
function* hungColumns(question: PositionQuestion, hung: readonly HungRadio[]): Generator<undefined, Columns, boolean | undefined> {
  const levelsDbm: Float32Array[] = [];
  for (const radio of hung) {
    levelsDbm.push(levelsOf(radio, question, radio.lossDb));
    yield;
  }
  return { levelsDbm, places: hung.map((_, j) => j), locked: hung.flatMap(({ locked }, j) => (locked ? [j] : [])) };
}

export function* met(params: Params<'met'>): Generator<undefined, Result<'met'>, boolean | undefined> {
  const columns = yield* hungColumns(params, params.hung);
  const groups = groupsOf(params, params.hung);
  const problem = problemOf(columns, groups, areasOf(params.scenes));
  return { groups: groupShares(problem, groups, columns.levelsDbm.keys()), lost: lostWithout(problem) };
}

/** What is not met today may stay so, and gets no worse. */
function asToday(problem: CoverProblem, today: Iterable<number>): CoverProblem {
  const short = shortM2(problem, today);
  return { ...problem, budgetM2: problem.budgetM2.map((m2, g) => Math.max(m2, short[g]!)) };
}

export function* thinOut(params: Params<'thinOut'>): Generator<undefined, Result<'thinOut'>, boolean | undefined> {
  const { hung, scenes, seed } = params;
  const columns = yield* hungColumns(params, hung);
  const groups = groupsOf(params, hung);
  const problem = problemOf(columns, groups, areasOf(scenes));
  const search = thinned(asToday(problem, hung.keys()), seed);
  let step = search.next();
  while (!step.done) {
    const stop = yield;
    step = search.next(stop);
  }
  const gone = new Set(step.value);
  const stay = [...hung.keys()].filter((j) => !gone.has(j));
  return { goes: step.value, groups: groupShares(problem, groups, stay) };
}

export function* moveAside(params: Params<'moveAside'>): Generator<Progress<'moveAside'> | undefined, Result<'moveAside'>, boolean | undefined> {
  const { hung, aside, scenes } = params;
  const standing = yield* hungColumns(params, hung);
  const levelsDbm = [...standing.levelsDbm];
  for (const radio of aside) {
    levelsDbm.push(levelsOf(radio, params));
    yield { done: (levelsDbm.length - hung.length) / aside.length };
  }
  const home = Int32Array.from([...hung.keys(), ...aside.map(({ of }) => of)]);
  const movedM = Float64Array.from([...hung.map(() => 0), ...aside.map((one) => one.movedM)]);
  const all = [...hung, ...aside];
  const groups = groupsOf(params, all);
  const problem = problemOf({ levelsDbm, places: Array.from(home), locked: [] }, groups, areasOf(scenes));
  const search = improve(problem, home, movedM);
  let step = search.next();
  while (!step.done) {
    const stop = yield;
    step = search.next(stop);
  }
  return { moves: step.value.filter((j) => j >= hung.length).map((j) => j - hung.length), groups: groupShares(problem, groups, step.value) };
}
