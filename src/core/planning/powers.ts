import type { Stop } from './assignment';
import { outsideCost } from './choices';
import { exposureOf, pairPrices, takenFrom, total, type Exposure, type PairPrices } from './exposure';
import { lowestPowerDbm, type OutsideNetwork, type PlanRadio, type PlanRules, type Setting } from './problem';
import { channelOf } from '../radio/channel';

/**
 * What coverage is worth beside contention: one percent of the area is as much as 0.02 radios heard. Without it a plan would give
 * away signal for nothing wherever channels are plenty.
 */
const COVERAGE_WORTH = 2;

type Judgement = { cost: number; costs: Float64Array; exposure: Exposure };

/** What each radio pays: to the others, and to other people's networks; 0 for one that is off. */
export function costsOf(
  radios: readonly PlanRadio[],
  settings: readonly Setting[],
  exposure: Exposure,
  outside: readonly OutsideNetwork[],
): Float64Array {
  const taken = takenFrom(exposure, exposure.price);
  return taken.map((cost, j) => {
    const setting = settings[j]!;
    return setting.on ? cost + outsideCost(outside, channelOf({ band: radios[j]!.band, ...setting }), exposure.served[j]!) : 0;
  });
}

/** Cost that counts for power: contention, and the area that is lost. */
function judge(
  radios: readonly PlanRadio[],
  settings: readonly Setting[],
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  prices: PairPrices,
): Judgement {
  const exposure = exposureOf(radios, settings, rules, prices);
  const costs = costsOf(radios, settings, exposure, outside);
  return { cost: total(costs) + COVERAGE_WORTH * (1 - exposure.covered), costs, exposure };
}

/** What a radio has to do with the cost: what it suffers, and what it does to the others. Going quieter saves about this at most. */
function involvement({ costs, exposure: { n, price } }: Judgement, r: number): number {
  let involved = costs[r]!;
  for (let j = 0; j < n; j++) involved += price[r * n + j]!;
  return involved;
}

/** A step must save at least this, in radios per spot, to be worth a change. */
const LEAST_GAIN = 0.002;

const STEPS_DB = [-6, -3, -2, -1];

/**
 * Coordinate descent on power at fixed channels: first raises what the coverage lacks, then lowers each radio as long as coverage is kept
 * and contention falls, then tries whether a 2.4 GHz radio can be off. `caps[r]` is the highest power on the chosen channel, null for a
 * radio that may not be touched. Changes `settings`; yields the cost after each radio, and ends there when told to stop.
 */
export function* tunePowers(
  radios: readonly PlanRadio[],
  settings: Setting[],
  caps: ReadonlyArray<number | null>,
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  requiredShare: number,
): Generator<number, void, Stop> {
  const movable = radios.map((_, r) => r).filter((r) => caps[r] !== null && settings[r]!.on);
  const prices = pairPrices(radios, settings);
  let state = judge(radios, settings, rules, outside, prices);
  const attempt = (r: number, wanted: Partial<Setting>, accept: (next: typeof state) => boolean): boolean => {
    const old = settings[r]!;
    settings[r] = { ...old, ...wanted };
    const next = judge(radios, settings, rules, outside, prices);
    if (accept(next)) {
      state = next;
      return true;
    }
    settings[r] = old;
    return false;
  };
  // Raise: while coverage is short, the radio that wins most area for one more step of 2 dB.
  while (state.exposure.covered < requiredShare - 1e-9) {
    let bestRadio = -1;
    let bestCovered = state.exposure.covered;
    for (const r of movable) {
      const old = settings[r]!;
      if (old.txPowerDbm >= caps[r]!) continue;
      settings[r] = { ...old, txPowerDbm: Math.min(caps[r]!, old.txPowerDbm + 2) };
      const { covered } = judge(radios, settings, rules, outside, prices).exposure;
      settings[r] = old;
      if (covered > bestCovered) {
        bestCovered = covered;
        bestRadio = r;
      }
    }
    if (bestRadio < 0) break;
    attempt(bestRadio, { txPowerDbm: Math.min(caps[bestRadio]!, settings[bestRadio]!.txPowerDbm + 2) }, () => true);
    if ((yield state.cost) === true) return;
  }
  const keeps = (next: typeof state) =>
    next.exposure.covered >= Math.min(requiredShare, state.exposure.covered) - 1e-9 && next.cost < state.cost - LEAST_GAIN;
  for (let sweep = 0, moved = true; moved && sweep < 6; sweep++) {
    moved = false;
    for (const r of movable) {
      if (involvement(state, r) < LEAST_GAIN) continue;
      const lowest = lowestPowerDbm(radios[r]!, rules);
      for (const stepDb of STEPS_DB) {
        while (settings[r]!.txPowerDbm + stepDb >= lowest && attempt(r, { txPowerDbm: settings[r]!.txPowerDbm + stepDb }, keeps)) moved = true;
      }
      if ((yield state.cost) === true) return;
    }
  }
  if (!rules.maySwitchOff24) return;
  for (const r of movable) {
    if (radios[r]!.band === '2.4' && settings.filter((setting) => setting.on).length > 1) attempt(r, { on: false }, keeps);
    if ((yield state.cost) === true) return;
  }
}
