/**
 * Which of some positions are chosen, so that what is owed at points is met in the share of area that is owed, by the fewest.
 *
 * A row is a point with what is owed there; it is met when `need` chosen columns reach it. A group is a zone with one requirement: of its area no more
 * than its budget may be short. A column is a position; locked ones stand and are counted, and never taken away.
 */
export type CoverProblem = Readonly<{
  columns: number;
  locked: Uint8Array;
  /** Per row: how many columns it needs (1 or 2), its area in m2, and its group. */
  need: Uint8Array;
  areaM2: Float64Array;
  group: Uint16Array;
  /** Rows that each column reaches: those of column j are `rowsOf[columnStart[j] .. columnStart[j + 1])`; and the same turned round. */
  columnStart: Int32Array;
  rowsOf: Int32Array;
  rowStart: Int32Array;
  columnsOf: Int32Array;
  /** Per group: the area that may be short, in m2. */
  budgetM2: Float64Array;
}>;

/** Builds a problem of which columns reach which rows. `reaches[j]` lists rows in ascending order. */
export function coverProblemOf(
  rows: ReadonlyArray<Readonly<{ need: number; areaM2: number; group: number }>>,
  reaches: ReadonlyArray<ArrayLike<number>>,
  budgetM2: readonly number[],
  locked: readonly number[] = [],
): CoverProblem {
  const columns = reaches.length;
  const entries = reaches.reduce((sum, list) => sum + list.length, 0);
  const columnStart = new Int32Array(columns + 1);
  const rowsOf = new Int32Array(entries);
  const rowStart = new Int32Array(rows.length + 1);
  reaches.forEach((list, j) => {
    columnStart[j + 1] = columnStart[j]! + list.length;
    for (let k = 0; k < list.length; k++) {
      rowsOf[columnStart[j]! + k] = list[k]!;
      rowStart[list[k]! + 1]!++;
    }
  });
  for (let i = 0; i < rows.length; i++) rowStart[i + 1]! += rowStart[i]!;
  const at = rowStart.slice();
  const columnsOf = new Int32Array(entries);
  for (let j = 0; j < columns; j++) for (let k = columnStart[j]!; k < columnStart[j + 1]!; k++) columnsOf[at[rowsOf[k]!]!++] = j;
  return {
    columns,
    locked: Uint8Array.from({ length: columns }, (_, j) => (locked.includes(j) ? 1 : 0)),
    need: Uint8Array.from(rows, ({ need }) => need),
    areaM2: Float64Array.from(rows, ({ areaM2 }) => areaM2),
    group: Uint16Array.from(rows, ({ group }) => group),
    columnStart,
    rowsOf,
    rowStart,
    columnsOf,
    budgetM2: Float64Array.from(budgetM2),
  };
}

/** Area that is short in each group, for some chosen columns: counted afresh. */
export function shortM2(problem: CoverProblem, chosen: Iterable<number>): Float64Array {
  const { need, areaM2, group, columnStart, rowsOf, budgetM2 } = problem;
  const count = new Int32Array(need.length);
  for (const j of chosen) for (let k = columnStart[j]!; k < columnStart[j + 1]!; k++) count[rowsOf[k]!]!++;
  const short = new Float64Array(budgetM2.length);
  for (let i = 0; i < need.length; i++) if (count[i]! < need[i]!) short[group[i]!]! += areaM2[i]!;
  return short;
}

/** Sums of areas are not exact in binary: so much over a budget is within it, in m2. */
export const SLACK_M2 = 1e-6;

export const isWithin = ({ budgetM2 }: CoverProblem, short: Float64Array): boolean => short.every((m2, g) => m2 <= budgetM2[g]! + SLACK_M2);
