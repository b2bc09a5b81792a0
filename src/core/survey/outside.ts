import type { Band, WidthMhz } from '../radio/band';
import { CCA_DBM } from '../radio/sharing';
import { ROUND_MS } from './measured';
import type { Sample } from './sample';

/**
 * A network of somebody else, with the share (0 to 1) of the scan rounds in which it was above clear channel assessment, and the mean
 * level of what was heard in these.
 */
export type HeardOutside = Readonly<{ band: Band; channel: number; widthMhz: WidthMhz; share: number; levelDbm: number }>;

/** Networks of others on a walk, for planning: those never heard at -82 dBm or more take no airtime and are left out. */
export function outsideNetworks(samples: readonly Sample[], roundMs = ROUND_MS): HeardOutside[] {
  const roundOf = (sample: Sample) => Math.floor(sample.tMs / roundMs);
  const rounds = new Set(samples.map(roundOf));
  const heard = new Map<string, { sample: Sample; rounds: Set<number>; sumDbm: number; count: number }>();
  for (const sample of samples) {
    if (sample.apId !== null || sample.rssiDbm < CCA_DBM.preamble) continue;
    const entry = heard.get(sample.bssid) ?? { sample, rounds: new Set<number>(), sumDbm: 0, count: 0 };
    entry.rounds.add(roundOf(sample));
    entry.sumDbm += sample.rssiDbm;
    entry.count++;
    heard.set(sample.bssid, entry);
  }
  return [...heard.values()].map(({ sample, rounds: own, sumDbm, count }) => ({
    band: sample.band,
    channel: sample.channel,
    widthMhz: sample.widthMhz as WidthMhz,
    share: own.size / rounds.size,
    levelDbm: sumDbm / count,
  }));
}
