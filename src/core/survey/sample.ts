import type { Band } from '../radio/band';

/** One beacon heard: when, where, whose, how strong. What a survey is made of. */
export type Sample = Readonly<{
  leg: number;
  tMs: number;
  xM: number;
  yM: number;
  bssid: string;
  ssid: string;
  apId: string | null;
  band: Band;
  channel: number;
  widthMhz: number;
  rssiDbm: number;
}>;
