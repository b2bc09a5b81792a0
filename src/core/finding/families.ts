import type { Band } from './bands';
import { shadeAt } from './bands';
import type { CleanPicture } from './picture';
import { percentile } from './statistics';

const INK_BELOW = 170;
/** Lines looked for at these multiples of the spacing beside a pair of lines, which are 0 and 1. */
const BESIDE = [-2, -1, 2, 3];

/** Bands without those that are one of many alike, a stair's steps, tiles or hatching, and without those paler than what stands out. */
export function withoutFamilies(picture: CleanPicture, bands: readonly Band[], linePx: number): Band[] {
  const long = bands.filter(({ lengthPx, thickPx }) => lengthPx > 4 * thickPx && lengthPx > 30);
  const strong = percentile(
    long.map(({ strength, lengthPx }) => ({ value: strength, weight: lengthPx })),
    0.7,
  );
  return bands.filter((band) => !(band.strength < 0.5 * strong) && (band.inside === 'bar' || !isOfFamily(picture, band, linePx)));
}

/** A band between two thin lines is of a family when lines go on at its spacing beside it: two of four, along most of it. */
function isOfFamily(picture: CleanPicture, { ax, ay, ux, uy, lengthPx, thickPx }: Band, linePx: number): boolean {
  const spacing = thickPx - linePx;
  if (spacing < 3) return false;
  const stations = Math.max(8, Math.min(60, Math.round(lengthPx / 3)));
  let met = 0;
  for (let s = 0; s < stations; s++) {
    const along = ((s + 0.5) * lengthPx) / stations;
    let lines = 0;
    for (const beside of BESIDE) {
      // The pair's lines lie half a spacing from the middle.
      const aside = (beside - 0.5) * spacing;
      let darkest = 255;
      for (let off = -1.5; off <= 1.5; off += 1)
        darkest = Math.min(darkest, shadeAt(picture, ax + ux * along - uy * (aside + off), ay + uy * along + ux * (aside + off)));
      if (darkest < INK_BELOW && isThin(picture, ax + ux * along, ay + uy * along, -uy, ux, aside, spacing)) lines++;
    }
    if (lines >= 2) met++;
  }
  return met > 0.62 * stations;
}

/** There must be paper between lines: ink all through is a wall beside. */
function isThin(picture: CleanPicture, x: number, y: number, nx: number, ny: number, aside: number, spacing: number): boolean {
  const [near, far] = [aside - spacing / 2, aside + spacing / 2];
  return shadeAt(picture, x + nx * near, y + ny * near) > INK_BELOW || shadeAt(picture, x + nx * far, y + ny * far) > INK_BELOW;
}
