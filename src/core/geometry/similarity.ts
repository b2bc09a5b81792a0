import { UpperRoomError } from '../errors';
import { distanceM, type PointM } from './point';

/** Turns by `turnDeg` about the origin (clockwise as the plan is seen), scales, and shifts. */
export type Similarity = Readonly<{ scale: number; turnDeg: number; dxM: number; dyM: number }>;
export const STAY: Similarity = { scale: 1, turnDeg: 0, dxM: 0, dyM: 0 };

/** Two spots that should come to lie on each other. */
export type Pair = Readonly<{ from: PointM; to: PointM }>;

export function moved({ scale, turnDeg, dxM, dyM }: Similarity, { xM, yM }: PointM): PointM {
  const turn = (turnDeg * Math.PI) / 180;
  const [cos, sin] = [scale * Math.cos(turn), scale * Math.sin(turn)];
  return { xM: xM * cos - yM * sin + dxM, yM: xM * sin + yM * cos + dyM };
}

/** Pairs nearer together than this say nothing of a turn. */
const APART_M = 0.05;

/**
 * The turn and shift, and with `scaled` the scale, that bring the pairs together best, by least squares of what is left between them (Umeyama, "Least-
 * squares estimation of transformation parameters between two point patterns", 1991, in the plane and without mirroring).
 * @throws UpperRoomError PAIRS_TOO_FEW without two pairs that lie apart
 */
export function similarityOf(pairs: readonly Pair[], scaled: boolean): Similarity {
  const n = pairs.length;
  const mean = (pick: (pair: Pair) => number): number => pairs.reduce((sum, pair) => sum + pick(pair), 0) / n;
  const [fx, fy, tx, ty] = [mean((p) => p.from.xM), mean((p) => p.from.yM), mean((p) => p.to.xM), mean((p) => p.to.yM)];
  let [along, across, spread, spreadTo] = [0, 0, 0, 0];
  for (const { from, to } of pairs) {
    const [ax, ay, bx, by] = [from.xM - fx, from.yM - fy, to.xM - tx, to.yM - ty];
    along += ax * bx + ay * by;
    across += ax * by - ay * bx;
    spread += ax * ax + ay * ay;
    spreadTo += bx * bx + by * by;
  }
  const least = (APART_M * APART_M) / 2;
  if (n < 2 || !(spread > least) || !(spreadTo > least)) throw new UpperRoomError('PAIRS_TOO_FEW');
  const turnDeg = (Math.atan2(across, along) * 180) / Math.PI;
  const scale = scaled ? Math.hypot(along, across) / spread : 1;
  const there = moved({ scale, turnDeg, dxM: 0, dyM: 0 }, { xM: fx, yM: fy });
  return { scale, turnDeg, dxM: tx - there.xM, dyM: ty - there.yM };
}

/** What is left between each pair, in m. */
export const residualsOf = (similarity: Similarity, pairs: readonly Pair[]): number[] =>
  pairs.map(({ from, to }) => distanceM(moved(similarity, from), to));
