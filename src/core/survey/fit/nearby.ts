import { seeded } from '../../random';

/** Places of readings, and of which radio each is: shadows of different radios have nothing in common. */
export type Places = Readonly<{ xM: Float64Array; yM: Float64Array; radio: Int32Array }>;

/**
 * For each reading, in an order in which each stands only on earlier ones, the nearest earlier of its radio; -1 where there are no more. `apartM`: how far they lie from each other, `pairsOf(most)`
 * for each reading: of its first neighbour to itself; of the second to the first and to itself; and so on.
 */
export type Earlier = Readonly<{ order: Int32Array; near: Int32Array; most: number; apartM: Float64Array }>;
export const pairsOf = (most: number): number => (most * (most + 1)) / 2;

/** Indices of the `most` nearest of `among` to a spot, the nearest first and of equally near ones the lower, into `out`; -1 for what is missing. @param amongCount how many of `among` take part @param without left out */
export function nearestOf(
  { xM, yM }: Places,
  among: Int32Array,
  amongCount: number,
  x: number,
  y: number,
  most: number,
  out: Int32Array,
  at: number,
  without = -1,
): void {
  const from = at;
  const distances = nearestDistances;
  let count = 0;
  for (let k = 0; k < amongCount; k++) {
    const i = among[k]!;
    if (i === without) continue;
    const d = (xM[i]! - x) ** 2 + (yM[i]! - y) ** 2;
    if (count === most && !isNearer(d, i, distances[count - 1]!, out[from + count - 1]!)) continue;
    let to = count < most ? count++ : count - 1;
    while (to > 0 && isNearer(d, i, distances[to - 1]!, out[from + to - 1]!)) {
      distances[to] = distances[to - 1]!;
      out[from + to] = out[from + to - 1]!;
      to--;
    }
    distances[to] = d;
    out[from + to] = i;
  }
  for (let k = count; k < most; k++) out[from + k] = -1;
}
const isNearer = (d: number, i: number, other: number, j: number): boolean => d < other || (d === other && i < j);
/** As many neighbours as are ever asked for. */
const nearestDistances = new Float64Array(64);

/** The readings of each radio. */
export function ofEachRadio({ radio }: Places): Map<number, Int32Array> {
  const lists = new Map<number, number[]>();
  radio.forEach((r, i) => {
    const own = lists.get(r);
    if (own === undefined) lists.set(r, [i]);
    else own.push(i);
  });
  return new Map([...lists].map(([r, own]) => [r, Int32Array.from(own)]));
}

/**
 * The nearest earlier readings of each, in a shuffled order: so that each has some near and some far.
 * @param first the same of the first of them: the others come after these
 */
export function earlierOf(places: Places, most: number, first: Earlier | null = null, seed = 1): Earlier {
  const n = places.radio.length;
  const order = Int32Array.from(places.radio.keys());
  const known = first?.order.length ?? 0;
  if (first !== null) order.set(first.order);
  const uniform = seeded(seed);
  for (let i = n - 1; i > known; i--) {
    const j = known + Math.floor(uniform() * (i - known + 1));
    [order[i], order[j]] = [order[j]!, order[i]!];
  }
  const near = new Int32Array(n * most).fill(-1);
  if (first !== null) near.set(first.near);
  const before = new Map([...ofEachRadio(places)].map(([radio, all]) => [radio, { own: new Int32Array(all.length), count: 0 }]));
  order.forEach((i, at) => {
    const own = before.get(places.radio[i]!)!;
    if (at >= known) nearestOf(places, own.own, own.count, places.xM[i]!, places.yM[i]!, most, near, i * most);
    own.own[own.count++] = i;
  });
  return { order, near, most, apartM: apartOf(places, near, most, first?.apartM ?? null) };
}

/** How far readings and their neighbours lie from each other, as in `Earlier`. @param first the same of the first of them */
function apartOf({ xM, yM }: Places, near: Int32Array, most: number, first: Float64Array | null = null): Float64Array {
  const pairs = pairsOf(most);
  const apartM = new Float64Array(xM.length * pairs);
  if (first !== null) apartM.set(first);
  for (let i = (first?.length ?? 0) / pairs; i < xM.length; i++) {
    let at = i * pairs;
    for (let a = 0; a < most && near[i * most + a]! >= 0; a++) {
      const one = near[i * most + a]!;
      for (let b = 0; b <= a; b++) {
        const other = b < a ? near[i * most + b]! : i;
        const dx = xM[one]! - xM[other]!;
        const dy = yM[one]! - yM[other]!;
        apartM[at++] = Math.sqrt(dx * dx + dy * dy);
      }
    }
  }
  return apartM;
}

/** Of up to so many times as many as are looked for the furthest are left out one by one; of more the nearest are looked for. */
const FEW = 2;

/**
 * Looks for the nearest of some readings, the same that `nearestOf` names, in their own order: for many spots near each other, for none that counts lies further than the furthest of those that
 * counted at the spot before.
 * @param own the readings, by ascending index
 * @param most as many as are looked for
 */
export function nearbyOf(places: Places, own: Int32Array, most: number): (xM: number, yM: number, out: Int32Array, without?: number) => void {
  const x = Float64Array.from(own, (i) => places.xM[i]!);
  const y = Float64Array.from(own, (i) => places.yM[i]!);
  const candidates = new Int32Array(own.length);
  const squares = new Float64Array(own.length);
  const before = new Int32Array(most);
  let isKnown = false;
  const withinOf = (xM: number, yM: number): number => {
    let within = 0;
    for (let a = 0; a < most; a++) {
      const dx = places.xM[before[a]!]! - xM;
      const dy = places.yM[before[a]!]! - yM;
      within = Math.max(within, dx * dx + dy * dy);
    }
    return within;
  };
  return (xM, yM, out, without = -1) => {
    // Without one of them another counts.
    const within = isKnown && without < 0 ? withinOf(xM, yM) : Infinity;
    let count = 0;
    for (let k = 0; k < x.length; k++) {
      const dx = x[k]! - xM;
      const dy = y[k]! - yM;
      const square = dx * dx + dy * dy;
      if (square > within || own[k] === without) continue;
      candidates[count] = own[k]!;
      squares[count++] = square;
    }
    if (count > most * FEW) {
      nearestOf(places, candidates, count, xM, yM, most, out, 0);
      out.subarray(0, most).sort();
    } else {
      while (count > most) count = withoutFurthest(candidates, squares, count);
      for (let a = 0; a < most; a++) out[a] = a < count ? candidates[a]! : -1;
    }
    if (without >= 0) return;
    isKnown = count >= most;
    for (let a = 0; a < most; a++) before[a] = out[a]!;
  };
}

/** Leaves the furthest out, of equally far ones the last. @returns how many are left */
function withoutFurthest(candidates: Int32Array, squares: Float64Array, count: number): number {
  let furthest = 0;
  for (let k = 1; k < count; k++) if (squares[k]! >= squares[furthest]!) furthest = k;
  for (let k = furthest + 1; k < count; k++) {
    candidates[k - 1] = candidates[k]!;
    squares[k - 1] = squares[k]!;
  }
  return count - 1;
}

/** The nearest other readings of each, of the same radio: what it stands on where all but itself is known. */
export function othersOf(places: Places, most: number): Earlier {
  const near = new Int32Array(places.radio.length * most);
  const withItself = new Int32Array(most + 1);
  for (const own of ofEachRadio(places).values()) {
    const find = nearbyOf(places, own, most + 1);
    for (const i of own) {
      find(places.xM[i]!, places.yM[i]!, withItself);
      // Of many at one spot it may not be among the nearest itself: then any of them is one too many.
      const itself = withItself.indexOf(i);
      for (let a = 0; a < most; a++) near[i * most + a] = withItself[a >= itself ? a + 1 : a]!;
    }
  }
  return { order: Int32Array.from(places.radio.keys()), near, most, apartM: apartOf(places, near, most) };
}
