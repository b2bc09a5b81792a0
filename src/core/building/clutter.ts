import { boundsOf, ringsOf, signedAreaM2, type RegionM } from '../geometry/polygon';
import { BANDS, type Band } from '../radio/band';

/** What stands about in an area, too much of it to be drawn piece by piece: up to a height over the floor, with a loss per metre of way through it. */
export type ClutterKind = Readonly<{ topM: number; dbPerM: Readonly<Record<Band, number>> }>;

/**
 * Clutter made ready for rays: an upright body over a region. Heights in the building's z; `dbPerM` in the order of BANDS. `sides` holds x and y of both
 * ends of each side of each ring, the outer ring clockwise as the plan is seen and holes against it, so that a way enters where it passes a side from one
 * hand and leaves where it passes one from the other.
 */
export type Clutter = Readonly<{
  zoneId: string;
  region: RegionM;
  sides: Float64Array;
  westM: number;
  northM: number;
  eastM: number;
  southM: number;
  baseZM: number;
  topZM: number;
  dbPerM: readonly number[];
}>;

/** A body of clutter over a region of a floor at `elevationM`. */
export function clutterOf(zoneId: string, region: RegionM, { topM, dbPerM }: ClutterKind, elevationM: number): Clutter {
  const sides = ringsOf(region).flatMap((ring, r) => {
    const turned = signedAreaM2(ring) > 0 === (r === 0) ? ring : [...ring].reverse();
    return turned.flatMap((a, i) => {
      const b = turned[(i + 1) % turned.length]!;
      return [a.xM, a.yM, b.xM, b.yM];
    });
  });
  return {
    zoneId,
    region: { polygon: region.polygon, holes: region.holes },
    sides: Float64Array.from(sides),
    ...boundsOf(region.polygon)!,
    baseZM: elevationM,
    topZM: elevationM + topM,
    dbPerM: BANDS.map((band) => dbPerM[band]),
  };
}

/**
 * The share (0 to 1) of the way from A to C that runs inside the body. Every side that the way's whole line passes adds or takes off what lies
 * beyond it, so that no sorting is needed and regions of any shape with any holes are exact.
 */
export function shareInside(clutter: Clutter, ax: number, ay: number, az: number, cx: number, cy: number, cz: number): number {
  const { baseZM, topZM, sides } = clutter;
  const rise = cz - az;
  let from = 0;
  let to = 1;
  if (rise === 0) {
    if (az < baseZM || az >= topZM) return 0;
  } else {
    const atBase = (baseZM - az) / rise;
    const atTop = (topZM - az) / rise;
    from = Math.max(0, Math.min(atBase, atTop));
    to = Math.min(1, Math.max(atBase, atTop));
    if (from >= to) return 0;
  }
  const dx = cx - ax;
  const dy = cy - ay;
  // What lies beside the body altogether is passed by.
  const [fromX, toX, fromY, toY] = [ax + dx * from, ax + dx * to, ay + dy * from, ay + dy * to];
  if ((fromX < clutter.westM && toX < clutter.westM) || (fromX > clutter.eastM && toX > clutter.eastM)) return 0;
  if ((fromY < clutter.northM && toY < clutter.northM) || (fromY > clutter.southM && toY > clutter.southM)) return 0;
  let inside = 0;
  for (let e = 0; e < sides.length; e += 4) {
    const px = sides[e]! - ax;
    const py = sides[e + 1]! - ay;
    const qx = sides[e + 2]! - ax;
    const qy = sides[e + 3]! - ay;
    const sideP = dx * py - dy * px;
    const sideQ = dx * qy - dy * qx;
    if (sideP > 0 === sideQ > 0) continue;
    const share = (px * qy - py * qx) / (sideQ - sideP);
    const beyond = to - (share < from ? from : share > to ? to : share);
    inside += sideP > 0 ? beyond : -beyond;
  }
  return inside > 0 ? inside : 0;
}
