import { leavesOf } from '@/core/building/leaves';
import { spotAlong } from '@/core/geometry/segment';
import { distanceM } from '@/core/geometry/point';
import type { DrawnPlan, DrawnWall } from './plan';
import { INK, PAPER, arc, bar, blankSheet, hatching, type Shade, type Sheet } from './sheet';

/** How walls are drawn: filled, as outlines (empty, hatched or grey), or as one thin line. */
export const WALL_STYLES = ['filled', 'hollow', 'hatched', 'grey', 'single'] as const;
export type WallStyle = (typeof WALL_STYLES)[number];

/** A drawing being made: the sheet, and where metres lie on it. */
export type Draft = Readonly<{ sheet: Sheet; pxPerM: number; x: (xM: number) => number; y: (yM: number) => number }>;

const THIN_PX = 1.6;
/** Light grey of walls that are toned. */
const TONE = 186;

/** A blank sheet round a plan, with `marginM` about it. */
export function draftFor(
  { westM, northM, eastM, southM }: DrawnPlan,
  pxPerM: number,
  marginM: number,
  blank: (widthPx: number, heightPx: number) => Sheet = blankSheet,
): Draft {
  return {
    sheet: blank(Math.round((eastM - westM + 2 * marginM) * pxPerM), Math.round((southM - northM + 2 * marginM) * pxPerM)),
    pxPerM,
    x: (xM) => (xM - westM + marginM) * pxPerM,
    y: (yM) => (yM - northM + marginM) * pxPerM,
  };
}

/** A stretch of wall between openings; an end that is the wall's own reaches into the wall it meets. */
type Piece = Readonly<{ wall: DrawnWall; fromM: number; toM: number; openA: boolean; openB: boolean }>;

function piecesOf(wall: DrawnWall): Piece[] {
  const lengthM = distanceM(wall.segment.a, wall.segment.b);
  const pieces: Piece[] = [];
  let [fromM, openA] = [0, false];
  for (const { atM, widthM } of [...wall.openings].sort((p, q) => p.atM - q.atM)) {
    if (atM > fromM + 1e-6) pieces.push({ wall, fromM, toM: atM, openA, openB: true });
    [fromM, openA] = [atM + widthM, true];
  }
  if (lengthM > fromM + 1e-6) pieces.push({ wall, fromM, toM: lengthM, openA, openB: false });
  return pieces;
}

/** The walls of a plan in a style, with the leaves and arcs of doors and the lines of windows. */
export function drawWalls(draft: Draft, plan: DrawnPlan, style: WallStyle): void {
  const walls = plan.walls.filter(({ low }) => !low);
  const pieces = walls.flatMap(piecesOf);
  // All outlines first, then all insides: where walls meet no line is left between them.
  if (style === 'single') for (const piece of pieces) drawPiece(draft, piece, 0, INK);
  else for (const piece of pieces) drawPiece(draft, piece, piece.wall.thickM, INK);
  const inside: Shade | null =
    style === 'hollow' ? PAPER : style === 'hatched' ? hatching(Math.max(5, draft.pxPerM * 0.11)) : style === 'grey' ? TONE : null;
  if (inside !== null) {
    const linesM = (2 * THIN_PX) / draft.pxPerM;
    for (const piece of pieces) drawPiece(draft, piece, Math.max(0.02, piece.wall.thickM - linesM), inside, linesM / 2);
  }
  for (const wall of walls) drawOpenings(draft, wall, style);
}

function drawPiece({ sheet, pxPerM, x, y }: Draft, piece: Piece, thickM: number, shade: Shade, shorterM = 0): void {
  const { wall, fromM, toM, openA, openB } = piece;
  const beyond = (open: boolean): number => (open ? -shorterM : thickM / 2);
  const a = spotAlong(wall.segment, fromM - beyond(openA));
  const b = spotAlong(wall.segment, toM + beyond(openB));
  bar(sheet, x(a.xM), y(a.yM), x(b.xM), y(b.yM), thickM === 0 ? 2 : thickM * pxPerM, shade);
}

function drawOpenings({ sheet, pxPerM, x, y }: Draft, { segment, thickM, openings }: DrawnWall, style: WallStyle): void {
  const lengthM = distanceM(segment.a, segment.b);
  const [ux, uy] = [(segment.b.xM - segment.a.xM) / lengthM, (segment.b.yM - segment.a.yM) / lengthM];
  const half = style === 'single' ? 0.06 : thickM / 2 - THIN_PX / 2 / pxPerM;
  for (const { kind, atM, widthM, hinge, swing } of openings) {
    const [a, b] = [spotAlong(segment, atM), spotAlong(segment, atM + widthM)];
    if (kind === 'window')
      for (const aside of [-half, 0, half])
        bar(sheet, x(a.xM - uy * aside), y(a.yM + ux * aside), x(b.xM - uy * aside), y(b.yM + ux * aside), THIN_PX, INK);
    if (kind !== 'door') continue;
    const side = swing === 'left' ? -1 : 1;
    for (const { atM: hungM, way, widthM: wideM } of leavesOf({ atM, widthM, hinge })) {
      const at = spotAlong(segment, hungM);
      const tip = { xM: at.xM - uy * side * wideM, yM: at.yM + ux * side * wideM };
      bar(sheet, x(at.xM), y(at.yM), x(tip.xM), y(tip.yM), THIN_PX + 0.6, INK);
      const [closed, open] = [Math.atan2(uy * way, ux * way), Math.atan2(tip.yM - at.yM, tip.xM - at.xM)];
      const turn = Math.atan2(Math.sin(open - closed), Math.cos(open - closed));
      arc(sheet, x(at.xM), y(at.yM), wideM * pxPerM, closed, closed + turn, THIN_PX);
    }
  }
}
