/** Power in mW of a level in dBm. */
export const mwFromDbm = (dbm: number): number => 10 ** (dbm / 10);

/** Level in dBm of a power in mW; 0 mW gives `-Infinity`. */
export const dbmFromMw = (mw: number): number => 10 * Math.log10(mw);

/** Total of incoherent powers, in dBm. Levels in dB never add; milliwatts do. No input gives `-Infinity`. */
export function sumDbm(powersDbm: Iterable<number>): number {
  let totalMw = 0;
  for (const powerDbm of powersDbm) totalMw += mwFromDbm(powerDbm);
  return dbmFromMw(totalMw);
}
