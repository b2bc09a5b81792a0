import type { Sample } from '../sample';

/**
 * What a radio was heard with at a spot: the mean of some beacons near each other, in dBm, and how many. `radio` is an index into the radios that are looked at; `tMs` is when it was
 * heard first.
 */
export type Reading = Readonly<{ radio: number; xM: number; yM: number; dbm: number; count: number; tMs: number }>;

/** Beacons of one radio within squares of this side make one reading, in m: fading is averaged, shadows are not. */
export const BIN_M = 1;

/**
 * The beacons of some radios, by square and leg: in order of legs and time. What is of nobody among them is left out.
 * @param apart whether a wall stands between two spots: what was heard before it and behind it is not one reading
 */
export function readingsOf(
  samples: readonly Sample[],
  radios: ReadonlyArray<Readonly<{ apId: string; band: Sample['band'] }>>,
  apart: (ax: number, ay: number, bx: number, by: number) => boolean,
): Reading[] {
  const indexOf = new Map(radios.map(({ apId, band }, i) => [`${apId}/${band}`, i]));
  type Bin = { leg: number; radio: number; x: number; y: number; sum: number; count: number; tMs: number; fromX: number; fromY: number };
  const bins = new Map<string, Bin[]>();
  for (const { apId, band, leg, xM, yM, rssiDbm, tMs } of samples) {
    const radio = apId === null ? undefined : indexOf.get(`${apId}/${band}`);
    if (radio === undefined) continue;
    const key = `${radio}/${leg}/${Math.floor(xM / BIN_M)}/${Math.floor(yM / BIN_M)}`;
    const inSquare = bins.get(key) ?? [];
    bins.set(key, inSquare);
    const bin = inSquare.find(({ fromX, fromY }) => !apart(fromX, fromY, xM, yM));
    if (bin === undefined) inSquare.push({ leg, radio, x: xM, y: yM, sum: rssiDbm, count: 1, tMs, fromX: xM, fromY: yM });
    else {
      bin.x += xM;
      bin.y += yM;
      bin.sum += rssiDbm;
      bin.count++;
    }
  }
  return (
    [...bins.values()]
      .flat()
      // Legs follow each other, also those of several walks, each of which has times of its own.
      .sort((a, b) => a.leg - b.leg || a.tMs - b.tMs || a.radio - b.radio)
      .map(({ radio, x, y, sum, count, tMs }) => ({ radio, xM: x / count, yM: y / count, dbm: sum / count, count, tMs }))
  );
}
