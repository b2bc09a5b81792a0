import type { PointM } from './point';

/** A closed ring without repeated last vertex. */
export type PolygonM = readonly PointM[];

/** What a ring encloses, less what its holes do. Holes lie inside the ring and apart from each other. */
export type RegionM = Readonly<{ polygon: PolygonM; holes: readonly PolygonM[] }>;

/** A region without holes. */
export const regionOf = (polygon: PolygonM): RegionM => ({ polygon, holes: [] });

/** All rings of a region, its outer one first. */
export const ringsOf = ({ polygon, holes }: RegionM): readonly PolygonM[] => [polygon, ...holes];

/** Whether the spot lies inside, by the even-odd rule. */
export function contains(polygon: PolygonM, xM: number, yM: number): boolean {
  let inside = false;
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
    const a = polygon[i]!;
    const b = polygon[j]!;
    if (a.yM > yM !== b.yM > yM && xM < ((b.xM - a.xM) * (yM - a.yM)) / (b.yM - a.yM) + a.xM) inside = !inside;
  }
  return inside;
}

/** Whether the spot lies in a region and in none of its holes. */
export const inRegion = ({ polygon, holes }: RegionM, xM: number, yM: number): boolean =>
  contains(polygon, xM, yM) && !holes.some((hole) => contains(hole, xM, yM));

/** Area in m2, by the shoelace formula: positive for a ring written clockwise as the plan is seen (y downward), else negative. */
export function signedAreaM2(polygon: PolygonM): number {
  let twice = 0;
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) twice += polygon[j]!.xM * polygon[i]!.yM - polygon[i]!.xM * polygon[j]!.yM;
  return twice / 2;
}

/** Area in m2; never negative. */
export const areaM2 = (polygon: PolygonM): number => Math.abs(signedAreaM2(polygon));

/** Area in m2 of a region, its holes taken off. */
export const regionAreaM2 = ({ polygon, holes }: RegionM): number => holes.reduce((sum, hole) => sum - areaM2(hole), areaM2(polygon));

/** The mean of the vertices: good enough to put a name on a room. */
export function centreOf(polygon: PolygonM): PointM {
  const n = Math.max(1, polygon.length);
  return { xM: polygon.reduce((s, p) => s + p.xM, 0) / n, yM: polygon.reduce((s, p) => s + p.yM, 0) / n };
}

/** The box around all points; `null` when there are none. */
export function boundsOf(points: Iterable<PointM>): { westM: number; northM: number; eastM: number; southM: number } | null {
  let westM = Infinity;
  let northM = Infinity;
  let eastM = -Infinity;
  let southM = -Infinity;
  for (const { xM, yM } of points) {
    westM = Math.min(westM, xM);
    eastM = Math.max(eastM, xM);
    northM = Math.min(northM, yM);
    southM = Math.max(southM, yM);
  }
  return westM === Infinity ? null : { westM, northM, eastM, southM };
}
