import { HEARD_FOR_CERTAIN_DBM } from '../receiver';
import { decay } from './decay';
import { leastOf } from './least';
import { logDeterminant } from './linear';
import { evenlyOf, spreadM, type Reading } from './readings';
import { priorWith, readyOf, whitenAndSolve, type Held } from './solve';
import type { Row } from './parameter';
import type { Trend } from './trend';
import type { Scatter } from './whiten';

/** It is learned from at most this many readings, of the radios that have most, in whole stretches: short distances tell what a single beacon scatters. */
const SCATTER_READINGS = 900;
const SCATTER_RADIOS = 8;
const STRETCH = 30;
const EVALUATIONS = 60;
/** Twice the logarithm of a likelihood may differ by so much and nobody could tell: a deviation is 1. */
const ALIKE = 0.2;

/** What is expected of scatter before anything is measured: variances in dB2, length in m; and how far off the logarithm of each may be. */
const EXPECTED = { values: [14, 4, 4.1, 0.7], sd: [0.8, 0.5, 0.35, 1] } as const;
const START = [16, 4, 4.1, 1] as const;
const scatterOf = ([shadowVar, correlationM, beaconVar, wallVar]: ArrayLike<number> & Iterable<number>): Scatter => ({
  shadowVar: shadowVar!,
  correlationM: correlationM!,
  beaconVar: beaconVar!,
  wallVar: wallVar!,
});
/** How twice the logarithm of the likelihood mostly bends by the logarithms of scatter, for each reading: so the search knows from the start how far to go. */
const BENT = [
  [0.5, -0.15, 0.11, 0],
  [-0.15, 0.27, -0.12, 0],
  [0.11, -0.12, 0.27, 0],
  [0, 0, 0, 0.014],
] as const;
const bentBy = (readings: number): Float64Array =>
  Float64Array.from(BENT.flatMap((row, i) => row.map((each, j) => each * readings + (i === j ? 2 / EXPECTED.sd[i]! ** 2 : 0))));
/** How readings scatter where nothing tells. */
export const EXPECTED_SCATTER = scatterOf(EXPECTED.values);

/** Neighbouring readings tell the same of how shadows vary: so many count as one that stands alone; and what is expected beforehand counts as so many of these. */
const ALIKE_READINGS = 20;
const EXPECTED_COUNTS = 4;

/**
 * By how much larger the variance of what is drawn from a normal distribution is where its own variance was learned from some readings: that of Student's distribution with as many degrees of
 * freedom as they are worth.
 */
export function doubtOf(readings: number): number {
  const freedom = EXPECTED_COUNTS + readings / ALIKE_READINGS;
  return freedom / (freedom - 2);
}

/** However far apart its beacons lie, a reading varies by this part of their scatter at the least: two at one spot would else contradict each other. */
const LEAST_NOISE = 0.25;

/**
 * By how much more than the shadow at its middle each reading varies, in dB2: by the scatter of its beacons, which averages out over them. Their shadows average too, for they were not heard at
 * one spot: that is taken off.
 * @param spreads how far apart the beacons of each lie, in m, where that is asked for again and again
 */
export function noiseOf(
  readings: readonly Reading[],
  { beaconVar, shadowVar, correlationM }: Scatter,
  spreads: ArrayLike<number> = readings.map(({ spots }) => spreadM(spots)),
): Float64Array {
  const noise = new Float64Array(readings.length);
  readings.forEach(({ count }, i) => {
    const beacons = beaconVar / count;
    const averaged = count === 1 ? 0 : shadowVar * (1 - 1 / count) * (1 - decay(spreads[i]! / correlationM));
    noise[i] = Math.max(LEAST_NOISE * beacons, beacons - averaged);
  });
  return noise;
}

/**
 * Whole stretches of the radios that have most readings, spread evenly over the walk. Those for which the drawing says that only lucky beacons are heard are left out, for lucky ones scatter less;
 * unless most are.
 */
export function stretchesOf(
  readings: ReadonlyArray<Pick<Reading, 'radio'>>,
  { rows }: Readonly<{ rows: ReadonlyArray<Pick<Row, 'baseDbm'>> }>,
): number[] {
  const all = Array.from(readings.keys());
  const certain = all.filter((i) => rows[i]!.baseDbm >= HEARD_FOR_CERTAIN_DBM);
  const byRadio = new Map<number, number[]>();
  for (const i of 2 * certain.length >= all.length ? certain : all) {
    const own = byRadio.get(readings[i]!.radio);
    if (own === undefined) byRadio.set(readings[i]!.radio, [i]);
    else own.push(i);
  }
  const most = [...byRadio.values()].sort((a, b) => b.length - a.length).slice(0, SCATTER_RADIOS);
  const stretches = most.flatMap((own) =>
    Array.from({ length: Math.ceil(own.length / STRETCH) }, (_, k) => own.slice(k * STRETCH, (k + 1) * STRETCH)),
  );
  return evenlyOf(stretches, (stretches.length * SCATTER_READINGS) / stretches.flat().length).flat();
}

/**
 * How readings scatter, by the likelihood of a part of them: what shadows vary by and how far they reach, what a beacon scatters, what single walls differ by; and how much of that is in doubt.
 * @param held kinds of parameters that may not differ from the model
 */
export function learnScatter(readings: readonly Reading[], trend: Trend, held: Held): Readonly<{ scatter: Scatter; doubt: number }> {
  const part = stretchesOf(readings, trend);
  const own = part.map((i) => readings[i]!);
  // Parameters on which none of them hangs add nothing to the likelihood, and time that grows with the cube of how many there are.
  const told = [...new Set(part.flatMap((i) => trend.rows[i]!.columns))].sort((a, b) => a - b);
  const place = new Map(told.map((column, k) => [column, k]));
  const ready = readyOf(
    own,
    part.map((i) => ({ ...trend.rows[i]!, columns: trend.rows[i]!.columns.map((column) => place.get(column)!) })),
    told.length,
  );
  const spreads = own.map(({ spots }) => spreadM(spots));
  const minusTwoLogLikelihood = (logs: Float64Array): number => {
    const scatter = scatterOf(logs.map(Math.exp));
    const everySd = priorWith(trend, scatter, held);
    const priorSd = Float64Array.from(told, (column) => everySd[column]!);
    const { lower, explained, products, standing } = whitenAndSolve(ready, noiseOf(own, scatter, spreads), scatter, priorSd);
    const expected = logs.reduce((sum, log, k) => sum + ((log - Math.log(EXPECTED.values[k]!)) / EXPECTED.sd[k]!) ** 2, 0);
    return (
      standing.variance.reduce((sum, variance) => sum + Math.log(variance), 0) +
      products.square -
      explained +
      logDeterminant(lower, priorSd.length) +
      priorSd.reduce((sum, sd) => sum + 2 * Math.log(sd), 0) +
      expected
    );
  };
  const scatter = scatterOf(leastOf(minusTwoLogLikelihood, START.map(Math.log), bentBy(part.length), ALIKE, EVALUATIONS).map(Math.exp));
  return { scatter, doubt: doubtOf(part.length) };
}
