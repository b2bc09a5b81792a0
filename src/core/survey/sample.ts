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

/** The samples of several walks as one: the legs of each are counted on from those before it, for on one leg time goes on. */
export function joinedSamples(walks: ReadonlyArray<readonly Sample[]>): readonly Sample[] {
  const [only, ...others] = walks.filter((samples) => samples.length > 0);
  if (only === undefined) return walks[0] ?? [];
  if (others.length === 0) return only;
  const all: Sample[] = [];
  let firstLeg = 0;
  for (const samples of [only, ...others]) {
    let last = 0;
    for (const sample of samples) {
      last = Math.max(last, sample.leg);
      all.push({ ...sample, leg: sample.leg + firstLeg });
    }
    firstLeg += last + 1;
  }
  return all;
}
