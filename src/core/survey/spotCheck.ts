import type { Leg } from './walk';
import type { Sample } from './sample';
import { straightsOf } from './walk';

/** A spot where the walker stood, from when to when on which leg. */
export type SpotCheck = Readonly<{ leg: number; xM: number; yM: number; fromMs: number; toMs: number }>;

/** Where a walk stood: pieces of time without way. What follows each other at one spot is one. */
export function spotChecksOf(legs: readonly Leg[]): SpotCheck[] {
  const checks: SpotCheck[] = [];
  for (const { leg, from, to } of straightsOf(legs)) {
    if (to.tMs <= from.tMs || from.xM !== to.xM || from.yM !== to.yM) continue;
    const last = checks.at(-1);
    if (last !== undefined && last.leg === leg && last.toMs === from.tMs) checks[checks.length - 1] = { ...last, toMs: to.tMs };
    else checks.push({ leg, xM: from.xM, yM: from.yM, fromMs: from.tMs, toMs: to.tMs });
  }
  return checks;
}

/** What was heard while standing there. */
export const samplesAt = ({ leg, fromMs, toMs }: SpotCheck, samples: readonly Sample[]): Sample[] =>
  samples.filter((sample) => sample.leg === leg && sample.tMs >= fromMs && sample.tMs < toMs);

/** Mean of some levels, in dBm, and their standard deviation, in dB; that of one alone is not known: NaN. */
export function levelOf(samples: readonly Sample[]): Readonly<{ count: number; meanDbm: number; spreadDb: number }> {
  const count = samples.length;
  const meanDbm = samples.reduce((sum, { rssiDbm }) => sum + rssiDbm, 0) / count;
  const squares = samples.reduce((sum, { rssiDbm }) => sum + (rssiDbm - meanDbm) ** 2, 0);
  return { count, meanDbm, spreadDb: count < 2 ? NaN : Math.sqrt(squares / (count - 1)) };
}
