import type { Band } from './bands';
import type { CleanPicture } from './picture';
import { chained, joined, strokeOf, type Stroke } from './stroke';
import { modeOf } from './statistics';

/** Part of a wall as it was found: along its middle line, with its thickness and what speaks for it. */
export type Piece = Stroke & Readonly<{ thickPx: number; inside: Band['inside']; balance: number; claimed: number }>;

const MIN_RUN_PX = 6;

/**
 * Takes bands one after the other, the best first, each as far as nobody has taken its place: of the edges and the middle, all must be free. A longer,
 * thinner band of a common class with like edges is better, also one whose edges face each other far beyond it: a window in a wall.
 */
export function accepted(picture: CleanPicture, bands: readonly Band[], weightOf: (band: Band) => number): Piece[] {
  const total = bands.reduce((sum, { lengthPx }) => sum + lengthPx, 0);
  const shares = new Map<Band['inside'], number>();
  for (const { inside, lengthPx } of bands) shares.set(inside, (shares.get(inside) ?? 0) + lengthPx / total);
  const scored = bands
    .map((band) => ({
      band,
      score:
        Math.sqrt((band.lengthPx * band.pairPx) / band.thickPx) * (0.35 + shares.get(band.inside)!) * (0.5 + 0.5 * band.balance) * weightOf(band),
    }))
    .filter(({ score }) => score > 0)
    .sort((p, q) => q.score - p.score);
  const claimed = new Uint8Array(picture.widthPx * picture.heightPx);
  return scored.flatMap(({ band }) => claim(picture, claimed, band));
}

function claim({ widthPx, heightPx }: CleanPicture, claimed: Uint8Array, band: Band): Piece[] {
  const { ax, ay, ux, uy, lengthPx, thickPx } = band;
  const indexAt = (along: number, aside: number): number => {
    const [x, y] = [Math.floor(ax + ux * along - uy * aside), Math.floor(ay + uy * along + ux * aside)];
    return x < 0 || y < 0 || x >= widthPx || y >= heightPx ? -1 : y * widthPx + x;
  };
  const taken = (along: number, aside: number): boolean => {
    const i = indexAt(along, aside);
    return i >= 0 && claimed[i] === 1;
  };
  const half = Math.max(0, thickPx / 2 - 0.5);
  const steps = Math.max(1, Math.round(lengthPx));
  const pieces: Piece[] = [];
  let start = 0;
  for (let s = 0; s <= steps; s++) {
    const along = ((s + 0.5) * lengthPx) / steps;
    const free = s < steps && !taken(along, -half) && !taken(along, half) && !taken(along, 0);
    if (free) continue;
    const [from, to] = [(start * lengthPx) / steps, (s * lengthPx) / steps];
    if (to - from >= MIN_RUN_PX)
      pieces.push({
        ...strokeOf(ax + ux * from, ay + uy * from, ax + ux * to, ay + uy * to, thickPx),
        thickPx,
        inside: band.inside,
        balance: band.balance,
        claimed: (to - from) / lengthPx,
      });
    start = s + 1;
  }
  // Painted with the width of a line about it, so that its own edges make no other wall.
  const reach = half + 1.5;
  for (const piece of pieces)
    for (let along = 0; along <= piece.lengthPx; along += 0.7)
      for (let aside = -reach; aside <= reach; aside += 0.7) {
        const [x, y] = [Math.floor(piece.ax + ux * along - uy * aside), Math.floor(piece.ay + uy * along + ux * aside)];
        if (x >= 0 && y >= 0 && x < widthPx && y < heightPx) claimed[y * widthPx + x] = 1;
      }
  return pieces;
}

/** The commonest thickness of what was found, in px. */
export const commonThicknessPx = (pieces: readonly Piece[]): number =>
  modeOf(pieces.map(({ thickPx, lengthPx }) => ({ value: thickPx, weight: lengthPx })));

const COS_ONE = Math.cos((5 * Math.PI) / 180);

/** Pieces of one wall made one: on one line, of one thickness, with no more than `gapPx` between them. */
export const centreLines = (pieces: readonly Piece[], gapPx: number): Piece[] =>
  chained(
    pieces,
    {
      gapPx,
      asidePx: (p, q) => Math.max(2, 0.45 * Math.max(p.thickPx, q.thickPx)),
      cos: (p, q) => (Math.min(p.lengthPx, q.lengthPx) < 2 * p.thickPx ? COS_SHORT : COS_ONE),
      alike: (p, q) => Math.max(p.thickPx, q.thickPx) / Math.min(p.thickPx, q.thickPx) <= 1.7,
    },
    (p, q) => {
      const by = (of: (piece: Piece) => number): number => (of(p) * p.lengthPx + of(q) * q.lengthPx) / (p.lengthPx + q.lengthPx);
      return {
        ...joined(p, q),
        thickPx: by(({ thickPx }) => thickPx),
        inside: p.lengthPx >= q.lengthPx ? p.inside : q.inside,
        balance: by(({ balance }) => balance),
        claimed: by(({ claimed }) => claimed),
      };
    },
  );
const COS_SHORT = Math.cos((12 * Math.PI) / 180);
