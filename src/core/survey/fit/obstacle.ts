import type { Fit } from './fit';
import { quadratic } from './linear';
import { leftOver } from './slopes';

/** Pieces of a wall that nobody drew: straight along the plan's axes, of these lengths, on a lattice of so many m. */
const LENGTHS_M = [3, 6];
const LATTICE_M = 1;
/** A piece crossed by fewer readings cannot be told. */
const LEAST_RAYS = 6;
/** Of thousands of pieces chance makes one look like a wall up to about this many deviations (of 140 simulated floors without any 3 lie above). */
const CHANCE = 4.6;
/** What is known beforehand of what such a thing loses: standard deviation in dB. */
const PRIOR_DB = 15;

/** Something straight that nobody drew: between which spots, about what it loses, how many readings look through it, and at how many spots nothing was heard through it. */
export type UnknownObstacle = Readonly<{
  kind: 'obstacle';
  fromM: readonly [number, number];
  toM: readonly [number, number];
  lossDb: number;
  rays: number;
  unheard: number;
}>;

type Piece = Readonly<{ ax: number; ay: number; bx: number; by: number }>;
type Scored = Readonly<{ score: number; rays: number; unheard: number; lossDb: number }>;

/** The piece of wall that explains most of what is weaker than the fit has it; null where none stands out. */
export function unknownObstacle(fit: Fit): (UnknownObstacle & Readonly<{ excess: number }>) | null {
  const { white, estimates, covariance, readings, heard, radios, standing } = fit;
  const p = estimates.length;
  const n = readings.length;
  const left = leftOver(white, estimates);
  const { starts, columns, slopes } = white;
  const { near, most } = standing.earlier;
  // Which readings stand on each: a ray that is crossed tells in these rows too.
  const later: number[][] = Array.from({ length: n }, () => []);
  for (let i = 0; i < n; i++) for (let a = i * most; a < (i + 1) * most && near[a]! >= 0; a++) later[near[a]!]!.push(i);
  const crossed = new Uint8Array(n);
  const touched = new Uint8Array(n);
  const sums = new Float64Array(p);
  const scoreOf = ({ ax, ay, bx, by }: Piece): Scored | null => {
    const rays: number[] = [];
    for (let i = 0; i < n; i++) {
      const { radio, xM, yM } = readings[i]!;
      const { pose } = radios[radio]!;
      if (crosses(pose.xM, pose.yM, xM, yM, ax, ay, bx, by)) rays.push(i);
    }
    if (rays.length < LEAST_RAYS) return null;
    const rows: number[] = [];
    for (const i of rays) {
      crossed[i] = 1;
      for (const row of [i, ...later[i]!]) if (touched[row] === 0) touched[rows[rows.push(row) - 1]!] = 1;
    }
    sums.fill(0);
    let [along, square] = [0, 0];
    for (const i of rows) {
      let c = -crossed[i]!;
      for (let a = i * most; a < (i + 1) * most && near[a]! >= 0; a++) c += standing.weights[a]! * crossed[near[a]!]!;
      c /= Math.sqrt(standing.variance[i]!);
      along += c * left[i]!;
      square += c * c;
      for (let k = starts[i]!; k < starts[i + 1]!; k++) sums[columns[k]!]! += c * slopes[k]!;
    }
    for (const i of rays) crossed[i] = 0;
    for (const i of rows) touched[i] = 0;
    const information = square - quadratic(covariance, sums);
    if (!(information > 1e-9)) return null;
    const heardRays = rays.filter((i) => i < heard).length;
    return {
      score: along / Math.sqrt(information),
      rays: heardRays,
      unheard: rays.length - heardRays,
      lossDb: along / (information + 1 / PRIOR_DB ** 2),
    };
  };

  const xs = readings.map(({ xM }) => xM);
  const ys = readings.map(({ yM }) => yM);
  const [west, east, north, south] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  let best: { piece: Piece; scored: Scored } | null = null;
  const tryPiece = (piece: Piece) => {
    const scored = scoreOf(piece);
    if (scored !== null && scored.score > (best?.scored.score ?? 0)) best = { piece, scored };
  };
  for (const lengthM of LENGTHS_M)
    for (let y = Math.floor(north); y <= south; y += LATTICE_M)
      for (let x = Math.floor(west); x <= east; x += LATTICE_M) {
        tryPiece({ ax: x, ay: y, bx: x + lengthM, by: y });
        tryPiece({ ax: x, ay: y, bx: x, by: y + lengthM });
      }
  // Its ends, moved a little as long as that explains more.
  for (let better = true, round = 0; better && best !== null && round < 12; round++) {
    better = false;
    const { piece, scored } = best as { piece: Piece; scored: Scored };
    for (const key of ['ax', 'ay', 'bx', 'by'] as const)
      for (const step of [-1, -0.5, 0.5, 1]) {
        const level = piece.ay === piece.by;
        // It stays along its axis: both ends are moved across together.
        const across = level ? key === 'ay' || key === 'by' : key === 'ax' || key === 'bx';
        const moved = across
          ? { ...piece, ...(level ? { ay: piece.ay + step, by: piece.by + step } : { ax: piece.ax + step, bx: piece.bx + step }) }
          : { ...piece, [key]: piece[key] + step };
        if (Math.hypot(moved.bx - moved.ax, moved.by - moved.ay) >= 1) tryPiece(moved);
      }
    better = (best as { scored: Scored }).scored.score > scored.score;
  }
  if (best === null) return null;
  const { piece, scored } = best as { piece: Piece; scored: Scored };
  if (scored.score <= CHANCE) return null;
  return {
    kind: 'obstacle',
    fromM: [piece.ax, piece.ay],
    toM: [piece.bx, piece.by],
    lossDb: scored.lossDb,
    rays: scored.rays,
    unheard: scored.unheard,
    excess: scored.score ** 2 - CHANCE ** 2,
  };
}

/** Whether the way from P to Q passes between A and B. */
function crosses(px: number, py: number, qx: number, qy: number, ax: number, ay: number, bx: number, by: number): boolean {
  const dx = qx - px;
  const dy = qy - py;
  const sideA = dx * (ay - py) - dy * (ax - px);
  const sideB = dx * (by - py) - dy * (bx - px);
  if (sideA > 0 === sideB > 0) return false;
  const ex = bx - ax;
  const ey = by - ay;
  return ex * (py - ay) - ey * (px - ax) > 0 !== ex * (qy - ay) - ey * (qx - ax) > 0;
}
