import { confidenceOf, isDoubled } from './confidence';
import { UpperRoomError } from '../errors';
import { accepted, centreLines, commonThicknessPx } from './accept';
import { bandsOf, thickestPx, type Band } from './bands';
import { doorsOf, inkOf, scaleByDoors, type InkMask } from './doors';
import { edgesOf } from './edges';
import { withoutFamilies } from './families';
import { fittingsOf, type FoundFitting } from './fittings';
import { cleaned, type CleanPicture, type Picture } from './picture';
import { hangs, pruned, snapped, withoutLeaves } from './prune';
import { partedAt, percentile, smallestCommon, type Weighed } from './statistics';
import { StrokeGrid, alongPx, asidePx } from './stroke';
import { windowsOf } from './windows';
import { withOpenings, type FoundWall } from './wholes';

/**
 * How the walls of a drawing are drawn: two lines with something between (`band`), ink (`solid`), both (`mixed`), or one thin line (`single`).
 */
export const DRAW_STYLES = ['band', 'solid', 'mixed', 'single'] as const;
export type DrawStyle = (typeof DRAW_STYLES)[number];

/** What was guessed of the scale, and from what: the leaves of doors (how many), else the commonest thickness of walls; or it was known. */
export type ScaleGuess = Readonly<{ pxPerM: number; from: 'known' | 'doors' | 'thickness'; count: number }>;

export type Found = Readonly<{ walls: readonly FoundWall[]; fittings: readonly FoundFitting[]; scale: ScaleGuess | null; style: DrawStyle }>;

/** `pxPerM`: the scale where it is known. `style`: how walls are drawn where somebody says so; else it is tried. */
export type FindOptions = Readonly<{ pxPerM: number | null; style: DrawStyle | null }>;

/** Walls are commonly as thick as this, in m, where nothing else tells the scale. */
const COMMON_THICK_M = 0.14;

/**
 * Finds walls, doors, windows, stairs, lifts and the scale in a drawing: edges of ink that face each other are walls where what lies between agrees; what is
 * furniture, stairs, hatching or frame is told apart by its company. Yields the share done; with nothing found there are no walls.
 * @throws UpperRoomError DRAWING_NO_PLAN for a picture that is no line drawing
 */
export function* findWalls(picture: Picture, { pxPerM, style }: FindOptions): Generator<number, Found, unknown> {
  const clean = cleaned(picture);
  yield 0.1;
  const edges = edgesOf(clean);
  if (edges.length > MOST_EDGES) throw new UpperRoomError('DRAWING_NO_PLAN');
  yield 0.25;
  const all = bandsOf(clean, edges, thickestPx(clean, pxPerM));
  const bars = all.filter(({ inside }) => inside === 'bar').map(({ thickPx, lengthPx }): Weighed => ({ value: thickPx, weight: lengthPx }));
  const linePx = bars.length > 0 ? percentile(bars, 0.22) : 2;
  yield 0.35;
  const bands = withoutFamilies(clean, all, linePx);
  const sheet: Sheet = { picture: clean, bands, outlines: outlinesIn(bands, linePx), ink: inkOf(clean), linePx, heavy: heavyFrom(bars) };
  yield 0.45;
  let best = attempt(sheet, style ?? firstStyle(sheet), pxPerM);
  if (style === null)
    for (const other of DRAW_STYLES) {
      yield 0.6;
      if (other === best.style || !worthTrying(other, best, sheet)) continue;
      const next = attempt(sheet, other, pxPerM);
      if (next.worth > best.worth * (best.worth > 0 ? 1.1 : 0.9)) best = next;
    }
  const { walls, scale } = best;
  return { walls, scale, style: best.style, fittings: scale === null ? [] : fittingsOf(all, linePx, scale.pxPerM) };
}

/** What was found in a picture that is `factor` times as large as the one it is told of. */
export const rescaled = ({ walls, fittings, scale, style }: Found, factor: number): Found => ({
  style,
  fittings: fittings.map(({ kind, corners }) => ({ kind, corners: corners.map(({ x, y }) => ({ x: x / factor, y: y / factor })) })),
  scale: scale === null ? null : { ...scale, pxPerM: scale.pxPerM / factor },
  walls: walls.map((wall) => ({
    ...wall,
    ax: wall.ax / factor,
    ay: wall.ay / factor,
    bx: wall.bx / factor,
    by: wall.by / factor,
    thickPx: wall.thickPx / factor,
    openings: wall.openings.map((opening) => ({ ...opening, atPx: opening.atPx / factor, widthPx: opening.widthPx / factor })),
  })),
});

/** More edges than this are a photograph or a texture, and would take minutes; a busy sheet of 8 megapixels has some seven thousand. */
const MOST_EDGES = 25_000;
/** A style in which a drawing has more pieces of wall than this is not its style. */
const MOST_PIECES = 3_000;

const ENOUGH_DOORS = 9;
/** One thin line is taken for a wall only where no other style makes sense of the doors. */
const FEW_DOORS = 4;

/** So much of what may be walls lies between two lines, where walls of ink alone would leave out a part of the building. */
const MUCH_BETWEEN = 0.35;

/** One that has found the doors and no outlines for walls is left; ink may be thin walls among thick hollow ones, which look like ink when small. */
function worthTrying(style: DrawStyle, best: Attempt, sheet: Sheet): boolean {
  const { heavy } = sheet;
  if (style === 'single') return best.doors < FEW_DOORS;
  if (style === 'band' && best.style === 'solid' && betweenLines(sheet) > MUCH_BETWEEN) return true;
  if (style === 'mixed' && best.style === 'band' && heavy.clear) return true;
  return best.doors <= ENOUGH_DOORS || best.doubled >= 0.12;
}

/** What all attempts at a drawing share. */
type Sheet = Readonly<{ picture: CleanPicture; bands: readonly Band[]; outlines: ReadonlySet<Band>; ink: InkMask; linePx: number; heavy: Heavy }>;

/** Bars of ink at least `thickPx` thick are no mere lines; `clear`: lines and walls are told apart well. */
type Heavy = Readonly<{ thickPx: number; clear: boolean }>;

/** A thickness that so much of all bars has is that of the sheet's lines. */
const COMMON_SHARE = 0.08;
/** Thin walls are looked for up to so many times as thick as lines; thicker bars are walls without asking. */
const THIN_WALLS = 3.2;
/** Thin walls are at least so much thicker than lines on the mean, and so much of all bars. */
const THICKER = 1.45;
const WALL_SHARE = 0.04;

/** The thinnest common bars are lines, with what is nearly as thin, the leaves of doors say. What is thicker are walls. */
function heavyFrom(bars: readonly Weighed[]): Heavy {
  const weightOf = (of: readonly Weighed[]): number => of.reduce((sum, { weight }) => sum + weight, 0);
  const total = weightOf(bars);
  const line = smallestCommon(bars, COMMON_SHARE);
  const shareFrom = (thickPx: number): number => weightOf(bars.filter(({ value }) => value >= thickPx)) / total;
  const thin = partedAt(bars.filter(({ value }) => value < THIN_WALLS * line));
  const thickPx =
    thin.ratio > THICKER && thin.above > WALL_SHARE * total
      ? thin.threshold
      : shareFrom(THIN_WALLS * line) > WALL_SHARE
        ? 0.6 * THIN_WALLS * line
        : Infinity;
  return { thickPx, clear: shareFrom(thickPx) > 0.12 };
}

/** Of bands and heavy bars the share, by length, that is bands. */
function betweenLines({ bands, heavy }: Sheet): number {
  let [between, inked] = [0, 0];
  for (const { inside, thickPx, lengthPx } of bands) {
    if (inside !== 'bar') between += lengthPx;
    else if (thickPx >= heavy.thickPx) inked += lengthPx;
  }
  return between / Math.max(1, between + inked);
}

function firstStyle({ picture, bands, heavy }: Sheet): DrawStyle {
  if (picture.noisy) return 'mixed';
  const bars = bands.filter(({ inside, thickPx }) => inside === 'bar' && thickPx >= heavy.thickPx);
  const grid = new StrokeGrid(bars, Math.max(40, thickestPx(picture, null)));
  let [total, paired] = [0, 0];
  for (const bar of bars) {
    total += bar.lengthPx;
    const [mx, my] = [(bar.ax + bar.bx) / 2, (bar.ay + bar.by) / 2];
    for (const other of grid.along(bar)) {
      const at = alongPx(other, mx, my);
      const apart = Math.abs(asidePx(other, mx, my));
      if (
        other !== bar &&
        Math.abs(bar.ux * other.ux + bar.uy * other.uy) > 0.995 &&
        at > 0 &&
        at < other.lengthPx &&
        apart > bar.thickPx &&
        apart < thickestPx(picture, null)
      ) {
        paired += bar.lengthPx;
        break;
      }
    }
  }
  return heavy.clear && total > 0 && paired < 0.45 * total ? 'solid' : 'band';
}

/** An outline holds no more ink than this many lines do: a tone beside it adds to its own. */
const OUTLINE_LINES = 2.2;

/** Thin bars that are but the edges of walls with a tone or hatching inside. */
function outlinesIn(bands: readonly Band[], linePx: number): ReadonlySet<Band> {
  const toned = new StrokeGrid(
    bands.filter(({ inside }) => inside === 'grey' || inside === 'hatched'),
    40,
  );
  const isEdge = (bar: Band): boolean => {
    const [mx, my] = [(bar.ax + bar.bx) / 2, (bar.ay + bar.by) / 2];
    for (const band of toned.along(bar)) {
      if (Math.abs(bar.ux * band.ux + bar.uy * band.uy) < 0.99 || band.thickPx < 2 * bar.thickPx) continue;
      const at = alongPx(band, mx, my);
      const off = Math.abs(asidePx(band, mx, my)) - (band.thickPx - bar.thickPx) / 2;
      if (at > 0 && at < band.lengthPx && Math.abs(off) < 2) return true;
    }
    return false;
  };
  return new Set(bands.filter((band) => band.inside === 'bar' && band.thickPx < OUTLINE_LINES * linePx && isEdge(band)));
}

function weigher(style: DrawStyle, { heavy, outlines }: Sheet): (band: Band) => number {
  const isHeavy = ({ thickPx }: Band): boolean => thickPx >= heavy.thickPx;
  return (band) => {
    const bar = band.inside === 'bar';
    switch (style) {
      case 'band':
        return bar ? 0 : 1;
      case 'solid':
        return bar && isHeavy(band) ? 1 : 0;
      case 'mixed':
        return bar ? (isHeavy(band) && !outlines.has(band) ? 0.5 : 0) : 1;
      case 'single':
        return bar ? 1 : 0;
    }
  };
}

type Attempt = Omit<Found, 'fittings'> & Readonly<{ worth: number; doors: number; doubled: number }>;

function attempt(sheet: Sheet, style: DrawStyle, knownPxPerM: number | null): Attempt {
  const { picture, bands, ink, linePx } = sheet;
  const weigh = weigher(style, sheet);
  let pieces = accepted(picture, bands, weigh);
  const nothing: Attempt = { walls: [], scale: null, style, worth: 0, doors: 0, doubled: 0 };
  if (pieces.length === 0 || pieces.length > MOST_PIECES) return nothing;
  const common = commonThicknessPx(pieces);
  let scale: ScaleGuess | null = knownPxPerM === null ? null : { pxPerM: knownPxPerM, from: 'known', count: 0 };
  if (scale === null) {
    const lines = centreLines(pieces, Math.max(5, 1.3 * common));
    const first = doorsOf(ink, lines, {
      minPx: Math.max(16, 1.45 * common),
      maxPx: Math.max(16 * common, 60),
      thickPx: common,
      linePx,
      reachPx: (0.3 * common) / COMMON_THICK_M,
    });
    const byDoors = scaleByDoors(first);
    scale = byDoors === null ? { pxPerM: common / COMMON_THICK_M, from: 'thickness', count: 0 } : { ...byDoors, from: 'doors' };
    // Now that metres are known, what is too thick for a wall does not stand in the way of those that are none too thick.
    const most = thickestPx(picture, scale.pxPerM);
    pieces = accepted(
      picture,
      bands.filter(({ thickPx }) => thickPx <= most),
      weigh,
    );
  }
  const { pxPerM } = scale;
  const lines = centreLines(pieces, 0.42 * pxPerM);
  const doors = doorsOf(ink, lines, { minPx: 0.55 * pxPerM, maxPx: 1.25 * pxPerM, thickPx: common, linePx, reachPx: 0.3 * pxPerM });
  const kept = snapped(pruned(withoutLeaves(lines, doors, pxPerM), doors, pxPerM, { inked: sheet.heavy.clear, lines: style === 'single' }), pxPerM);
  const standing = doors.filter((door) => hangs(door, kept, pxPerM));
  const windows = windowsOf(picture, kept, standing, pxPerM);
  const total = kept.reduce((sum, { lengthPx }) => sum + lengthPx, 0);
  const sure = new Map(kept.map((wall) => [wall, confidenceOf(wall, kept, standing, pxPerM)]));
  const walls = withOpenings(kept, standing, windows, sure, pxPerM);
  const doubled = total === 0 ? 0 : kept.reduce((sum, wall) => sum + (isDoubled(wall, kept, pxPerM) ? wall.lengthPx : 0), 0) / total;
  const worth =
    4 * standing.reduce((sum, { score }) => sum + score - 0.5, 0) +
    kept.reduce((sum, wall) => sum + ((sure.get(wall)! - 0.7) * wall.lengthPx) / pxPerM / 25, 0);
  return { walls, scale, style, worth: worth > 0 && doubled > 0.15 ? worth * 0.3 : worth, doors: standing.length, doubled };
}
