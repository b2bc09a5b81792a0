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

/** Values that lie together on a scale of ratios. */
export type Cluster = Readonly<{ from: number; to: number; centre: number; share: number }>;

const PER_OCTAVE = 4;
/** A quarter of an octave with less than this share of the weight lies between clusters. */
const VALLEY = 0.015;

/** Groups of values, the smallest first: quarters of octaves next to each other that each hold a share worth the name. */
export function clustersOf(values: readonly Weighed[]): Cluster[] {
  const total = values.reduce((sum, { weight }) => sum + weight, 0);
  const bins = new Map<number, number>();
  for (const { value, weight } of values) {
    const key = Math.round(Math.log2(value) * PER_OCTAVE);
    bins.set(key, (bins.get(key) ?? 0) + weight / total);
  }
  const keys = [...bins.keys()].filter((key) => bins.get(key)! >= VALLEY).sort((p, q) => p - q);
  const clusters: Cluster[] = [];
  for (let i = 0; i < keys.length;) {
    let [end, share, sum] = [i, 0, 0];
    do {
      share += bins.get(keys[end]!)!;
      sum += bins.get(keys[end]!)! * keys[end]!;
      end++;
    } while (end < keys.length && keys[end] === keys[end - 1]! + 1);
    const edge = (key: number): number => 2 ** (key / PER_OCTAVE);
    clusters.push({ from: edge(keys[i]! - 0.5), to: edge(keys[end - 1]! + 0.5), centre: edge(sum / share), share });
    i = end;
  }
  return clusters;
}
