import type { Band } from './band';

/** Beacons are sent once in so many ms: 100 time units of 1.024 ms (IEEE 802.11-2020, 9.4.1.3; 100 is what everybody sets). */
export const BEACON_INTERVAL_MS = 102.4;

/** Octets of a beacon with its header and check, as networks of today send them: a working value, theirs run from 250 to 450. */
export const BEACON_OCTETS = 300;

/** Rates that may be basic, in Mb/s, of DSSS (IEEE 802.11-2020, 15 and 16) and of OFDM (17). */
export const BASIC_RATES_MBPS = [1, 2, 5.5, 6, 9, 11, 12, 18, 24] as const;
export type BasicRate = (typeof BASIC_RATES_MBPS)[number];
const DSSS: readonly number[] = [1, 2, 5.5, 11];

/** The basic rates that a band knows: DSSS is at 2.4 GHz only. */
export const basicRatesOf = (band: Band): BasicRate[] => BASIC_RATES_MBPS.filter((rate) => band === '2.4' || !DSSS.includes(rate));

/**
 * Time on the air of a frame, in microseconds. DSSS: long preamble and header 192 us (IEEE 802.11-2020, 15.2.3 and 16.2.2), short 96 us above 1 Mb/s. OFDM: 20 us
 * of preamble and signal, then symbols of 4 us with 4 bits for each Mb/s, 16 service and 6 tail bits (17.4.3), and at 2.4 GHz 6 us of silence (18.3.2.4).
 */
export function frameUs(octets: number, rateMbps: number, band: Band): number {
  const bits = 8 * octets;
  if (DSSS.includes(rateMbps)) return (rateMbps === 1 ? 192 : 96) + bits / rateMbps;
  return 20 + 4 * Math.ceil((16 + bits + 6) / (4 * rateMbps)) + (band === '2.4' ? 6 : 0);
}

/** Share (0 to 1) of a channel's airtime that the beacons of one radio take, one for each network name. */
export const beaconShare = (ssids: number, rateMbps: number, band: Band): number =>
  (ssids * frameUs(BEACON_OCTETS, rateMbps, band)) / 1000 / BEACON_INTERVAL_MS;
