import type { CoverProblem } from './coverProblem';

/**
 * Columns in and out, with what each is worth, kept up while they are turned one by one: of one in what would fall short without it, of one out what it would
 * mend. Only rows that pass between short, just met and met with one to spare touch the worth of others.
 */
export class CoverWorth {
  /** Per row, how many columns that are in reach it. */
  readonly count: Int32Array;
  readonly inside: Uint8Array;
  /** Where one hangs no other may. */
  readonly taken: Uint8Array;
  /** By column and group, in m2. */
  readonly worth: Float64Array;
  /** Of a column, by group: the area of rows that need two and have none. */
  readonly halfWay: Float64Array;
  /** By group, in m2. */
  readonly short: Float64Array;
  /** How many are in. */
  standing = 0;
  /** Looks at columns so far: what the work is measured by. */
  looks = 0;
  /** Whether column j reaches row i: bit i of its words. */
  private readonly words: number;
  private readonly reaches: Uint32Array;
  /** Those that are in, in no order, and where each stands among them. */
  private readonly standingIn: Int32Array;
  private readonly placeIn: Int32Array;

  constructor(private readonly problem: CoverProblem) {
    const { columns, place, need, areaM2, group, columnStart, rowsOf, rowStart, columnsOf, budgetM2 } = problem;
    const groups = budgetM2.length;
    this.count = new Int32Array(need.length);
    this.inside = new Uint8Array(columns);
    this.taken = new Uint8Array(place.reduce((most, p) => Math.max(most, p), 0) + 1);
    this.worth = new Float64Array(columns * groups);
    this.halfWay = new Float64Array(columns * groups);
    this.short = new Float64Array(groups);
    this.words = (need.length + 31) >> 5;
    this.reaches = new Uint32Array(columns * this.words);
    this.standingIn = new Int32Array(columns);
    this.placeIn = new Int32Array(columns);
    for (let j = 0; j < columns; j++)
      for (let k = columnStart[j]!; k < columnStart[j + 1]!; k++) this.reaches[j * this.words + (rowsOf[k]! >> 5)]! |= 1 << (rowsOf[k]! & 31);
    for (let i = 0; i < need.length; i++) {
      this.short[group[i]!]! += areaM2[i]!;
      const credit = need[i] === 1 ? this.worth : this.halfWay;
      for (let k = rowStart[i]!; k < rowStart[i + 1]!; k++) credit[columnsOf[k]! * groups + group[i]!]! += areaM2[i]!;
    }
  }

  /** One column in or out. */
  flip(j: number, into: boolean): void {
    const { need, areaM2, group, columnStart, rowsOf, rowStart, columnsOf, budgetM2, place } = this.problem;
    const { count, inside, worth, halfWay, short, standingIn, reaches, words } = this;
    const groups = budgetM2.length;
    for (let k = columnStart[j]!; k < columnStart[j + 1]!; k++) {
      const i = rowsOf[k]!;
      const g = group[i]!;
      const area = areaM2[i]!;
      const before = count[i]!;
      const after = (count[i] = before + (into ? 1 : -1));
      const n = need[i]!;
      if (before < n && after >= n) short[g]! -= area;
      if (before >= n && after < n) short[g]! += area;
      if (n === 2 && before + after === 1)
        for (let c = rowStart[i]!; c < rowStart[i + 1]!; c++) halfWay[columnsOf[c]! * groups + g]! += after === 1 ? -area : area;
      if (before === n - 1 || after === n - 1) {
        // Those that are out would mend it, or would not any more; and those in are alone with it, or not.
        const [from, to] = [rowStart[i]!, rowStart[i + 1]!];
        this.looks += to - from;
        for (let c = from; c < to; c++) {
          const other = columnsOf[c]!;
          if (other === j) continue;
          const was = inside[other] === 1 ? before === n : before === n - 1;
          const is = inside[other] === 1 ? after === n : after === n - 1;
          if (was !== is) worth[other * groups + g]! += is ? area : -area;
        }
      } else if (before === n || after === n) {
        // Met with one to spare, or without: only those that are in lose or gain by it.
        this.looks += this.standing;
        const more = after === n ? area : -area;
        for (let s = 0; s < this.standing; s++) {
          const other = standingIn[s]!;
          if (other !== j && (reaches[other * words + (i >> 5)]! & (1 << (i & 31))) !== 0) worth[other * groups + g]! += more;
        }
      }
    }
    inside[j] = into ? 1 : 0;
    this.taken[place[j]!] = into ? 1 : 0;
    this.list(j, into);
    // Its own worth is another thing now: what it would take away, or mend.
    for (let g = 0; g < groups; g++) worth[j * groups + g] = 0;
    for (let k = columnStart[j]!; k < columnStart[j + 1]!; k++) {
      const i = rowsOf[k]!;
      if (into ? count[i] === need[i] : count[i] === need[i]! - 1) worth[j * groups + group[i]!]! += areaM2[i]!;
    }
  }

  /** Takes a column into the list of those that are in, or out of it. */
  private list(j: number, into: boolean): void {
    if (into) {
      this.placeIn[j] = this.standing;
      this.standingIn[this.standing++] = j;
      return;
    }
    const last = this.standingIn[--this.standing]!;
    this.standingIn[this.placeIn[j]!] = last;
    this.placeIn[last] = this.placeIn[j]!;
  }
}
