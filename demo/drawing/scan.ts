import { seeded } from '@/core/random';
import { PAPER, type Sheet } from './sheet';

// Taken once, for these are called for every pixel.
const { floor, max, min, round } = Math;

/** How far askew a sheet lies on the scanner, in degrees. */
export const SKEW_DEG = 0.5;

/** The sheet as an old scanner gives it: a little askew, soft, greyish, darker to one side, with noise. */
export function scanned({ widthPx, heightPx, grey }: Sheet, seed: number, skewDeg = SKEW_DEG): Sheet {
  const uniform = seeded(seed);
  const [sin, cos] = [Math.sin((skewDeg * Math.PI) / 180), Math.cos((skewDeg * Math.PI) / 180)];
  const [cx, cy] = [widthPx / 2, heightPx / 2];
  const out = new Uint8Array(grey.length);
  const weights = new Float64Array(8);
  for (let y = 0; y < heightPx; y++) {
    for (let x = 0; x < widthPx; x++) {
      const sx = cx + (x - cx) * cos + (y - cy) * sin;
      const sy = cy - (x - cx) * sin + (y - cy) * cos;
      const [ix, iy] = [floor(sx), floor(sy)];
      // A tent half as wide again as between pixels: soft, as through a lens.
      for (let d = 0; d < 4; d++) {
        const [awayX, awayY] = [d - 1 - (sx - ix), d - 1 - (sy - iy)];
        weights[d] = awayX > 1.5 || awayX < -1.5 ? 0 : awayX < 0 ? 1.5 + awayX : 1.5 - awayX;
        weights[4 + d] = awayY > 1.5 || awayY < -1.5 ? 0 : awayY < 0 ? 1.5 + awayY : 1.5 - awayY;
      }
      let [sum, total] = [0, 0];
      for (let dy = 0; dy < 4; dy++)
        for (let dx = 0; dx < 4; dx++) {
          const [px, py] = [ix + dx - 1, iy + dy - 1];
          const weight = weights[dx]! * weights[4 + dy]!;
          sum += weight * (px < 0 || py < 0 || px >= widthPx || py >= heightPx ? PAPER : grey[py * widthPx + px]!);
          total += weight;
        }
      const light = 0.97 - 0.16 * (x / widthPx) - 0.06 * (y / heightPx);
      // The sum of three is near enough to a bell; in steps of 4, as scanners save. What is beyond white is white.
      const noise = (uniform() + uniform() + uniform() - 1.5) * 13;
      out[y * widthPx + x] = max(0, min(255, round(((sum / total) * light + noise) / 4) * 4));
    }
  }
  return { widthPx, heightPx, grey: out };
}
