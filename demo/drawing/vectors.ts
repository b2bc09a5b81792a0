import { drawClutter } from './clutter';
import { MARGIN_M, type Look } from './image';
import type { DrawnPlan } from './plan';
import { recordingSheet, type Recorded } from './sheet';
import { draftFor, drawWalls } from './styles';

/** A drawing as its program would keep it: strokes and words, with the size of the sheet in px. */
export type VectorSheet = Recorded & Readonly<{ widthPx: number; heightPx: number }>;

/** An architect's drawing of a floor, not yet on paper. */
export function vectorSheet(plan: DrawnPlan, { style, pxPerM, busy = false, seed = 1 }: Omit<Look, 'scan'>): VectorSheet {
  const draft = draftFor(plan, pxPerM, MARGIN_M, recordingSheet);
  if (busy) drawClutter(draft, plan, seed);
  drawWalls(draft, plan, style);
  const { widthPx, heightPx, record } = draft.sheet;
  return { ...record!, widthPx, heightPx };
}

const LETTER = 0.6;

export function svgOf({ widthPx, heightPx, strokes, words }: VectorSheet): string {
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${widthPx}" height="${heightPx}" viewBox="0 0 ${widthPx} ${heightPx}">`,
    ...strokes.map(
      ({ ax, ay, bx, by, thickPx, shade }) =>
        `<path d="M${ax} ${ay}L${bx} ${by}" stroke="rgb(${shade},${shade},${shade})" stroke-width="${thickPx}"/>`,
    ),
    ...words.map(
      ({ text, x, y, heightPx: high, upwards }) =>
        `<text x="${x}" y="${y}" font-size="${high / 0.72}" font-family="sans-serif"${upwards ? ` transform="rotate(-90 ${x} ${y})"` : ''}>${text}</text>`,
    ),
    '</svg>',
  ].join('\n');
}

/** A page of one point a px, y upward (ISO 32000-1). */
export function pdfOf({ widthPx, heightPx, strokes, words }: VectorSheet): string {
  const content = [
    ...strokes.map(({ ax, ay, bx, by, thickPx, shade }) => {
      const grey = (shade / 255).toFixed(3);
      return `${grey} G ${thickPx.toFixed(2)} w ${ax.toFixed(2)} ${(heightPx - ay).toFixed(2)} m ${bx.toFixed(2)} ${(heightPx - by).toFixed(2)} l S`;
    }),
    ...words.map(({ text, x, y, heightPx: high, upwards }) => {
      const turn = upwards ? '0 1 -1 0' : '1 0 0 1';
      return `BT /F1 ${(high / 0.72).toFixed(2)} Tf ${turn} ${x.toFixed(2)} ${(heightPx - y).toFixed(2)} Tm (${text}) Tj ET`;
    }),
  ].join('\n');
  const objects = [
    '<< /Type /Catalog /Pages 2 0 R >>',
    '<< /Type /Pages /Kids [3 0 R] /Count 1 >>',
    `<< /Type /Page /Parent 2 0 R /MediaBox [0 0 ${widthPx} ${heightPx}] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> >> >>`,
    `<< /Length ${content.length} >>\nstream\n${content}\nendstream`,
    '<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>',
  ];
  let text = '%PDF-1.4\n';
  const starts = objects.map((object, i) => {
    const start = text.length;
    text += `${i + 1} 0 obj\n${object}\nendobj\n`;
    return start;
  });
  const table = text.length;
  const rows = starts.map((start) => `${String(start).padStart(10, '0')} 00000 n \n`).join('');
  return `${text}xref\n0 ${objects.length + 1}\n0000000000 65535 f \n${rows}trailer\n<< /Size ${objects.length + 1} /Root 1 0 R >>\nstartxref\n${table}\n%%EOF\n`;
}

/** Lines and words without a unit, one unit a px, y upward; a thick stroke is its outline (DXF reference). */
export function dxfOf({ heightPx, strokes, words }: VectorSheet): string {
  const pair = (code: number, value: string | number): string => `${code}\n${value}\n`;
  const entities = strokes.map(({ ax, ay, bx, by, thickPx }) => {
    if (thickPx < 4) return pair(0, 'LINE') + pair(8, 'LINES') + pair(10, ax) + pair(20, heightPx - ay) + pair(11, bx) + pair(21, heightPx - by);
    const length = Math.hypot(bx - ax, by - ay);
    const [nx, ny] = [(-(by - ay) / length) * (thickPx / 2), ((bx - ax) / length) * (thickPx / 2)];
    const corners = [
      [ax + nx, ay + ny],
      [bx + nx, by + ny],
      [bx - nx, by - ny],
      [ax - nx, ay - ny],
    ] as const;
    return (
      pair(0, 'LWPOLYLINE') + pair(8, 'WALLS') + pair(90, 4) + pair(70, 1) + corners.map(([x, y]) => pair(10, x) + pair(20, heightPx - y)).join('')
    );
  });
  const texts = words.map(
    ({ text, x, y, heightPx: high, upwards }) =>
      pair(0, 'TEXT') + pair(8, 'WORDS') + pair(10, x) + pair(20, heightPx - y) + pair(40, high) + pair(1, text) + pair(50, upwards ? 90 : 0),
  );
  return `${pair(0, 'SECTION')}${pair(2, 'ENTITIES')}${entities.join('')}${texts.join('')}${pair(0, 'ENDSEC')}${pair(0, 'EOF')}`;
}

/** The words of a sheet with the middle of where each stands, as a reader of vectors gives them. */
export const wordsOf = ({ words }: VectorSheet) =>
  words.map(({ text, x, y, heightPx, upwards }) => {
    const along = (text.length * LETTER * heightPx) / 2;
    return upwards ? { text, heightPx, x: x - heightPx / 2, y: y - along } : { text, heightPx, x: x + along, y: y - heightPx / 2 };
  });
