import { sharingOf, priceOf } from '../radio/sharing';
import { channelOf, middlePowerDbm } from '../radio/channel';
import type { Ground, PlanRadio, Setting } from './problem';

/** Where clients are served: from this level; and what counts as covered. */
export type Service = Readonly<{ leastServiceDbm: number; thresholdDbm: number }>;

/**
 * Who takes what from whom at given channels and powers. `airtime[i * n + j]`: share of all demand points that radio j serves and where
 * radio i takes airtime from it, heard by the client or by j's own antenna; `price` likewise, each point at the price of `priceOf`. `served[j]` is
 * the share of points that j serves, `covered` the share at the threshold or more.
 */
export type Exposure = Readonly<{ n: number; airtime: Float64Array; price: Float64Array; served: Float64Array; covered: number }>;

/**
 * At which frequency ways are taken: each radio's at its own channel's, or all at their band's middle. Channels are compared at the middle, so that one field does for
 * all; what is told of a plan is at its own channels, as the map is.
 */
export type Frequency = 'channel' | 'middle';

/** Powers at the band's middle of the radios that are on; a radio that is off neither serves nor disturbs. */
const powersOf = (radios: readonly PlanRadio[], settings: readonly Setting[], frequency: Frequency): Float64Array =>
  Float64Array.from(settings, (setting, i) => {
    if (!setting.on) return -Infinity;
    return frequency === 'middle' ? setting.txPowerDbm : middlePowerDbm({ ...setting, channel: channelOf({ band: radios[i]!.band, ...setting }) });
  });

/**
 * Calls `at` once for every demand point that is served, with the server and the level of every radio there; `levels` is used again for the
 * next point. Every point counts the same.
 */
function everyPoint(
  radios: readonly PlanRadio[],
  powers: Float64Array,
  { leastServiceDbm, thresholdDbm }: Service,
  at: (server: number, levels: Float64Array) => void,
): { served: Float64Array; covered: number; points: number } {
  const n = radios.length;
  const points = radios[0]?.lossDb.length ?? 0;
  const served = new Float64Array(n);
  const levels = new Float64Array(n);
  const losses = radios.map((radio) => radio.lossDb);
  let covered = 0;
  for (let c = 0; c < points; c++) {
    let best = -Infinity;
    let server = -1;
    for (let i = 0; i < n; i++) {
      const level = powers[i]! - losses[i]![c]!;
      levels[i] = level;
      if (level > best) {
        best = level;
        server = i;
      }
    }
    if (best >= thresholdDbm) covered++;
    if (server < 0 || best < leastServiceDbm) continue;
    served[server]!++;
    at(server, levels);
  }
  for (let j = 0; j < n; j++) served[j]! /= points || 1;
  return { served, covered: points === 0 ? 0 : covered / points, points };
}

/** Share of each floor's area at the threshold or more at these settings, at the search's points. */
export function coveredShares(radios: readonly PlanRadio[], settings: readonly Setting[], { thresholdDbm }: Service, ground: Ground): number[] {
  const powers = powersOf(radios, settings, 'channel');
  let c = 0;
  return ground.floors.map(({ points }) => {
    let [covered, area] = [0, 0];
    for (const end = c + points; c < end; c++) {
      const weight = ground.areaWeight?.[c] ?? 1;
      area += weight;
      if (radios.some(({ lossDb }, i) => powers[i]! - lossDb[c]! >= thresholdDbm)) covered += weight;
    }
    return area === 0 ? 0 : covered / area;
  });
}

/** Level of radio i at the antenna of radio j, at [i * n + j]. */
function levelsAtAntennas(radios: readonly PlanRadio[], powers: Float64Array): Float64Array {
  const n = radios.length;
  const levels = new Float64Array(n * n);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) levels[i * n + j] = powers[i]! - radios[i]!.lossToRadioDb[j]!;
  return levels;
}

/** Prices of every pair at fixed channels: they do not hang on power, so that planning powers makes them once. */
export type PairPrices = Readonly<{ airtimeFrom: Float64Array; first: Float64Array; from: Float64Array; more: Float64Array }>;

/** Steps of a price, at most: noise, width, airtime. */
export const PRICE_STEPS = 3;

export function pairPrices(radios: readonly PlanRadio[], settings: readonly Setting[]): PairPrices {
  const n = radios.length;
  const channels = radios.map((radio, i) => channelOf({ band: radio.band, ...settings[i]! }));
  const airtimeFrom = new Float64Array(n * n).fill(Infinity);
  const first = new Float64Array(n * n).fill(Infinity);
  const from = new Float64Array(n * n * PRICE_STEPS).fill(Infinity);
  const more = new Float64Array(n * n * PRICE_STEPS);
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < n; j++) {
      if (i === j) continue;
      const at = i * n + j;
      airtimeFrom[at] = sharingOf(channels[j]!, channels[i]!).airtimeFromDbm;
      priceOf(channels[j]!, channels[i]!).forEach((step, k) => {
        from[at * PRICE_STEPS + k] = step.dbm;
        more[at * PRICE_STEPS + k] = step.more;
      });
      first[at] = from[at * PRICE_STEPS]!;
    }
  }
  return { airtimeFrom, first, from, more };
}

/** The exposure at these settings. @param prices of the settings' channels, where the caller has them already */
export function exposureOf(
  radios: readonly PlanRadio[],
  settings: readonly Setting[],
  service: Service,
  prices = pairPrices(radios, settings),
  frequency: Frequency = 'channel',
): Exposure {
  const n = radios.length;
  const powers = powersOf(radios, settings, frequency);
  const atAntenna = levelsAtAntennas(radios, powers);
  const { airtimeFrom, first, from, more } = prices;
  const airtime = new Float64Array(n * n);
  const price = new Float64Array(n * n);
  const { served, covered, points } = everyPoint(radios, powers, service, (j, levels) => {
    for (let i = 0; i < n; i++) {
      const at = i * n + j;
      // Heard by either end: the louder of the two counts.
      const level = Math.max(levels[i]!, atAntenna[at]!);
      if (i === j || level < first[at]!) continue;
      if (level >= airtimeFrom[at]!) airtime[at]!++;
      for (let k = at * PRICE_STEPS; k < at * PRICE_STEPS + PRICE_STEPS && level >= from[k]!; k++) price[at]! += more[k]!;
    }
  });
  for (let at = 0; at < n * n; at++) {
    airtime[at]! /= points || 1;
    price[at]! /= points || 1;
  }
  return { n, airtime, price, served, covered };
}

/**
 * What share of all points each radio serves while each other radio is heard there, by either end, at each of `levels` (ascending) or more:
 * at [(i * n + j) * levels.length + k]; at the band's middle. What any choice of channels costs at these powers follows from it.
 */
export type Reach = Readonly<{ n: number; levels: Float64Array; share: Float32Array; served: Float64Array }>;

export function reachOf(radios: readonly PlanRadio[], settings: readonly Setting[], service: Service, levels: Float64Array): Reach {
  const n = radios.length;
  const k = levels.length;
  const powers = powersOf(radios, settings, 'middle');
  const atAntenna = levelsAtAntennas(radios, powers);
  const share = new Float32Array(n * n * k);
  const lowest = levels[0] ?? Infinity;
  const { served, points } = everyPoint(radios, powers, service, (j, heard) => {
    for (let i = 0; i < n; i++) {
      const level = Math.max(heard[i]!, atAntenna[i * n + j]!);
      if (i === j || level < lowest) continue;
      let low = 0;
      let high = k - 1;
      while (low < high) {
        const middle = (low + high + 1) >> 1;
        if (level >= levels[middle]!) low = middle;
        else high = middle - 1;
      }
      share[(i * n + j) * k + low]!++;
    }
  });
  // So far each point is at the highest level that it reaches; it reaches all lower ones too.
  for (let pair = 0; pair < n * n; pair++) {
    let sum = 0;
    for (let at = pair * k + k - 1; at >= pair * k; at--) {
      sum += share[at]!;
      share[at] = sum / (points || 1);
    }
  }
  return { n, levels, share, served };
}

/** Sum of a matrix' column for each radio: what all others take from it. */
export function takenFrom({ n }: Exposure, matrix: Float64Array): Float64Array {
  const taken = new Float64Array(n);
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) taken[j]! += matrix[i * n + j]!;
  return taken;
}

export const total = (values: Float64Array): number => values.reduce((sum, value) => sum + value, 0);
