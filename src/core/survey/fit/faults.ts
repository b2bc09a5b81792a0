import type { Pose } from '../../propagation/crossing';
import type { Emitter } from '../../propagation/station';
import { fitReadings, type Fit } from './fit';
import { noiseOf } from './scatter';
import { FIT_NEAR, placesOf } from './solve';
import { cholesky, inverseOf, quadratic, solveLower, solveUpper } from './linear';
import { normalQuantile } from './normal';
import { unknownObstacle, type UnknownObstacle } from './obstacle';
import { HEARD_FOR_CERTAIN_DBM } from '../receiver';
import { evenlyOf, type Reading, type Unheard } from './readings';
import { isObstacle, withObstacle, withWallLoss } from './trend';
import { addProducts, leftOver, mixingOf, slopeRowsOf, squareOf, whiten } from './slopes';
import { withUnheard } from './unheard';
import { earlierOf } from './nearby';
import { standingOf } from './whiten';

/**
 * What on a floor is not as it was drawn, and how sure that is: `excess` is by how much its evidence lies above what chance gives, on the scale of twice a logarithm of likelihoods.
 * `radio` is an index into the fit's radios.
 */
export type Fault = Readonly<{ excess: number }> &
  (
    | Readonly<{ kind: 'level'; radio: number; offDb: number; sdDb: number }>
    | Readonly<{ kind: 'elsewhere'; radio: number; xM: number; yM: number; awayM: number }>
    | Readonly<{ kind: 'swapped'; radio: number; other: number }>
    | Readonly<{ kind: 'wall'; wallId: string; materialId: string; offDb: number; sdDb: number }>
    | UnknownObstacle
  );

/** Twice the logarithm of how much likelier another place must be. */
const LIKELIER = 15;
/** Readings on which places are tried, at most; and how far round the drawn place, in m. */
const TRIED_READINGS = 110;
const AWAY_M = 12;
const [COARSE_M, FINE_M] = [2, 0.5];
/** Nearer to where it is drawn an access point is not told to hang elsewhere: what stands close to an antenna looks much the same. */
const LEAST_AWAY_M = 1.2;
/** A drawn wall that loses less by so many deviations of what walls differ by. */
const WALL_DEVIATIONS = 3;
/** Fewer readings of a radio say nothing of its place. */
const LEAST_OF_RADIO = 15;
/** Chance of a false alarm, over all access points, for one that is louder or weaker than its like. */
const LEVEL_CHANCE = 0.025;

/** More causes than this are not looked for: by then the drawing is of another building. */
const MOST_FAULTS = 6;

/**
 * What is not as drawn, in the order of evidence: the strongest is taken into the model, all is learned anew, and what is left is looked at again, for one cause has many signs.
 * Yields between access points: each round takes a second or two.
 * @param unheard where radios were listened for and not heard: behind what nobody drew there is much of that. Of radios themselves it says nothing, for it leans on the level that is in question.
 */
export function* faultsOf(drawn: Fit, unheard: readonly Unheard[]): Generator<undefined, Fault[], boolean | undefined> {
  const told: Fault[] = [];
  let fit = drawn;
  for (let round = 0; round < MOST_FAULTS; round++) {
    const signs = yield* signsOf(fit, unheard);
    const strongest = signs.reduce<Fault | null>((best, fault) => (best === null || fault.excess > best.excess ? fault : best), null);
    if (strongest === null) break;
    told.push(strongest);
    fit = fitReadings(...withFault(fit, strongest, round));
    yield undefined;
  }
  return told;
}

/** What a fit was made of, with a fault taken in. */
function withFault({ medium, radios, readings, zM }: Fit, fault: Fault, round: number): Parameters<typeof fitReadings> {
  const moved = (changes: ReadonlyMap<number, Partial<Emitter>>): Emitter[] => radios.map((radio, r) => ({ ...radio, ...changes.get(r) }));
  switch (fault.kind) {
    case 'level': {
      const { txPowerDbm } = radios[fault.radio]!;
      return [medium, moved(new Map([[fault.radio, { txPowerDbm: txPowerDbm + fault.offDb }]])), readings, zM];
    }
    case 'elsewhere': {
      const { pose } = radios[fault.radio]!;
      return [medium, moved(new Map([[fault.radio, { pose: { ...pose, xM: fault.xM, yM: fault.yM } }]])), readings, zM];
    }
    case 'swapped': {
      const [one, other] = [radios[fault.radio]!, radios[fault.other]!];
      const changes = new Map<number, Partial<Emitter>>([
        [fault.radio, { pose: other.pose }],
        [fault.other, { pose: one.pose }],
      ]);
      return [medium, moved(changes), readings, zM];
    }
    case 'wall':
      return [withWallLoss(medium, fault, fault.offDb, radios[0]!.channel.band), radios, readings, zM];
    case 'obstacle':
      return [withObstacle(medium, fault, `unknown-${round}`, radios[0]!.channel.band), radios, readings, zM];
  }
}

/** All that stands out of one fit, each thing by itself. */
function* signsOf(fit: Fit, unheard: readonly Unheard[]): Generator<undefined, Fault[], boolean | undefined> {
  const found: Fault[] = [...levelFaults(fit), ...wallFaults(fit)];
  const judges = fit.radios.map((_, r) => placeJudge(fit, r));
  const own = judges.map((judge, r) => judge?.(fit.radios[r]!.pose) ?? NaN);
  for (const [r, judge] of judges.entries()) {
    yield undefined;
    if (judge === null) continue;
    const { pose } = fit.radios[r]!;
    const { xM, yM, misfit } = bestPlace(judge, pose);
    const awayM = Math.hypot(xM - pose.xM, yM - pose.yM);
    const excess = own[r]! - misfit - LIKELIER;
    if (excess > 0 && awayM >= LEAST_AWAY_M) found.push({ kind: 'elsewhere', radio: r, xM, yM, awayM, excess });
    for (let s = 0; s < r; s++) {
      const other = judges[s]!;
      if (other === null || pose.zM !== fit.radios[s]!.pose.zM) continue;
      const gain = own[r]! + own[s]! - judge(fit.radios[s]!.pose) - other(pose) - LIKELIER;
      if (gain > 0) found.push({ kind: 'swapped', radio: s, other: r, excess: gain });
    }
  }
  yield undefined;
  const obstacle = unknownObstacle(withUnheard(fit, unheard));
  return obstacle === null ? found : [...found, obstacle];
}

/** Access points that are louder or weaker than the rest, beyond what their like differ by: a score test (Rao) of each one's own level. */
function levelFaults({ white, estimates, covariance, radios, trend, readings }: Fit): Fault[] {
  const p = estimates.length;
  const { starts, columns, slopes } = white;
  const left = leftOver(white, estimates);
  const threshold = normalQuantile(1 - LEVEL_CHANCE / radios.length);
  return radios.flatMap((_, radio): Fault[] => {
    const column = trend.parameters.findIndex((q) => q.kind === 'radio' && q.radio === radio);
    let [along, square] = [0, 0];
    const crossed = new Float64Array(p);
    for (let i = 0; i < readings.length; i++) {
      if (readings[i]!.radio !== radio) continue;
      let c = 0;
      for (let k = starts[i]!; k < starts[i + 1]!; k++) if (columns[k] === column) c = slopes[k]!;
      for (let k = starts[i]!; k < starts[i + 1]!; k++) crossed[columns[k]!]! += c * slopes[k]!;
      along += c * left[i]!;
      square += c * c;
    }
    const information = square - quadratic(covariance, crossed);
    if (!(information > 0)) return [];
    const score = along / Math.sqrt(information);
    const excess = score * score - threshold * threshold;
    return Math.abs(score) > threshold
      ? [{ kind: 'level', radio, offDb: estimates[column]! + along / information, sdDb: 1 / Math.sqrt(information), excess }]
      : [];
  });
}

/** Drawn walls that lose far less than drawn: as if they were not there. */
function wallFaults({ trend, estimates, sd, scatter }: Fit): Fault[] {
  return trend.parameters.flatMap((p, i): Fault[] => {
    if (p.kind !== 'wall' || isObstacle(p)) return [];
    const known = scatter.wallVar - sd[i]! ** 2;
    if (!(known > 0)) return [];
    const score = estimates[i]! / Math.sqrt(known);
    return score < -WALL_DEVIATIONS
      ? [
          {
            kind: 'wall',
            wallId: p.wallId,
            materialId: p.material.id,
            offDb: estimates[i]!,
            sdDb: sd[i]!,
            excess: score * score - WALL_DEVIATIONS ** 2,
          },
        ]
      : [];
  });
}

/**
 * Says how badly the readings of a radio fit where it might hang: what is left of their squares where receiver, exponent, its own level, materials and walls may be what the other radios make of
 * them. Null for one with too few readings.
 */
function placeJudge(fit: Fit, radio: number): ((pose: Pick<Pose, 'xM' | 'yM' | 'zM'>) => number) | null {
  const { trend, white, priorSd, radios, scatter, zM } = fit;
  const all = fit.readings.filter((reading) => reading.radio === radio && reading.dbm >= HEARD_FOR_CERTAIN_DBM);
  if (all.length < LEAST_OF_RADIO) return null;
  const readings = evenlyOf(all, TRIED_READINGS).map((reading): Reading => ({ ...reading, radio: 0 }));
  const p = priorSd.length;
  // What the others say: the sums without this radio's rows.
  const sums = new Float64Array(p * p);
  const right = new Float64Array(p);
  addProducts(white, p, sums, right, (i) => fit.readings[i]!.radio !== radio);
  for (let c = 0; c < p; c++) sums[c * p + c]! += 1 / priorSd[c]! ** 2;
  cholesky(sums, p);
  solveLower(sums, p, right);
  solveUpper(sums, p, right);
  const covariance = inverseOf(sums, p);
  const free = trend.parameters.flatMap((q, i) => (q.kind === 'radio' && q.radio !== radio ? [] : [i]));
  const f = free.length;
  const prior = new Float64Array(f * f);
  free.forEach((c, a) => free.forEach((d, b) => (prior[a * f + b] = covariance[c * p + d]!)));
  cholesky(prior, f);
  const information = inverseOf(prior, f);
  const columnOf = new Map(free.map((c, a) => [c, a]));
  const places = placesOf(readings);
  const earlier = earlierOf(places, FIT_NEAR);
  const standing = standingOf(places, noiseOf(readings, scatter), scatter, earlier);
  const spots = readings.map((reading) => reading.spots.map((spot) => ({ ...spot, zM })));
  const emitter = radios[radio]!;
  return ({ xM, yM, zM: height }) => {
    const there = { ...emitter, pose: { ...emitter.pose, xM, yM, zM: height } };
    const rows = spots.map((own) => trend.rowOf(there, radio, own));
    // Deviations from what the others say.
    const rest = Float64Array.from(rows, ({ baseDbm, columns, slopes }, i) =>
      columns.reduce((left, c, k) => left - slopes[k]! * right[c]!, readings[i]!.dbm - baseDbm),
    );
    const own = slopeRowsOf(
      rows.map(({ columns, slopes }) => {
        const kept = columns.flatMap((c, k) => (columnOf.has(c) ? [k] : []));
        return { columns: kept.map((k) => columnOf.get(columns[k]!)!), slopes: kept.map((k) => slopes[k]!) };
      }),
      rest,
    );
    const whitened = whiten(standing, own, mixingOf(own, earlier, f));
    const lower = Float64Array.from(information);
    const b = new Float64Array(f);
    addProducts(whitened, f, lower, b);
    cholesky(lower, f);
    solveLower(lower, f, b);
    return squareOf(whitened) - squareOf({ rest: b });
  };
}

/** Where a radio fits best, round its drawn place: a coarse lattice, then a fine one round the best. */
function bestPlace(misfitAt: (pose: Pick<Pose, 'xM' | 'yM' | 'zM'>) => number, { xM, yM, zM }: Pose): { xM: number; yM: number; misfit: number } {
  let best = { xM, yM, misfit: misfitAt({ xM, yM, zM }) };
  const search = (middle: { xM: number; yM: number }, reachM: number, stepM: number) => {
    for (let dx = -reachM; dx <= reachM + 1e-9; dx += stepM)
      for (let dy = -reachM; dy <= reachM + 1e-9; dy += stepM) {
        const at = { xM: middle.xM + dx, yM: middle.yM + dy };
        if (Math.hypot(at.xM - xM, at.yM - yM) > AWAY_M) continue;
        const misfit = misfitAt({ ...at, zM });
        if (misfit < best.misfit) best = { ...at, misfit };
      }
  };
  search({ xM, yM }, AWAY_M, COARSE_M);
  search(best, COARSE_M - FINE_M, FINE_M);
  return best;
}
