import { encloses, obstaclesOf, type Obstacle } from '../building/obstacles';
import type { Panes } from '../building/panes';
import { BANDS, centreOfBandMhz } from '../radio/band';
import { SPEED_OF_LIGHT_M_S } from './pathLoss';

const LANES = BANDS.length;
/** v = 2 sqrt(d / wavelength), by band: the factor of sqrt(d). ITU-R P.526-15, eq. (26) with the path difference d. */
export const PER_ROOT_M = BANDS.map((band) => 2 * Math.sqrt((centreOfBandMhz(band) * 1e6) / SPEED_OF_LIGHT_M_S));
/** The longest waves reach farthest into the light. */
export const LONGEST_WAVE_M = Math.max(...BANDS.map((band) => SPEED_OF_LIGHT_M_S / (centreOfBandMhz(band) * 1e6)));

const AT_EDGE = 10 ** -0.69;
/** Farther into the light than this nothing is lost at an edge. */
export const LIT_V = 0.79;

/** Share of power that passes a knife edge, 0 to 1, for the parameter v. ITU-R P.526-15, eq. (31): 10^(-J/10) with J = 6.9 + 20 log10(sqrt(w^2 + 1) + w), w = v - 0.1. */
export function passingEdge(v: number): number {
  const w = v - 0.1;
  if (w < -0.9) return 1;
  // Where v is large, as a quotient: a difference would lose all digits, and of Infinity be no number.
  const far = Math.sqrt(w * w + 1) + Math.abs(w);
  const root = w > 0 ? 1 / far : far;
  const share = AT_EDGE * root * root;
  return share < 1 ? share : 1;
}

/** By which way most of what passes an obstacle comes. */
export const WAYS = ['through', 'over the top', 'round the end'] as const;
export type Way = (typeof WAYS)[number];

/** What an obstacle does to a ray, by band: the share of power that passes it, that of its fill alone, and by which way most comes. Reused. */
export type Passing = { readonly share: Float64Array; readonly fill: Float64Array; readonly way: Uint8Array };
export const newPassing = (): Passing => ({ share: new Float64Array(LANES), fill: new Float64Array(LANES), way: new Uint8Array(LANES) });

const through = new Float64Array(LANES);

/** Whether an obstacle bends rays from A to a height: both stay in its storey, and A does not stand in it. */
const bends = (o: Obstacle, panes: Panes, ax: number, ay: number, az: number, planeZM: number): boolean =>
  az >= o.storeyFromZM && az < o.storeyToZM && planeZM >= o.storeyFromZM && planeZM < o.storeyToZM && !encloses(o, panes, ax, ay);

const NONE = new Uint8Array(0);

/** Which obstacles bend rays from A to a height, 1 for each that does: of the others and of all else every pane that is met is passed through. */
export function bendingAt(panes: Panes, ax: number, ay: number, az: number, planeZM: number): Uint8Array {
  const { list } = obstaclesOf(panes);
  if (list.length === 0) return NONE;
  const known = newest.get(panes);
  if (known !== undefined && known.ax === ax && known.ay === ay && known.az === az && known.planeZM === planeZM) return known.bending;
  const bending = Uint8Array.from(list, (o) => (bends(o, panes, ax, ay, az, planeZM) ? 1 : 0));
  newest.set(panes, { ax, ay, az, planeZM, bending });
  return bending;
}

/** The last answer for each plan: one access point is asked of for many spots at one height. Nobody writes into it. */
const newest = new WeakMap<Panes, { ax: number; ay: number; az: number; planeZM: number; bending: Uint8Array }>();

/**
 * What passes one obstacle on the way from A to C. Its shadow is filled from round its outermost free corners on either side and over its top, each a
 * knife edge; what is not filled comes through its panes. Grazing is the same from both sides of an edge, so the field is continuous there.
 * @returns false where nothing is lost
 */
export function passObstacle(
  o: Obstacle,
  panes: Panes,
  ax: number,
  ay: number,
  az: number,
  cx: number,
  cy: number,
  cz: number,
  out: Passing,
): boolean {
  const { ends } = panes;
  const dx = cx - ax;
  const dy = cy - ay;
  const dz = cz - az;
  const planM = Math.sqrt(dx * dx + dy * dy);
  const straightM = Math.sqrt(planM * planM + dz * dz);

  // How much longer the ways round its corners are: the longest on either side, and the shortest of all.
  let left = -1;
  let right = -1;
  let shortest = Infinity;
  let nearest = -1;
  for (let k = 0; k < o.free.length; k++) {
    const vx = o.corners[k * 2]! - ax;
    const vy = o.corners[k * 2 + 1]! - ay;
    const side = dx * vy - dy * vx;
    let d = Infinity;
    if (o.free[k] === 1) {
      const there = Math.sqrt(vx * vx + vy * vy);
      const on = Math.sqrt((dx - vx) * (dx - vx) + (dy - vy) * (dy - vy));
      d = Math.sqrt((there + on) * (there + on) + dz * dz) - straightM;
      if (d < 0) d = 0;
      if (d < shortest) {
        shortest = d;
        nearest = k;
      }
    }
    if (side > 0) {
      if (d > left) left = d;
    } else if (d > right) right = d;
  }

  // What lies on the way, seen from above.
  let crossed = false;
  let overV = -Infinity;
  const low = o.topZM !== Infinity;
  through.fill(1);
  for (let i = 0; i < o.panes.length; i++) {
    const p = o.panes[i]!;
    const px = ends[p * 4]! - ax;
    const py = ends[p * 4 + 1]! - ay;
    const qx = ends[p * 4 + 2]! - ax;
    const qy = ends[p * 4 + 3]! - ay;
    const sideP = dx * py - dy * px;
    const sideQ = dx * qy - dy * qx;
    if (sideP > 0 === sideQ > 0) continue;
    const t = (px * qy - py * qx) / (sideQ - sideP);
    if (!(t > 0 && t < 1)) continue;
    crossed = true;
    for (let b = 0; b < LANES; b++) through[b]! *= o.through[i * LANES + b]!;
    if (low) {
      const v = overTop(planM * t, planM * (1 - t), panes.heights[p * 2 + 1]!, az, cz, straightM);
      if (v > overV) overV = v;
    }
  }
  if (!crossed) {
    if (nearest < 0 || PER_ROOT_M[0]! * Math.sqrt(shortest) >= LIT_V) return false;
    const at = o.panesAt[nearest]!;
    for (let i = 0; i < at.length; i++) for (let b = 0; b < LANES; b++) through[b]! *= o.through[at[i]! * LANES + b]!;
    if (low) {
      const vx = o.corners[nearest * 2]! - ax;
      const vy = o.corners[nearest * 2 + 1]! - ay;
      const there = Math.sqrt(vx * vx + vy * vy);
      overV = overTop(there, Math.sqrt((dx - vx) * (dx - vx) + (dy - vy) * (dy - vy)), topAt(o, panes, at), az, cz, straightM);
    }
  }
  const within = crossed && encloses(o, panes, cx, cy);
  const longest = left > right ? left : right;
  let lost = false;
  for (let b = 0; b < LANES; b++) {
    const k = PER_ROOT_M[b]!;
    let round: number;
    if (crossed) {
      // A side on which rounding left no corner is passed at the nearest one.
      round = passingEdge(k * Math.sqrt(left < 0 ? shortest : left)) + passingEdge(k * Math.sqrt(right < 0 ? shortest : right));
    } else round = passingEdge(-k * Math.sqrt(shortest)) + passingEdge(k * Math.sqrt(longest));
    const over = low ? passingEdge(overV * k) : 0;
    const blocked = within ? 1 : Math.max(0, 1 - round) * (1 - over);
    out.fill[b] = 1 - blocked;
    out.share[b] = 1 - (1 - through[b]!) * blocked;
    out.way[b] = through[b]! * blocked >= 1 - blocked ? 0 : over > round ? 1 : 2;
    if (out.share[b]! < 1) lost = true;
  }
  return lost;
}

/** The knife edge's parameter over a top, per factor of its band: negative where the straight way clears it. */
function overTop(thereM: number, onM: number, topZM: number, az: number, cz: number, straightM: number): number {
  const up = topZM - az;
  const down = topZM - cz;
  const d = Math.sqrt(thereM * thereM + up * up) + Math.sqrt(onM * onM + down * down) - straightM;
  const passesAt = az + ((cz - az) * thereM) / (thereM + onM);
  const root = Math.sqrt(d > 0 ? d : 0);
  return passesAt > topZM ? -root : root;
}

/** The highest top of some of an obstacle's panes. */
export function topAt(o: Obstacle, { heights }: Panes, at: Int32Array): number {
  let top = -Infinity;
  for (let i = 0; i < at.length; i++) {
    const height = heights[o.panes[at[i]!]! * 2 + 1]!;
    if (height > top) top = height;
  }
  return top;
}

/** Loss of several obstacles on one way, in dB: of light ones the product, of deep ones edge upon edge, whichever leaves more. `edges` is the sum of 1 / sqrt(fill) - 1. */
export const obstaclesLossDb = (product: number, edges: number): number => -10 * Math.log10(Math.max(product, 1 / ((1 + edges) * (1 + edges))));
