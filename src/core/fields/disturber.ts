const LN10_TENTH = Math.LN10 / 10;

/**
 * Something that sends and is not Wi-Fi, as noise: its loss to every cell, what it sends (EIRP), and of each radio's channel what share of its power falls in on the average over time, in dB;
 * -Infinity where none does.
 */
export type Disturber = Readonly<{ lossDb: Float32Array; eirpDbm: number; shareDb: Float64Array }>;
export const NO_DISTURBERS: readonly Disturber[] = [];

/** What disturbers put into a radio's channel at a cell, in mW. */
export function disturbedMw(disturbers: readonly Disturber[], radio: number, cell: number): number {
  let sumMw = 0;
  for (let d = 0; d < disturbers.length; d++) {
    const { lossDb, eirpDbm, shareDb } = disturbers[d]!;
    const share = shareDb[radio]!;
    if (share !== -Infinity) sumMw += Math.exp((eirpDbm - lossDb[cell]! + share) * LN10_TENTH);
  }
  return sumMw;
}
