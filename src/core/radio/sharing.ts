import { centreMhz, occupied20, type Channel } from './channel';
import { overlapShare } from './overlap';

/**
 * Clear channel assessment, in dBm per 20 MHz of the signal's own width: a frame's beginning on the primary channel (preamble), a signal on
 * another channel of the own width (secondary), and any power on the primary channel (energy). IEEE 802.11-2020, 17.3.10.6 and 21.3.18.5;
 * IEEE 802.11ax-2021, 27.3.20.6. A wider signal spreads its power, so it must arrive louder: thresholds are judged by power density.
 */
export const CCA_DBM = { preamble: -82, secondary: -72, energy: -62 } as const;

/**
 * What another radio's transmissions take from a serving radio, by the level (dBm, over the other's whole width) at which they arrive at
 * the serving radio or at its client. The one model of sharing: map, readout, tables, sheet and planning ask here.
 */
export type Sharing = Readonly<{
  /** From this level the serving radio waits: its primary channel is occupied and heard, all of the other's airtime is lost. Infinity: never. */
  airtimeFromDbm: number;
  /** From this level only other channels of its width are occupied and heard: `widthLost` of its width cannot be used while the other sends. */
  widthFromDbm: number;
  widthLost: number;
  /** What is not waited for is noise: the share of the other's power that falls inside the serving radio's channel. */
  noiseShare: number;
}>;

/** What the other does at a level: takes airtime, takes width, is noise, or nothing. */
export type SharingKind = 'airtime' | 'width' | 'noise' | 'none';

const APART: Sharing = { airtimeFromDbm: Infinity, widthFromDbm: Infinity, widthLost: 0, noiseShare: 0 };
const cache = new Map<string, Sharing>();
const keyOf = (serving: Channel, other: Channel): string =>
  `${serving.band}/${serving.primary}/${serving.widthMhz}/${other.band}/${other.primary}/${other.widthMhz}`;

/**
 * How many 20 MHz channels can still be used around the primary while others are busy. Only whole blocks are: the primary channel, with its secondary,
 * with the secondary 40 MHz, and so on, each only when all of it is idle (IEEE 802.11-2020, 10.23.2.5). Preamble puncturing, by which newer radios
 * leave a busy channel out instead, is not counted on.
 */
function widestFree(own: readonly number[], primary: number, busy: readonly number[]): number {
  const at = own.indexOf(primary);
  let widest = 1;
  for (let size = 2; size <= own.length; size *= 2) {
    const from = at - (at % size);
    if (own.slice(from, from + size).some((number) => busy.includes(number))) break;
    widest = size;
  }
  return widest;
}

/** How a radio on `other` shares with one that serves on `serving`. */
export function sharingOf(serving: Channel, other: Channel): Sharing {
  if (serving.band !== other.band) return APART;
  const key = keyOf(serving, other);
  const known = cache.get(key);
  if (known !== undefined) return known;
  const noiseShare = overlapShare(other, serving);
  const spreadDb = 10 * Math.log10(other.widthMhz / 20);
  const theirs = occupied20(other);
  const own = occupied20(serving);
  let sharing: Sharing;
  if (theirs.includes(serving.primary)) {
    sharing = { airtimeFromDbm: CCA_DBM.preamble + spreadDb, widthFromDbm: Infinity, widthLost: 0, noiseShare };
  } else {
    // Spectrum that lies over the primary channel in part, as 2.4 GHz channels 1 and 3: no frame can be read, what falls into it counts as
    // energy. A transmitter beside the channel only leaks into it: that is noise.
    const primary: Channel = { ...serving, widthMhz: 20 };
    const beside = Math.abs(centreMhz(other) - centreMhz(primary)) >= (other.widthMhz + 20) / 2;
    const lost = 1 - widestFree(own, serving.primary, theirs) / own.length;
    const intoPrimary = beside ? 0 : overlapShare(other, primary);
    sharing = {
      airtimeFromDbm: intoPrimary > 0 ? CCA_DBM.energy - 10 * Math.log10(intoPrimary) : Infinity,
      widthFromDbm: lost > 0 ? CCA_DBM.secondary + spreadDb : Infinity,
      widthLost: lost,
      noiseShare,
    };
  }
  cache.set(key, sharing);
  return sharing;
}

/** What the other does when it arrives at `levelDbm`. */
export function kindAt({ airtimeFromDbm, widthFromDbm, noiseShare }: Sharing, levelDbm: number): SharingKind {
  if (levelDbm >= airtimeFromDbm) return 'airtime';
  if (levelDbm >= widthFromDbm) return 'width';
  return noiseShare > 0 ? 'noise' : 'none';
}

/** From `dbm` the price of one radio rises by `more`. */
export type PriceStep = Readonly<{ dbm: number; more: number }>;

const prices = new Map<string, readonly PriceStep[]>();

/**
 * What planning pays for one radio, in radios sharing airtime: 1 where it takes airtime, the share of width where it takes width, and where
 * it is noise as strong as what would be waited for, the share of the channel that it disturbs. Never falling with the level.
 */
export function priceOf(serving: Channel, other: Channel): readonly PriceStep[] {
  const key = keyOf(serving, other);
  const known = prices.get(key);
  if (known !== undefined) return known;
  const { airtimeFromDbm, widthFromDbm, widthLost, noiseShare } = sharingOf(serving, other);
  const disturbed = Math.min(noiseShare, overlapShare(serving, other));
  // As strong, by density: what falls inside is spread over the part of the channel that it disturbs.
  const spreadDb = 10 * Math.log10(Math.max(1, (disturbed * serving.widthMhz) / 20));
  const noiseFromDbm = noiseShare > 0 ? CCA_DBM.preamble - 10 * Math.log10(noiseShare) + spreadDb : Infinity;
  const priceAt = (dbm: number) => Math.max(dbm >= airtimeFromDbm ? 1 : 0, dbm >= widthFromDbm ? widthLost : 0, dbm >= noiseFromDbm ? disturbed : 0);
  const steps: PriceStep[] = [];
  let paid = 0;
  for (const dbm of [airtimeFromDbm, widthFromDbm, noiseFromDbm].filter(Number.isFinite).sort((a, b) => a - b)) {
    const more = priceAt(dbm) - paid;
    if (more <= 0) continue;
    steps.push({ dbm, more });
    paid += more;
  }
  prices.set(key, steps);
  return steps;
}

/** What a radio pays for another that arrives at a level, in radios sharing airtime: the sum of the steps that it reaches. */
export const priceAt = (serving: Channel, other: Channel, levelDbm: number): number =>
  priceOf(serving, other).reduce((sum, { dbm, more }) => (levelDbm >= dbm ? sum + more : sum), 0);

/** What an even share of a channel's airtime leaves a radio that so many others share it with, 0 to 1. */
export const evenShare = (sharers: number): number => 1 / (1 + sharers);
