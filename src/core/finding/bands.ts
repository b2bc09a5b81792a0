import type { Edge } from './edges';
import type { CleanPicture } from './picture';
import { StrokeGrid, alongPx, asidePx, strokeOf, type Stroke } from './stroke';

/** What lies between two edges that face each other. `bar`: ink all through. */
export type Inside = 'bar' | 'grey' | 'hatched' | 'hollow';

/**
 * A stretch between two facing edges that may be a wall: a stroke along its middle. `balance`: how alike its edges are, 0 to 1. `pairPx`: how
 * long the edges face each other, beyond this stretch too.
 */
export type Band = Stroke & Readonly<{ thickPx: number; inside: Inside; balance: number; strength: number; pairPx: number }>;

/** Thicker than this share of the longer side is no wall, as long as the scale is not known. */
const THICKEST_SHARE = 0.022;
/** Thicker than this is no wall, in m. */
const THICKEST_M = 0.6;
const MIN_OVERLAP_PX = 7;
const SHORT_PX = 15;
const COS_FACING = { long: Math.cos((6 * Math.PI) / 180), short: Math.cos((10 * Math.PI) / 180) } as const;
const DARK = 125;
/** Lighter than this is paper. */
const GREY = 228;
const EVEN = 60;
/** A run of ink, tone or paper is seen when this many of the samples round agree. */
const VOTE = { window: 11, share: 0.72 } as const;

export const thickestPx = ({ widthPx, heightPx }: CleanPicture, pxPerM: number | null): number =>
  pxPerM === null ? THICKEST_SHARE * Math.max(widthPx, heightPx) : THICKEST_M * pxPerM;

/** Two edges whose dark sides face each other: where along the first, and how far the other lies from it there. All in px. */
type Facing = Readonly<{ picture: CleanPicture; edge: Edge; other: Edge; from: number; to: number; thickAt: (along: number) => number }>;

/** All stretches between facing edges, cut where the inside turns between ink, tone and paper. */
export function bandsOf(picture: CleanPicture, edges: readonly Edge[], maxThickPx: number): Band[] {
  const grid = new StrokeGrid(edges, Math.max(40, maxThickPx));
  const index = new Map(edges.map((edge, i) => [edge, i]));
  const bands: Band[] = [];
  edges.forEach((edge, i) => {
    for (const other of grid.along(edge)) {
      if (index.get(other)! <= i) continue;
      const limit = Math.min(edge.lengthPx, other.lengthPx) < SHORT_PX ? COS_FACING.short : COS_FACING.long;
      if (edge.ux * other.ux + edge.uy * other.uy > -limit) continue;
      const [p, q] = [alongPx(edge, other.ax, other.ay), alongPx(edge, other.bx, other.by)];
      const [from, to] = [Math.max(0, Math.min(p, q)), Math.min(edge.lengthPx, Math.max(p, q))];
      if (to - from < MIN_OVERLAP_PX) continue;
      // Dark sides face each other: the other lies on the side of the normal.
      const thickAt = (along: number): number => {
        const [pa, qa] = [asidePx(edge, other.ax, other.ay), asidePx(edge, other.bx, other.by)];
        return p === q ? pa : pa + ((qa - pa) * (along - p)) / (q - p);
      };
      const thick = thickAt((from + to) / 2);
      if (thick < 0.8 || thick > maxThickPx) continue;
      cutByInside({ picture, edge, other, from, to, thickAt }, bands);
    }
  });
  return bands;
}

/** Shade at a spot; outside of the sheet is paper. */
export const shadeAt = ({ widthPx, heightPx, grey }: CleanPicture, x: number, y: number): number =>
  x < 0 || y < 0 || x >= widthPx || y >= heightPx ? 255 : grey[(y | 0) * widthPx + (x | 0)]!;

/** Shade between two facing edges, at a place along the first and px aside from it. */
const shadeBetween = ({ picture, edge }: Facing, along: number, aside: number): number =>
  shadeAt(picture, edge.ax + edge.ux * along - edge.uy * aside, edge.ay + edge.uy * along + edge.ux * aside);

function cutByInside(facing: Facing, bands: Band[]): void {
  const { from, to, thickAt } = facing;
  const count = Math.max(2, Math.round(to - from));
  const pitch = (to - from) / count;
  const tone = new Uint8Array(count);
  const votes = [0, 0, 0];
  for (let s = 0; s < count; s++) {
    const along = from + (s + 0.5) * pitch;
    const thick = thickAt(along);
    let [sum, darkest, lightest] = [0, 255, 0];
    const shares = thick < 4 ? MIDDLE : THIRDS;
    for (const share of shares) {
      const shade = shadeBetween(facing, along, thick * share);
      sum += shade;
      darkest = Math.min(darkest, shade);
      lightest = Math.max(lightest, shade);
    }
    const mean = sum / shares.length;
    // A tone is even across; a line on paper is paper.
    tone[s] = mean < DARK ? 0 : mean < GREY && lightest - darkest < EVEN ? 1 : 2;
    votes[tone[s]!]!++;
  }
  let state = votes.indexOf(Math.max(...votes));
  let start = 0;
  const emit = (end: number) => {
    if ((end - start) * pitch >= MIN_OVERLAP_PX) bandOf({ ...facing, from: from + start * pitch, to: from + end * pitch }, to - from, bands);
    start = end;
  };
  const half = (VOTE.window - 1) / 2;
  votes.fill(0);
  for (let s = 0; s < Math.min(half, count); s++) votes[tone[s]!]!++;
  for (let s = 0; s < count; s++) {
    if (s + half < count) votes[tone[s + half]!]!++;
    if (s - half - 1 >= 0) votes[tone[s - half - 1]!]!--;
    const seen = Math.min(count, s + half + 1) - Math.max(0, s - half);
    const now = votes.findIndex((count) => count >= VOTE.share * seen);
    if (now >= 0 && now !== state) {
      if (s > 0) emit(s);
      state = now;
    }
  }
  emit(count);
}

const MIDDLE = [0.5];
const THIRDS = [0.3, 0.5, 0.7];
const ACROSS = [0.3, 0.4, 0.5, 0.6, 0.7];

function bandOf(facing: Facing, pairPx: number, bands: Band[]): void {
  const { edge, other, from, to, thickAt } = facing;
  const thickPx = thickAt((from + to) / 2);
  const across = thickPx < 4 ? MIDDLE : ACROSS;
  let [n, black, sum, sum2] = [0, 0, 0, 0];
  const steps = Math.max(4, Math.min(200, Math.round(to - from)));
  for (let s = 0; s < steps; s++) {
    const along = from + ((s + 0.5) * (to - from)) / steps;
    const thick = thickAt(along);
    for (const share of across) {
      const shade = shadeBetween(facing, along, thick * share);
      n++;
      if (shade < DARK) black++;
      sum += shade;
      sum2 += shade * shade;
    }
  }
  const mean = sum / n;
  const sd = Math.sqrt(Math.max(0, sum2 / n - mean * mean));
  const inside = insideOf(thickPx, black / n, mean, sd);
  if ((inside === 'hollow' || inside === 'grey') && crossed(facing, Math.min(DARK, mean - EVEN)) > MAX_CROSSED) return;
  const inkPx = inside === 'bar' && thickPx < BLURRED_PX ? inkAcross(facing) : thickPx;
  const [ha, hb] = [thickAt(from) / 2, thickAt(to) / 2];
  const { ax, ay, ux, uy } = edge;
  bands.push({
    ...strokeOf(ax + ux * from - uy * ha, ay + uy * from + ux * ha, ax + ux * to - uy * hb, ay + uy * to + ux * hb),
    thickPx: inkPx,
    inside,
    balance: Math.min(edge.strength, other.strength) / Math.max(edge.strength, other.strength),
    strength: Math.min(edge.strength, other.strength),
    pairPx,
  });
}

/** Bars thinner than this are as wide as the ink they hold: blur makes a thin line as wide as a thin wall, but not as dark. */
const BLURRED_PX = 8;
const BLUR_PX = 2.5;

/** Ink across a bar, in px of full black: the mean along it. */
function inkAcross(facing: Facing): number {
  const { from, to, thickAt } = facing;
  const steps = Math.max(4, Math.min(60, Math.round((to - from) / 2)));
  let ink = 0;
  for (let s = 0; s < steps; s++) {
    const along = from + ((s + 0.5) * (to - from)) / steps;
    for (let aside = -BLUR_PX; aside <= thickAt(along) + BLUR_PX; aside += 0.5) ink += 255 - shadeBetween(facing, along, aside);
  }
  return Math.max(0.5, ink / steps / 255 / 2);
}

/** Walls hold no lines along them but one in the middle, a window's glass: at no more than this share of a band. */
const MAX_CROSSED = 0.3;

/** Share of a wide band's length at which something darker than `below` lies between its edges and its middle. */
function crossed(facing: Facing, below: number): number {
  const { from, to, thickAt } = facing;
  const steps = Math.max(4, Math.min(100, Math.round((to - from) / 2)));
  let hits = 0;
  for (let s = 0; s < steps; s++) {
    const along = from + ((s + 0.5) * (to - from)) / steps;
    const thick = thickAt(along);
    // Edges and middle have lines of their own.
    const [low, high] = [4, thick / 2 - 2.5];
    let ink = false;
    for (let off = low; off <= high && !ink; off++)
      for (const aside of [off, thick - off]) if (shadeBetween(facing, along, aside) < below) ink = true;
    if (ink) hits++;
  }
  return hits / steps;
}

function insideOf(thickPx: number, black: number, mean: number, sd: number): Inside {
  if (thickPx < 2.5 ? mean < 200 : thickPx < 4.5 ? mean < 165 : black > 0.86) return 'bar';
  // Between lines close together a soft scan leaves neither ink nor paper.
  if (mean < GREY && (sd < 30 || thickPx < 8)) return 'grey';
  if (sd > 42 && black > 0.1) return 'hatched';
  // Hatching that a scan has blurred is an uneven tone.
  return mean > 200 ? 'hollow' : 'hatched';
}
