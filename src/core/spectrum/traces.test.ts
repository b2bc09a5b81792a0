import { expect, test } from '@jest/globals';
import { addSweep, DENSITY_FROM_DBM, DENSITY_LEVELS, DENSITY_STEP_DB, nextPeak, noTraces, peakOf, smooth } from './traces';

const of = (...sweeps: number[][]) =>
  sweeps.reduce((traces, levels) => addSweep(traces, Float32Array.from(levels), -60, 10), noTraces(sweeps[0]!.length));

test('the highest, the lowest, the newest, and powers averaged, not decibels', () => {
  const traces = of([-50, -90], [-60, -90], [-70, -80]);
  expect([...traces.max]).toEqual([-50, -80]);
  expect([...traces.min]).toEqual([-70, -90]);
  expect([...traces.live]).toEqual([-70, -80]);
  // (10^-5 + 10^-6 + 10^-7) / 3 mW
  expect(traces.mean[0]).toBeCloseTo(10 * Math.log10((1e-5 + 1e-6 + 1e-7) / 3), 3);
  expect([...traces.above]).toEqual([2, 0]);
  expect(traces.sweeps).toBe(3);
});
test('an average of n forgets what is older', () => {
  let traces = noTraces(1);
  traces = addSweep(traces, Float32Array.of(-40), -60, 2);
  for (let i = 0; i < 30; i++) traces = addSweep(traces, Float32Array.of(-80), -60, 2);
  expect(traces.mean[0]).toBeLessThan(-79);
});
test('how often at which level; what is beyond the ends counts at them', () => {
  const { density } = of([-50.5], [-50.1], [-300], [20]);
  const at = (dbm: number) => density[Math.floor((dbm - DENSITY_FROM_DBM) / DENSITY_STEP_DB)];
  expect(at(-50.3)).toBe(2);
  expect(density[0]).toBe(1);
  expect(density[DENSITY_LEVELS - 1]).toBe(1);
});
test('smoothing is the mean power of the bins about each', () => {
  const out = smooth(Float32Array.of(-90, -50, -90, -90), 3);
  expect(out[1]).toBeCloseTo(10 * Math.log10((1e-5 + 2e-9) / 3), 3);
  expect(out[3]).toBeCloseTo(-90, 3);
  expect(smooth(Float32Array.of(-90), 1)[0]).toBe(-90);
});
test('the peak, and the next lower one beyond a valley of 6 dB', () => {
  const trace = Float32Array.of(-90, -60, -70, -62, -63, -80, -55, -90);
  expect(peakOf(trace)).toBe(6);
  expect(nextPeak(trace, 6)).toBe(1);
  expect(nextPeak(trace, 1)).toBe(3);
  expect(peakOf(Float32Array.of(NaN))).toBe(-1);
  expect(nextPeak(Float32Array.of(-60, -62, -61), 0)).toBe(-1);
});
