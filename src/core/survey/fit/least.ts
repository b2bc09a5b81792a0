import { cholesky, solveLower, solveUpper } from './linear';

/** How far from a spot its slopes are taken, in the variables' own unit: far above rounding, and as good as no way at all. */
const SLOPE_STEP = 1e-5;
/** No variable moves further in one step: what is known of the curvature here says nothing of far away. */
const LONGEST_STEP = 1;
/** A step that leads up is taken this much shorter, and so often at most. */
const SHORTER = 0.35;
const SHORTENED = 8;

const dot = (a: Float64Array, b: Float64Array): number => a.reduce((sum, x, k) => sum + x * b[k]!, 0);
const times = (matrix: Float64Array, x: Float64Array): Float64Array =>
  Float64Array.from(x, (_, i) => dot(matrix.subarray(i * x.length, (i + 1) * x.length), x));

/**
 * The least of a smooth function of a few variables where a value costs much: downhill, by a curvature that is learned from the slopes on the way (Broyden, Fletcher, Goldfarb and Shanno, 1970).
 * @param curvature second derivatives as they may be expected, row-major, positive definite: it says how soon the end is found, not where
 * @param alike it ends after a step from which no more than this is expected
 * @param evaluations no step begins after so many
 */
export function leastOf(
  value: (at: Float64Array) => number,
  start: readonly number[],
  curvature: Float64Array,
  alike: number,
  evaluations: number,
): Float64Array {
  const n = start.length;
  let asked = 0;
  const ask = (at: Float64Array): number => {
    asked++;
    return value(at);
  };
  const slopesAt = (at: Float64Array, here: number): Float64Array =>
    at.map((_, k) => (ask(at.map((x, i) => (i === k ? x + SLOPE_STEP : x))) - here) / SLOPE_STEP);
  const bent = Float64Array.from(curvature);
  let at: Float64Array = Float64Array.from(start);
  let here = ask(at);
  let slopes = slopesAt(at, here);
  while (asked < evaluations) {
    const factor = Float64Array.from(bent);
    cholesky(factor, n);
    const step = slopes.map((slope) => -slope);
    solveLower(factor, n, step);
    solveUpper(factor, n, step);
    const isLast = -dot(slopes, step) / 2 <= alike;
    const longest = Math.max(...step.map(Math.abs));
    let share = Math.min(1, LONGEST_STEP / longest);
    const along = (): Float64Array => at.map((x, k) => x + share * step[k]!);
    let next = along();
    let there = ask(next);
    for (let shorter = 0; !(there < here) && shorter < SHORTENED; shorter++) {
      share *= SHORTER;
      next = along();
      there = ask(next);
    }
    if (!(there < here)) return at;
    if (isLast) return next;
    const nextSlopes = slopesAt(next, there);
    learnCurvature(
      bent,
      Float64Array.from(next, (x, k) => x - at[k]!),
      nextSlopes.map((slope, k) => slope - slopes[k]!),
    );
    [at, here, slopes] = [next, there, nextSlopes];
  }
  return at;
}

/** Takes into a curvature how slopes changed along a step; where it is bent the other way there nothing, for no least lies that way. */
function learnCurvature(bent: Float64Array, moved: Float64Array, change: Float64Array): void {
  const n = moved.length;
  const foretold = times(bent, moved);
  const was = dot(moved, foretold);
  const is = dot(moved, change);
  if (is <= 0) return;
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) bent[i * n + j]! += (change[i]! * change[j]!) / is - (foretold[i]! * foretold[j]!) / was;
}
