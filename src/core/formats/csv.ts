/** A cell: text, a number, or nothing. */
export type CsvCell = string | number | null;

/** A table to be written: one word per column, with its unit in brackets, and the rows. */
export type CsvTable = Readonly<{ head: readonly string[]; rows: ReadonlyArray<readonly CsvCell[]> }>;

/** What a spreadsheet program would take for a formula when a text begins with it. */
const FORMULA = /^[=+\-@\t\r]/;

function cellText(cell: CsvCell): string {
  if (cell === null) return '';
  if (typeof cell === 'number') return Number.isFinite(cell) ? String(cell) : '';
  const text = FORMULA.test(cell) ? `'${cell}` : cell;
  return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text;
}

/**
 * A table as comma-separated values (RFC 4180): UTF-8 with its mark, so that spreadsheet programs read it as such; numbers with a point, whatever
 * the place; what has no value is empty. A text that would be run as a formula gets an apostrophe before it.
 */
export const csvOf = ({ head, rows }: CsvTable): string => `\uFEFF${[head, ...rows].map((row) => `${row.map(cellText).join(',')}\r\n`).join('')}`;
