import type { TopThree } from './combine';

/** What is asked for at a spot; null is not asked for. Levels in dBm, SNR in dB, rate in Mb/s. */
export type Requirements = Readonly<{
  signalDbm: number;
  secondDbm: number | null;
  snrDb: number | null;
  rateMbps: number | null;
  sharersMost: number | null;
}>;

/** What can fail, in the order in which it is looked at; a cell's state is 0 where all is met, else the place of the first that fails plus one. */
export const OWED = ['signal', 'second signal', 'SNR', 'rate', 'radios sharing'] as const;
export type Owed = (typeof OWED)[number];

/** Which of OWED a level asks for, in their order. */
export const isAskedFor = ({ secondDbm, snrDb, rateMbps, sharersMost }: Requirements): boolean[] => [
  true,
  ...[secondDbm, snrDb, rateMbps, sharersMost].map((asked) => asked !== null),
];

/** Where something is owed: cells, and what. A cell of several zones is judged by the first. */
export type OwedZone = Readonly<{ mask: Uint8Array; level: Requirements }>;

/** The quantities that requirements are judged by, one value per cell, as the lenses of their names give them. */
export type OwedValues = Readonly<{ snrDb: Float32Array; rateMbps: Float32Array; sharers: Float32Array }>;

/** Whether each requirement is met at a cell, in the order of OWED. What has no value fails what is asked of it; what is not asked for is met. */
export function metAt(level: Requirements, top: TopThree, { snrDb, rateMbps, sharers }: OwedValues, i: number, out: Uint8Array): void {
  out[0] = top.level[i]! >= level.signalDbm ? 1 : 0;
  out[1] = level.secondDbm === null || top.level[top.cells + i]! >= level.secondDbm ? 1 : 0;
  out[2] = level.snrDb === null || snrDb[i]! >= level.snrDb ? 1 : 0;
  out[3] = level.rateMbps === null || rateMbps[i]! >= level.rateMbps ? 1 : 0;
  out[4] = level.sharersMost === null || sharers[i]! <= level.sharersMost ? 1 : 0;
}

/** The state of each cell; NaN where nothing is owed. */
export function owedInto(zones: readonly OwedZone[], top: TopThree, values: OwedValues, out: Float32Array): void {
  out.fill(NaN);
  const met = new Uint8Array(OWED.length);
  for (const { mask, level } of zones) {
    for (let i = 0; i < top.cells; i++) {
      if (mask[i] === 0 || !Number.isNaN(out[i]!)) continue;
      metAt(level, top, values, i, met);
      out[i] = met.indexOf(0) + 1;
    }
  }
}

/** Shares (0 to 1) of a zone's area in which each requirement is met, in the order of OWED, and all of them. */
export type OwedShares = Readonly<{ each: readonly number[]; all: number }>;

export function owedShares({ mask, level }: OwedZone, top: TopThree, values: OwedValues): OwedShares {
  const met = new Uint8Array(OWED.length);
  const each = new Array<number>(OWED.length).fill(0);
  let [cells, all] = [0, 0];
  for (let i = 0; i < top.cells; i++) {
    if (mask[i] === 0) continue;
    cells++;
    metAt(level, top, values, i, met);
    met.forEach((one, k) => (each[k]! += one));
    if (!met.includes(0)) all++;
  }
  const share = (count: number): number => (cells === 0 ? 0 : count / cells);
  return { each: each.map(share), all: share(all) };
}
