import { segmentOf, type Wall } from '@/core/building/wall';
import type { View } from '../state/types';
import type { LabelBox } from './labels';
import { toScreen, type Size } from './view';

/** Where lines are drawn on the screen, as a lattice of small squares that a line passes or does not. */
export type DrawnLines = Readonly<{ cols: number; rows: number; passed: Uint8Array }>;

const SQUARE_PX = 5;

/** The squares that walls pass, of those the window shows. */
export function linesOf(walls: readonly Wall[], view: View, size: Size): DrawnLines {
  const cols = Math.ceil(size.widthPx / SQUARE_PX);
  const rows = Math.ceil(size.heightPx / SQUARE_PX);
  const passed = new Uint8Array(cols * rows);
  for (const wall of walls) {
    const ends = segmentOf(wall);
    const [a, b] = [toScreen(view, ends.a), toScreen(view, ends.b)];
    if (Math.max(a.x, b.x) < 0 || Math.max(a.y, b.y) < 0 || Math.min(a.x, b.x) > size.widthPx || Math.min(a.y, b.y) > size.heightPx) continue;
    // Two looks a square pass none by but for its corner.
    const steps = Math.ceil((Math.hypot(b.x - a.x, b.y - a.y) / SQUARE_PX) * 2) + 1;
    for (let k = 0; k <= steps; k++) {
      const col = Math.floor((a.x + ((b.x - a.x) * k) / steps) / SQUARE_PX);
      const row = Math.floor((a.y + ((b.y - a.y) * k) / steps) / SQUARE_PX);
      if (col >= 0 && row >= 0 && col < cols && row < rows) passed[row * cols + col] = 1;
    }
  }
  return { cols, rows, passed };
}

/** Whether any of the lines passes a box. */
export function isCrossed(box: LabelBox, { cols, rows, passed }: DrawnLines): boolean {
  const toCol = Math.min(cols - 1, Math.floor((box.x + box.width) / SQUARE_PX));
  const toRow = Math.min(rows - 1, Math.floor((box.y + box.height) / SQUARE_PX));
  for (let row = Math.max(0, Math.floor(box.y / SQUARE_PX)); row <= toRow; row++)
    for (let col = Math.max(0, Math.floor(box.x / SQUARE_PX)); col <= toCol; col++) if (passed[row * cols + col] === 1) return true;
  return false;
}
