import type { Surveyed } from './surveyed';

/** The measured map of one access point's radio, and what the model says there, in dBm, where it is on in the design. */
export type SurveyedRadio = Surveyed & Readonly<{ apId: string; predictedDbm: ((cell: number) => number) | null }>;

/** What may be shown of what was measured: the level, how sure it is, or what it is more than the model says. */
export const MEASURED = ['level', 'sure', 'off'] as const;
export type Measured = (typeof MEASURED)[number];

/**
 * What was measured of the n-th strongest radio in every cell: its level in dBm, the standard deviation of that, or the level less what the model says of the same radio, in dB. NaN where
 * nothing is claimed, or what is asked for is weaker than is looked at.
 * @param rank 0 for the strongest
 */
export function measuredInto(what: Measured, radios: readonly SurveyedRadio[], rank: 0 | 1 | 2, ignoreBelowDbm: number, out: Float32Array): void {
  const best = new Int32Array(rank + 1);
  for (let cell = 0; cell < out.length; cell++) {
    best.fill(-1);
    for (let r = 0; r < radios.length; r++) {
      const level = radios[r]!.levelDbm[cell]!;
      if (!(level >= ignoreBelowDbm)) continue;
      let held = r;
      for (let k = 0; k <= rank; k++) {
        const other = best[k]!;
        if (other >= 0 && radios[other]!.levelDbm[cell]! >= radios[held]!.levelDbm[cell]!) continue;
        best[k] = held;
        held = other;
        if (held < 0) break;
      }
    }
    const radio = radios[best[rank]!];
    if (radio === undefined) out[cell] = NaN;
    else if (what === 'level') out[cell] = radio.levelDbm[cell]!;
    else if (what === 'sure') out[cell] = radio.sdDb[cell]!;
    else out[cell] = radio.predictedDbm === null ? NaN : radio.levelDbm[cell]! - radio.predictedDbm(cell);
  }
}
