/** What is kept of many sweeps of one setting: the newest, the highest and lowest, a mean of the newest n, how often each bin was above a threshold, and how often at which level. Levels in dBm. */
export type Traces = Readonly<{
  bins: number;
  sweeps: number;
  live: Float32Array;
  max: Float32Array;
  min: Float32Array;
  mean: Float32Array;
  /** Sweeps in which the bin was at the threshold or above. */
  above: Uint32Array;
  /** Sweeps by bin and level: for each bin `DENSITY_LEVELS` counts, from `DENSITY_FROM_DBM` up in steps of `DENSITY_STEP_DB`. */
  density: Uint32Array;
}>;

export const DENSITY_FROM_DBM = -130;
export const DENSITY_STEP_DB = 2;
export const DENSITY_LEVELS = 66;

export const noTraces = (bins: number): Traces => ({
  bins,
  sweeps: 0,
  live: new Float32Array(bins).fill(NaN),
  max: new Float32Array(bins).fill(-Infinity),
  min: new Float32Array(bins).fill(Infinity),
  mean: new Float32Array(bins).fill(NaN),
  above: new Uint32Array(bins),
  density: new Uint32Array(bins * DENSITY_LEVELS),
});

/**
 * Adds a sweep to what is kept; the arrays are written in place, the value that is returned is the one to go on with.
 * @param over sweeps that the mean is of: until there are as many it is of all, later older ones fade
 */
export function addSweep(traces: Traces, levels: Float32Array, thresholdDbm: number, over: number): Traces {
  const { live, max, min, mean, above, density, bins } = traces;
  const sweeps = traces.sweeps + 1;
  const share = 1 / Math.max(1, Math.min(sweeps, over));
  for (let b = 0; b < bins; b++) {
    const dbm = levels[b]!;
    live[b] = dbm;
    if (dbm > max[b]!) max[b] = dbm;
    if (dbm < min[b]!) min[b] = dbm;
    // Powers are averaged, not decibels.
    mean[b] = sweeps === 1 ? dbm : 10 * Math.log10((1 - share) * 10 ** (mean[b]! / 10) + share * 10 ** (dbm / 10));
    if (dbm >= thresholdDbm) above[b]!++;
    const level = Math.min(DENSITY_LEVELS - 1, Math.max(0, Math.floor((dbm - DENSITY_FROM_DBM) / DENSITY_STEP_DB)));
    density[b * DENSITY_LEVELS + level]!++;
  }
  return { ...traces, sweeps };
}

/** A trace made smooth: in each bin the mean power of `over` bins about it. */
export function smooth(trace: Float32Array, over: number): Float32Array {
  const half = Math.floor(over / 2);
  if (half < 1) return trace;
  return trace.map((_, b) => {
    let [sum, count] = [0, 0];
    for (let k = Math.max(0, b - half); k <= Math.min(trace.length - 1, b + half); k++) {
      sum += 10 ** (trace[k]! / 10);
      count++;
    }
    return 10 * Math.log10(sum / count);
  });
}

/** The bin of the highest level; -1 where there is none. */
export function peakOf(trace: Float32Array): number {
  let best = -1;
  for (let b = 0; b < trace.length; b++) if (Number.isFinite(trace[b]!) && (best < 0 || trace[b]! > trace[best]!)) best = b;
  return best;
}

/** The next lower peak than the one at a bin: the highest bin that is a summit of its neighbourhood, lower than that, and with 6 dB of valley between; -1 where there is none. */
export function nextPeak(trace: Float32Array, from: number): number {
  let best = -1;
  for (let b = 0; b < trace.length; b++) {
    const dbm = trace[b]!;
    if (b === from || !(dbm <= trace[from]!) || (best >= 0 && dbm <= trace[best]!)) continue;
    const [low, high] = b < from ? [b, from] : [from, b];
    let valley = Infinity;
    for (let k = low; k <= high; k++) valley = Math.min(valley, trace[k]!);
    if (dbm - valley >= 6) best = b;
  }
  return best;
}
