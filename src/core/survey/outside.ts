import type { Band, WidthMhz } from '../radio/band';
import { CCA_DBM } from '../radio/sharing';
import { ROUND_MS } from './measured';
import type { Sample } from './sample';

/**
 * A network of somebody else, with the share (0 to 1) of the scan rounds in which it was above clear channel assessment, and the mean
 * level of what was heard in these.
 */
export type HeardOutside = Readonly<{
  band: Band;
  channel: number;
  widthMhz: WidthMhz;
  share: number;
  levelDbm: number;
  /** Every scan round: where it was, and the mean level heard there; null where it was not above clear channel assessment. */
  rounds: ReadonlyArray<Readonly<{ xM: number; yM: number; levelDbm: number | null }>>;
}>;

/** Networks of others on a walk, for planning: those never heard at -82 dBm or more take no airtime and are left out. */
export function outsideNetworks(samples: readonly Sample[], roundMs = ROUND_MS): HeardOutside[] {
  const roundOf = (sample: Sample) => Math.floor(sample.tMs / roundMs);
  /** Where each round was: at its first sample. */
  const rounds = new Map<number, Sample>();
  for (const sample of samples) if (!rounds.has(roundOf(sample))) rounds.set(roundOf(sample), sample);
  const heard = new Map<string, { sample: Sample; rounds: Map<number, { sumDbm: number; count: number }>; sumDbm: number; count: number }>();
  for (const sample of samples) {
    if (sample.apId !== null || sample.rssiDbm < CCA_DBM.preamble) continue;
    const entry = heard.get(sample.bssid) ?? { sample, rounds: new Map<number, { sumDbm: number; count: number }>(), sumDbm: 0, count: 0 };
    const round = entry.rounds.get(roundOf(sample)) ?? { sumDbm: 0, count: 0 };
    entry.rounds.set(roundOf(sample), { sumDbm: round.sumDbm + sample.rssiDbm, count: round.count + 1 });
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
    rounds: [...rounds].map(([at, { xM, yM }]) => {
      const here = own.get(at);
      return { xM, yM, levelDbm: here === undefined ? null : here.sumDbm / here.count };
    }),
  }));
}
