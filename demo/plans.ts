import { createHash } from 'node:crypto';
import { floorsOf, type Drawing, type Reference } from '@/core/design/design';
import type { DemoBuilding } from './build';
import { MARGIN_M, drawnSheet } from './drawing/image';
import { planOf } from './drawing/plan';
import { pngOf } from './drawing/png';
import type { Sheet } from './drawing/sheet';

/** Pixels a metre: of the architect's clean drawing, and of the old one that somebody scanned. */
const CLEAN_PX_PER_M = 20;
const SCAN_PX_PER_M = 30;
/** The scan has no scale until somebody measures it: it lies as wide as any drawing that comes in. */
const GUESSED_WIDTH_M = 50;

/**
 * A building with two drawings under each floor, hidden for the walls stand: the architect's, given its true size by the lengths of two outer
 * walls, and a scan of an old sheet with furniture, dimensions and noise, of which nothing is known.
 */
export function withPlans({ design, sites }: DemoBuilding): DemoBuilding & Readonly<{ assets: readonly Uint8Array[] }> {
  const drawings: Record<string, Drawing> = {};
  const references: Record<string, Reference> = {};
  const assets: Uint8Array[] = [];
  const add = (fields: Pick<Drawing, 'id' | 'floorId' | 'name' | 'xM' | 'yM'>, sheet: Sheet, mPerPx: number) => {
    const bytes = pngOf(sheet);
    assets.push(bytes);
    drawings[fields.id] = {
      ...fields,
      assetId: createHash('sha256').update(bytes).digest('hex'),
      widthPx: sheet.widthPx,
      heightPx: sheet.heightPx,
      mPerPxX: mPerPx,
      mPerPxY: mPerPx,
      turnDeg: 0,
      source: null,
      scaleFrom: 'guess',
      apart: false,
      opacity: 0.5,
      hidden: true,
      invertAtNight: true,
      crop: { leftPx: 0, topPx: 0, rightPx: 0, bottomPx: 0 },
    };
  };
  floorsOf(design).forEach((floor, i) => {
    const plan = planOf(design, floor.id);
    const { westM, northM, eastM, southM } = plan;
    const id = `${floor.id}-plan`;
    add(
      { id, floorId: floor.id, name: `${floor.name}, drawing`, xM: westM - MARGIN_M, yM: northM - MARGIN_M },
      drawnSheet(plan, { style: 'filled', pxPerM: CLEAN_PX_PER_M }),
      1 / CLEAN_PX_PER_M,
    );
    const px = (m: number): number => (m + MARGIN_M) * CLEAN_PX_PER_M;
    const [wideM, deepM] = [eastM - westM, southM - northM];
    references[`${id}-1`] = { id: `${id}-1`, drawingId: id, axPx: px(0), ayPx: px(0), bxPx: px(wideM), byPx: px(0), lengthM: wideM };
    references[`${id}-2`] = { id: `${id}-2`, drawingId: id, axPx: px(0), ayPx: px(0), bxPx: px(0), byPx: px(deepM), lengthM: deepM };
    const scan = drawnSheet(plan, { style: 'filled', pxPerM: SCAN_PX_PER_M, busy: true, scan: true, seed: i + 1 });
    add({ id: `${floor.id}-scan`, floorId: floor.id, name: `${floor.name}, old scan`, xM: westM, yM: northM }, scan, GUESSED_WIDTH_M / scan.widthPx);
  });
  return { design: { ...design, drawings, references }, sites, assets };
}
