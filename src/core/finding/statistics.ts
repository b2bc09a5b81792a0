/** A value with how much it counts. */
export type Weighed = Readonly<{ value: number; weight: number }>;

/** The value below which a share of the weight lies; NaN of nothing. */
export function percentile(values: readonly Weighed[], share: number): number {
  const sorted = [...values].sort((p, q) => p.value - q.value);
  const total = sorted.reduce((sum, { weight }) => sum + weight, 0);
  let seen = 0;
  for (const { value, weight } of sorted) {
    seen += weight;
    if (seen >= total * share) return value;
  }
  return sorted.at(-1)?.value ?? NaN;
}

/** The commonest value, in steps of a tenth on a scale of ratios, smoothed by its neighbours; the mean of what lies there. NaN of nothing. */
export function modeOf(values: readonly Weighed[], step = 0.1): number {
  const bins = new Map<number, { weight: number; sum: number }>();
  for (const { value, weight } of values) {
    const key = Math.round(Math.log(value) / step);
    const bin = bins.get(key) ?? { weight: 0, sum: 0 };
    bin.weight += weight;
    bin.sum += weight * value;
    bins.set(key, bin);
  }
  let [best, most] = [NaN, 0];
  for (const key of bins.keys()) {
    let [weight, sum] = [0, 0];
    for (let near = key - 1; near <= key + 1; near++) {
      weight += bins.get(near)?.weight ?? 0;
      sum += bins.get(near)?.sum ?? 0;
    }
    if (weight > most) [best, most] = [sum / weight, weight];
  }
  return best;
}

/** The smallest value that is common: about it, within an eighth of an octave, lies at least this share of the weight. NaN where none is. */
export function smallestCommon(values: readonly Weighed[], atLeast: number): number {
  const total = values.reduce((sum, { weight }) => sum + weight, 0);
  const sorted = [...values].sort((p, q) => p.value - q.value);
  let [first, weight, sum] = [0, 0, 0];
  for (const { value, weight: own } of sorted) {
    weight += own;
    sum += own * value;
    while (sorted[first]!.value * WIDE < value) {
      weight -= sorted[first]!.weight;
      sum -= sorted[first]!.weight * sorted[first]!.value;
      first++;
    }
    if (weight >= atLeast * total) return sum / weight;
  }
  return NaN;
}
const WIDE = 2 ** (1 / 4);

/**
 * Otsu's threshold (IEEE Trans. SMC 9, 1979) on a scale of ratios: the value that parts weighed values into two groups whose means differ most. `ratio`
 * is that of the two means, `above` the weight of the upper group. One value cannot be parted: its ratio is 1.
 */
export function partedAt(values: readonly Weighed[]): { threshold: number; ratio: number; above: number } {
  const logs = values.map(({ value, weight }) => ({ value: Math.log(value), weight })).sort((p, q) => p.value - q.value);
  const total = logs.reduce((sum, { weight }) => sum + weight, 0);
  const all = logs.reduce((sum, { value, weight }) => sum + value * weight, 0);
  let [below, sum] = [0, 0];
  let best = { between: 0, threshold: NaN, ratio: 1, above: 0 };
  for (let i = 0; i + 1 < logs.length; i++) {
    below += logs[i]!.weight;
    sum += logs[i]!.value * logs[i]!.weight;
    const [low, high] = [sum / below, (all - sum) / (total - below)];
    const between = below * (total - below) * (high - low) ** 2;
    if (between > best.between)
      best = { between, threshold: Math.exp((logs[i]!.value + logs[i + 1]!.value) / 2), ratio: Math.exp(high - low), above: total - below };
  }
  const { threshold, ratio, above } = best;
  return { threshold, ratio, above };
}
