import { UpperRoomError } from '../../errors';
import type { Medium } from '../../propagation/medium';
import type { Emitter } from '../../propagation/station';
import { inverseOf } from './linear';
import { evenlyOf, type Reading } from './readings';
import { learnScatter, noiseOf } from './scatter';
import { joinRows, leftOver, mixingOf, whiten, type SlopeRows } from './slopes';
import { FIT_NEAR, placesOf, priorWith, productsOf, readyOf, slopesIn, solve, whitenAndSolve, type Held, type Products } from './solve';
import type { Parameter, Row } from './parameter';
import { trendOf, type Trend } from './trend';
import { earlierOf, othersOf } from './nearby';
import type { Places } from './places';
import { standingOf, type Scatter, type Standing } from './whiten';

/** Neighbours on which a spot stands on the map. */
export const MAP_NEAR = 10;

/** A reading that lies further off than this, in deviations, is believed less, until it lies no further. */
const OUTLIER = 2.8;

/** More readings than this add time and no insight; they are taken evenly. */
const MOST_READINGS = 6000;

/** What maps are made from, of what was learned from readings of a band's radios on a floor: plain data, which may be handed on from worker to worker. */
export type MapBasis = Readonly<{
  /** As drawn. */
  medium: Medium;
  radios: readonly Emitter[];
  zM: number;
  parameters: readonly Parameter[];
  scatter: Scatter;
  /** By how much the variance of a shadow is larger than by `scatter`, for nobody knows that for certain. */
  doubt: number;
  /** By parameter: what it is more than the model has it, and its standard deviation after the readings. */
  estimates: Float64Array;
  sd: Float64Array;
  /** Covariance of the estimates, row-major. */
  covariance: Float64Array;
  places: Places;
  /** Variance of each reading, in dB2: of so many beacons, more for what lies off. */
  noise: Float64Array;
  /** How what each reading is more than the drawing says hangs on the parameters. */
  slopes: SlopeRows;
  /** Of each reading: what the corrected model leaves over, in dB. */
  left: Float64Array;
}>;

/** What was learned from readings of a band's radios on a floor. */
export type Fit = MapBasis &
  Readonly<{
    readings: readonly Reading[];
    /** How many of the readings were heard: they come first; the others say where a radio was not heard. */
    heard: number;
    trend: Trend;
    /** Standard deviation of each parameter before the readings. */
    priorSd: Float64Array;
    /** Of each reading: what the drawing says there, and how that hangs on the parameters. */
    rows: readonly Row[];
    /** Of each reading: its residual where only its neighbours were known. */
    crossed: Float64Array;
    /** Whitened rows. */
    white: SlopeRows;
    /** Of them. */
    products: Products;
    standing: Standing;
  }>;

/** What of a fit maps are made from, alone. */
export const mapBasisOf = ({
  medium,
  radios,
  zM,
  parameters,
  scatter,
  doubt,
  estimates,
  sd,
  covariance,
  places,
  noise,
  slopes,
  left,
}: Fit): MapBasis => ({
  medium,
  radios,
  zM,
  parameters,
  scatter,
  doubt,
  estimates,
  sd,
  covariance,
  places,
  noise,
  slopes,
  left,
});

/** Root mean square of what each reading differs by from what the others say there, in dB: of single spots, with their beacons' own scatter. */
export const crossValidatedDb = ({ crossed }: Pick<Fit, 'crossed'>): number =>
  Math.sqrt(crossed.reduce((sum, off) => sum + off * off, 0) / crossed.length);

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
    readings.map(({ radio, spots }) => ({ radio, spots: spots.map(({ xM, yM }) => ({ xM, yM, zM })) })),
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
  const { estimates, white, products, standing } = solved;
  const sd = estimates.map((_, c) => Math.sqrt(covariance[c * priorSd.length + c]!));
  const left = leftOver(slopes, estimates);
  return {
    medium: fromMedium,
    radios,
    zM,
    readings,
    heard: readings.length,
    trend,
    parameters: trend.parameters,
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
    products,
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
  const moreWhite = whiten(standing, slopes, mixingOf(slopes, standing.earlier, p, first));
  const products = productsOf(moreWhite, p, fit.products);
  const { estimates, lower } = solve(products, priorSd);
  const covariance = inverseOf(lower, p);
  const sd = estimates.map((_, c) => Math.sqrt(covariance[c * p + c]!));
  return {
    ...fit,
    readings,
    rows,
    slopes,
    noise,
    places,
    estimates,
    sd,
    covariance,
    left: leftOver(slopes, estimates),
    white: joinRows(fit.white, moreWhite),
    products,
    standing,
  };
}

/** Fewer readings say nothing of a building. */
export const LEAST_READINGS = 6;
