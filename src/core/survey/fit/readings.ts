import type { PointM } from '../../geometry/point';
import type { Visit } from '../heard';
import { bandIndex } from '../../radio/band';
import type { Sample } from '../sample';

/**
 * What a radio was heard with at a spot: the mean of some beacons near each other, in dBm, and how many; the spot is the middle of theirs. `radio` is an index into the radios that are looked at;
 * `tMs` is when it was heard first, `spots` where its beacons were heard; of many of them some.
 */
export type Reading = Readonly<{ radio: number; xM: number; yM: number; dbm: number; count: number; tMs: number; spots: readonly PointM[] }>;

/** How far two of some spots lie from each other, in m: the root of the mean square; 0 where there is but one. */
export function spreadM(spots: readonly PointM[]): number {
  if (spots.length < 2) return 0;
  let [x, y, squares] = [0, 0, 0];
  for (const { xM, yM } of spots) {
    x += xM;
    y += yM;
  }
  for (const { xM, yM } of spots) squares += (xM - x / spots.length) ** 2 + (yM - y / spots.length) ** 2;
  return Math.sqrt((2 * squares) / (spots.length - 1));
}

/** Of more beacons of one reading than this only the places of some are kept: who stands for minutes hears hundreds at one. */
const MOST_SPOTS = 16;

/** Some of a list, spread evenly over it; all where there are no more than `most`. */
export function evenlyOf<T>(all: readonly T[], most: number): readonly T[] {
  const step = Math.max(1, all.length / most);
  return step === 1 ? all : all.filter((_, i) => Math.floor((i + 1) / step) > Math.floor(i / step));
}

/** Beacons of one radio within squares of this side make one reading, in m: fading is averaged, shadows are not. */
export const BIN_M = 1;

/** Whose a sample is among some radios: the index, undefined for nobody's. */
function radioAmong(
  radios: ReadonlyArray<Readonly<{ apId: string; band: Sample['band'] }>>,
): (sample: Pick<Sample, 'apId' | 'band'>) => number | undefined {
  const byBand = new Map<Sample['band'], Map<string, number>>();
  radios.forEach(({ apId, band }, i) => byBand.set(band, (byBand.get(band) ?? new Map()).set(apId, i)));
  return ({ apId, band }) => (apId === null ? undefined : byBand.get(band)?.get(apId));
}

/** One number for a whole number and a square; squares reach 30 km to all sides. */
const keyOf = (of: number, col: number, row: number): number => (of * 65_536 + (col + 32_768)) * 65_536 + row + 32_768;

/**
 * The beacons of some radios, by square and leg: in order of legs and time. What is of nobody among them is left out.
 * @param apart whether a wall stands between two spots: what was heard before it and behind it is not one reading
 */
export function readingsOf(
  samples: readonly Sample[],
  radios: ReadonlyArray<Readonly<{ apId: string; band: Sample['band'] }>>,
  apart: (ax: number, ay: number, bx: number, by: number) => boolean,
): Reading[] {
  const radioOf = radioAmong(radios);
  type Bin = { leg: number; radio: number; sum: number; tMs: number; spots: PointM[] };
  type Square = Readonly<{ key: number; bins: Bin[] }>;
  const squares = new Map<number, Square>();
  const all: Bin[] = [];
  // What is heard next of a radio mostly lies in the same square.
  const latest: Array<Square | undefined> = [];
  for (const sample of samples) {
    const radio = radioOf(sample);
    if (radio === undefined) continue;
    const { leg, xM, yM, rssiDbm, tMs } = sample;
    const key = keyOf(leg * radios.length + radio, Math.floor(xM / BIN_M), Math.floor(yM / BIN_M));
    let square = latest[radio];
    if (square?.key !== key) {
      square = squares.get(key) ?? { key, bins: [] };
      squares.set(key, square);
      latest[radio] = square;
    }
    const bin = square.bins.find(({ spots: [first] }) => !apart(first!.xM, first!.yM, xM, yM));
    if (bin !== undefined) {
      bin.sum += rssiDbm;
      bin.spots.push({ xM, yM });
      continue;
    }
    const begun = { leg, radio, sum: rssiDbm, tMs, spots: [{ xM, yM }] };
    square.bins.push(begun);
    all.push(begun);
  }
  return (
    all
      // Legs follow each other, also those of several walks, each of which has times of its own.
      .sort((a, b) => a.leg - b.leg || a.tMs - b.tMs || a.radio - b.radio)
      .map(({ radio, sum, tMs, spots }) => {
        const count = spots.length;
        let [x, y] = [0, 0];
        for (const { xM, yM } of spots) {
          x += xM;
          y += yM;
        }
        return { radio, xM: x / count, yM: y / count, dbm: sum / count, count, tMs, spots: evenlyOf(spots, MOST_SPOTS) };
      })
  );
}

/** A spot at which a radio was listened for and not heard, in dBm from where on half of its beacons would have been. */
export type Unheard = Readonly<{ radio: number; xM: number; yM: number; hearsFromDbm: number }>;

/**
 * Where radios were not heard: squares of a leg in which the receiver was on the radio's channel and got less than half of its beacons. Only of radios that were heard somewhere, for else nobody
 * knows their channel; of one that was heard on several channels only on legs on which it was heard.
 */
export function unheardOf(
  samples: readonly Sample[],
  visits: readonly Visit[],
  radios: ReadonlyArray<Readonly<{ apId: string; band: Sample['band'] }>>,
): Unheard[] {
  const radioOf = radioAmong(radios);
  const squareOf = (of: number, { xM, yM }: PointM): number => keyOf(of, Math.floor(xM / BIN_M), Math.floor(yM / BIN_M));
  type Known = { ssid: string; channels: Set<number>; onLeg: Map<number, number>; heard: Map<number, number> };
  const heardOf = new Map<number, Known>();
  for (const sample of samples) {
    const radio = radioOf(sample);
    if (radio === undefined) continue;
    const own = heardOf.get(radio) ?? { ssid: sample.ssid, channels: new Set(), onLeg: new Map(), heard: new Map() };
    heardOf.set(radio, own);
    own.channels.add(sample.channel);
    own.onLeg.set(sample.leg, sample.channel);
    const square = squareOf(sample.leg, sample);
    own.heard.set(square, (own.heard.get(square) ?? 0) + 1);
  }
  type Square = { leg: number; channel: number; band: Sample['band']; ssid: string; x: number; y: number; from: number; count: number };
  const onChannel = (band: Sample['band'], channel: number): number => bandIndex(band) * 1000 + channel;
  const squares: Square[] = [];
  /** The same by what was listened for, and where. */
  const listened = new Map<string, Map<number, Map<number, Square>>>();
  for (const visit of visits) {
    const { leg, band, channel, ssid, xM, yM, hearsFromDbm } = visit;
    const what = onChannel(band, channel);
    const where = squareOf(leg, visit);
    const byChannel = listened.get(ssid) ?? new Map<number, Map<number, Square>>();
    listened.set(ssid, byChannel);
    const inSquares = byChannel.get(what) ?? new Map<number, Square>();
    byChannel.set(what, inSquares);
    let square = inSquares.get(where);
    if (square === undefined) {
      square = { leg, channel, band, ssid, x: 0, y: 0, from: 0, count: 0 };
      inSquares.set(where, square);
      squares.push(square);
    }
    square.x += xM;
    square.y += yM;
    square.from += hearsFromDbm;
    square.count++;
  }
  /** The radios that were heard somewhere, by the channel on which each sent on a leg. */
  const sending = new Map<number, Map<number, Array<Readonly<{ radio: number; of: Known }>>>>();
  const sendingOn = (leg: number): Map<number, Array<Readonly<{ radio: number; of: Known }>>> => {
    const known = sending.get(leg);
    if (known !== undefined) return known;
    const byChannel = new Map<number, Array<Readonly<{ radio: number; of: Known }>>>();
    sending.set(leg, byChannel);
    for (const [radio, of] of heardOf) {
      const channel = of.onLeg.get(leg) ?? (of.channels.size === 1 ? of.channels.values().next().value : undefined);
      if (channel === undefined) continue;
      const what = onChannel(radios[radio]!.band, channel);
      const own = byChannel.get(what);
      if (own === undefined) byChannel.set(what, [{ radio, of }]);
      else own.push({ radio, of });
    }
    return byChannel;
  };
  const unheard: Unheard[] = [];
  for (const { leg, band, channel, ssid, x, y, from, count } of squares) {
    const at = { xM: x / count, yM: y / count };
    const key = squareOf(leg, at);
    for (const { radio, of } of sendingOn(leg).get(onChannel(band, channel)) ?? []) {
      if ((ssid !== '' && ssid !== of.ssid) || 2 * (of.heard.get(key) ?? 0) >= count) continue;
      unheard.push({ radio, xM: at.xM, yM: at.yM, hearsFromDbm: from / count });
    }
  }
  return unheard;
}
