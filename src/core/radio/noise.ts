import type { Band } from './band';

/** Receiver noise figure of a common client, in dB. */
export const CLIENT_NOISE_FIGURE_DB = 7;

/** Man-made noise above thermal, in dB, for a city interior. After the falling trend with frequency of ITU-R P.372, clause 6; a working value, not a reading. */
const MAN_MADE_DB: Readonly<Record<Band, number>> = { '2.4': 4, '5': 1, '6': 1 };

/** Noise power in the receiver's channel, in dBm: thermal -174 dBm/Hz at 290 K, bandwidth, noise figure, man-made excess. */
export function noiseDbm(band: Band, widthMhz: number, noiseFigureDb = CLIENT_NOISE_FIGURE_DB): number {
  return -174 + 10 * Math.log10(widthMhz * 1e6) + noiseFigureDb + MAN_MADE_DB[band];
}

/** Preamble detection threshold of clear channel assessment, 20 MHz, in dBm (IEEE 802.11-2020, 17.3.10.6). */
export const CCA_PREAMBLE_DBM = -82;
