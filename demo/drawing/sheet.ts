/** A sheet of paper in shades of grey, 0 black to 255 white, row by row. */
export type Sheet = Readonly<{
  widthPx: number;
  heightPx: number;
  grey: Uint8Array;
  /** Where there is one, all that is drawn is written down here instead. */
  record?: Recorded;
}>;

/** A drawing as the strokes and words it is made of, in px, in the order they were drawn. */
export type Recorded = Readonly<{
  strokes: Array<Readonly<{ ax: number; ay: number; bx: number; by: number; thickPx: number; shade: number }>>;
  words: Array<Readonly<{ text: string; x: number; y: number; heightPx: number; upwards: boolean }>>;
}>;

export const PAPER = 255;
export const INK = 20;

/** A sheet on which nothing is drawn: what would be is written down. */
export const recordingSheet = (widthPx: number, heightPx: number): Sheet & { record: Recorded } => ({
  widthPx,
  heightPx,
  grey: new Uint8Array(0),
  record: { strokes: [], words: [] },
});

export const blankSheet = (widthPx: number, heightPx: number): Sheet => ({
  widthPx,
  heightPx,
  grey: new Uint8Array(widthPx * heightPx).fill(PAPER),
});

/** What a pen leaves at a pixel: one shade, or a pattern of the place. */
export type Shade = number | ((x: number, y: number) => number);

/** Hatching at 45 degrees: lines of ink `spacingPx` apart, as thick as a thin line. */
export const hatching =
  (spacingPx: number): Shade =>
  (x, y) => {
    const at = (((x + y) % spacingPx) + spacingPx) % spacingPx;
    const off = Math.min(at, spacingPx - at) * Math.SQRT1_2;
    return PAPER - (PAPER - INK) * Math.max(0, Math.min(1, 1.1 - off));
  };

/**
 * A bar from a to b (px), `thickPx` thick, with square ends; `beyondPx` longer at both ends. Edges are blended by how much of a pixel they cover.
 */
export function bar(sheet: Sheet, ax: number, ay: number, bx: number, by: number, thickPx: number, shade: Shade, beyondPx = 0): void {
  const { widthPx, heightPx, grey } = sheet;
  const length = Math.hypot(bx - ax, by - ay) || 1;
  const [ux, uy] = [(bx - ax) / length, (by - ay) / length];
  if (sheet.record !== undefined) {
    const [dx, dy] = [ux * beyondPx, uy * beyondPx];
    sheet.record.strokes.push({
      ax: ax - dx,
      ay: ay - dy,
      bx: bx + dx,
      by: by + dy,
      thickPx,
      shade: typeof shade === 'number' ? shade : shade(ax, ay),
    });
    return;
  }
  const half = thickPx / 2;
  const reach = half + Math.max(0, beyondPx) + 1.5;
  const top = Math.max(0, Math.floor(Math.min(ay, by) - reach));
  const bottom = Math.min(heightPx - 1, Math.ceil(Math.max(ay, by) + reach));
  for (let y = top; y <= bottom; y++) {
    // Where the row meets the bar: a long slanting bar does not cost its whole box.
    let [from, to] = [Math.min(ax, bx) - reach, Math.max(ax, bx) + reach];
    if (Math.abs(uy) > 0.1) {
      const middle = ax + ((y - ay) / uy) * ux;
      const wide = reach / Math.abs(uy);
      from = Math.max(from, middle - wide);
      to = Math.min(to, middle + wide);
    }
    for (let x = Math.max(0, Math.floor(from)); x <= Math.min(widthPx - 1, Math.ceil(to)); x++) {
      const along = (x - ax) * ux + (y - ay) * uy;
      const aside = Math.abs((x - ax) * uy - (y - ay) * ux);
      const cover = clamp(half + 0.5 - aside) * clamp(0.5 + beyondPx + along) * clamp(0.5 + beyondPx + length - along) * (thickPx < 1 ? thickPx : 1);
      if (cover <= 0) continue;
      const ink = typeof shade === 'number' ? shade : shade(x, y);
      const i = y * widthPx + x;
      grey[i] = Math.round(grey[i]! * (1 - cover) + ink * cover);
    }
  }
}

const clamp = (share: number): number => (share < 0 ? 0 : share > 1 ? 1 : share);

/** A thin arc round (x, y) from one angle to another, in radians. */
export function arc(sheet: Sheet, x: number, y: number, radiusPx: number, from: number, to: number, thickPx: number): void {
  const steps = Math.max(6, Math.ceil((Math.abs(to - from) * radiusPx) / 4));
  const at = (i: number) => from + ((to - from) * i) / steps;
  for (let i = 0; i < steps; i++) {
    const [a, b] = [at(i), at(i + 1)];
    bar(sheet, x + radiusPx * Math.cos(a), y + radiusPx * Math.sin(a), x + radiusPx * Math.cos(b), y + radiusPx * Math.sin(b), thickPx, INK, 0.3);
  }
}

/** The strokes of a sign on a field of 4 x 6: pairs of corners. Enough for numbers and for words that nobody reads. */
const STROKES: Readonly<Record<string, string>> = {
  0: '00 40 46 06 00',
  1: '10 20 26',
  2: '00 40 43 03 06 46',
  3: '00 40 46 06|03 43',
  4: '00 03 43|40 46',
  5: '40 00 03 43 46 06',
  6: '40 00 06 46 43 03',
  7: '00 40 16',
  8: '00 40 46 06 00|03 43',
  9: '43 03 00 40 46 06',
  a: '06 20 46|13 33',
  e: '40 00 06 46|03 33',
  l: '00 06 46',
  n: '06 00 46 40',
  o: '00 40 46 06 00',
  r: '06 00 40 43 03 46',
  s: '40 00 03 43 46 06',
  t: '00 40|20 26',
  '.': '26 25',
};

/** Writes a text with its left foot at (x, y), `heightPx` high; upright, or reading upwards. */
export function write(sheet: Sheet, text: string, x: number, y: number, heightPx: number, upwards = false): void {
  if (sheet.record !== undefined) {
    sheet.record.words.push({ text, x, y, heightPx, upwards });
    return;
  }
  const unit = heightPx / 6;
  [...text].forEach((sign, i) => {
    for (const chain of STROKES[sign]?.split('|') ?? []) {
      const spots = chain.split(' ').map((spot) => [Number(spot[0]) * unit + i * 6 * unit, (Number(spot[1]) - 6) * unit] as const);
      for (let s = 0; s + 1 < spots.length; s++) {
        const [ax, ay] = spots[s]!;
        const [bx, by] = spots[s + 1]!;
        if (upwards) bar(sheet, x + ay, y - ax, x + by, y - bx, 1.4, INK, 0.5);
        else bar(sheet, x + ax, y + ay, x + bx, y + by, 1.4, INK, 0.5);
      }
    }
  });
}
