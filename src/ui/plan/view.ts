import type { PointM } from '@/core/geometry/point';
import { boundsOf, type PolygonM } from '@/core/geometry/polygon';
import type { View } from '../state/types';

export type Size = Readonly<{ widthPx: number; heightPx: number }>;
/** A box on the screen that a label takes. */
export type LabelBox = Readonly<{ x: number; y: number; width: number; height: number }>;
export type PointPx = Readonly<{ x: number; y: number }>;

export const toScreen = (view: View, p: PointM): PointPx => ({ x: (p.xM - view.leftM) * view.pxPerM, y: (p.yM - view.topM) * view.pxPerM });
export const toPlan = (view: View, x: number, y: number): PointM => ({ xM: view.leftM + x / view.pxPerM, yM: view.topM + y / view.pxPerM });

/** Room at the lower edge for the scale bar and the zoom buttons. */
const FOOT_PX = 10;

/** The view that shows a box whole, with a margin. */
export function fitView(box: { westM: number; northM: number; eastM: number; southM: number }, full: Size, marginPx = 22): View {
  const size = { ...full, heightPx: full.heightPx - FOOT_PX };
  const pxPerM = Math.max(
    0.2,
    Math.min((size.widthPx - 2 * marginPx) / (box.eastM - box.westM), (size.heightPx - 2 * marginPx) / (box.southM - box.northM)),
  );
  return {
    pxPerM,
    leftM: (box.westM + box.eastM) / 2 - size.widthPx / 2 / pxPerM,
    topM: (box.northM + box.southM) / 2 - size.heightPx / 2 / pxPerM,
  };
}

/** The view that shows a floor whole; one without an outline as a box of 10 m. */
export const fitPlan = (outline: PolygonM, size: Size): View => fitView(boundsOf(outline) ?? { westM: 0, northM: 0, eastM: 10, southM: 10 }, size);

/** Where labels may stand: within the outline and the window. */
export function insideOf(outline: PolygonM, view: View, size: Size): LabelBox {
  const box = boundsOf(outline) ?? { westM: 0, northM: 0, eastM: 0, southM: 0 };
  const [from, to] = [toScreen(view, { xM: box.westM, yM: box.northM }), toScreen(view, { xM: box.eastM, yM: box.southM })];
  const x = Math.max(0, from.x);
  const y = Math.max(0, from.y);
  return { x, y, width: Math.min(size.widthPx, to.x) - x, height: Math.min(size.heightPx, to.y) - y };
}

/** The view enlarged by a factor with the spot under the pointer kept in place. */
export function zoomView(view: View, factor: number, x: number, y: number): View {
  const pxPerM = Math.min(400, Math.max(0.5, view.pxPerM * factor));
  const at = toPlan(view, x, y);
  return { pxPerM, leftM: at.xM - x / pxPerM, topM: at.yM - y / pxPerM };
}

/** A round length for the scale bar that comes to 60 to 160 px: 1, 2 or 5 times a power of ten, in `unitM` metres. */
export function scaleBar(pxPerM: number, unitM: number): { units: number; px: number } {
  for (let power = -1; power < 5; power++) {
    for (const digit of [1, 2, 5]) {
      const units = digit * 10 ** power;
      const px = units * unitM * pxPerM;
      if (px >= 60) return { units, px };
    }
  }
  return { units: 1, px: unitM * pxPerM };
}
