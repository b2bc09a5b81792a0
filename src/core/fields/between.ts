import type { Medium } from '../propagation/medium';
import type { Pose } from '../propagation/crossing';
import { sightLine } from '../propagation/ray';
import type { Station } from '../propagation/station';
import { gainDbi } from '../radio/antenna';
import { bandIndex, centreOfBandMhz, type Band } from '../radio/band';
import { offMiddleAtDb } from '../radio/channel';

/** Losses in one band between all stations: `lossDb[from * n + to]`, for the stations and medium they were computed with. */
export type BetweenLoss = Readonly<{ medium: Medium; band: Band; stations: readonly Station[]; lossDb: Float32Array }>;

const samePose = (a: Pose, b: Pose): boolean =>
  a.xM === b.xM && a.yM === b.yM && a.zM === b.zM && a.azimuthDeg === b.azimuthDeg && a.tiltDeg === b.tiltDeg;
const sameStation = (a: Station | undefined, b: Station, lane: number): boolean =>
  a !== undefined && samePose(a.pose, b.pose) && a.antennas[lane] === b.antennas[lane] && a.centresMhz?.[lane] === b.centresMhz?.[lane];

const centreOf = ({ centresMhz }: Station, band: Band): number => centresMhz?.[bandIndex(band)] ?? centreOfBandMhz(band);

/**
 * Loss between two stations in a band, in dB, both antennas' gain taken off; Infinity where either has no radio in the band. As in loss fields: the path at the band's middle, walls at the
 * frequency of the one that sends.
 */
export function lossFromTo(medium: Medium, from: Station, to: Station, band: Band): number {
  const sender = from.antennas[bandIndex(band)];
  const listener = to.antennas[bandIndex(band)];
  if (!sender || !listener) return Infinity;
  const { pose } = to;
  const back = gainDbi(listener, pose.azimuthDeg, pose.tiltDeg, from.pose.xM - pose.xM, from.pose.yM - pose.yM, from.pose.zM - pose.zM);
  const centreMhz = centreOf(from, band);
  return sightLine(medium, from.pose, sender, band, pose, back, centreMhz).lossDb - offMiddleAtDb(band, centreMhz);
}

/**
 * Loss between all stations in one band, in dB: 0 to itself, Infinity where one of the two has no radio in the band. At one frequency it is the
 * same both ways, and such a pair's ray is drawn once. Pairs of which neither station changed are taken from `known`: while one access point is
 * dragged, only its own rays are drawn.
 */
export function lossBetween(medium: Medium, stations: readonly Station[], band: Band, known: BetweenLoss | null = null): BetweenLoss {
  const n = stations.length;
  const lane = bandIndex(band);
  const base = known !== null && known.medium === medium && known.band === band && known.stations.length === n ? known : null;
  const kept = stations.map((station, i) => base !== null && sameStation(base.stations[i], station, lane));
  const lossDb = new Float32Array(n * n);
  for (let i = 0; i < n; i++) {
    for (let j = 0; j < i; j++) {
      const [one, other] = [stations[i]!, stations[j]!];
      const known = kept[i] && kept[j];
      lossDb[i * n + j] = known ? base!.lossDb[i * n + j]! : lossFromTo(medium, one, other, band);
      if (known) lossDb[j * n + i] = base!.lossDb[j * n + i]!;
      else lossDb[j * n + i] = centreOf(one, band) === centreOf(other, band) ? lossDb[i * n + j]! : lossFromTo(medium, other, one, band);
    }
  }
  return { medium, band, stations, lossDb };
}
