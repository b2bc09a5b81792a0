import { refitWith, type Fit } from './fit';
import { normalShare } from './normal';
import { ofEachRadio } from './places';
import { evenlyOf, type Reading, type Unheard } from './readings';
import { estimatesAt } from './estimates';

/** Half of the beacons are lost a little above the level at which none comes: what is not heard lies below this much under it, in dB. */
const BELOW_DB = 0.5;
/** How sharply: small-scale fading (2 dB) and what decoding scatters by (2.2 dB), together, in dB. */
export const SPREAD_DB = 2.9;
/** Further off on either side than so many deviations nothing follows: far below it is no news, far above it is a lost beacon. */
const FAR = 3;
/** Variances from which on a spot says nothing, in dB2. */
const NO_NEWS_DB2 = 300;
const ROUNDS = 3;
/** Steps are not taken whole, or neighbours would swing each other. */
const DAMPING = 0.7;
/** More spots than this add time and no insight; they are taken evenly. */
const MOST_UNHEARD = 3000;

/** Beyond so many deviations the first time, a spot is not asked again: what others say does not bring it so near. */
const TOO_FAR = FAR + 1;

/** A spot as a reading that says the same as not hearing does there: a level and its variance. */
type AsReading = Readonly<{ dbm: number; noiseDb2: number }>;

/** By how many deviations the level that is expected at a spot lies below that of which not hearing tells. */
const belowBy = (hearsFromDbm: number, fDbm: number, v: number): number => (hearsFromDbm - BELOW_DB - fDbm) / Math.sqrt(SPREAD_DB ** 2 + v);

/**
 * What not hearing at a spot says, as a normal reading: the level that was expected, cut off softly where it would be heard, has this mean and variance (moments of a normal times a normal's tail).
 * @param fDbm what is expected there without it, in dBm; @param v the variance of that, in dB2
 * @returns null where nothing follows
 */
export function saidByUnheard(hearsFromDbm: number, fDbm: number, v: number): AsReading | null {
  const spread2 = SPREAD_DB ** 2;
  const d = Math.sqrt(spread2 + v);
  const a = belowBy(hearsFromDbm, fDbm, v);
  if (Math.abs(a) > FAR) return null;
  const r = Math.exp((-a * a) / 2) / Math.sqrt(2 * Math.PI) / normalShare(a);
  const mean = fDbm - (v * r) / d;
  const variance = v - (v * v * r * (a + r)) / (spread2 + v);
  const noiseDb2 = 1 / (1 / variance - 1 / v);
  return noiseDb2 > 0 && noiseDb2 < NO_NEWS_DB2 ? { dbm: noiseDb2 * (mean / variance - fDbm / v), noiseDb2 } : null;
}

/** A fit that knows too where its radios were listened for and not heard. Scatter, priors and what lies off are as the heard readings have them. */
export function withUnheard(heardOnly: Fit, all: readonly Unheard[]): Fit {
  const unheard = evenlyOf(all, MOST_UNHEARD);
  if (unheard.length === 0) return heardOnly;
  const rows = unheard.map(({ radio, xM, yM }) => heardOnly.trend.rowAt(radio, { xM, yM, zM: heardOnly.zM }));
  const ofRadio = ofEachRadio({ radio: Int32Array.from(unheard, ({ radio }) => radio) });
  let fit = heardOnly;
  let said: Array<AsReading | null> = unheard.map(() => null);
  const settled = new Uint8Array(unheard.length);
  for (let round = 0; round < ROUNDS; round++) {
    const { estimates, heard } = fit;
    let at = heard;
    // As which reading of the fit each is known: it is not to vouch for itself.
    const itself = said.map((before) => (before === null ? -1 : at++));
    const now: Array<AsReading | null> = unheard.map(() => null);
    for (const [radio, own] of ofRadio) {
      const open = Array.from(own).filter((i) => settled[i] === 0);
      const rowOf = open.map((i) => rows[i]!);
      const spots = open.map((i) => unheard[i]!);
      const { leftDb, varianceDb2 } = estimatesAt(
        fit,
        radio,
        spots,
        rowOf,
        Int32Array.from(open, (i) => itself[i]!),
      );
      open.forEach((i, k) => {
        const { columns, slopes, baseDbm } = rowOf[k]!;
        const expectedDbm = columns.reduce((sum, c, j) => sum + estimates[c]! * slopes[j]!, baseDbm) + leftDb[k]!;
        const { hearsFromDbm } = spots[k]!;
        const next = saidByUnheard(hearsFromDbm, expectedDbm, varianceDb2[k]!);
        if (round === 0 && Math.abs(belowBy(hearsFromDbm, expectedDbm, varianceDb2[k]!)) > TOO_FAR) settled[i] = 1;
        const before = said[i]!;
        const damped = (a: number, b: number) => a + DAMPING * (b - a);
        now[i] = next === null || before === null ? next : { dbm: damped(before.dbm, next.dbm), noiseDb2: damped(before.noiseDb2, next.noiseDb2) };
      });
    }
    said = now;
    const some = unheard.flatMap((spot, i) => {
      const own = now[i]!;
      return own === null ? [] : [{ spot, row: rows[i]!, ...own }];
    });
    const readings = some.map(({ spot: { radio, xM, yM }, dbm }): Reading => ({ radio, xM, yM, dbm, count: 1, tMs: 0, spots: [{ xM, yM }] }));
    fit = refitWith(
      heardOnly,
      readings,
      some.map(({ row }) => row),
      some.map(({ noiseDb2 }) => noiseDb2),
    );
  }
  return fit;
}
