import { csvOf } from '@/core/formats/csv';
import { saveFile } from '../../kit/saveFile';
import type { Place } from '../../state/selectors';
import { clock } from './clock';
import { useAir } from './airStore';
import type { Column, NetworkRow } from './columns';

const MEDIA = { CSV: 'text/csv', HTML: 'text/html', JSON: 'application/json' } as const;

const escaped = (text: string): string => text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);

/** A page that needs nothing else. */
export function pageOf(title: string, head: readonly string[], rows: ReadonlyArray<readonly string[]>): string {
  const line = (cells: readonly string[], as: 'th' | 'td') => `<tr>${cells.map((cell) => `<${as}>${escaped(cell)}</${as}>`).join('')}</tr>`;
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escaped(title)}</title>
<style>body{font:13px sans-serif;color:#1b2733;background:#fff;margin:24px}h1{font:600 20px serif}table{border-collapse:collapse}th,td{text-align:left;padding:3px 10px 3px 0;border-bottom:1px solid #dad2c1}td{font-family:monospace}</style>
</head><body><h1>${escaped(title)}</h1><table><thead>${line(head, 'th')}</thead><tbody>
${rows.map((row) => line(row, 'td')).join('\n')}
</tbody></table></body></html>
`;
}

/** Keeps the list as it is shown: as a table, as a page, or with all that is known as JSON. */
export function saveNetworks(as: 'CSV' | 'HTML' | 'JSON', rows: readonly NetworkRow[], columns: readonly Column[], place: Place): void {
  const title = `${place.project.name}, ${place.floor.name}: networks heard at ${clock(useAir.getState().clockMs)} (simulated)`;
  const head = columns.map((column) => column.head);
  const cells = rows.map((row) => columns.map((column) => column.text(row)));
  const content =
    as === 'CSV'
      ? csvOf({ head, rows: cells })
      : as === 'HTML'
        ? pageOf(title, head, cells)
        : JSON.stringify(
            {
              title,
              networks: rows.map(({ network: { newest, history: _history, ...heard }, apName }) => ({ ...heard, ...newest, ours: apName })),
            },
            null,
            2,
          );
  saveFile(`${place.project.name} networks`, as.toLowerCase(), new Blob([content], { type: MEDIA[as] }));
}
