import { LOSS_UNIT_DB, MAX_WALL_LOSS_DB } from '../building/material';
import type { Panes } from '../building/panes';
import { BANDS } from '../radio/band';
import type { Medium } from './medium';

/** Panes as rays from one spot meet them; `origin` says of each which pane of the plan it is a piece of. Pieces of one pane follow each other from its first end to its second. */
export type MetPanes = Readonly<{ panes: Panes; origin: Int32Array }>;

/** What is met at a slant is longer by 1 / cos of the angle to the upright, seen from above; in steps of a tenth, twice at the most. */
const STEP = 0.1;
const MOST = 2;
/** Steps begin a little off the round numbers, at which a cut would lie level with the access point on walls of plain slopes: in line with it nothing is to fall by chance. */
const OFF_ROUND = 0.00031416;
/** How far from the foot of the upright, in distances of the spot from the wall, each next step begins. */
const BEGINS: readonly number[] = Array.from({ length: Math.round((MOST - 1) / STEP) }, (_, k) =>
  Math.sqrt((1 + (k + 0.5) * STEP + OFF_ROUND) ** 2 - 1),
);

/** What hangs on a wall, nearer than this, meets it upright: all its rays pass where it hangs, and pieces that small would be lost in rounding. */
const ON_WALL_M = 0.01;

const MOST_UNITS = Math.round(MAX_WALL_LOSS_DB / LOSS_UNIT_DB);

const plain = new WeakMap<Panes, MetPanes>();
const slanted = new WeakMap<Panes, Map<string, MetPanes>>();
/** Spots from which the pieces are remembered: the access points of a large building, while one spot after another is asked for. */
const REMEMBERED = 256;

/**
 * The panes of a medium as rays from (ax, ay) meet them: as they stand, or, where the medium charges by the slant, cut where the next step begins, each piece with its own loss; what
 * costs most in any case costs no more.
 */
export function panesMetFrom({ panes, propagation }: Medium, ax: number, ay: number): MetPanes {
  if (propagation.slant !== true) {
    const known = plain.get(panes) ?? { panes, origin: Int32Array.from({ length: panes.count }, (_, p) => p) };
    plain.set(panes, known);
    return known;
  }
  const key = `${ax},${ay}`;
  const bySpot = slanted.get(panes) ?? new Map<string, MetPanes>();
  slanted.set(panes, bySpot);
  const known = bySpot.get(key);
  if (known !== undefined) return known;
  if (bySpot.size >= REMEMBERED) bySpot.clear();
  const made = cutBySlant(panes, ax, ay);
  bySpot.set(key, made);
  return made;
}

function cutBySlant(panes: Panes, ax: number, ay: number): MetPanes {
  const lanes = BANDS.length;
  const ends: number[] = [];
  const heights: number[] = [];
  const lossUnits: number[] = [];
  const origin: number[] = [];
  for (let p = 0; p < panes.count; p++) {
    const [px, py, qx, qy] = [panes.ends[p * 4]!, panes.ends[p * 4 + 1]!, panes.ends[p * 4 + 2]!, panes.ends[p * 4 + 3]!];
    const lengthM = Math.hypot(qx - px, qy - py);
    const [ux, uy] = [(qx - px) / lengthM, (qy - py) / lengthM];
    const foot = (ax - px) * ux + (ay - py) * uy;
    const awayM = Math.abs((ax - px) * uy - (ay - py) * ux);
    // Shares of the pane at which its loss steps, from its first end to its second.
    const steps = awayM < ON_WALL_M ? [] : BEGINS;
    const cuts = steps
      .flatMap((begin) => [foot - awayM * begin, foot + awayM * begin])
      .map((atM) => atM / lengthM)
      .filter((share) => share > 0 && share < 1)
      .sort((a, b) => a - b);
    const shares = [0, ...cuts, 1];
    const placeOf = (share: number): [number, number] =>
      share === 0 ? [px, py] : share === 1 ? [qx, qy] : [px + (qx - px) * share, py + (qy - py) * share];
    for (let k = 1; k < shares.length; k++) {
      const middleM = ((shares[k - 1]! + shares[k]!) / 2) * lengthM;
      const factor = slantFactor(awayM, Math.abs(middleM - foot));
      ends.push(...placeOf(shares[k - 1]!), ...placeOf(shares[k]!));
      heights.push(panes.heights[p * 2]!, panes.heights[p * 2 + 1]!);
      for (let b = 0; b < lanes; b++) {
        const units = panes.lossUnits[p * lanes + b]!;
        lossUnits.push(Math.max(units, Math.min(MOST_UNITS, Math.round(units * factor))));
      }
      origin.push(p);
    }
  }
  const of = <T extends Uint8Array | Int32Array>(array: ArrayLike<number>, into: T): T => {
    origin.forEach((p, i) => (into[i] = array[p]!));
    return into;
  };
  return {
    origin: Int32Array.from(origin),
    panes: {
      count: origin.length,
      ends: Float64Array.from(ends),
      heights: Float64Array.from(heights),
      lossUnits: Int32Array.from(lossUnits),
      wallIndex: of(panes.wallIndex, new Int32Array(origin.length)),
      wallIds: panes.wallIds,
      reach: of(panes.reach, new Uint8Array(origin.length)),
      storeys: Float64Array.from(origin.flatMap((p) => [panes.storeys[p * 2]!, panes.storeys[p * 2 + 1]!])),
      materialIndex: of(panes.materialIndex, new Int32Array(origin.length)),
      materials: panes.materials,
    },
  };
}

/** By how much longer the way through a wall is that is met `alongM` from the foot of the upright, from a spot `awayM` off: 1 / cos, to the next tenth, 1 to 2; 1 for what hangs on it. */
export function slantFactor(awayM: number, alongM: number): number {
  if (awayM < ON_WALL_M) return 1;
  const steps = BEGINS.filter((begin) => alongM > awayM * begin).length;
  return 1 + steps * STEP;
}
