import { cholesky, solveLower, solveUpper } from './linear';
import type { Reading } from './readings';
import { addProducts, mixingOf, slopeRowsOf, squareOf, whiten, type Mixing, type SlopeRows } from './slopes';
import type { Parameter, Row } from './parameter';
import type { Trend } from './trend';
import { earlierOf, type Earlier } from './nearby';
import type { Places } from './places';
import { standingOf, type Scatter, type Standing } from './whiten';

/** Neighbours on which a reading stands. */
export const FIT_NEAR = 8;

/** What may be held to the model as it is: kinds of parameters. */
export type Held = ReadonlyArray<Parameter['kind']>;

/** As good as nothing, in dB: what is held does not move. */
const HELD_SD = 1e-4;

/** Standard deviation of each parameter before anything was measured, in its own unit. */
export const priorWith = ({ parameters, priorSd }: Trend, { wallVar }: Scatter, held: Held): Float64Array =>
  priorSd.map((sd, i) => (held.includes(parameters[i]!.kind) ? HELD_SD : Number.isNaN(sd) ? Math.sqrt(wallVar) : sd));

/** Where readings lie, and of which radio they are. */
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
export type Ready = Readonly<{ places: Places; earlier: Earlier; slopes: SlopeRows; mixing: Mixing }>;
export function readyOf(readings: readonly Reading[], rows: readonly Row[], parameters: number): Ready {
  const places = placesOf(readings);
  const earlier = earlierOf(places, FIT_NEAR);
  const slopes = slopesIn(readings, rows);
  return { places, earlier, slopes, mixing: mixingOf(slopes, earlier, parameters) };
}

/** How what readings are more than the drawing says hangs on the parameters. */
export const slopesIn = (readings: readonly Reading[], rows: readonly Row[]): SlopeRows =>
  slopeRowsOf(
    rows,
    Float64Array.from(rows, ({ baseDbm }, i) => readings[i]!.dbm - baseDbm),
  );

/** What least squares needs of whitened rows: the products of their slopes (lower triangle, row-major), those with what is to be explained, and the square of that. */
export type Products = Readonly<{ sums: Float64Array; right: Float64Array; square: number }>;

/** @param before those of other rows, to which these are added */
export function productsOf(white: SlopeRows, parameters: number, before: Products | null = null): Products {
  const sums = before?.sums.slice() ?? new Float64Array(parameters * parameters);
  const right = before?.right.slice() ?? new Float64Array(parameters);
  addProducts(white, parameters, sums, right);
  return { sums, right, square: (before?.square ?? 0) + squareOf(white) };
}

/** What was solved for: `lower` is the factor of the inverse covariance of the estimates. */
export type Solved = { estimates: Float64Array; lower: Float64Array; explained: number };

/** Least squares on whitened rows with the parameters' priors: estimates, the factor of their inverse covariance, and what of the squares they explain. */
export function solve({ sums, right }: Products, priorSd: Float64Array): Solved {
  const p = priorSd.length;
  const lower = sums.slice();
  for (let c = 0; c < p; c++) lower[c * p + c]! += 1 / priorSd[c]! ** 2;
  cholesky(lower, p);
  const estimates = right.slice();
  solveLower(lower, p, estimates);
  const explained = estimates.reduce((sum, y) => sum + y * y, 0);
  solveUpper(lower, p, estimates);
  return { estimates, lower, explained };
}

/** Makes readings independent, and solves. @param before how they stood with other noise, where that is known */
export function whitenAndSolve(
  { places, earlier, slopes, mixing }: Ready,
  noise: Float64Array,
  scatter: Scatter,
  priorSd: Float64Array,
  before: Standing | null = null,
): Solved & { white: SlopeRows; standing: Standing; products: Products } {
  const standing = standingOf(places, noise, scatter, earlier, before);
  const white = whiten(standing, slopes, mixing);
  const products = productsOf(white, priorSd.length);
  return { ...solve(products, priorSd), white, standing, products };
}
