import type { Panes } from '../building/panes';
import { BANDS } from '../radio/band';
import type { Antenna } from '../radio/antenna';
import { sightLine, type Pose } from '../propagation/ray';

/** An access point as far as rays are concerned. */
export type Station = Readonly<{ pose: Pose; antennas: ReadonlyArray<Antenna | null> }>;

/** Losses between all stations: `lossDb[band][from * n + to]`, for the stations and model they were computed with. */
export type BetweenLoss = Readonly<{ panes: Panes; exponent: number; stations: readonly Station[]; lossDb: readonly Float32Array[] }>;

const samePose = (a: Pose, b: Pose): boolean =>
  a.xM === b.xM && a.yM === b.yM && a.heightM === b.heightM && a.azimuthDeg === b.azimuthDeg && a.tiltDeg === b.tiltDeg;
const sameStation = (a: Station | undefined, b: Station): boolean =>
  a !== undefined && samePose(a.pose, b.pose) && a.antennas.every((antenna, i) => antenna === b.antennas[i]);

/**
 * Loss from each station to each other one's antenna position, per band, in dB, with the sender's antenna gain taken off:
 * 0 to itself, Infinity where the sender has no radio in the band. Pairs of which neither station changed are taken from `known`:
 * while one access point is dragged, only its own rays are drawn.
 */
export function lossBetween(panes: Panes, stations: readonly Station[], exponent: number, known: BetweenLoss | null = null): BetweenLoss {
  const n = stations.length;
  const base = known !== null && known.panes === panes && known.exponent === exponent && known.stations.length === n ? known : null;
  const kept = stations.map((station, i) => base !== null && sameStation(base.stations[i], station));
  const lossDb = BANDS.map((band, lane) => {
    const out = new Float32Array(n * n);
    stations.forEach((from, i) =>
      stations.forEach((to, j) => {
        if (i === j) return;
        const antenna = from.antennas[lane];
        if (kept[i] && kept[j]) out[i * n + j] = base!.lossDb[lane]![i * n + j]!;
        else
          out[i * n + j] = antenna ? sightLine(panes, from.pose, antenna, exponent, band, to.pose.xM, to.pose.yM, to.pose.heightM).lossDb : Infinity;
      }),
    );
    return out;
  });
  return { panes, exponent, stations, lossDb };
}
