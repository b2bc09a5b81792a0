import { topThree, airtimeLimits, sharersInto, widthLimits, type LitRadio, type TopThree } from '@/core/fields/combine';
import { owedValues } from '@/core/fields/lenses';
import { isAskedFor, metAt, OWED, owedShares, type Requirements } from '@/core/fields/owed';
import { heardCountInto } from '@/core/fields/quality';
import { servedBy } from '@/core/fields/statistics';
import { touchingOf } from '@/core/fields/tints';
import type { WidthMhz } from '@/core/radio/band';
import { SECOND_FROM_DBM, HEARD_FROM_DBM } from '@/core/checks/facts';
import { levelsAt, litBy } from './lensCalls';
import type { InspectedZone, Params, Result } from './protocol';

/** Below this nobody is served: as the map begins. */
const SERVED_FROM_DBM = -90;

/** Radios that each shares airtime with, mean over the cells it serves in the mask, by some limits; NaN where it serves none. */
function meanSharers(top: TopThree, lit: readonly LitRadio[], limits: Float64Array, mask: Uint8Array, met: Float64Array | null): number[] {
  const counts = new Float32Array(top.cells);
  sharersInto(top, lit, limits, SERVED_FROM_DBM, counts, met, mask);
  const sum = lit.map(() => ({ cells: 0, count: 0 }));
  for (let i = 0; i < top.cells; i++) {
    if (mask[i] === 0 || Number.isNaN(counts[i]!)) continue;
    const of = sum[top.radio[i]!]!;
    of.cells++;
    of.count += counts[i]!;
  }
  return sum.map(({ cells, count }) => (cells === 0 ? NaN : count / cells));
}

/** What a floor's radios of one band do there, for the checks: the same functions as the lenses use, over the area where service is owed. */
export function* inspect({ scene, mask, zones, people, radios }: Params<'inspect'>): Generator<undefined, Result<'inspect'>, boolean | undefined> {
  const { cols, rows, cellM } = scene.grid;
  const cells = cols * rows;
  const lit = yield* litBy(scene, radios);
  const top = topThree(lit, cells);
  const levels = levelsAt(scene, radios);
  const n = lit.length;
  const met = new Float64Array(n * n);
  const sharers = meanSharers(top, lit, airtimeLimits(lit, levels), mask, met);
  yield;
  const overlapAt = new Map<WidthMhz, number[]>();
  const overlap = (widthMhz: WidthMhz): number[] => {
    const known = overlapAt.get(widthMhz) ?? meanSharers(top, lit, widthLimits(lit, levels, widthMhz), mask, null);
    overlapAt.set(widthMhz, known);
    return known;
  };
  const serving = Float32Array.from({ length: cells }, (_, i) => (top.level[i]! >= SERVED_FROM_DBM ? top.radio[i]! : NaN));
  const served = servedBy(n, serving, top.level, mask, cellM ** 2);
  const crowd = peopleBy(n, serving, people);
  const touching = touchingOf(serving, cols, n);
  const [heard, second] = [new Float32Array(cells), new Float32Array(cells)];
  heardCountInto(lit, HEARD_FROM_DBM, heard);
  heardCountInto(lit, SECOND_FROM_DBM, second);
  let [owed, withSecond, sum, mostAt] = [0, 0, 0, -1];
  for (let i = 0; i < cells; i++) {
    if (mask[i] === 0) continue;
    owed++;
    sum += heard[i]!;
    if (second[i]! >= 2) withSecond++;
    if (mostAt < 0 || heard[i]! > heard[mostAt]!) mostAt = i;
  }
  yield;
  const values = owedValues({
    top,
    radios: lit,
    receiver: scene.receiver,
    ignoreBelowDbm: SERVED_FROM_DBM,
    limits: () => airtimeLimits(lit, levels),
  });
  const inspected = zones.map(({ id, mask: where, level }): InspectedZone => ({
    zoneId: id,
    shares: owedShares({ mask: where, level }, top, values),
    asked: isAskedFor(level),
    worstAt: worstCell(where, level, top, values),
  }));
  return {
    radios: lit.map(({ channel: { widthMhz } }, r) => {
      const cellsOfIt = served[r]!.areaM2 / cellM ** 2;
      const half = widthMhz === 20 ? null : ((widthMhz / 2) as WidthMhz);
      return {
        servedM2: served[r]!.areaM2,
        people: crowd[r]!,
        sharers: sharers[r]!,
        who: Array.from({ length: n }, (_, j) => ({ radio: j, share: cellsOfIt === 0 ? 0 : met[r * n + j]! / cellsOfIt }))
          .filter(({ share }) => share > 0)
          .sort((p, q) => q.share - p.share),
        overlap: half === null ? null : { own: overlap(widthMhz)[r]!, half: overlap(half)[r]!, halfMhz: half },
        touching: Array.from({ length: n }, (_, j) => j).filter((j) => j !== r && touching[r * n + j]! > 0),
      };
    }),
    heard: { secondShare: owed === 0 ? 0 : withSecond / owed, mean: owed === 0 ? 0 : sum / owed, mostAt },
    zones: inspected,
  };
}

/** How many of the people expected stand where each radio serves. */
function peopleBy(n: number, serving: Float32Array, people: Params<'inspect'>['people']): Float64Array {
  const crowd = new Float64Array(n);
  for (const { mask, count } of people) {
    const perCell = count / mask.reduce((sum, inside) => sum + inside, 0);
    for (let i = 0; i < mask.length; i++) if (mask[i] === 1 && serving[i]! >= 0) crowd[serving[i]!]! += perCell;
  }
  return crowd;
}

/** The weakest cell of a zone in which something that is owed fails; -1 where nothing does. */
function worstCell(mask: Uint8Array, level: Requirements, top: TopThree, values: ReturnType<typeof owedValues>): number {
  const met = new Uint8Array(OWED.length);
  let [worst, least] = [-1, Infinity];
  for (let i = 0; i < top.cells; i++) {
    if (mask[i] === 0) continue;
    metAt(level, top, values, i, met);
    if (met.includes(0) && (worst < 0 || top.level[i]! < least)) [worst, least] = [i, top.level[i]!];
  }
  return worst;
}
