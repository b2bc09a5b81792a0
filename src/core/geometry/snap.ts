import { distanceM, type PointM } from './point';

/** The nearest of some spots within `reachM` of a spot; null when none is. */
export function nearestSpot(at: PointM, spots: Iterable<PointM>, reachM: number): PointM | null {
  let best: PointM | null = null;
  let bestM = reachM;
  for (const spot of spots) {
    const away = distanceM(at, spot);
    if (away >= bestM) continue;
    best = spot;
    bestM = away;
  }
  return best;
}

/** The spot at the same distance from `fromM`, in the nearest direction that is a whole number of steps. */
export function alongSteps(fromM: PointM, at: PointM, stepDeg: number): PointM {
  const step = (stepDeg * Math.PI) / 180;
  const angle = Math.round(Math.atan2(at.yM - fromM.yM, at.xM - fromM.xM) / step) * step;
  const length = distanceM(fromM, at);
  return { xM: fromM.xM + length * Math.cos(angle), yM: fromM.yM + length * Math.sin(angle) };
}
