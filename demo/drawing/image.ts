import { drawClutter } from './clutter';
import type { DrawnPlan } from './plan';
import { scanned } from './scan';
import type { Sheet } from './sheet';
import { draftFor, drawWalls, type WallStyle } from './styles';

/** How a plan is put on paper: `busy` with all that an architect adds, `scan` as an old scanner gives it. */
export type Look = Readonly<{ style: WallStyle; pxPerM: number; busy?: boolean; scan?: boolean; seed?: number }>;

/** What is left around the outline on the sheet, in m. */
export const MARGIN_M = 2;

/** An architect's drawing of a floor. One metre is `pxPerM` px; the outline's corner lies `MARGIN_M` inside the sheet. */
export function drawnSheet(plan: DrawnPlan, { style, pxPerM, busy = false, scan = false, seed = 1 }: Look): Sheet {
  const draft = draftFor(plan, pxPerM, MARGIN_M);
  if (busy) drawClutter(draft, plan, seed);
  drawWalls(draft, plan, style);
  return scan ? scanned(draft.sheet, seed) : draft.sheet;
}
