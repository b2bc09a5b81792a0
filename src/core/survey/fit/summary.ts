import { crossValidatedDb, type Fit } from './fit';
import { type Held } from './solve';
import type { Scatter } from './whiten';

/** One thing that was learned: what it is more than drawn, in dB (of the exponent, as a number), with its standard deviation after the readings and before them. */
export type Learned = Readonly<{ estimate: number; sd: number; priorSd: number }> &
  (
    | Readonly<{ kind: 'offset' }>
    | Readonly<{ kind: 'exponent' }>
    | Readonly<{ kind: 'radio'; apId: string }>
    | Readonly<{ kind: 'material'; materialId: string }>
    | Readonly<{ kind: 'wall'; wallId: string; materialId: string }>
  );

/** What a fit says in words and numbers: what it stands on, how well it foretells what it was not told, and what it learned. */
export type FitSummary = Readonly<{
  readings: number;
  /** Spots at which a radio was listened for and not heard, and that this says something. */
  unheardSpots: number;
  /** Root mean square of readings less what their neighbours foretell, and less what the drawing foretells, in dB. */
  crossValidatedDb: number;
  drawnDb: number;
  scatter: Scatter;
  /** What was held to the drawing and not learned. */
  held: Held;
  /** Readings less the drawing, and less what their neighbours foretell, counted in steps of 2 dB around 0; what lies beyond is in the last. */
  histogram: Readonly<{ drawn: readonly number[]; foretold: readonly number[] }>;
  learned: readonly Learned[];
  /** What the corrected model leaves, in dB, by square: the mean over all radios, at the mean place of their readings. */
  residuals: ReadonlyArray<Readonly<{ xM: number; yM: number; offDb: number }>>;
  /** Pairs of `learned`, by index, that the readings hardly tell apart. */
  confused: ReadonlyArray<readonly [number, number]>;
  /** Means of products of the slopes, in the order of `learned`, and last of what is to be explained, each less its radio's mean; row-major. For `spreadDb`. */
  moments: Float64Array;
  /** Access points of which nothing was heard in the band. */
  unheard: readonly string[];
}>;

/** Correlation of two estimates from which on they are told as one. */
const TOGETHER = 0.7;

/** Sums up a fit. @param apIds of its radios */
export function summaryOf(fit: Fit, apIds: readonly string[], held: Held = []): FitSummary {
  const { trend, estimates, sd, priorSd, scatter } = fit;
  const readings = fit.readings.slice(0, fit.heard);
  const learned = trend.parameters.map((p, i): Learned => {
    const number = { estimate: estimates[i]!, sd: sd[i]!, priorSd: priorSd[i]! };
    if (p.kind === 'radio') return { kind: 'radio', apId: apIds[p.radio]!, ...number };
    if (p.kind === 'material') return { kind: 'material', materialId: p.material.id, ...number };
    if (p.kind === 'wall') return { kind: 'wall', wallId: p.wallId, materialId: p.material.id, ...number };
    return p.kind === 'offset' ? { kind: 'offset', ...number } : { kind: 'exponent', ...number };
  });
  const drawn = readings.map(({ dbm }, i) => dbm - fit.rows[i]!.baseDbm);
  const heard = new Set(readings.map(({ radio }) => radio));
  return {
    readings: readings.length,
    unheardSpots: fit.readings.length - readings.length,
    crossValidatedDb: crossValidatedDb(fit),
    drawnDb: Math.sqrt(drawn.reduce((sum, off) => sum + off * off, 0) / drawn.length),
    scatter,
    held,
    histogram: { drawn: countsOf(drawn), foretold: countsOf(fit.crossed) },
    learned,
    residuals: residualsOf(fit),
    moments: momentsOf(fit, drawn),
    confused: confusedIn(fit, heard),
    unheard: apIds.filter((_, r) => !heard.has(r)),
  };
}

/** Squares over which residuals are one, in m: nearer bars hide each other. */
const RESIDUAL_M = 2.5;

function residualsOf({ readings, heard, left }: Fit): FitSummary['residuals'] {
  const squares = new Map<string, { x: number; y: number; sum: number; count: number }>();
  for (let i = 0; i < heard; i++) {
    const { xM, yM } = readings[i]!;
    const key = `${Math.floor(xM / RESIDUAL_M)}/${Math.floor(yM / RESIDUAL_M)}`;
    const square = squares.get(key) ?? { x: 0, y: 0, sum: 0, count: 0 };
    squares.set(key, { x: square.x + xM, y: square.y + yM, sum: square.sum + left[i]!, count: square.count + 1 });
  }
  return [...squares.values()].map(({ x, y, sum, count }) => ({ xM: x / count, yM: y / count, offDb: sum / count }));
}

/** Steps of the histogram, in dB, and how many there are. */
export const HISTOGRAM = { stepDb: 2, steps: 21 } as const;

/** How many of some differences lie in each step around 0. */
export function countsOf(offDb: ArrayLike<number>): number[] {
  const counts = new Array<number>(HISTOGRAM.steps).fill(0);
  const middle = (HISTOGRAM.steps - 1) / 2;
  for (let i = 0; i < offDb.length; i++) counts[Math.max(0, Math.min(HISTOGRAM.steps - 1, middle + Math.round(offDb[i]! / HISTOGRAM.stepDb)))]!++;
  return counts;
}

/** Means of products of slopes and of what is to be explained, each less its mean over the readings of the same radio: what a radio or the receiver differs by is not of the drawing. */
function momentsOf({ trend, rows: all, heard, readings, radios }: Fit, drawn: readonly number[]): Float64Array {
  const rows = all.slice(0, heard);
  const width = trend.parameters.length + 1;
  const counts = new Float64Array(radios.length);
  const sums = radios.map(() => new Float64Array(width));
  const moments = new Float64Array(width * width);
  for (let i = 0; i < rows.length; i++) {
    const { columns, slopes } = rows[i]!;
    const { radio } = readings[i]!;
    const own = sums[radio]!;
    counts[radio]!++;
    for (let k = 0; k <= columns.length; k++) {
      // Last comes what is to be explained.
      const [a, value] = k < columns.length ? [columns[k]!, slopes[k]!] : [width - 1, drawn[i]!];
      own[a]! += value;
      for (let l = 0; l < columns.length; l++) moments[a * width + columns[l]!]! += (value * slopes[l]!) / rows.length;
      moments[a * width + width - 1]! += (value * drawn[i]!) / rows.length;
    }
  }
  sums.forEach((own, radio) => {
    for (let a = 0; a < width; a++) {
      if (own[a] === 0) continue;
      for (let b = 0; b < width; b++) moments[a * width + b]! -= (own[a]! * own[b]!) / counts[radio]! / rows.length;
    }
  });
  return moments;
}

/**
 * What readings would scatter by around the drawing, in dB, each radio's mean apart, if what was learned of some of the parameters were drawn: standard deviation.
 * @param taken indices into `learned`
 */
export function spreadDb({ learned, moments }: Pick<FitSummary, 'learned' | 'moments'>, taken: readonly number[]): number {
  const width = learned.length + 1;
  const weights = [...taken.map((i) => [i, -learned[i]!.estimate] as const), [width - 1, 1] as const];
  let square = 0;
  for (const [a, u] of weights) for (const [b, v] of weights) square += u * v * moments[a * width + b]!;
  return Math.sqrt(Math.max(0, square));
}

/** Pairs among receiver, exponent, access points and materials of which the readings know the sum or the difference better than either. */
function confusedIn({ trend, covariance, sd }: Fit, heard: ReadonlySet<number>): Array<readonly [number, number]> {
  const p = sd.length;
  // What was not heard is not confused with anything: nothing is said of it at all.
  const asked = trend.parameters.flatMap((q, i) => (q.kind === 'wall' || (q.kind === 'radio' && !heard.has(q.radio)) ? [] : [i]));
  return asked.flatMap((c, a) =>
    asked.slice(a + 1).flatMap((d) => (Math.abs(covariance[c * p + d]!) > TOGETHER * sd[c]! * sd[d]! ? [[c, d] as const] : [])),
  );
}
