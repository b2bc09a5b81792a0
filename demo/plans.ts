import { createHash } from 'node:crypto';
import { floorsOf, type Drawing, type Reference } from '@/core/design/design';
import { boundsOf } from '@/core/geometry/polygon';
import type { DemoBuilding } from './build';
import { MARGIN_M, drawnSheet } from './drawing/image';
import { planOf } from './drawing/plan';
import { pngOf } from './drawing/png';

const PX_PER_M = 20;

/** A building with a drawing under each floor, given its true size by the lengths of two outer walls. They are hidden: the walls stand. */
export function withPlans({ design, sites }: DemoBuilding): DemoBuilding & Readonly<{ assets: readonly Uint8Array[] }> {
  const drawings: Record<string, Drawing> = {};
  const references: Record<string, Reference> = {};
  const assets: Uint8Array[] = [];
  for (const floor of floorsOf(design)) {
    const bytes = pngOf(drawnSheet(planOf(design, floor.id), { style: 'filled', pxPerM: PX_PER_M }));
    const { westM, northM, eastM, southM } = boundsOf(floor.outline)!;
    const id = `${floor.id}-plan`;
    const px = (m: number): number => (m + MARGIN_M) * PX_PER_M;
    const [wideM, deepM] = [eastM - westM, southM - northM];
    assets.push(bytes);
    drawings[id] = {
      id,
      floorId: floor.id,
      name: `${floor.name}, drawing`,
      assetId: createHash('sha256').update(bytes).digest('hex'),
      widthPx: px(wideM) + px(0),
      heightPx: px(deepM) + px(0),
      xM: westM - MARGIN_M,
      yM: northM - MARGIN_M,
      mPerPxX: 1 / PX_PER_M,
      mPerPxY: 1 / PX_PER_M,
      turnDeg: 0,
      scaleFrom: 'guess',
      apart: false,
      opacity: 0.5,
      hidden: true,
      invertAtNight: true,
      crop: { leftPx: 0, topPx: 0, rightPx: 0, bottomPx: 0 },
    };
    references[`${id}-1`] = { id: `${id}-1`, drawingId: id, axPx: px(0), ayPx: px(0), bxPx: px(wideM), byPx: px(0), lengthM: wideM };
    references[`${id}-2`] = { id: `${id}-2`, drawingId: id, axPx: px(0), ayPx: px(0), bxPx: px(0), byPx: px(deepM), lengthM: deepM };
  }
  return { design: { ...design, drawings, references }, sites, assets };
}
