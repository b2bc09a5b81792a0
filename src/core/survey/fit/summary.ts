import { crossValidatedDb, type Fit } from './fit';
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
  /** Root mean square of readings less what their neighbours foretell, and less what the drawing foretells, in dB. */
  crossValidatedDb: number;
  drawnDb: number;
  scatter: Scatter;
  learned: readonly Learned[];
  /** Pairs of `learned`, by index, that the readings hardly tell apart. */
  confused: ReadonlyArray<readonly [number, number]>;
  /** Access points of which nothing was heard in the band. */
  unheard: readonly string[];
}>;

/** Correlation of two estimates from which on they are told as one. */
const TOGETHER = 0.7;

/** Sums up a fit. @param apIds of its radios */
export function summaryOf(fit: Fit, apIds: readonly string[]): FitSummary {
  const { trend, estimates, sd, priorSd, scatter, readings } = fit;
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
    crossValidatedDb: crossValidatedDb(fit),
    drawnDb: Math.sqrt(drawn.reduce((sum, off) => sum + off * off, 0) / drawn.length),
    scatter,
    learned,
    confused: confusedIn(fit, heard),
    unheard: apIds.filter((_, r) => !heard.has(r)),
  };
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
