import { manMadeDb, type Band } from './band';
import { COMMON_CLIENT } from './receiver';

/** Noise power in the receiver's channel, in dBm: thermal -174 dBm/Hz at 290 K, bandwidth, noise figure, man-made excess. */
export function noiseDbm(band: Band, widthMhz: number, noiseFigureDb = COMMON_CLIENT.noiseFigureDb): number {
  return -174 + 10 * Math.log10(widthMhz * 1e6) + noiseFigureDb + manMadeDb(band);
}
