import type { Panes } from '../building/panes';
import { BANDS } from '../radio/band';
import type { Antenna } from '../radio/antenna';
import { sightLine, type Pose } from '../propagation/ray';

/** An access point as far as rays are concerned. */
export type Station = Readonly<{ pose: Pose; antennas: ReadonlyArray<Antenna | null> }>;

/**
 * Loss from each station to each other one's antenna position, per band, in dB, with the sender's antenna gain taken off:
 * result[band][from * n + to]; 0 to itself, Infinity where the sender has no radio in the band.
 */
export function lossBetween(panes: Panes, stations: readonly Station[], exponent: number): Float32Array[] {
  const n = stations.length;
  return BANDS.map((band, lane) => {
    const out = new Float32Array(n * n);
    stations.forEach((from, i) =>
      stations.forEach((to, j) => {
        const antenna = from.antennas[lane];
        if (i === j) return;
        out[i * n + j] = antenna ? sightLine(panes, from.pose, antenna, exponent, band, to.pose.xM, to.pose.yM, to.pose.heightM).lossDb : Infinity;
      }),
    );
    return out;
  });
}
