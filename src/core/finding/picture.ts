/** A picture in shades of grey, 0 black to 255 white, row by row. */
export type Picture = Readonly<{ widthPx: number; heightPx: number; grey: Uint8Array }>;

/** A drawing made ready: paper white, ink black, and how noisy it was (standard deviation, in shades). */
export type CleanPicture = Picture & Readonly<{ noisy: boolean }>;

/** Noise above this, in shades, is a scanner's. */
const NOISY = 2;
/** Paper is judged in blocks of this side, in px. */
const BLOCK_PX = 32;
/** The darkest share of a drawing is ink. */
const INK_SHARE = 0.004;

/** Evens out the light, makes ink black and paper white, and softens noise. */
export function cleaned(picture: Picture): CleanPicture {
  const noisy = noiseOf(picture) > NOISY;
  const flat = stretched(flattened(picture));
  return { ...(noisy ? softened(flat) : flat), noisy };
}

/** The shades as RGBA, over white paper, become grey (ITU-R BT.601 luma in integers). */
export function greyOf(rgba: Uint8ClampedArray, widthPx: number, heightPx: number): Picture {
  const grey = new Uint8Array(widthPx * heightPx);
  for (let i = 0, p = 0; i < grey.length; i++, p += 4) {
    const luma = (77 * rgba[p]! + 150 * rgba[p + 1]! + 29 * rgba[p + 2]!) >> 8;
    const alpha = rgba[p + 3]!;
    grey[i] = (255 - ((255 - luma) * alpha) / 255) | 0;
  }
  return { widthPx, heightPx, grey };
}

/** Second differences along rows cancel slopes; their median does not see ink, which is rare. 1.65 is what white noise of 1 gives. */
export function noiseOf({ widthPx, heightPx, grey }: Picture): number {
  const counts = new Uint32Array(1024);
  let total = 0;
  const step = Math.max(1, Math.floor(heightPx / 400));
  for (let y = 0; y < heightPx; y += step)
    for (let x = 2; x < widthPx - 2; x += 3) {
      const i = y * widthPx + x;
      counts[Math.abs(2 * grey[i]! - grey[i - 2]! - grey[i + 2]!)]!++;
      total++;
    }
  return rankOf(counts, total / 2) / 1.65;
}

/** The first value at which more than `rank` have been counted. */
function rankOf(counts: Uint32Array, rank: number): number {
  let seen = 0;
  for (let value = 0; value < counts.length; value++) {
    seen += counts[value]!;
    if (seen > rank) return value;
  }
  return counts.length - 1;
}

/** Each pixel against the paper round it: the 70th percentile of its block, the lightest of the blocks near, averaged, and between blocks in line. */
function flattened({ widthPx, heightPx, grey }: Picture): Picture {
  const cols = Math.ceil(widthPx / BLOCK_PX);
  const rows = Math.ceil(heightPx / BLOCK_PX);
  const paper = new Float32Array(cols * rows);
  const counts = new Uint32Array(256);
  for (let row = 0; row < rows; row++)
    for (let col = 0; col < cols; col++) {
      counts.fill(0);
      let total = 0;
      for (let y = row * BLOCK_PX; y < Math.min(heightPx, (row + 1) * BLOCK_PX); y += 2)
        for (let x = col * BLOCK_PX; x < Math.min(widthPx, (col + 1) * BLOCK_PX); x++, total++) counts[grey[y * widthPx + x]!]!++;
      paper[row * cols + col] = rankOf(counts, total * 0.7);
    }
  const lightest = around(paper, cols, rows, (values) => Math.max(...values));
  const even = around(lightest, cols, rows, (values) => values.reduce((sum, value) => sum + value, 0) / values.length);
  const out = new Uint8Array(grey.length);
  for (let y = 0; y < heightPx; y++) {
    const rowAt = Math.min(rows - 1, Math.max(0, (y + 0.5) / BLOCK_PX - 0.5));
    const r = Math.min(rows - 1, Math.floor(rowAt));
    const below = Math.min(rows - 1, r + 1);
    const fy = rowAt - r;
    for (let x = 0; x < widthPx; x++) {
      const colAt = Math.min(cols - 1, Math.max(0, (x + 0.5) / BLOCK_PX - 0.5));
      const c = colAt | 0;
      const right = c + 1 < cols ? c + 1 : c;
      const fx = colAt - c;
      const upper = even[r * cols + c]! * (1 - fx) + even[r * cols + right]! * fx;
      const lower = even[below * cols + c]! * (1 - fx) + even[below * cols + right]! * fx;
      const shade = (grey[y * widthPx + x]! * 255) / Math.max(1, upper * (1 - fy) + lower * fy);
      out[y * widthPx + x] = shade > 255 ? 255 : shade;
    }
  }
  return { widthPx, heightPx, grey: out };
}

/** A value for each block from the 5 x 5 round it. */
function around(values: Float32Array, cols: number, rows: number, of: (values: number[]) => number): Float32Array {
  const out = new Float32Array(values.length);
  for (let row = 0; row < rows; row++)
    for (let col = 0; col < cols; col++) {
      const near: number[] = [];
      for (let r = Math.max(0, row - 2); r <= Math.min(rows - 1, row + 2); r++)
        for (let c = Math.max(0, col - 2); c <= Math.min(cols - 1, col + 2); c++) near.push(values[r * cols + c]!);
      out[row * cols + col] = of(near);
    }
  return out;
}

/** Ink becomes black. A sheet with next to no ink keeps its shades. */
function stretched({ widthPx, heightPx, grey }: Picture): Picture {
  const counts = new Uint32Array(256);
  for (let i = 0; i < grey.length; i++) counts[grey[i]!]!++;
  const darkest = Math.min(140, rankOf(counts, grey.length * INK_SHARE));
  const map = Uint8Array.from({ length: 256 }, (_, shade) => Math.max(0, Math.round(((shade - darkest) * 255) / (255 - darkest))));
  return { widthPx, heightPx, grey: grey.map((shade) => map[shade]!) };
}

/** The binomial mean of 3 x 3 px. */
function softened({ widthPx, heightPx, grey }: Picture): Picture {
  const across = new Uint16Array(grey.length);
  const out = new Uint8Array(grey.length);
  for (let y = 0; y < heightPx; y++) {
    const row = y * widthPx;
    for (let x = 0; x < widthPx; x++)
      across[row + x] = grey[row + Math.max(0, x - 1)]! + 2 * grey[row + x]! + grey[row + Math.min(widthPx - 1, x + 1)]!;
  }
  for (let y = 0; y < heightPx; y++) {
    const [above, row, below] = [Math.max(0, y - 1) * widthPx, y * widthPx, Math.min(heightPx - 1, y + 1) * widthPx];
    for (let x = 0; x < widthPx; x++) out[row + x] = (across[above + x]! + 2 * across[row + x]! + across[below + x]!) >> 4;
  }
  return { widthPx, heightPx, grey: out };
}
