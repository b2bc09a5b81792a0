import { UpperRoomError } from '../errors';

/** Speed of light in vacuum, m/s (exact, SI). */
export const SPEED_OF_LIGHT_M_S = 299_792_458;

/** Free-space loss over 1 m, in dB: 20 log10(4 pi f / c) = 20 log10(fMhz) - 27.55. Source: ITU-R P.525-4, eq. (4). */
export const oneMetreLossDb = (freqMhz: number): number => 20 * Math.log10((4 * Math.PI * freqMhz * 1e6) / SPEED_OF_LIGHT_M_S);

/** Free-space basic transmission loss, in dB, between isotropic antennas. Source: ITU-R P.525-4. @throws UpperRoomError DISTANCE_NOT_POSITIVE */
export function freeSpaceLossDb(freqMhz: number, distanceM: number): number {
  if (!(distanceM > 0)) throw new UpperRoomError('DISTANCE_NOT_POSITIVE', { distanceM });
  return oneMetreLossDb(freqMhz) + 20 * Math.log10(distanceM);
}

/** Nearer than this the model stands still: antennas are not points. */
export const MIN_DISTANCE_M = 0.5;

/** What a floor is like: where its walls are drawn, and, as the last three, where they are not. */
export const ENVIRONMENTS = ['hall', 'rooms', 'dense', 'undrawn-hall', 'undrawn-dwelling', 'undrawn-office'] as const;
export type Environment = (typeof ENVIRONMENTS)[number];

/**
 * Path loss exponents. Where walls are drawn they are charged one by one, and open hall equals free space; where none are drawn the exponent stands for them too: a tenth of the
 * power loss coefficients N of ITU-R P.1238 for 2 to 5 GHz, commercial 22, residential 28, office 30; entered from memory.
 */
export const EXPONENT: Readonly<Record<Environment, number>> = {
  hall: 2,
  rooms: 2.2,
  dense: 2.5,
  'undrawn-hall': 2.2,
  'undrawn-dwelling': 2.8,
  'undrawn-office': 3,
};

/** One-slope path loss, in dB, over the 3-D distance: free space to 1 m, then 10 n log10(d). */
export function pathLossDb(freqMhz: number, distanceM: number, exponent: number): number {
  return oneMetreLossDb(freqMhz) + 10 * exponent * Math.log10(Math.max(distanceM, MIN_DISTANCE_M));
}
