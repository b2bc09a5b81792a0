import { seeded } from '@/core/random';
import { PAPER, type Sheet } from './sheet';

/** How far askew a sheet lies on the scanner, in degrees. */
export const SKEW_DEG = 0.5;

/** The sheet as an old scanner gives it: a little askew, soft, greyish, darker to one side, with noise. */
export function scanned({ widthPx, heightPx, grey }: Sheet, seed: number, skewDeg = SKEW_DEG): Sheet {
  const uniform = seeded(seed);
  const [sin, cos] = [Math.sin((skewDeg * Math.PI) / 180), Math.cos((skewDeg * Math.PI) / 180)];
  const [cx, cy] = [widthPx / 2, heightPx / 2];
  const soft = softened(grey, widthPx, heightPx);
  const out = new Uint8Array(grey.length);
  for (let y = 0; y < heightPx; y++) {
    const light = 0.97 - 0.06 * (y / heightPx);
    for (let x = 0; x < widthPx; x++) {
      const sx = cx + (x - cx) * cos + (y - cy) * sin;
      const sy = cy - (x - cx) * sin + (y - cy) * cos;
      const ix = Math.floor(sx);
      const iy = Math.floor(sy);
      const fx = sx - ix;
      const fy = sy - iy;
      let shade = PAPER;
      if (ix >= 0 && iy >= 0 && ix + 1 < widthPx && iy + 1 < heightPx) {
        const i = iy * widthPx + ix;
        const upper = soft[i]! * (1 - fx) + soft[i + 1]! * fx;
        const lower = soft[i + widthPx]! * (1 - fx) + soft[i + widthPx + 1]! * fx;
        shade = upper * (1 - fy) + lower * fy;
      }
      // The sum of three is near enough to a bell; in steps of 4, as scanners save. What is beyond white is white.
      const noise = (uniform() + uniform() + uniform() - 1.5) * 13;
      const seen = Math.round((shade * (light - 0.16 * (x / widthPx)) + noise) / 4) * 4;
      out[y * widthPx + x] = seen < 0 ? 0 : seen > 255 ? 255 : seen;
    }
  }
  return { widthPx, heightPx, grey: out };
}

/** As through a lens that is not quite sharp: the mean of 3 x 3 px, nearer ones counting for more. */
function softened(grey: Uint8Array, widthPx: number, heightPx: number): Float32Array {
  const across = new Float32Array(grey.length);
  const out = new Float32Array(grey.length).fill(PAPER);
  const side = 0.28;
  for (let y = 0; y < heightPx; y++)
    for (let i = y * widthPx + 1, end = (y + 1) * widthPx - 1; i < end; i++)
      across[i] = side * (grey[i - 1]! + grey[i + 1]!) + (1 - 2 * side) * grey[i]!;
  for (let y = 1; y < heightPx - 1; y++)
    for (let i = y * widthPx + 1, end = (y + 1) * widthPx - 1; i < end; i++)
      out[i] = side * (across[i - widthPx]! + across[i + widthPx]!) + (1 - 2 * side) * across[i]!;
  return out;
}
