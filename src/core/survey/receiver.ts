import { hashText, normal, seeded } from '../random';
import { BANDS, type Band } from '../radio/band';
import { noiseDbm } from '../radio/noise';
import type { PointM } from '../geometry/point';
import type { Sample } from './sample';
import { DWELL_MS, chosenChannels, type ReceiverSetting, type ScanChannel } from './setting';
import type { Transmitter } from './site';

/** Walking pace of the simulated engineer. */
export const PACE_M_S = 1;

/** SNR at which half of the beacons at the lowest rate are lost, and the spread of that. */
const HALF_LOST_SNR_DB = 3;
const LOSS_SPREAD_DB = 1.2;

/** From this level on, in dBm, as good as every beacon is heard. Near what a receiver can hear at all only the lucky ones are, and they say little of the radio. */
export const HEARD_FOR_CERTAIN_DBM = -80;

/** Level at which half of the beacons are lost, in dBm, as the receiver reads it. */
export const halfLostDbm = (band: Band): number => noiseDbm(band, 20) + HALF_LOST_SNR_DB;

/** Whether a beacon is received that arrives at a level, as the receiver reads it; `chance`: an even number between 0 and 1. */
export const beaconHeard = (band: Band, dbm: number, chance: number): boolean =>
  chance < 1 / (1 + Math.exp(-(dbm - noiseDbm(band, 20) - HALF_LOST_SNR_DB) / LOSS_SPREAD_DB));

/** Seconds in which the receiver is gone when its adapter drops out. */
const GONE_S = [3, 8] as const;

/** Whether the receiver has dropped out, at any time of a walk: `perHour` times an hour, by chance, the same for the same seed. Returns when it is back, in ms; null while it hears. */
export function dropOutsOf(seed: number, perHour: number): (tMs: number) => number | null {
  if (!(perHour > 0)) return () => null;
  const partMs = 3_600_000 / perHour;
  return (tMs) => {
    const part = Math.floor(tMs / partMs);
    const uniform = seeded(hashText(`${seed}/gone/${part}`));
    const forMs = 1000 * (GONE_S[0] + uniform() * (GONE_S[1] - GONE_S[0]));
    const fromMs = partMs * part + uniform() * Math.max(0, partMs - forMs);
    return tMs >= fromMs && tMs < fromMs + forMs ? fromMs + forMs : null;
  };
}

/** A straight piece walked at even pace: positions between its ends go by time. */
export type Straight = Readonly<{ leg: number; from: PointM & { tMs: number }; to: PointM & { tMs: number } }>;

/** Where the receiver is at a time on a straight piece. */
export function positionAt(straight: Straight, tMs: number): PointM {
  const { from, to } = straight;
  const share = to.tMs > from.tMs ? Math.min(1, Math.max(0, (tMs - from.tMs) / (to.tMs - from.tMs))) : 0;
  return { xM: from.xM + (to.xM - from.xM) * share, yM: from.yM + (to.yM - from.yM) * share };
}

/** The scan list: what is chosen, or every channel on which a transmitter is, by band and number; fewer channels give more samples a metre. */
export function scanListOf(transmitters: readonly Transmitter[], setting: Pick<ReceiverSetting, 'bands' | 'channels'>): ScanChannel[] {
  if (setting.channels.length > 0) return chosenChannels(setting);
  const bands = BANDS.filter((band) => setting.bands.includes(band));
  const seen = new Map<string, ScanChannel>();
  for (const { channel } of transmitters) {
    const { band, primary } = channel;
    if (bands.includes(band)) seen.set(`${band}/${primary}`, { band, channel: primary });
  }
  return [...seen.values()].sort((a, b) => bands.indexOf(a.band) - bands.indexOf(b.band) || a.channel - b.channel);
}

/**
 * What the receiver reports between two times of a straight piece: it visits one channel after the other, `dwellMs` each, and hears a beacon
 * with a probability that its SNR gives. Levels are whole dBm, with small-scale fading taken as normal in dB, 2 dB deviation, and the receiver's own offset.
 * Deterministic in (seed, time, transmitter): asking for a stretch again, or in two halves, gives the same samples.
 * @param level true mean level of a transmitter at a spot, in dBm
 */
export function samplesBetween(
  straight: Straight,
  fromMs: number,
  toMs: number,
  scan: readonly ScanChannel[],
  transmitters: readonly Transmitter[],
  level: (transmitter: Transmitter, xM: number, yM: number) => number,
  receiver: Readonly<{ seed: number; offsetDb: number; dwellMs?: number; ssid?: string }>,
): Sample[] {
  const { dwellMs = DWELL_MS, ssid: only = '' } = receiver;
  const samples: Sample[] = [];
  if (scan.length === 0) return samples;
  const end = Math.min(toMs, straight.to.tMs);
  for (let visit = Math.ceil(Math.max(fromMs, straight.from.tMs) / dwellMs); visit * dwellMs < end; visit++) {
    const tMs = visit * dwellMs;
    const at = positionAt(straight, tMs);
    const tuned = scan[visit % scan.length]!;
    for (const transmitter of transmitters) {
      const { band, primary, widthMhz } = transmitter.channel;
      if (band !== tuned.band || primary !== tuned.channel || (only !== '' && transmitter.ssid !== only)) continue;
      const uniform = seeded(hashText(`${receiver.seed}/${visit}/${transmitter.bssid}`));
      const fadingDb = 2 * normal(uniform);
      const rssiDbm = level(transmitter, at.xM, at.yM) + fadingDb + receiver.offsetDb;
      if (!beaconHeard(band, rssiDbm, uniform())) continue;
      const { bssid, ssid, apId } = transmitter;
      samples.push({
        leg: straight.leg,
        tMs,
        xM: round3(at.xM),
        yM: round3(at.yM),
        bssid,
        ssid,
        apId,
        band,
        channel: primary,
        widthMhz,
        rssiDbm: Math.round(rssiDbm),
      });
    }
  }
  return samples;
}

const round3 = (m: number): number => Math.round(m * 1000) / 1000;
