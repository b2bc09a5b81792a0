import { compiledKernel, type Kernel } from '../../fields/kernel/kernel';
import { seeded } from '../../random';
import { kernelNearest } from './compiled';
import { countUp, ofEachRadio, type Places } from './places';

/** For each reading, in an order in which each stands only on earlier ones, the nearest earlier of its radio, the nearest first; -1 where there are no more. */
export type Earlier = Readonly<{ order: Int32Array; near: Int32Array; most: number }>;

/** Indices of the `most` nearest of `among` to a spot, the nearest first and of equally near ones the first of `among`, into `out`; -1 for what is missing. @param amongCount how many of `among` take part @param without left out */
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
    if (count === most && d >= distances[count - 1]!) continue;
    let to = count < most ? count++ : count - 1;
    while (to > 0 && d < distances[to - 1]!) {
      distances[to] = distances[to - 1]!;
      out[from + to] = out[from + to - 1]!;
      to--;
    }
    distances[to] = d;
    out[from + to] = i;
  }
  for (let k = count; k < most; k++) out[from + k] = -1;
}
/** As many neighbours as are ever asked for. */
const nearestDistances = new Float64Array(64);

/**
 * Looks for the nearest of each of some readings: of all others of them, or of those before it.
 * @param own the readings, in their order
 * @param from the first that is asked for
 * @param near receives `most` of each, where the reading has its own
 */
function nearestOfEach(
  places: Places,
  own: Int32Array,
  from: number,
  isEarlier: boolean,
  most: number,
  near: Int32Array,
  kernel: Kernel | null,
): void {
  if (kernel !== null) return kernelNearest(kernel, places, own, from, isEarlier, most, near);
  for (let k = from; k < own.length; k++) {
    const i = own[k]!;
    nearestOf(places, own, isEarlier ? k : own.length, places.xM[i]!, places.yM[i]!, most, near, i * most, i);
  }
}

/**
 * The nearest earlier readings of each, in a shuffled order: so that each has some near and some far.
 * @param first the same of the first of them: the others come after these
 * @param kernel what looks for them; null: TypeScript does the same
 */
export function earlierOf(places: Places, most: number, first: Earlier | null = null, kernel = compiledKernel(), seed = 1): Earlier {
  const n = places.radio.length;
  const order = countUp(n);
  const known = first?.order.length ?? 0;
  if (first !== null) order.set(first.order);
  const uniform = seeded(seed);
  for (let i = n - 1; i > known; i--) {
    const j = known + Math.floor(uniform() * (i - known + 1));
    [order[i], order[j]] = [order[j]!, order[i]!];
  }
  const near = new Int32Array(n * most).fill(-1);
  if (first !== null) near.set(first.near);
  const lists = new Map([...ofEachRadio(places)].map(([radio, all]) => [radio, { own: new Int32Array(all.length), count: 0, known: 0 }]));
  order.forEach((i, at) => {
    const list = lists.get(places.radio[i]!)!;
    list.own[list.count++] = i;
    if (at < known) list.known++;
  });
  for (const list of lists.values()) nearestOfEach(places, list.own, list.known, true, most, near, kernel);
  return { order, near, most };
}

/** The nearest other readings of each, of the same radio: what it stands on where all but itself is known. */
export function othersOf(places: Places, most: number, kernel = compiledKernel()): Earlier {
  const near = new Int32Array(places.radio.length * most);
  for (const own of ofEachRadio(places).values()) nearestOfEach(places, own, 0, false, most, near, kernel);
  return { order: countUp(places.radio.length), near, most };
}
