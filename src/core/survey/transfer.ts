import type { Spot } from '../propagation/crossing';
import { linkOf, snrOf, type Link } from '../fields/quality';
import { hashText, normal, seeded } from '../random';
import { bandTaken, type BandRule } from '../radio/bandRule';
import { BANDS, type Band } from '../radio/band';
import { noiseDbm } from '../radio/noise';
import { stepAt, type Generation } from '../radio/rates';
import type { Receiver } from '../radio/receiver';
import { CCA_DBM, kindAt, sharingOf } from '../radio/sharing';
import { dbmFromMw, mwFromDbm } from '../units/decibel';
import type { Transmitter } from './site';

/** One way and the other of a run, in Mb/s, and the share of frames that were sent again. */
export type TransferRun = Readonly<{ downMbps: number; upMbps: number; retries: number }>;

/** A throughput test as it came out; who serves is the place among the transmitters. */
export type Transfer = Readonly<{ serving: number; rssiDbm: number; snrDb: number; runs: readonly TransferRun[] }>;

/** Airtime that a transmitter takes in a run, as a share: who serves has others to serve too. */
export type LoadOf = (transmitter: number, run: number) => number;

/**
 * A signal that is not Wi-Fi as it arrives at the client and at the access point that serves, in dBm while it is on: for how much of the time it is in the channel, and then with what share of its power.
 */
export type Disturbing = Readonly<{ atClientDbm: number; atApDbm: number; busy: number; share: number }>;

/** A transmitter of ours as far as a client can speak with it; null for one of somebody else. */
export type Served = Readonly<{ streams: number; generation: Generation }> | null;

/** What of a rate is left for data when a station has the air to itself: preambles, acknowledgements, waiting and the headers of everything above. A working value for long aggregates. */
const MAC_SHARE = 0.7;
/** Frames lost at the very SNR that a rate needs (IEEE 802.11-2020, 19.3.19.2: 10 %), and the dB over which that falls to a tenth. */
const LOST = { share: 0.1, perDecadeDb: 4 } as const;
/** However busy the air, a station gets its turn. */
const LEAST_SHARE = 0.03;
/** From run to run fading moves the level, standard deviation in dB. */
const RUN_SIGMA_DB = 1.5;

/**
 * A simulated transfer to and from whoever serves a client at a spot, several times over. The rate is what the true SNR reaches, less what is noise from other channels, less frames
 * sent again; the air is shared with all that the access point or the client waits for.
 * @param level true mean level of a transmitter at a spot, in dBm
 * @param served by transmitter
 * @param loadOf airtime that each transmitter takes, by the run
 * @param disturbingAt what is not Wi-Fi, on the channel of who serves, by its place among the transmitters
 * @param bands that the client knows and is set to
 * @param offsetDb what the client reads more than the level
 * @returns null where nothing of ours is heard
 */
export function transferAt(
  transmitters: readonly Transmitter[],
  served: readonly Served[],
  level: (transmitter: Transmitter, at: Spot) => number,
  loadOf: LoadOf,
  disturbingAt: (serving: number) => readonly Disturbing[],
  at: Spot,
  client: Readonly<{ receiver: Receiver; bandRule: BandRule; bands: readonly Band[]; offsetDb: number }>,
  runs: number,
  seed: string,
): Transfer | null {
  const levels = transmitters.map((transmitter) => level(transmitter, at));
  const strongest = BANDS.map((band) =>
    transmitters.reduce((best, { channel }, i) => {
      if (served[i] === null || channel.band !== band || !client.bands.includes(band)) return best;
      return best < 0 || levels[i]! > levels[best]! ? i : best;
    }, -1),
  );
  const heard = strongest.map((i) => (i < 0 || levels[i]! < noiseDbm(transmitters[i]!.channel.band, 20) ? -Infinity : levels[i]!));
  if (heard.every((dbm) => dbm === -Infinity)) return null;
  const serving = strongest[bandTaken(client.bandRule, heard)]!;
  const radio = transmitters[serving]!;
  const { band } = radio.channel;
  const link = linkOf({ channel: radio.channel, ...served[serving]! }, client.receiver);
  const uniform = seeded(hashText(seed));
  const others = transmitters.flatMap((other, i) => {
    if (i === serving || other.channel.band !== band) return [];
    const sharing = sharingOf(radio.channel, other.channel);
    const [atClient, atAp] = [levels[i]!, level(other, radio.pose)];
    return [{ i, sharing, kind: kindAt(sharing, Math.max(atClient, atAp)), atClient, atAp }];
  });
  const disturbing = disturbingAt(serving);
  const one = (run: number): TransferRun => {
    let [airtime, width, noiseDownMw, noiseUpMw] = [1 - loadOf(serving, run), 1, mwFromDbm(link.noiseDownDbm), mwFromDbm(link.noiseUpDbm)];
    for (const { i, sharing, kind, atClient, atAp } of others) {
      const busy = loadOf(i, run);
      if (kind === 'airtime') airtime -= busy;
      else if (kind === 'width') width -= busy * sharing.widthLost;
      else if (kind === 'noise') {
        noiseDownMw += busy * sharing.noiseShare * mwFromDbm(atClient);
        noiseUpMw += busy * sharing.noiseShare * mwFromDbm(atAp);
      }
    }
    for (const { atClientDbm, atApDbm, busy, share } of disturbing) {
      // What cannot be read is waited for where its energy in the channel is above the threshold of energy detection, and is noise below.
      if (dbmFromMw(mwFromDbm(Math.max(atClientDbm, atApDbm)) * share) >= CCA_DBM.energy) airtime -= busy;
      else {
        noiseDownMw += busy * share * mwFromDbm(atClientDbm);
        noiseUpMw += busy * share * mwFromDbm(atApDbm);
      }
    }
    const levelDbm = levels[serving]! + RUN_SIGMA_DB * normal(uniform);
    const noisy: Link = { ...link, noiseDownDbm: dbmFromMw(noiseDownMw), noiseUpDbm: dbmFromMw(noiseUpMw) };
    const share = MAC_SHARE * Math.max(LEAST_SHARE, airtime) * Math.max(LEAST_SHARE, width);
    let retries = 0;
    const rate = (direction: 'down' | 'up'): number => {
      const snrDb = snrOf(noisy, radio.txPowerDbm, client.receiver, levelDbm, direction);
      const step = stepAt(link.steps, snrDb);
      if (step === null) return 0;
      const lost = LOST.share * 10 ** (-(snrDb - step.snrDb) / LOST.perDecadeDb);
      retries = Math.max(retries, lost);
      return step.mbps * share * (1 - lost);
    };
    const [downMbps, upMbps] = [rate('down'), rate('up')];
    return { downMbps: tenths(downMbps), upMbps: tenths(upMbps), retries: Math.round(retries * 1000) / 1000 };
  };
  const rssiDbm = Math.round(levels[serving]! + client.offsetDb);
  return {
    serving,
    rssiDbm,
    snrDb: Math.round(rssiDbm - noiseDbm(band, radio.channel.widthMhz, client.receiver.noiseFigureDb)),
    runs: Array.from({ length: runs }, (_, run) => one(run)),
  };
}

const tenths = (mbps: number): number => Math.round(mbps * 10) / 10;

/** Mean without the best and the worst, where there are three or more. */
export function trimmedMean(values: readonly number[]): number {
  const kept = values.length < 3 ? values : [...values].sort((a, b) => a - b).slice(1, -1);
  return kept.reduce((sum, value) => sum + value, 0) / kept.length;
}

/** Standard deviation of some runs; NaN of one alone. */
export function spreadOf(values: readonly number[]): number {
  const mean = values.reduce((sum, value) => sum + value, 0) / values.length;
  return values.length < 2 ? NaN : Math.sqrt(values.reduce((sum, value) => sum + (value - mean) ** 2, 0) / (values.length - 1));
}
