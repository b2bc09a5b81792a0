/**
 * Which of some positions are chosen, so that what is owed at points is met in the share of area that is owed, by the fewest.
 *
 * A row is a point with what is owed there; it is met when `need` chosen columns reach it. A group is a zone with one requirement: of its area no more
 * than its budget may be short. A column is a radio at a position; of those at one place no two are chosen. Locked ones stand and are counted, and never
 * taken away.
 */
export type CoverProblem = Readonly<{
  columns: number;
  locked: Uint8Array;
  /** Per column: the place where it would hang. */
  place: Int32Array;
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

/** Builds a problem of which columns reach which rows. `reaches[j]` lists rows in ascending order. @param places left out, each column has one of its own */
export function coverProblemOf(
  rows: ReadonlyArray<Readonly<{ need: number; areaM2: number; group: number }>>,
  reaches: ReadonlyArray<ArrayLike<number>>,
  budgetM2: readonly number[],
  locked: readonly number[] = [],
  places?: readonly number[],
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
  const isLocked = new Set(locked);
  return {
    columns,
    locked: Uint8Array.from({ length: columns }, (_, j) => (isLocked.has(j) ? 1 : 0)),
    place: Int32Array.from({ length: columns }, (_, j) => places?.[j] ?? j),
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

/** Sums of areas are not exact in binary: so much over a budget is within it, in m2. */
export const SLACK_M2 = 1e-6;

/** Columns that are chosen, with how many of them reach each row and the area that is short in each group. */
export class Cover {
  readonly count: Int32Array;
  readonly short: Float64Array;

  constructor(
    readonly problem: CoverProblem,
    chosen: Iterable<number>,
  ) {
    const { need, areaM2, group, budgetM2 } = problem;
    this.count = new Int32Array(need.length);
    this.short = new Float64Array(budgetM2.length);
    for (let i = 0; i < need.length; i++) this.short[group[i]!]! += areaM2[i]!;
    for (const j of chosen) this.add(j);
  }

  add(j: number): void {
    const { need, areaM2, group, columnStart, rowsOf } = this.problem;
    for (let k = columnStart[j]!, end = columnStart[j + 1]!; k < end; k++) {
      const i = rowsOf[k]!;
      if (++this.count[i]! === need[i]) this.short[group[i]!]! -= areaM2[i]!;
    }
  }

  remove(j: number): void {
    const { need, areaM2, group, columnStart, rowsOf } = this.problem;
    for (let k = columnStart[j]!, end = columnStart[j + 1]!; k < end; k++) {
      const i = rowsOf[k]!;
      if (this.count[i]!-- === need[i]) this.short[group[i]!]! += areaM2[i]!;
    }
  }

  /** Area beyond the budgets, in m2. */
  get overM2(): number {
    const { budgetM2 } = this.problem;
    let over = 0;
    for (let g = 0; g < budgetM2.length; g++) over += Math.max(0, this.short[g]! - budgetM2[g]! - SLACK_M2);
    return over;
  }
}

/** Area that is short in each group, for some chosen columns: counted afresh. */
export const shortM2 = (problem: CoverProblem, chosen: Iterable<number>): Float64Array => new Cover(problem, chosen).short;

export const isWithin = ({ budgetM2 }: CoverProblem, short: Float64Array): boolean => short.every((m2, g) => m2 <= budgetM2[g]! + SLACK_M2);
