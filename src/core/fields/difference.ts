import { meets } from './lenses';
import type { Lens, ThresholdRule } from './lens';

/** How two maps of one lens differ over the service area, in shares of it (0 to 1). */
export type DifferenceStatistics = Readonly<{
  /** Where both claim a value, and the mean of now less then over it; NaN where there is none. */
  both: number;
  mean: number;
  /** Better or worse by a visible amount (`noticed` of the lens), or served now or then alone. For kinds: another one now, counted as neither. */
  better: number;
  worse: number;
  /** Meets the threshold now and did not; did and does not now. Null for lenses without one. */
  gained: number | null;
  lost: number | null;
  /** For lenses of kinds: the share in which the kind is another. Null for others. */
  other: number | null;
}>;

/** From how much on a difference is told, in the lens's unit: one step of whole numbers, else a tenth of what lies between two ticks. */
export const noticed = ({ show, scale }: Pick<Lens, 'show' | 'scale'>): number => (show === 'steps' ? 1 : scale.tickStep / 10);

/** The difference that is drawn in full ink: two ticks of the scale, four steps of whole numbers. */
export const fullDifference = ({ show, scale }: Pick<Lens, 'show' | 'scale'>): number => (show === 'steps' ? 4 : 2 * scale.tickStep);

/**
 * Now less then, cell by cell, in the lens's unit. Where only one has a value and more is wanted, infinitely much; where less is wanted, nothing
 * is claimed, for who is not served shares with nobody. NaN where neither has one.
 */
export function differenceInto(now: Float32Array, then: Float32Array, rule: Pick<ThresholdRule, 'sense'>, out: Float32Array): void {
  const alone = rule.sense === 'least' ? Infinity : NaN;
  for (let i = 0; i < out.length; i++) {
    const a = now[i]!;
    const b = then[i]!;
    out[i] = a !== a ? (b !== b ? NaN : -alone) : b !== b ? alone : a - b;
  }
}

/**
 * For lenses of kinds: 1 where the kinds of the two maps differ, 0 where they are the same, NaN where neither has one. Kinds are told by what they
 * are called: a copied access point is another record with the same name.
 */
export function kindDifferenceInto(
  now: Float32Array,
  then: Float32Array,
  namesNow: readonly string[],
  namesThen: readonly string[],
  out: Float32Array,
): void {
  const sameAs = Int32Array.from(namesThen, (name) => namesNow.indexOf(name));
  for (let i = 0; i < out.length; i++) {
    const a = now[i]!;
    const b = then[i]!;
    const was = b >= 0 ? sameAs[b]! : -2;
    out[i] = a >= 0 || b >= 0 ? (a === was ? 0 : 1) : NaN;
  }
}

/** What has changed for better and worse. `difference` as `differenceInto` or, for kinds, `kindDifferenceInto` made it. */
export function differenceStatistics(
  lens: Lens,
  now: Float32Array,
  then: Float32Array,
  difference: Float32Array,
  mask: Uint8Array,
  threshold: number,
): DifferenceStatistics {
  const rule = lens.threshold;
  const least = noticed(lens) * (1 - 1e-6);
  const wantsMore = rule?.sense !== 'most';
  let [cells, both, sum, better, worse, gained, lost, other] = [0, 0, 0, 0, 0, 0, 0, 0];
  for (let i = 0; i < mask.length; i++) {
    if (mask[i] === 0) continue;
    cells++;
    const d = difference[i]!;
    if (rule === null) {
      if (d === 1) other++;
      continue;
    }
    const [is, was] = [meets(rule, now[i]!, threshold), meets(rule, then[i]!, threshold)];
    if (is && !was) gained++;
    if (was && !is) lost++;
    if (d !== d) continue;
    if (Number.isFinite(d)) {
      both++;
      sum += d;
    }
    const gain = wantsMore ? d : -d;
    if (gain >= least) better++;
    if (gain <= -least) worse++;
  }
  const share = (count: number): number => (cells === 0 ? 0 : count / cells);
  return {
    both: share(both),
    mean: both === 0 ? NaN : sum / both,
    better: share(better),
    worse: share(worse),
    gained: rule === null ? null : share(gained),
    lost: rule === null ? null : share(lost),
    other: rule === null ? share(other) : null,
  };
}
