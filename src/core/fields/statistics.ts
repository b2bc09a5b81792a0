/** Spread of a lens over the floor, by area of the cells that count. */
export type FieldStatistics = Readonly<{
  /** Area that counts, and the part of it that has a value, in m2. */
  areaM2: number;
  heardM2: number;
  /** Area per bin, in m2; bin k covers fromValue + k * binWidth and the next. Values outside go to the end bins. */
  binM2: Float32Array;
  fromValue: number;
  binWidth: number;
}>;

/** Histogram of the cells inside the mask. NaN cells count to the area only. */
export function statisticsOf(
  values: Float32Array,
  mask: Uint8Array,
  cellAreaM2: number,
  fromValue: number,
  toValue: number,
  bins: number,
): FieldStatistics {
  const binM2 = new Float32Array(bins);
  const binWidth = (toValue - fromValue) / bins;
  let cells = 0;
  let heard = 0;
  for (let i = 0; i < values.length; i++) {
    if (mask[i] === 0) continue;
    cells++;
    const value = values[i]!;
    if (value !== value) continue;
    heard++;
    const bin = Math.floor((value - fromValue) / binWidth);
    binM2[bin < 0 ? 0 : bin >= bins ? bins - 1 : bin]! += cellAreaM2;
  }
  return { areaM2: cells * cellAreaM2, heardM2: heard * cellAreaM2, binM2, fromValue, binWidth };
}

/** The cells of a mask that have a value: where something was measured. */
export const valuedOf = (values: Float32Array, mask: Uint8Array): Uint8Array => mask.map((inside, i) => (Number.isNaN(values[i]!) ? 0 : inside));

/** Share (0 to 1) of the mask's area at or above the threshold (`least`) or at or below it (`most`, for contention). Cells without value fail. */
export function shareMeeting(values: Float32Array, mask: Uint8Array, threshold: number, sense: 'least' | 'most'): number {
  let cells = 0;
  let met = 0;
  for (let i = 0; i < values.length; i++) {
    if (mask[i] === 0) continue;
    cells++;
    const value = values[i]!;
    if (sense === 'least' ? value >= threshold : value <= threshold) met++;
  }
  return cells === 0 ? 0 : met / cells;
}

/** Share of area (0 to 1) at or above each of `levels`, which must ascend. Cells without value are at none. */
export function coverageCurve(values: Float32Array, mask: Uint8Array, levels: readonly number[]): number[] {
  const limits = Float64Array.from(levels);
  // reached[k]: cells whose highest level reached is level k - 1.
  const reached = new Float64Array(limits.length + 1);
  let cells = 0;
  for (let i = 0; i < values.length; i++) {
    if (mask[i] === 0) continue;
    cells++;
    const value = values[i]!;
    let low = 0;
    let high = limits.length;
    while (low < high) {
      const middle = (low + high) >> 1;
      if (value >= limits[middle]!) low = middle + 1;
      else high = middle;
    }
    reached[low]!++;
  }
  let above = 0;
  const shares = new Array<number>(limits.length).fill(0);
  for (let k = limits.length - 1; k >= 0; k--) {
    above += reached[k + 1]!;
    shares[k] = cells === 0 ? 0 : above / cells;
  }
  return shares;
}

/**
 * What would fall below a threshold in dBm if each radio failed, in m2 of the mask: where it serves at the threshold or more, and what is left without it does not.
 * @param left level of what is left, NaN where nothing is
 */
export function lostWithout(
  radioCount: number,
  serving: ArrayLike<number>,
  strongestDbm: Float32Array,
  leftDbm: Float32Array,
  mask: Uint8Array,
  thresholdDbm: number,
  cellAreaM2: number,
): Float64Array {
  const lostM2 = new Float64Array(radioCount);
  for (let i = 0; i < mask.length; i++) {
    const radio = serving[i]!;
    if (mask[i] === 1 && radio >= 0 && strongestDbm[i]! >= thresholdDbm && !(leftDbm[i]! >= thresholdDbm)) lostM2[radio]! += cellAreaM2;
  }
  return lostM2;
}

/** What one radio serves: area in m2 and mean level in dBm over it (a mean of levels, as an engineer reads a table). */
export type ServedBy = Readonly<{ areaM2: number; meanDbm: number }>;

export function servedBy(radioCount: number, serving: ArrayLike<number>, levelDbm: Float32Array, mask: Uint8Array, cellAreaM2: number): ServedBy[] {
  const cells = new Float64Array(radioCount);
  const sum = new Float64Array(radioCount);
  for (let i = 0; i < mask.length; i++) {
    const radio = serving[i]!;
    if (mask[i] === 0 || !(radio >= 0)) continue;
    cells[radio]!++;
    sum[radio]! += levelDbm[i]!;
  }
  return Array.from(cells, (count, radio) => ({ areaM2: count * cellAreaM2, meanDbm: count === 0 ? NaN : sum[radio]! / count }));
}
