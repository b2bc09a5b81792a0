import type { Band } from '../radio/band';
import { takenFrom, total, type Exposure } from './exposure';
import type { BarredBy, PlanRadio, Setting } from './problem';
import type { RunnerUp } from './reasons';

/**
 * What a radio's own area has to bear, in radios, mean over it: `contention`, radios that take airtime, as the map counts them; `partial`,
 * the price of those that take only width or are noise; `others`, the price of other people's networks.
 */
export type Load = Readonly<{ contention: number; partial: number; others: number }>;

/** One row of the retune sheet. */
export type SheetRow = Readonly<{
  apId: string;
  name: string;
  band: Band;
  locked: boolean;
  /** No channel is left for it under the rules; it stays. */
  barredBy: BarredBy | null;
  before: Setting;
  after: Setting;
  loadBefore: Load;
  loadAfter: Load;
  why: string;
  runnerUp: RunnerUp | null;
}>;

/** What a floor of a retune bears and keeps: radios sharing airtime, mean over the area served there; shares of its service area at the threshold or more. */
export type FloorResult = Readonly<{
  name: string;
  contentionBefore: number;
  contentionAfter: number;
  coverageBefore: number;
  coverageAfter: number;
  requiredShare: number;
}>;

/**
 * The result for one band. Contention: radios sharing airtime, mean over the area served, the same number as the map's. Cost: what the search
 * weighs (airtime, width, noise, networks of others), over its demand points, at the band's middle; `bound` holds for any channels at the planned powers.
 */
export type BandResult = Readonly<{
  band: Band;
  contentionBefore: number;
  contentionAfter: number;
  costBefore: number;
  costAfter: number;
  bound: number;
  proven: boolean;
  /** What the search weighs in all, with what settles among equals: of several starts the least is taken. */
  objective: number;
  /** Shares of the service area at `thresholdDbm` or more. */
  thresholdDbm: number;
  coverageBefore: number;
  coverageAfter: number;
  requiredShare: number;
  /** The same floor by floor. */
  floors: readonly FloorResult[];
  /** Who still shares airtime with whom, the most first, each pair's part of `contentionAfter`. */
  stillSharing: readonly SharingPair[];
}>;

/** Two radios that share airtime, and their part of the mean number of radios that share: of both cells, over the area served. */
export type SharingPair = Readonly<{ one: string; other: string; radios: number }>;

/** `stopped`: somebody ended the search; this is the best it had. Bands that it had not begun are not in it. */
export type RetuneSheet = Readonly<{ rows: readonly SheetRow[]; bands: readonly BandResult[]; stopped: boolean }>;

/** How far a search is: what the best so far costs, and while channels are chosen what no choice at the powers of this round goes below. */
export type RetuneProgress = Readonly<{
  band: Band;
  stage: 'channels' | 'powers' | 'proof';
  bestCost: number;
  costBefore: number;
  bound: number | null;
}>;

/** Radios sharing airtime, mean over the area served. */
export function meanContention(exposure: Exposure): number {
  const served = total(exposure.served);
  return served > 0 ? total(takenFrom(exposure, exposure.airtime)) / served : 0;
}

/** The pairs that share airtime, the most first; their parts add up to `meanContention`. */
export function sharingPairs(radios: readonly PlanRadio[], { n, airtime, served }: Exposure): SharingPair[] {
  const area = total(served);
  const pairs: SharingPair[] = [];
  for (let i = 0; i < n; i++)
    for (let j = 0; j < i; j++) {
      const shared = airtime[i * n + j]! + airtime[j * n + i]!;
      if (shared > 0) pairs.push({ one: radios[j]!.name, other: radios[i]!.name, radios: shared / area });
    }
  return pairs.sort((a, b) => b.radios - a.radios);
}

/** Of the sheets of several starts the best: band by band the one that the search weighs least, the first of equals. */
export function bestOf(sheets: readonly RetuneSheet[]): RetuneSheet {
  const bands = [...new Set(sheets.flatMap(({ bands: all }) => all.map(({ band }) => band)))];
  const best = bands.map((band) => {
    const having = sheets.filter(({ bands: all }) => all.some((one) => one.band === band));
    const objective = (sheet: RetuneSheet): number => sheet.bands.find((one) => one.band === band)!.objective;
    return { band, sheet: having.reduce((least, one) => (objective(one) < objective(least) ? one : least)) };
  });
  return {
    rows: best.flatMap(({ band, sheet }) => sheet.rows.filter((row) => row.band === band)),
    bands: best.map(({ band, sheet }) => sheet.bands.find((one) => one.band === band)!),
    stopped: sheets.some(({ stopped }) => stopped),
  };
}
