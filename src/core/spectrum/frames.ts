import { BEACON_INTERVAL_MS } from '../radio/beacon';
import { centreMhz, type Channel } from '../radio/channel';
import { hashText } from '../random';
import { masked } from './shape';
import type { Piece } from './signal';

/** When a radio of a network sends: its share of airtime for data, and each of its beacons with its time on the air. */
export type Sending = Readonly<{ channel: Channel; seed: number; share: number; beaconUs: number; beacons: number }>;

/** Data is sent in turns of about this long, in us. */
const TURN_US = 4000;

/** Numbers 0 to 1 for a turn, by a mix of its place and the seed. */
function chance(seed: number, n: number, which: number): number {
  let h = Math.imul(seed ^ Math.imul(n, 0x9e3779b1), 0x85ebca6b) ^ Math.imul(which + 1, 0xc2b2ae35);
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d);
  h = Math.imul(h ^ (h >>> 13), 0x297a2d39);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
}

/**
 * A radio's frames between two times, in us: beacons each 102.4 ms, one after the other for each network name, and exchanges of data of lengths by chance, of whose time on the air the mean
 * is exactly the share. Asked again, or in parts, the answer is the same.
 */
export function framesOf({ channel, seed, share, beaconUs, beacons }: Sending, fromUs: number, toUs: number): Piece[] {
  const shape = masked(channel.widthMhz);
  const mhz = centreMhz(channel);
  const pieces: Piece[] = [];
  const add = (from: number, to: number) => {
    if (to > fromUs && from < toUs) pieces.push({ fromUs: from, toUs: to, fromMhz: mhz, toMhz: mhz, shape });
  };
  const everyUs = BEACON_INTERVAL_MS * 1000;
  const offsetUs = hashText(`${seed}/beacon`) % everyUs;
  for (let n = Math.floor((fromUs - offsetUs) / everyUs); n * everyUs + offsetUs < toUs; n++) {
    const start = n * everyUs + offsetUs;
    add(start, start + beacons * beaconUs);
  }
  if (share > 0) {
    // A turn is taken with the chance `taken`, and then lasts so much of it on average that the mean is the share.
    const taken = Math.min(1, Math.sqrt(share));
    const part = Math.min(1, share / taken);
    const apart = Math.min(0.6, 1 / part - 1);
    for (let n = Math.floor(fromUs / TURN_US) - 1; n * TURN_US < toUs; n++) {
      if (chance(seed, n, 0) >= taken) continue;
      const length = TURN_US * part * (1 - apart + 2 * apart * chance(seed, n, 1));
      const start = n * TURN_US + chance(seed, n, 2) * (TURN_US - length);
      add(start, start + length);
    }
  }
  return pieces;
}
