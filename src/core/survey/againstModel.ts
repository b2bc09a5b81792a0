import { pathMhz } from '../radio/channel';
import type { Medium } from '../propagation/medium';
import { sightLinesFrom } from '../propagation/ray';
import type { Emitter } from '../propagation/station';
import { HEARD_FOR_CERTAIN_DBM } from './receiver';
import type { Sample } from './sample';

/** A radio of the design that samples may be of. */
export type DesignedRadio = Emitter & Readonly<{ apId: string }>;

/**
 * How a radio's samples lie beside the model at their own places: how many were compared, what the model says there in the mean, what was heard more
 * than that, and by how much single samples scatter about it, in dBm and dB.
 */
export type AgainstModel = Readonly<{
  apId: string;
  band: Sample['band'];
  count: number;
  predictedDbm: number;
  differenceDb: number;
  sigmaDb: number;
}>;

/** Each radio's samples against the model, ray by ray at the samples' own places; radios of which none is compared are left out. */
export function againstModel(medium: Medium, zM: number, radios: readonly DesignedRadio[], samples: readonly Sample[]): AgainstModel[] {
  return radios.flatMap((radio): AgainstModel[] => {
    const { band } = radio.channel;
    const lineTo = sightLinesFrom(medium, radio.pose, radio.antenna, band, pathMhz(radio.channel));
    let [count, predicted, sum, squares] = [0, 0, 0, 0];
    for (const { apId, band: of, xM, yM, rssiDbm } of samples) {
      if (apId !== radio.apId || of !== band) continue;
      const dbm = radio.txPowerDbm - lineTo({ xM, yM, zM }).lossDb;
      if (dbm < HEARD_FOR_CERTAIN_DBM) continue;
      const off = rssiDbm - dbm;
      count++;
      predicted += dbm;
      sum += off;
      squares += off * off;
    }
    if (count === 0) return [];
    const mean = sum / count;
    return [
      {
        apId: radio.apId,
        band,
        count,
        predictedDbm: predicted / count,
        differenceDb: mean,
        sigmaDb: Math.sqrt(Math.max(0, squares / count - mean * mean)),
      },
    ];
  });
}
