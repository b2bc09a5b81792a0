import { confidenceOf, isDoubled } from './confidence';
import { accepted, centreLines, commonThicknessPx } from './accept';
import { bandsOf, thickestPx, type Band } from './bands';
import { doorsOf, inkOf, scaleByDoors, type InkMask } from './doors';
import { edgesOf } from './edges';
import { withoutFamilies } from './families';
import { cleaned, type CleanPicture, type Picture } from './picture';
import { jambsOf, pruned, snapped, withoutLeaves } from './prune';
import { clustersOf, percentile, type Weighed } from './statistics';
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

export type Found = Readonly<{ walls: readonly FoundWall[]; scale: ScaleGuess | null; style: DrawStyle }>;

/** `pxPerM`: the scale where it is known. `style`: how walls are drawn where somebody says so; else it is tried. */
export type FindOptions = Readonly<{ pxPerM: number | null; style: DrawStyle | null }>;

/** Walls are commonly as thick as this, in m, where nothing else tells the scale. */
const COMMON_THICK_M = 0.14;

/**
 * Finds walls, doors, windows and the scale in a drawing: edges of ink that face each other are walls where what lies between agrees; what is
 * furniture, stairs, hatching or frame is told apart by its company. Yields the share done; with nothing found there are no walls.
 */
export function* findWalls(picture: Picture, { pxPerM, style }: FindOptions): Generator<number, Found, unknown> {
  const clean = cleaned(picture);
  yield 0.1;
  const edges = edgesOf(clean);
  yield 0.25;
  const all = bandsOf(clean, edges, thickestPx(clean, pxPerM));
  const bars = all.filter(({ inside }) => inside === 'bar').map(({ thickPx, lengthPx }): Weighed => ({ value: thickPx, weight: lengthPx }));
  const linePx = bars.length > 0 ? percentile(bars, 0.22) : 2;
  yield 0.35;
  const sheet: Sheet = { picture: clean, bands: withoutFamilies(clean, all, linePx), ink: inkOf(clean), linePx, heavy: heavyFrom(bars) };
  yield 0.45;
  let best = attempt(sheet, style ?? firstStyle(sheet), pxPerM);
  if (style === null)
    for (const other of DRAW_STYLES) {
      yield 0.6;
      if (other === best.style || !worthTrying(other, best, sheet)) continue;
      const next = attempt(sheet, other, pxPerM);
      if (next.worth > best.worth * (best.worth > 0 ? 1.1 : 0.9)) best = next;
    }
  return { walls: best.walls, scale: best.scale, style: best.style };
}

/** What was found in a picture that is `factor` times as large as the one it is told of. */
export const rescaled = ({ walls, scale, style }: Found, factor: number): Found => ({
  style,
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

const ENOUGH_DOORS = 9;
/** One thin line is taken for a wall only where no other style makes sense of the doors. */
const FEW_DOORS = 4;

/** One that has found the doors and no outlines for walls is left; ink may be thin walls among thick hollow ones, which look like ink when small. */
function worthTrying(style: DrawStyle, best: Attempt, { heavy }: Sheet): boolean {
  if (style === 'single') return best.doors < FEW_DOORS;
  if (style === 'mixed' && best.style === 'band' && heavy.clear) return true;
  return best.doors <= ENOUGH_DOORS || best.doubled >= 0.12;
}

/** What all attempts at a drawing share. */
type Sheet = Readonly<{ picture: CleanPicture; bands: readonly Band[]; ink: InkMask; linePx: number; heavy: Heavy }>;

/** Bars of ink at least `thickPx` thick are no mere lines; `clear`: lines and walls are told apart well. */
type Heavy = Readonly<{ thickPx: number; clear: boolean }>;

/** The thinnest bars are lines, with what is nearly as thin and rare, the leaves of doors say. What is thicker are walls. */
function heavyFrom(bars: readonly Weighed[]): Heavy {
  const [lines, ...others] = clustersOf(bars);
  if (lines === undefined) return { thickPx: Infinity, clear: false };
  const walls = others.findIndex(({ share, centre }) => share >= 0.06 || centre > 1.6 * lines.centre);
  if (walls < 0) return { thickPx: Infinity, clear: false };
  const last = walls === 0 ? lines : others[walls - 1]!;
  const share = others.slice(walls).reduce((sum, one) => sum + one.share, 0);
  return { thickPx: Math.sqrt(last.to * others[walls]!.from), clear: share > 0.12 };
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

function weigher(style: DrawStyle, heavy: Heavy): (band: Band) => number {
  const isHeavy = ({ thickPx }: Band): boolean => thickPx >= heavy.thickPx;
  return (band) => {
    const bar = band.inside === 'bar';
    switch (style) {
      case 'band':
        return bar ? 0 : 1;
      case 'solid':
        return bar && isHeavy(band) ? 1 : 0;
      case 'mixed':
        return bar ? (isHeavy(band) ? 0.5 : 0) : 1;
      case 'single':
        return bar ? 1 : 0;
    }
  };
}

type Attempt = Found & Readonly<{ worth: number; doors: number; doubled: number }>;

function attempt(sheet: Sheet, style: DrawStyle, knownPxPerM: number | null): Attempt {
  const { picture, bands, ink, linePx } = sheet;
  const weigh = weigher(style, sheet.heavy);
  let pieces = accepted(picture, bands, weigh);
  const nothing: Attempt = { walls: [], scale: null, style, worth: 0, doors: 0, doubled: 0 };
  if (pieces.length === 0) return nothing;
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
  const standing = doors.filter((door) =>
    jambsOf(door).some(([x, y]) =>
      kept.some(
        (wall) =>
          Math.abs(alongPx(wall, x, y) - wall.lengthPx / 2) < wall.lengthPx / 2 + 0.4 * pxPerM &&
          Math.abs(asidePx(wall, x, y)) < 0.3 * pxPerM + wall.thickPx / 2,
      ),
    ),
  );
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
