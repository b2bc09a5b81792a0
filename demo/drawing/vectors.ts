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

type Stroke = VectorSheet['strokes'][number];

/** The four sides of a thick stroke. */
function sidesOf({ ax, ay, bx, by, thickPx }: Stroke): Array<readonly [ax: number, ay: number, bx: number, by: number]> {
  const length = Math.hypot(bx - ax, by - ay);
  const [nx, ny] = [(-(by - ay) / length) * (thickPx / 2), ((bx - ax) / length) * (thickPx / 2)];
  const corners = [
    [ax + nx, ay + ny],
    [bx + nx, by + ny],
    [bx - nx, by - ny],
    [ax - nx, ay - ny],
  ] as const;
  return corners.map((corner, i) => [...corner, ...corners[(i + 1) % 4]!] as const);
}

/** What of a line lies outside of all other thick strokes, as shares of its length: the outline of walls that meet has no line between them. */
function outside([ax, ay, bx, by]: readonly [number, number, number, number], others: readonly Stroke[]): Array<readonly [from: number, to: number]> {
  const hidden = others.flatMap((other) => {
    const length = Math.hypot(other.bx - other.ax, other.by - other.ay);
    const [ux, uy] = [(other.bx - other.ax) / length, (other.by - other.ay) / length];
    let [from, to] = [0, 1];
    // Where both along and aside lie strictly within the stroke.
    for (const [p, q, low, high] of [
      [(ax - other.ax) * ux + (ay - other.ay) * uy, (bx - ax) * ux + (by - ay) * uy, 0.05, length - 0.05],
      [(ay - other.ay) * ux - (ax - other.ax) * uy, (by - ay) * ux - (bx - ax) * uy, 0.05 - other.thickPx / 2, other.thickPx / 2 - 0.05],
    ] as const) {
      if (Math.abs(q) < 1e-9) {
        if (p <= low || p >= high) return [];
        continue;
      }
      const [s, t] = [(low - p) / q, (high - p) / q];
      from = Math.max(from, Math.min(s, t));
      to = Math.min(to, Math.max(s, t));
    }
    return from < to ? [[from, to] as const] : [];
  });
  const seen: Array<readonly [number, number]> = [];
  let at = 0;
  for (const [from, to] of hidden.sort((p, q) => p[0] - q[0])) {
    if (from > at) seen.push([at, from]);
    at = Math.max(at, to);
  }
  return at < 1 ? [...seen, [at, 1]] : seen;
}

const THICK_PX = 4;

/** Lines and words without a unit, one unit a px, y upward; of walls the outlines (DXF reference). */
export function dxfOf({ heightPx, strokes, words }: VectorSheet): string {
  const pair = (code: number, value: string | number): string => `${code}\n${value}\n`;
  const line = (layer: string, ax: number, ay: number, bx: number, by: number) =>
    pair(0, 'LINE') + pair(8, layer) + pair(10, ax) + pair(20, heightPx - ay) + pair(11, bx) + pair(21, heightPx - by);
  const thick = strokes.filter(({ thickPx }) => thickPx >= THICK_PX);
  const walls = thick.flatMap((stroke) =>
    sidesOf(stroke).flatMap((side) => {
      const [ax, ay, bx, by] = side;
      const others = thick.filter((other) => other !== stroke);
      return outside(side, others).map(([from, to]) =>
        line('WALLS', ax + (bx - ax) * from, ay + (by - ay) * from, ax + (bx - ax) * to, ay + (by - ay) * to),
      );
    }),
  );
  const lines = strokes.filter(({ thickPx }) => thickPx < THICK_PX).map(({ ax, ay, bx, by }) => line('LINES', ax, ay, bx, by));
  const texts = words.map(
    ({ text, x, y, heightPx: high, upwards }) =>
      pair(0, 'TEXT') + pair(8, 'WORDS') + pair(10, x) + pair(20, heightPx - y) + pair(40, high) + pair(1, text) + pair(50, upwards ? 90 : 0),
  );
  return `${pair(0, 'SECTION')}${pair(2, 'ENTITIES')}${[...lines, ...walls, ...texts].join('')}${pair(0, 'ENDSEC')}${pair(0, 'EOF')}`;
}

/** The words of a sheet with the middle of where each stands, as a reader of vectors gives them. */
export const wordsOf = ({ words }: VectorSheet) =>
  words.map(({ text, x, y, heightPx, upwards }) => {
    const along = (text.length * LETTER * heightPx) / 2;
    return upwards ? { text, heightPx, x: x - heightPx / 2, y: y - along } : { text, heightPx, x: x + along, y: y - heightPx / 2 };
  });
