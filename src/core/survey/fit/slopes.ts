import type { Earlier } from './nearby';
import type { Standing } from './whiten';

/**
 * How some readings hang on the parameters: of hundreds of slopes in a row but a few are not 0. Those of row i stand from `starts[i]` up to `starts[i + 1]`, by ascending column; `rest` is
 * what each row is to explain.
 */
export type SlopeRows = Readonly<{ starts: Int32Array; columns: Int32Array; slopes: Float64Array; rest: Float64Array }>;

export function slopeRowsOf(rows: ReadonlyArray<Readonly<{ columns: readonly number[]; slopes: readonly number[] }>>, rest: Float64Array): SlopeRows {
  const starts = new Int32Array(rows.length + 1);
  rows.forEach(({ columns }, i) => (starts[i + 1] = starts[i]! + columns.length));
  const columns = new Int32Array(starts[rows.length]!);
  const slopes = new Float64Array(columns.length);
  rows.forEach((row, i) => {
    for (let k = 0; k < row.columns.length; k++) {
      const column = row.columns[k]!;
      let to = starts[i]! + k;
      for (; to > starts[i]! && columns[to - 1]! > column; to--) {
        columns[to] = columns[to - 1]!;
        slopes[to] = slopes[to - 1]!;
      }
      columns[to] = column;
      slopes[to] = row.slopes[k]!;
    }
  });
  return { starts, columns, slopes, rest };
}

/** Some rows, and others after them. */
export function joinRows(a: SlopeRows, b: SlopeRows): SlopeRows {
  const [rows, slopes] = [a.rest.length, a.slopes.length];
  const joined: SlopeRows = {
    starts: new Int32Array(rows + b.starts.length),
    columns: new Int32Array(slopes + b.slopes.length),
    slopes: new Float64Array(slopes + b.slopes.length),
    rest: new Float64Array(rows + b.rest.length),
  };
  joined.starts.set(a.starts);
  b.starts.forEach((start, i) => (joined.starts[rows + i] = slopes + start));
  joined.columns.set(a.columns);
  joined.columns.set(b.columns, slopes);
  joined.slopes.set(a.slopes);
  joined.slopes.set(b.slopes, slopes);
  joined.rest.set(a.rest);
  joined.rest.set(b.rest, rows);
  return joined;
}

/** What is left of each row by some estimates. */
export function leftOver({ starts, columns, slopes, rest }: SlopeRows, estimates: Float64Array): Float64Array {
  return rest.map((value, i) => {
    for (let k = starts[i]!; k < starts[i + 1]!; k++) value -= slopes[k]! * estimates[columns[k]!]!;
    return value;
  });
}

/**
 * Where whitened rows have slopes, and where each slope of a row and of its earlier neighbours, in their order, goes to among them. It is the same however readings scatter. Of the rows from
 * `first` on.
 */
export type Mixing = Readonly<Pick<SlopeRows, 'starts' | 'columns'> & { first: number; to: Int32Array }>;

/** @param parameters how many columns there are @param first rows before it are not asked for */
export function mixingOf(rows: SlopeRows, { near, most }: Earlier, parameters: number, first = 0): Mixing {
  const count = rows.rest.length;
  const starts = new Int32Array(count - first + 1);
  let mixed = 0;
  const from = new Int32Array(most + 1);
  const fromOf = (i: number): number => {
    let length = 0;
    from[length++] = i;
    for (let a = i * most; a < (i + 1) * most && near[a]! >= 0; a++) from[length++] = near[a]!;
    return length;
  };
  for (let i = first; i < count; i++) for (let f = fromOf(i) - 1; f >= 0; f--) mixed += rows.starts[from[f]! + 1]! - rows.starts[from[f]!]!;
  const columns = new Int32Array(mixed);
  const to = new Int32Array(mixed);
  const place = new Int32Array(parameters).fill(-1);
  let [filled, next] = [0, 0];
  for (let i = first; i < count; i++) {
    const length = fromOf(i);
    const begin = filled;
    for (let f = 0; f < length; f++)
      for (let k = rows.starts[from[f]!]!; k < rows.starts[from[f]! + 1]!; k++) {
        const c = rows.columns[k]!;
        if (place[c]! >= 0) continue;
        place[c] = 0;
        let at = filled++;
        for (; at > begin && columns[at - 1]! > c; at--) columns[at] = columns[at - 1]!;
        columns[at] = c;
      }
    for (let at = begin; at < filled; at++) place[columns[at]!] = at;
    for (let f = 0; f < length; f++) for (let k = rows.starts[from[f]!]!; k < rows.starts[from[f]! + 1]!; k++) to[next++] = place[rows.columns[k]!]!;
    for (let at = begin; at < filled; at++) place[columns[at]!] = -1;
    starts[i - first + 1] = filled;
  }
  return { first, starts, columns: columns.slice(0, filled), to };
}

/** Makes rows of readings independent, with variance 1: each row less what its earlier neighbours foretell, over its deviation. Those from `first` of the mixing on. */
export function whiten({ earlier: { near, most }, weights, variance }: Standing, rows: SlopeRows, { first, starts, columns, to }: Mixing): SlopeRows {
  const slopes = new Float64Array(columns.length);
  const rest = new Float64Array(variance.length - first);
  let next = 0;
  for (let i = first; i < variance.length; i++) {
    const scale = 1 / Math.sqrt(variance[i]!);
    let value = rows.rest[i]!;
    for (let k = rows.starts[i]!; k < rows.starts[i + 1]!; k++) slopes[to[next++]!]! += rows.slopes[k]!;
    for (let a = i * most; a < (i + 1) * most && near[a]! >= 0; a++) {
      const weight = weights[a]!;
      const row = near[a]!;
      value -= weight * rows.rest[row]!;
      for (let k = rows.starts[row]!; k < rows.starts[row + 1]!; k++) slopes[to[next++]!]! -= weight * rows.slopes[k]!;
    }
    rest[i - first] = value * scale;
    for (let k = starts[i - first]!; k < starts[i - first + 1]!; k++) slopes[k]! *= scale;
  }
  return { starts, columns, slopes, rest };
}

/** Adds the products of slopes of some rows to the lower triangle of `sums`, and those with what is to be explained to `right`. @param counts which rows take part */
export function addProducts(
  { starts, columns, slopes, rest }: SlopeRows,
  parameters: number,
  sums: Float64Array,
  right: Float64Array,
  counts: ((row: number) => boolean) | null = null,
): void {
  for (let i = 0; i < rest.length; i++) {
    if (counts !== null && !counts(i)) continue;
    for (let k = starts[i]!; k < starts[i + 1]!; k++) {
      const c = columns[k]!;
      const row = c * parameters;
      const x = slopes[k]!;
      right[c]! += x * rest[i]!;
      for (let l = starts[i]!; l <= k; l++) sums[row + columns[l]!]! += x * slopes[l]!;
    }
  }
}

/** The sum of the squares of what is to be explained. */
export const squareOf = ({ rest }: Pick<SlopeRows, 'rest'>): number => rest.reduce((sum, z) => sum + z * z, 0);
