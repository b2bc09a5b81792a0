import { modelOf } from '../radio/catalogue';
import type { PlanRadio, Setting } from './problem';

/** Runs a search to its end. */
export function finish<P, R>(run: Generator<P, R>): R {
  let step = run.next();
  while (!step.done) step = run.next();
  return step.value;
}

/** Radios on a line of 100 points, 1 point a metre: loss 40 dB + 1 dB per point away. */
export function lineRadios(
  positions: readonly number[],
  settings: ReadonlyArray<Partial<Setting>>,
  band: PlanRadio['band'] = '5',
  slope = 1,
): PlanRadio[] {
  return positions.map((at, r) => ({
    apId: `ap${r}`,
    name: `AP-${r}`,
    model: modelOf('dunlin-c2'),
    band,
    locked: false,
    forbidden: [],
    // 5 GHz's middle: ways are no other there.
    before: { on: true, channel: band === '5' ? 100 : 1, widthMhz: 20, txPowerDbm: 10, ...settings[r] },
    ...(() => {
      const lossDb = Float32Array.from({ length: 100 }, (_, c) => 60 + slope * Math.abs(c + 0.5 - at));
      return { lossDb, cellLossDb: lossDb };
    })(),
    lossToRadioDb: Float32Array.from(positions, (other) => (other === at ? 0 : 60 + slope * Math.abs(other - at))),
  }));
}
