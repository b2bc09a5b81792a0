import { UpperRoomError } from '../../errors';
import type { Medium } from '../../propagation/medium';
import type { Emitter } from '../../propagation/station';
import { HEARD_FOR_CERTAIN_DBM } from '../receiver';
import { decay } from './decay';
import { cholesky, inverseOf, logDeterminant, simplexLeast, solveLower, solveUpper } from './linear';
import { addProducts, joinRows, leftOver, mixingOf, slopeRowsOf, squareOf, whiten, type Mixing, type SlopeRows } from './slopes';
import { evenlyOf, spreadM, type Reading } from './readings';
import { trendOf, type Parameter, type Row, type Trend } from './trend';
import { earlierOf, othersOf, standingOf, type Earlier, type Places, type Scatter, type Standing } from './whiten';

/** Neighbours on which a reading stands in the fit, and on which a spot stands on the map. */
const FIT_NEAR = 8;
export const MAP_NEAR = 10;

/** How readings scatter is learned from at most this many, of the radios that have most, in whole stretches: short distances tell what a single beacon scatters. */
const SCATTER_READINGS = 900;
const SCATTER_RADIOS = 8;
const STRETCH = 30;
const EVALUATIONS = 60;
/** Twice the logarithm of a likelihood may differ by so much and nobody could tell: a deviation is 1. */
const ALIKE = 0.1;

/** What is expected of scatter before anything is measured: variances in dB2, length in m; and how far off the logarithm of each may be. */
const EXPECTED = { values: [14, 4, 4.1, 0.7], sd: [0.8, 0.5, 0.35, 1] } as const;
const START = [16, 4, 4.1, 1] as const;
/** How readings scatter where nothing tells. */
export const EXPECTED_SCATTER: Scatter = { shadowVar: 14, correlationM: 4, beaconVar: 4.1, wallVar: 0.7 };

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

/** A reading that lies further off than this, in deviations, is believed less, until it lies no further. */
const OUTLIER = 2.8;

/** More readings than this add time and no insight; they are taken evenly. */
const MOST_READINGS = 6000;

/** What may be held to the model as it is: kinds of parameters. */
export type Held = ReadonlyArray<Parameter['kind']>;

/** As good as nothing, in dB: what is held does not move. */
const HELD_SD = 1e-4;

/** What was learned from readings of a band's radios on a floor. */
export type Fit = Readonly<{
  medium: Medium;
  radios: readonly Emitter[];
  zM: number;
  readings: readonly Reading[];
  /** How many of the readings were heard: they come first; the others say where a radio was not heard. */
  heard: number;
  trend: Trend;
  scatter: Scatter;
  /** By how much the variance of a shadow is larger than by `scatter`, for nobody knows that for certain. */
  doubt: number;
  /** By parameter: what it is more than the model has it, its standard deviation after the readings, and before them. */
  estimates: Float64Array;
  sd: Float64Array;
  priorSd: Float64Array;
  /** Covariance of the estimates, row-major. */
  covariance: Float64Array;
  /** Variance of each reading, in dB2: of so many beacons, more for what lies off. */
  noise: Float64Array;
  /** Of each reading: what the drawing says there, and how that hangs on the parameters. */
  rows: readonly Row[];
  /** The same of what each is more than the drawing says. */
  slopes: SlopeRows;
  /** Of each reading: what the corrected model leaves over, in dB; and its residual where only its neighbours were known. */
  left: Float64Array;
  crossed: Float64Array;
  places: Places;
  /** Whitened rows. */
  white: SlopeRows;
  standing: Standing;
}>;

/** Root mean square of what each reading differs by from what the others say there, in dB: of single spots, with their beacons' own scatter. */
export const crossValidatedDb = ({ crossed }: Pick<Fit, 'crossed'>): number =>
  Math.sqrt(crossed.reduce((sum, off) => sum + off * off, 0) / crossed.length);

export function placesOf(readings: readonly Reading[]): Places {
  const count = readings.length;
  const places: Places = { xM: new Float64Array(count), yM: new Float64Array(count), radio: new Int32Array(count) };
  readings.forEach(({ xM, yM, radio }, i) => {
    places.xM[i] = xM;
    places.yM[i] = yM;
    places.radio[i] = radio;
  });
  return places;
}

/** Readings made ready to be solved again and again: on which earlier ones each stands, how what they are more than the model hangs on the parameters, and where slopes go when they are whitened. */
type Ready = Readonly<{ places: Places; earlier: Earlier; slopes: SlopeRows; mixing: Mixing }>;
function readyOf(readings: readonly Reading[], rows: readonly Row[], parameters: number): Ready {
  const places = placesOf(readings);
  const earlier = earlierOf(places, FIT_NEAR);
  const slopes = slopesIn(readings, rows);
  return { places, earlier, slopes, mixing: mixingOf(slopes, earlier, parameters) };
}

/** How what readings are more than the drawing says hangs on the parameters. */
const slopesIn = (readings: readonly Reading[], rows: readonly Row[]): SlopeRows =>
  slopeRowsOf(
    rows,
    Float64Array.from(rows, ({ baseDbm }, i) => readings[i]!.dbm - baseDbm),
  );

type Solved = { estimates: Float64Array; lower: Float64Array; explained: number; square: number };

/** Least squares on whitened rows with the parameters' priors: estimates, the factor of their inverse covariance, and what of the squares they explain. */
function solve(white: SlopeRows, priorSd: Float64Array): Solved {
  const p = priorSd.length;
  const lower = new Float64Array(p * p);
  const b = new Float64Array(p);
  addProducts(white, p, lower, b);
  for (let c = 0; c < p; c++) lower[c * p + c]! += 1 / priorSd[c]! ** 2;
  cholesky(lower, p);
  const estimates = Float64Array.from(b);
  solveLower(lower, p, estimates);
  const explained = estimates.reduce((sum, y) => sum + y * y, 0);
  solveUpper(lower, p, estimates);
  return { estimates, lower, explained, square: squareOf(white) };
}

const priorWith = ({ parameters, priorSd }: Trend, { wallVar }: Scatter, held: Held): Float64Array =>
  priorSd.map((sd, i) => (held.includes(parameters[i]!.kind) ? HELD_SD : Number.isNaN(sd) ? Math.sqrt(wallVar) : sd));
/** Beacons of a reading lie so near each other that their shadows differ by no more than this part of what they scatter by. */
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
const scatterOf = ([shadowVar, correlationM, beaconVar, wallVar]: ArrayLike<number> & Iterable<number>): Scatter => ({
  shadowVar: shadowVar!,
  correlationM: correlationM!,
  beaconVar: beaconVar!,
  wallVar: wallVar!,
});

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
  const count = stretches.flat().length;
  if (count <= SCATTER_READINGS) return stretches.flat();
  const step = count / SCATTER_READINGS;
  return stretches.filter((_, k) => Math.floor((k + 1) / step) > Math.floor(k / step)).flat();
}

/**
 * How readings scatter, by the likelihood of a part of them: what shadows vary by and how far they reach, what a beacon scatters, what single walls differ by.
 */
function learnScatter(readings: readonly Reading[], trend: Trend, held: Held): Readonly<{ scatter: Scatter; doubt: number }> {
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
    const { lower, explained, square, standing } = whitenAndSolve(ready, noiseOf(own, scatter, spreads), scatter, priorSd);
    const expected = logs.reduce((sum, log, k) => sum + ((log - Math.log(EXPECTED.values[k]!)) / EXPECTED.sd[k]!) ** 2, 0);
    return (
      standing.variance.reduce((sum, variance) => sum + Math.log(variance), 0) +
      square -
      explained +
      logDeterminant(lower, priorSd.length) +
      priorSd.reduce((sum, sd) => sum + 2 * Math.log(sd), 0) +
      expected
    );
  };
  const scatter = scatterOf(simplexLeast(minusTwoLogLikelihood, START.map(Math.log), 0.5, EVALUATIONS, ALIKE).map(Math.exp));
  return { scatter, doubt: doubtOf(part.length) };
}

/** What each of some values is more than its neighbours alone say. */
function crossedOf(left: Float64Array, { earlier: { near, most }, weights }: Standing): Float64Array {
  return left.map((value, i) => {
    for (let a = i * most; a < (i + 1) * most && near[a]! >= 0; a++) value -= weights[a]! * left[near[a]!]!;
    return value;
  });
}

/**
 * Learns from readings how the building differs from the model: linear path loss with priors and, for each radio, a field of shadows with exponential correlation, solved together
 * (generalised least squares on readings made independent by their nearest earlier neighbours: Vecchia, "Estimation and model identification for continuous spatial processes", 1988).
 * @param radios of one band; their `Reading.radio` is the index here
 * @param zM height at which was measured, of the building
 * @param fromMedium the medium as drawn
 * @param held what may not differ from it
 * @throws UpperRoomError TOO_FEW_READINGS
 */
export function fitReadings(fromMedium: Medium, radios: readonly Emitter[], all: readonly Reading[], zM: number, held: Held = []): Fit {
  const readings = evenlyOf(all, MOST_READINGS);
  if (readings.length < LEAST_READINGS) throw new UpperRoomError('TOO_FEW_READINGS');
  const trend = trendOf(
    fromMedium,
    radios,
    readings.map(({ radio, spots }) => ({ radio, spots: spots.map((spot) => ({ ...spot, zM })) })),
  );
  const { rows } = trend;
  const { scatter, doubt } = learnScatter(readings, trend, held);
  const priorSd = priorWith(trend, scatter, held);
  const noise = noiseOf(readings, scatter);
  const ready = readyOf(readings, rows, priorSd.length);
  const { places, slopes } = ready;
  let solved = whitenAndSolve(ready, noise, scatter, priorSd);
  const own = noise.slice();
  let onOthers = standingOf(places, noise, scatter, othersOf(places, MAP_NEAR));
  let crossed: Float64Array = new Float64Array(0);
  // Twice, for what lies off pulls its neighbours along.
  for (let round = 0; round < 2; round++) {
    if (round > 0) onOthers = standingOf(places, noise, scatter, onOthers.earlier, onOthers);
    crossed = crossedOf(leftOver(slopes, solved.estimates), onOthers);
    for (let i = 0; i < crossed.length; i++) {
      const shadow = onOthers.variance[i]! - onOthers.noise[i]!;
      noise[i] = Math.max(own[i]!, (crossed[i]! / OUTLIER) ** 2 - shadow);
    }
    solved = whitenAndSolve(ready, noise, scatter, priorSd, solved.standing);
  }
  const covariance = inverseOf(solved.lower, priorSd.length);
  const { estimates, white, standing } = solved;
  const sd = estimates.map((_, c) => Math.sqrt(covariance[c * priorSd.length + c]!));
  const left = leftOver(slopes, estimates);
  return {
    medium: fromMedium,
    radios,
    zM,
    readings,
    heard: readings.length,
    trend,
    scatter,
    doubt,
    estimates,
    sd,
    priorSd,
    covariance,
    noise,
    rows,
    slopes,
    left,
    crossed,
    places,
    white,
    standing,
  };
}

/** A fit that takes more readings into account, each with its own noise, in dB2: what is known of scatter, priors and the noise of its own readings stays, and so does what these stand on. */
export function refitWith(fit: Fit, more: readonly Reading[], moreRows: readonly Row[], noiseDb2: readonly number[]): Fit {
  const { scatter, priorSd } = fit;
  const p = priorSd.length;
  const first = fit.readings.length;
  const readings = [...fit.readings, ...more];
  const rows = [...fit.rows, ...moreRows];
  const noise = new Float64Array(readings.length);
  noise.set(fit.noise);
  noise.set(noiseDb2, first);
  const places = placesOf(readings);
  const slopes = joinRows(fit.slopes, slopesIn(more, moreRows));
  const standing = standingOf(places, noise, scatter, earlierOf(places, FIT_NEAR, fit.standing.earlier), fit.standing);
  const white = joinRows(fit.white, whiten(standing, slopes, mixingOf(slopes, standing.earlier, p, first)));
  const { estimates, lower } = solve(white, priorSd);
  const covariance = inverseOf(lower, p);
  const sd = estimates.map((_, c) => Math.sqrt(covariance[c * p + c]!));
  return { ...fit, readings, rows, slopes, noise, places, estimates, sd, covariance, left: leftOver(slopes, estimates), white, standing };
}

/** Fewer readings say nothing of a building. */
export const LEAST_READINGS = 6;

function whitenAndSolve(
  { places, earlier, slopes, mixing }: Ready,
  noise: Float64Array,
  scatter: Scatter,
  priorSd: Float64Array,
  before: Standing | null = null,
): Solved & { white: SlopeRows; standing: Standing } {
  const standing = standingOf(places, noise, scatter, earlier, before);
  const white = whiten(standing, slopes, mixing);
  return { ...solve(white, priorSd), white, standing };
}
