import { shareInside, type Clutter } from '../building/clutter';
import { LOSS_UNIT_DB } from '../building/material';
import { obstaclesOf, type Obstacle } from '../building/obstacles';
import type { Panes } from '../building/panes';
import { meetsSlab, slabUnits, type Slab } from '../building/slab';
import { gainDbi, type Antenna } from '../radio/antenna';
import { BANDS, bandIndex, centreOfBandMhz, type Band } from '../radio/band';
import { distanceM, type PointM } from '../geometry/point';
import { alongM, crossingOf, distanceToM } from '../geometry/segment';
import { WAYS, bendingAt, newPassing, obstaclesLossDb, passObstacle, type Way } from './diffraction';
import { crossingShare, crossingsFrom, slabShare, POSE_SHIFT_M, type Crossings, type Pose, type Spot } from './crossing';
import { mediumAt, type Medium } from './medium';
import { pathLossDb } from './pathLoss';
import { panesMetFrom } from './slant';

/**
 * Total loss in walls and slabs that one ray passes through, in LOSS_UNIT_DB, per band into `out`; what it may go round is not in it. Exact by
 * definition: every one is tried.
 */
export function rayLossUnits(medium: Medium, pose: Pose, cx: number, cy: number, cz: number, out: Int32Array): void {
  const { panes, slabs } = medium;
  out.fill(0);
  const ax = pose.xM + POSE_SHIFT_M.xM;
  const ay = pose.yM + POSE_SHIFT_M.yM;
  const az = pose.zM + POSE_SHIFT_M.zM;
  const { of } = obstaclesOf(panes);
  const bending = bendingAt(panes, ax, ay, az, cz);
  const { panes: met, origin } = panesMetFrom(medium, ax, ay);
  for (let p = 0; p < met.count; p++) {
    if (of[origin[p]!]! >= 0 && bending[of[origin[p]!]!] === 1) continue;
    if (crossingShare(met, p, ax, ay, az, cx, cy, cz) < 0) continue;
    for (let b = 0; b < BANDS.length; b++) out[b]! += met.lossUnits[p * BANDS.length + b]!;
  }
  const under = slabs.filter((slab) => {
    const share = slabShare(slab, az, cz);
    return share >= 0 && meetsSlab(slab, ax + share * (cx - ax), ay + share * (cy - ay));
  });
  if (under.length > 0) for (let b = 0; b < BANDS.length; b++) for (const units of slabUnits(under, b)) out[b]! += units;
}

/**
 * One wall's part in a sight line, or that of an opening in it, of which material; where on the way, and at which height of the building. `way`: for what may be gone round, by which way most of what
 * arrives comes; null for what is simply passed through.
 */
export type WallCharge = Readonly<{ wallId: string; materialId: string; share: number; zM: number; lossDb: number; way: Way | null }>;

/** One slab's part in a sight line: where on the way it is passed, and at which height of the building. */
export type SlabCharge = Readonly<{ share: number; zM: number; lossDb: number }>;

/** One body of clutter in a sight line: how far the ray runs through it, the loss of that, and where on the way half of it is done. */
export type ClutterCharge = Readonly<{ zoneId: string; lengthM: number; share: number; zM: number; lossDb: number }>;

/** Where on the way from A to C half of what runs inside a body is done, by halving. */
function middleInside(body: Clutter, ax: number, ay: number, az: number, cx: number, cy: number, cz: number): number {
  const half = shareInside(body, ax, ay, az, cx, cy, cz) / 2;
  let [low, high] = [0, 1];
  for (let i = 0; i < 24; i++) {
    const t = (low + high) / 2;
    if (t * shareInside(body, ax, ay, az, ax + (cx - ax) * t, ay + (cy - ay) * t, az + (cz - az) * t) < half) low = t;
    else high = t;
  }
  return high;
}

/** The link budget of one ray in one band, all in dB: `lossDb = pathLossDb + wallLossDb + slabLossDb + clutterLossDb - antennaGainDbi - endGainDbi`. */
export type SightLine = Readonly<{
  distanceM: number;
  pathLossDb: number;
  antennaGainDbi: number;
  /** Gain of what receives, toward the antenna. */
  endGainDbi: number;
  wallLossDb: number;
  slabLossDb: number;
  clutterLossDb: number;
  lossDb: number;
  walls: readonly WallCharge[];
  slabs: readonly SlabCharge[];
  clutter: readonly ClutterCharge[];
}>;

const passing = newPassing();

/**
 * What obstacles in the way cost that may be gone round. Together they cost what `obstaclesLossDb` says; each is told the part that it would have alone.
 */
function bentCharges(panes: Panes, bending: Uint8Array, ax: number, ay: number, az: number, { xM, yM, zM }: Spot, lane: number): WallCharge[] {
  const alone: WallCharge[] = [];
  let [product, edges] = [1, 0];
  obstaclesOf(panes).list.forEach((o, i) => {
    if (bending[i] !== 1 || !passObstacle(o, panes, ax, ay, az, xM, yM, zM, passing) || passing.share[lane]! >= 1) return;
    product *= passing.share[lane]!;
    edges += 1 / Math.sqrt(passing.fill[lane]!) - 1;
    const { pane, share } = placeOnWay(o, panes, ax, ay, xM, yM);
    alone.push({
      wallId: panes.wallIds[panes.wallIndex[pane]!]!,
      materialId: panes.materials[panes.materialIndex[pane]!]!.id,
      share,
      zM: az + share * (zM - az),
      lossDb: -10 * Math.log10(passing.share[lane]!),
      way: WAYS[passing.way[lane]!]!,
    });
  });
  const sumDb = alone.reduce((sum, { lossDb }) => sum + lossDb, 0);
  const scale = sumDb > 0 ? obstaclesLossDb(product, edges) / sumDb : 0;
  return alone.map((charge) => ({ ...charge, lossDb: charge.lossDb * scale }));
}

/** Where on the way, seen from above, an obstacle stands: where it is crossed first, else beside its nearest corner. */
function placeOnWay(o: Obstacle, panes: Panes, ax: number, ay: number, cx: number, cy: number): { pane: number; share: number } {
  const way = { a: { xM: ax, yM: ay }, b: { xM: cx, yM: cy } };
  const shareOf = (at: PointM): number => alongM(way, at) / distanceM(way.a, way.b);
  let first = { pane: o.panes[0]!, share: Infinity };
  for (const pane of o.panes) {
    const [px, py, qx, qy] = panes.ends.subarray(pane * 4, pane * 4 + 4) as unknown as [number, number, number, number];
    const piece = { a: { xM: px, yM: py }, b: { xM: qx, yM: qy } };
    const crossing = crossingOf(way, piece);
    if (crossing === null || distanceToM(piece, crossing) > 1e-6) continue;
    const share = shareOf(crossing);
    if (share > 0 && share < 1 && share < first.share) first = { pane, share };
  }
  if (first.share !== Infinity) return first;
  const corners = Array.from(o.free, (_, k) => ({ xM: o.corners[k * 2]!, yM: o.corners[k * 2 + 1]! }));
  const nearest = corners.reduce((best, corner, k) => (distanceToM(way, corner) < distanceToM(way, corners[best]!) ? k : best), 0);
  return { pane: o.panes[o.panesAt[nearest]![0]!]!, share: Math.max(0, Math.min(1, shareOf(corners[nearest]!))) };
}

/**
 * The budget of the ray from an access point's antenna to a spot, wall by wall, nearest the access point first.
 * @param centreMhz at which path, walls and slabs are computed: a channel's, where there is one
 */
export const sightLine = (
  medium: Medium,
  pose: Pose,
  antenna: Antenna,
  band: Band,
  end: Spot,
  endGainDbi = 0,
  centreMhz = centreOfBandMhz(band),
): SightLine => sightLinesFrom(medium, pose, antenna, band, centreMhz)(end, endGainDbi);

function slabCharges(slabs: readonly Slab[], ax: number, ay: number, az: number, { xM, yM, zM }: Spot, lane: number): SlabCharge[] {
  const passed = slabs.flatMap((slab) => {
    const share = slabShare(slab, az, zM);
    return share >= 0 && meetsSlab(slab, ax + share * (xM - ax), ay + share * (yM - ay)) ? [{ slab, share }] : [];
  });
  const units = slabUnits(
    passed.map(({ slab }) => slab),
    lane,
  );
  return passed.flatMap(({ slab, share }, i) => (units[i] === 0 ? [] : [{ share, zM: slab.zM, lossDb: units[i]! * LOSS_UNIT_DB }]));
}

function clutterCharges(
  clutter: readonly Clutter[],
  ax: number,
  ay: number,
  az: number,
  { xM, yM, zM }: Spot,
  distanceM: number,
  lane: number,
): ClutterCharge[] {
  return clutter.flatMap((body) => {
    const lengthM = shareInside(body, ax, ay, az, xM, yM, zM) * distanceM;
    if (lengthM === 0) return [];
    const share = middleInside(body, ax, ay, az, xM, yM, zM);
    return [{ zoneId: body.zoneId, lengthM, share, zM: az + share * (zM - az), lossDb: lengthM * body.dbPerM[lane]! }];
  });
}

/** Most rays meet nothing of some kinds: of these all say so with one list. */
const NONE: readonly never[] = [];

/** What one ray costs, as in a sight line; of what it passes straight through how many, which `Rays.crossings` names until the next ray is asked for, and what it goes round. */
type Ray = Omit<SightLine, 'walls'> & Readonly<{ crossed: number; round: readonly WallCharge[] }>;

/** Rays from one antenna, of a band. */
export type Rays = Readonly<{ crossings: Crossings; to: (end: Spot, endGainDbi?: number) => Ray }>;

/** Rays from an antenna to any spots: what is the same for all of them is made ready once. */
export function raysFrom(medium: Medium, pose: Pose, antenna: Antenna, band: Band, centreMhz = centreOfBandMhz(band)): Rays {
  const lane = bandIndex(band);
  const met = mediumAt(
    medium,
    BANDS.map((_, i) => (i === lane ? centreMhz : null)),
  );
  const { panes, slabs, clutter, propagation } = met;
  const ax = pose.xM + POSE_SHIFT_M.xM;
  const ay = pose.yM + POSE_SHIFT_M.yM;
  const az = pose.zM + POSE_SHIFT_M.zM;
  const { list: obstacles } = obstaclesOf(panes);
  const crossings = crossingsFrom(met, pose, band);
  const to = (end: Spot, endGainDbi = 0): Ray => {
    const { xM, yM, zM } = end;
    const crossed = crossings.meet(end);
    let units = 0;
    for (let k = 0; k < crossed; k++) units += crossings.pieces.lossUnits[crossings.pane[k]! * BANDS.length + lane]!;
    const round = obstacles.length === 0 ? NONE : bentCharges(panes, bendingAt(panes, ax, ay, az, zM), ax, ay, az, end, lane);
    const charged = slabs.length === 0 ? NONE : slabCharges(slabs, ax, ay, az, end, lane);
    const distanceM = Math.sqrt((xM - ax) ** 2 + (yM - ay) ** 2 + (zM - az) ** 2);
    const path = pathLossDb(centreMhz, distanceM, propagation.exponent);
    const antennaGainDbi = gainDbi(antenna, pose.azimuthDeg, pose.tiltDeg, xM - ax, yM - ay, zM - az);
    const wallLossDb = units * LOSS_UNIT_DB + sumDb(round);
    const through = clutter.length === 0 ? NONE : clutterCharges(clutter, ax, ay, az, end, distanceM, lane);
    const clutterLossDb = sumDb(through);
    const slabLossDb = sumDb(charged);
    const lossDb = path + wallLossDb + slabLossDb + clutterLossDb - antennaGainDbi - endGainDbi;
    return {
      distanceM,
      pathLossDb: path,
      antennaGainDbi,
      endGainDbi,
      wallLossDb,
      slabLossDb,
      clutterLossDb,
      lossDb,
      slabs: charged,
      clutter: through,
      crossed,
      round,
    };
  };
  return { crossings, to };
}

const sumDb = (charges: ReadonlyArray<Readonly<{ lossDb: number }>>): number => charges.reduce((sum, { lossDb }) => sum + lossDb, 0);

/** As `sightLine`, of many spots. */
export function sightLinesFrom(
  medium: Medium,
  pose: Pose,
  antenna: Antenna,
  band: Band,
  centreMhz = centreOfBandMhz(band),
): (end: Spot, endGainDbi?: number) => SightLine {
  const lane = bandIndex(band);
  const az = pose.zM + POSE_SHIFT_M.zM;
  const { crossings, to } = raysFrom(medium, pose, antenna, band, centreMhz);
  const { pieces, pane, share } = crossings;
  return (end, endGainDbi) => {
    const { crossed, round, ...budget } = to(end, endGainDbi);
    const walls: WallCharge[] = [];
    for (let k = 0; k < crossed; k++) {
      const p = pane[k]!;
      const wallId = pieces.wallIds[pieces.wallIndex[p]!]!;
      const materialId = pieces.materials[pieces.materialIndex[p]!]!.id;
      const lossDb = pieces.lossUnits[p * BANDS.length + lane]! * LOSS_UNIT_DB;
      walls.push({ wallId, materialId, share: share[k]!, zM: az + share[k]! * (end.zM - az), lossDb, way: null });
    }
    // What is passed straight through comes in order already.
    if (round.length > 0) {
      walls.push(...round);
      walls.sort((p, q) => p.share - q.share);
    }
    return { ...budget, walls };
  };
}
