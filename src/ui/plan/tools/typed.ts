import { distanceM, type PointM } from '@/core/geometry/point';
import type { Line } from './machine';

/** The end of a line of a typed length: at the typed angle (0 to the right, 90 up the plan), else in the pointer's direction, else to the right. */
export function lineEnd({ fromM, toM }: Pick<Line, 'fromM' | 'toM'>, lengthM: number, angleDeg: number | null): PointM {
  const pointed = distanceM(fromM, toM);
  const turn = ((angleDeg ?? 0) * Math.PI) / 180;
  const [ux, uy] =
    angleDeg !== null || pointed === 0 ? [Math.cos(turn), -Math.sin(turn)] : [(toM.xM - fromM.xM) / pointed, (toM.yM - fromM.yM) / pointed];
  return { xM: fromM.xM + ux * lengthM, yM: fromM.yM + uy * lengthM };
}

/** The far corner of a box of typed sides, on the side where the pointer is. */
export const boxEnd = ({ fromM, toM }: Pick<Line, 'fromM' | 'toM'>, widthM: number, depthM: number): PointM => ({
  xM: fromM.xM + (toM.xM < fromM.xM ? -widthM : widthM),
  yM: fromM.yM + (toM.yM < fromM.yM ? -depthM : depthM),
});

/** Direction of a line in degrees: 0 to the right, 90 up the plan. */
export const angleOfDeg = ({ fromM, toM }: Pick<Line, 'fromM' | 'toM'>): number => (Math.atan2(fromM.yM - toM.yM, toM.xM - fromM.xM) * 180) / Math.PI;
