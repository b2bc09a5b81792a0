import type { Measured } from '../../fields/lens';
import type { Surveyed } from './surveyed';

/** The measured map of one access point's radio, and what the model says there, in dBm, where it is on in the design. */
export type SurveyedRadio = Surveyed & Readonly<{ apId: string; predictedDbm: ((cell: number) => number) | null }>;

/** Nine times in ten a normal lies above its mean less so many deviations. */
const SURE = 1.2816;

const verdictOf = (levelDbm: number, sdDb: number, passDbm: number): number =>
  levelDbm - SURE * sdDb >= passDbm ? 0 : levelDbm + SURE * sdDb < passDbm ? 1 : 2;

/** The place among the radios of the n-th strongest at a cell that is not below what is ignored; -1 where there is none. @param best room for rank + 1 places */
function strongestAt(radios: readonly Surveyed[], cell: number, rank: number, ignoreBelowDbm: number, best: Int32Array): number {
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
  return best[rank]!;
}

/**
 * What was measured of the n-th strongest radio in every cell: its level in dBm, the standard deviation of that, the level less what the model says of the same radio or less what the n-th
 * strongest was on an earlier walk, in dB; or how many radios there are. NaN where nothing is claimed, or what is asked for is weaker than is looked at.
 * @param rank 0 for the strongest
 * @param then what was measured on the earlier walk
 * @param passDbm what passes, for the verdict: 0 surely, 1 surely not, 2 not sure
 */
export function measuredInto(
  what: Measured,
  radios: readonly SurveyedRadio[],
  rank: 0 | 1 | 2,
  ignoreBelowDbm: number,
  out: Float32Array,
  then: readonly Surveyed[] = [],
  passDbm = -67,
): void {
  const best = new Int32Array(rank + 1);
  for (let cell = 0; cell < out.length; cell++) {
    if (what === 'count') {
      let [claimed, heard] = [false, 0];
      for (const { levelDbm } of radios) {
        if (!Number.isNaN(levelDbm[cell]!)) claimed = true;
        if (levelDbm[cell]! >= ignoreBelowDbm) heard++;
      }
      out[cell] = claimed ? heard : NaN;
      continue;
    }
    const radio = radios[strongestAt(radios, cell, rank, ignoreBelowDbm, best)];
    if (radio === undefined) out[cell] = NaN;
    else if (what === 'level') out[cell] = radio.levelDbm[cell]!;
    else if (what === 'sure') out[cell] = radio.sdDb[cell]!;
    else if (what === 'verdict') out[cell] = verdictOf(radio.levelDbm[cell]!, radio.sdDb[cell]!, passDbm);
    else if (what === 'off') out[cell] = radio.predictedDbm === null ? NaN : radio.levelDbm[cell]! - radio.predictedDbm(cell);
    else {
      const earlier = then[strongestAt(then, cell, rank, ignoreBelowDbm, best)];
      out[cell] = earlier === undefined ? NaN : radio.levelDbm[cell]! - earlier.levelDbm[cell]!;
    }
  }
}
