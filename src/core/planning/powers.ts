import type { Stop } from './assignment';
import { contentionCosts, interactionOf, overlapMatrix, total, type Interaction } from './interaction';
import { lowestPowerDbm, type OutsideNetwork, type PlanRadio, type PlanRules, type Setting } from './problem';

/**
 * What coverage is worth beside contention: one percent of the area is as much as 0.02 radios heard. Without it a plan would give
 * away signal for nothing wherever channels are plenty.
 */
const COVERAGE_WORTH = 2;

type Judgement = { cost: number; covered: number; costs: Float64Array; interaction: Interaction };

/** Cost that counts for power: contention, and the area that is lost. */
function judge(
  radios: readonly PlanRadio[],
  settings: readonly Setting[],
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  overlaps: Float64Array,
): Judgement {
  const interaction = interactionOf(radios, settings, rules.thresholdDbm);
  const costs = contentionCosts(radios, settings, interaction, outside, overlaps);
  return { cost: total(costs) + COVERAGE_WORTH * (1 - interaction.covered), covered: interaction.covered, costs, interaction };
}

/** What a radio has to do with the cost: what it suffers, and what it does to the others. Going quieter saves about this at most. */
function involvement({ costs, interaction: { n, weight } }: Judgement, overlaps: Float64Array, r: number): number {
  let involved = costs[r]!;
  for (let j = 0; j < n; j++) involved += weight[r * n + j]! * overlaps[r * n + j]!;
  return involved;
}

/** A step must save at least this, in radios per spot, to be worth a change. */
const LEAST_GAIN = 0.002;

const STEPS_DB = [-6, -3, -2, -1];

/**
 * Coordinate descent on power at fixed channels: first raises what the coverage lacks, then lowers each radio as long as coverage is kept
 * and contention falls, then tries whether a 2.4 GHz radio can be off. `caps[r]` is the highest power on the chosen channel.
 * Changes `settings`; yields the cost after each radio, and ends there when told to stop.
 */
export function* tunePowers(
  radios: readonly PlanRadio[],
  settings: Setting[],
  caps: readonly number[],
  rules: PlanRules,
  outside: readonly OutsideNetwork[],
  requiredShare: number,
): Generator<number, void, Stop> {
  const movable = radios.map((_, r) => r).filter((r) => !radios[r]!.locked && settings[r]!.on);
  const overlaps = overlapMatrix(radios, settings);
  let state = judge(radios, settings, rules, outside, overlaps);
  const attempt = (r: number, wanted: Partial<Setting>, accept: (next: typeof state) => boolean): boolean => {
    const old = settings[r]!;
    settings[r] = { ...old, ...wanted };
    const next = judge(radios, settings, rules, outside, overlaps);
    if (accept(next)) {
      state = next;
      return true;
    }
    settings[r] = old;
    return false;
  };
  // Raise: while coverage is short, the radio that wins most area for one more step of 2 dB.
  while (state.covered < requiredShare - 1e-9) {
    let bestRadio = -1;
    let bestCovered = state.covered;
    for (const r of movable) {
      const old = settings[r]!;
      if (old.txPowerDbm >= caps[r]!) continue;
      settings[r] = { ...old, txPowerDbm: Math.min(caps[r]!, old.txPowerDbm + 2) };
      const { covered } = judge(radios, settings, rules, outside, overlaps);
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
  const keeps = (next: typeof state) => next.covered >= Math.min(requiredShare, state.covered) - 1e-9 && next.cost < state.cost - LEAST_GAIN;
  for (let sweep = 0, moved = true; moved && sweep < 6; sweep++) {
    moved = false;
    for (const r of movable) {
      if (involvement(state, overlaps, r) < LEAST_GAIN) continue;
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
