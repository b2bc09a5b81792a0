import type { WidthMhz } from './band';
import type { Generation } from './rates';

/**
 * What a client receives and sends with: height above the floor it stands on, antenna gain (body loss taken off), noise figure, spatial streams,
 * generation, widest channel, and conducted power.
 */
export type Receiver = Readonly<{
  heightM: number;
  gainDbi: number;
  noiseFigureDb: number;
  streams: number;
  generation: Generation;
  maxWidthMhz: WidthMhz;
  txPowerDbm: number;
}>;

/** A common client: two streams, no gain left after hand and body, a noise figure of 7 dB, 15 dBm. Working values, not figures of a standard. */
export const COMMON_CLIENT: Receiver = {
  heightM: 1,
  gainDbi: 0,
  noiseFigureDb: 7,
  streams: 2,
  generation: 'Wi-Fi 6',
  maxWidthMhz: 160,
  txPowerDbm: 15,
};

/** Noise figure of an access point's receiver, in dB: taken as good as a client's. */
export const AP_NOISE_FIGURE_DB = 7;
