import type { WidthMhz } from './band';
import { centreMhz, type Channel } from './channel';

/**
 * Transmit spectrum masks as (offset from centre in MHz, level in dBr), straight lines in dB between the points.
 * Source: IEEE 802.11ax-2021, 27.3.19.1 (HE PPDU spectral mask) and, for 320 MHz, IEEE 802.11be-2024, 36.3.20.1, used for every generation: HT and VHT masks differ by under 1 MHz.
 */
const MASK_DBR: Readonly<Record<WidthMhz, ReadonlyArray<readonly [number, number]>>> = {
  20: [
    [0, 0],
    [9.75, 0],
    [10.25, -20],
    [20, -28],
    [30, -40],
  ],
  40: [
    [0, 0],
    [19.5, 0],
    [20.5, -20],
    [40, -28],
    [60, -40],
  ],
  80: [
    [0, 0],
    [39.5, 0],
    [40.5, -20],
    [80, -28],
    [120, -40],
  ],
  160: [
    [0, 0],
    [79.5, 0],
    [80.5, -20],
    [160, -28],
    [240, -40],
  ],
  320: [
    [0, 0],
    [159.5, 0],
    [160.5, -20],
    [320, -28],
    [480, -40],
  ],
};

const STEP_MHZ = 0.05;

/** The transmit mask of a width at an offset from the centre, in dB relative to the middle; -Infinity beyond its end, where nothing is counted. */
export function maskDbr(widthMhz: WidthMhz, offsetMhz: number): number {
  const mask = MASK_DBR[widthMhz];
  const offset = Math.abs(offsetMhz);
  for (let i = 1; i < mask.length; i++) {
    const [x0, y0] = mask[i - 1]!;
    const [x1, y1] = mask[i]!;
    if (offset <= x1) return y0 + ((y1 - y0) * (offset - x0)) / (x1 - x0);
  }
  return -Infinity;
}

/** The points of the mask of a width, from the centre out: offset in MHz and level in dBr. */
export const maskPoints = (widthMhz: WidthMhz): ReadonlyArray<readonly [number, number]> => MASK_DBR[widthMhz];

const cache = new Map<string, number>();

/**
 * Share (0 to 1) of the interferer's transmit power that falls inside the victim's channel.
 * The same channel gives 1 less the mask's own skirts (above 0.98); 2.4 GHz channels 1 and 3 overlap in part, 1 and 6 hardly;
 * different bands give 0.
 */
export function overlapShare(interferer: Channel, victim: Channel): number {
  if (interferer.band !== victim.band) return 0;
  const offsetMhz = Math.abs(centreMhz(victim) - centreMhz(interferer));
  if (offsetMhz >= 1.5 * interferer.widthMhz + victim.widthMhz / 2) return 0;
  const key = `${interferer.widthMhz}/${victim.widthMhz}/${offsetMhz}`;
  const known = cache.get(key);
  if (known !== undefined) return known;
  const reach = interferer.widthMhz * 1.5;
  let total = 0;
  let inside = 0;
  for (let f = -reach + STEP_MHZ / 2; f < reach; f += STEP_MHZ) {
    const power = 10 ** (maskDbr(interferer.widthMhz, f) / 10);
    total += power;
    if (Math.abs(f - offsetMhz) <= victim.widthMhz / 2) inside += power;
  }
  const share = inside / total;
  cache.set(key, share);
  return share;
}
