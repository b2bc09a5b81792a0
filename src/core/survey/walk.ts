import { distanceM, type PointM } from '../geometry/point';
import { PACE_M_S, positionAt, type Straight } from './receiver';
import type { ReceiverSetting } from './setting';

/** A turn of a walk, with the time since the walk began. */
export type Turn = PointM & Readonly<{ tMs: number }>;

/** A piece of a walk without interruption, turn after turn; between two legs there is a gap on which no sample is placed. */
export type Leg = Readonly<{ turns: readonly Turn[] }>;

/** A stretch of a walk on one floor of one variant, and how it is listened to. */
export type Stretch = Readonly<{
  floorId: string;
  variantId: string;
  legs: readonly Leg[];
  receiver: ReceiverSetting;
  fromMs: number;
  toMs: number;
}>;

/** Nearer than this to where the walker stands, a click goes on with the leg instead of beginning another. */
export const SAME_SPOT_M = 0.3;

const lastTurn = (legs: readonly Leg[]): Turn | undefined => legs.at(-1)?.turns.at(-1);

/** Where the walk ends; null before it begins. */
export const lastSpot = (legs: readonly Leg[]): PointM | null => lastTurn(legs) ?? null;

/** Time of the last turn: how long the walk is, in ms. */
export const endMs = (legs: readonly Leg[]): number => lastTurn(legs)?.tMs ?? 0;

/**
 * One more turn. It is reached at walking pace after the turn before it; with `newLeg` (the walker went on from elsewhere) it begins a
 * leg there instead, and the way between is a gap.
 */
export function addTurn(legs: readonly Leg[], at: PointM, newLeg: boolean): Leg[] {
  const before = lastTurn(legs);
  const { xM, yM } = at;
  if (before === undefined) return [{ turns: [{ xM, yM, tMs: 0 }] }];
  if (newLeg && distanceM(before, at) > SAME_SPOT_M) return [...legs, { turns: [{ xM, yM, tMs: before.tMs }] }];
  const turn = { xM, yM, tMs: before.tMs + (distanceM(before, at) / PACE_M_S) * 1000 };
  return [...legs.slice(0, -1), { turns: [...legs.at(-1)!.turns, turn] }];
}

/** Standing still at the last turn for some seconds once it is reached; of a walk that has not begun nothing. */
export function standStill(legs: readonly Leg[], seconds: number): Leg[] {
  const at = lastTurn(legs);
  return at === undefined ? [] : [...legs.slice(0, -1), { turns: [...legs.at(-1)!.turns, { ...at, tMs: at.tMs + seconds * 1000 }] }];
}

/** The walk without its last click; a leg of a single turn goes with it. */
export function withoutLastTurn(legs: readonly Leg[]): Leg[] {
  const leg = legs.at(-1);
  if (leg === undefined) return [];
  return leg.turns.length <= 1 ? legs.slice(0, -1) : [...legs.slice(0, -1), { turns: leg.turns.slice(0, -1) }];
}

/** Every straight piece with its leg's number, in order of time. */
export function straightsOf(legs: readonly Leg[]): Straight[] {
  return legs.flatMap((leg, index) => leg.turns.slice(1).map((to, i) => ({ leg: index, from: leg.turns[i]!, to })));
}

/** The walk as far as it was walked at a time: turns not reached are dropped, the spot reached becomes the last turn. */
export function cutAt(legs: readonly Leg[], tMs: number): Leg[] {
  const cut: Leg[] = [];
  for (const leg of legs) {
    if (leg.turns[0] === undefined || leg.turns[0].tMs > tMs) break;
    const reached = leg.turns.filter((turn) => turn.tMs <= tMs);
    const next = leg.turns[reached.length];
    if (next === undefined) {
      cut.push(leg);
      continue;
    }
    const from = reached.at(-1)!;
    cut.push({ turns: tMs - from.tMs < 1 ? reached : [...reached, { ...positionAt({ leg: 0, from, to: next }, tMs), tMs }] });
    break;
  }
  return cut;
}

/** Where the walker is at a time; `null` before the first click. */
export function walkerAt(legs: readonly Leg[], tMs: number): PointM | null {
  const straight = straightsOf(legs).find(({ from, to }) => tMs >= from.tMs && tMs < to.tMs);
  if (straight !== undefined) return positionAt(straight, tMs);
  const turns = legs.flatMap((leg) => leg.turns).filter((turn) => turn.tMs <= tMs);
  return turns.at(-1) ?? null;
}

/** Length walked, gaps not counted, in m. */
export const lengthM = (legs: readonly Leg[]): number => straightsOf(legs).reduce((sum, { from, to }) => sum + distanceM(from, to), 0);

/** The walk with a turn elsewhere, at the same time; what stood there stands there too. */
export function movedTurn(legs: readonly Leg[], leg: number, turn: number, { xM, yM }: PointM): Leg[] {
  const at = legs[leg]!.turns[turn]!;
  const stood = (other: Turn): boolean => other.xM === at.xM && other.yM === at.yM;
  return legs.map((one, l) =>
    l !== leg
      ? one
      : { turns: one.turns.map((other, t) => (t === turn || (Math.abs(t - turn) === 1 && stood(other)) ? { xM, yM, tMs: other.tMs } : other)) },
  );
}

/** The walk without a turn: straight from the one before to the one after. A leg of which one turn would be left stays as it is. */
export function withoutTurn(legs: readonly Leg[], leg: number, turn: number): readonly Leg[] {
  const { turns } = legs[leg]!;
  return turns.length <= 2 ? legs : legs.with(leg, { turns: turns.filter((_, t) => t !== turn) });
}

/** One more turn at the time at which it was clicked; with `newLeg` it begins a leg. */
export function clickedAt(legs: readonly Leg[], { xM, yM }: PointM, tMs: number, newLeg: boolean): Leg[] {
  const turn = { xM, yM, tMs };
  return legs.length === 0 || newLeg ? [...legs, { turns: [turn] }] : [...legs.slice(0, -1), { turns: [...legs.at(-1)!.turns, turn] }];
}
