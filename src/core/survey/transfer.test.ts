import { describe, expect, test } from '@jest/globals';
import { COMMON_RULE } from '../radio/bandRule';
import { rateSteps } from '../radio/rates';
import { COMMON_CLIENT } from '../radio/receiver';
import { noiseDbm } from '../radio/noise';
import type { Transmitter } from './site';
import { spreadOf, transferAt, trimmedMean, type Disturbing, type Served } from './transfer';

const antenna = { peakDbi: 0, horizontalDb: [0], verticalDb: [0, 0, 0] };
const radio = (bssid: string, primary: number, fields: Partial<Transmitter> = {}): Transmitter => ({
  bssid,
  ssid: 's',
  apId: bssid,
  pose: { xM: 0, yM: 0, zM: 3, azimuthDeg: 0, tiltDeg: 0 },
  antenna,
  channel: { band: '5', primary, widthMhz: 20 },
  txPowerDbm: 15,
  ...fields,
});
const at = { xM: 5, yM: 0, zM: 1 };
const client = { receiver: COMMON_CLIENT, bandRule: COMMON_RULE, bands: ['2.4', '5', '6'] as const, offsetDb: 0 };
const ours: Served = { streams: 2, generation: 'Wi-Fi 6' };
/** Each transmitter with its level everywhere. */
const tested = (
  all: ReadonlyArray<readonly [Transmitter, number, Served]>,
  runs = 20,
  fields: Partial<typeof client> = {},
  disturbing: readonly Disturbing[] = [],
) =>
  transferAt(
    all.map(([transmitter]) => transmitter),
    all.map(([, , served]) => served),
    (transmitter) => all.find(([one]) => one === transmitter)![1],
    // Half more and half less from run to run.
    (i, run) => (i === 0 ? 0 : all[i]![2] === null ? 0.15 : 0.08) * (run % 2 === 0 ? 0.5 : 1.5),
    () => disturbing,
    at,
    { ...client, ...fields },
    runs,
    'seed',
  );
const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
const down = (transfer: ReturnType<typeof tested>) => mean(transfer!.runs.map(({ downMbps }) => downMbps));

describe('a simulated transfer', () => {
  test('alone and near: seven tenths of the highest rate of 20 MHz and two streams, 286.8 Mb/s, hardly anything sent again', () => {
    const highest = rateSteps('HE', 20, 2).at(-1)!.mbps;
    expect(highest).toBeCloseTo(286.8, 1);
    const transfer = tested([[radio('a', 36), -35, ours]])!;
    expect(transfer.serving).toBe(0);
    expect(transfer.rssiDbm).toBe(-35);
    expect(transfer.snrDb).toBe(Math.round(-35 - noiseDbm('5', 20)));
    for (const { downMbps, retries } of transfer.runs) {
      expect(downMbps).toBeLessThanOrEqual(0.7 * highest + 0.05);
      expect(downMbps).toBeGreaterThan(0.7 * highest * 0.99);
      expect(retries).toBeLessThan(0.02);
    }
  });
  test('near the rates’ edge one frame in ten is sent again, and runs differ; without enough there is nothing', () => {
    const edge = tested([[radio('a', 36), -88, ours]])!;
    expect(Math.max(...edge.runs.map(({ retries }) => retries))).toBeLessThanOrEqual(0.1);
    expect(Math.max(...edge.runs.map(({ retries }) => retries))).toBeGreaterThan(0.03);
    expect(spreadOf(edge.runs.map(({ downMbps }) => downMbps))).toBeGreaterThan(0);
    expect(tested([[radio('a', 36), -130, ours]])).toBeNull();
    expect(tested([[radio('a', 36), -40, null]])).toBeNull();
    expect(tested([])).toBeNull();
  });
  test('a client that sends less than its access point has less up than down', () => {
    const far = tested([[radio('a', 36, { txPowerDbm: 25 }), -75, ours]])!;
    expect(mean(far.runs.map(({ upMbps }) => upMbps))).toBeLessThan(0.7 * down(far));
  });
  test('who is waited for takes his load of the air, here ours 8 %, others 15 %, on average; on another channel nothing', () => {
    const alone = down(tested([[radio('a', 36), -40, ours]]));
    const with1 = (other: Transmitter, dbm: number, served: Served) =>
      down(
        tested([
          [radio('a', 36), -40, ours],
          [other, dbm, served],
        ]),
      ) / alone;
    expect(with1(radio('b', 36), -60, ours)).toBeCloseTo(0.92, 1);
    expect(with1(radio('n', 36, { apId: null }), -60, null)).toBeGreaterThan(0.81);
    expect(with1(radio('n', 36, { apId: null }), -60, null)).toBeLessThan(0.89);
    expect(with1(radio('n', 149, { apId: null }), -60, null)).toBeCloseTo(1, 2);
    // Too weak to be waited for.
    expect(with1(radio('n', 36, { apId: null }), -95, null)).toBeGreaterThan(0.98);
  });
  test('who serves has others to serve too', () => {
    const busy = transferAt(
      [radio('a', 36)],
      [ours],
      () => -40,
      () => 0.3,
      () => [],
      at,
      client,
      20,
      'seed',
    );
    expect(down(busy) / down(tested([[radio('a', 36), -40, ours]]))).toBeCloseTo(0.7, 2);
  });
  test('what is not Wi-Fi takes the air from -62 dBm in the channel on, at either end, and is noise below', () => {
    const alone = down(tested([[radio('a', 36), -40, ours]]));
    const beside = (atClientDbm: number, atApDbm: number, share = 1) =>
      down(tested([[radio('a', 36), -40, ours]], 20, {}, [{ atClientDbm, atApDbm, busy: 0.44, share }])) / alone;
    expect(beside(-50, -100)).toBeCloseTo(0.56, 2);
    expect(beside(-100, -50)).toBeCloseTo(0.56, 2);
    expect(beside(-61.9, -100)).toBeCloseTo(0.56, 2);
    // A tenth of a dB below: 0.44 of -62.1 dBm is noise of -65.7, which leaves 25.7 dB of the level.
    const noisy = beside(-62.1, -100);
    expect(noisy).toBeLessThan(0.7);
    expect(noisy).not.toBeCloseTo(0.56, 2);
    // At the other end it is noise on the way up alone.
    expect(beside(-100, -62.1)).toBeCloseTo(1, 2);
    const up = (disturbing: readonly Disturbing[]) =>
      mean(tested([[radio('a', 36), -40, ours]], 20, {}, disturbing)!.runs.map(({ upMbps }) => upMbps));
    const [quiet, atAp, atClient] = [[], [-62.1, -100], [-100, -62.1]].map((dbm) =>
      up(dbm.length === 0 ? [] : [{ atApDbm: dbm[0]!, atClientDbm: dbm[1]!, busy: 0.44, share: 1 }]),
    );
    expect(atAp! / quiet!).toBeLessThan(0.9);
    expect(atClient! / quiet!).toBeCloseTo(1, 2);
    expect(beside(-55, -100, 0.1)).not.toBeCloseTo(0.56, 2);
  });
  test('however busy, something is left', () => {
    const crowd = Array.from({ length: 30 }, (_, i) => [radio(`n${i}`, 36, { apId: null }), -50, null] as const);
    const left = down(tested([[radio('a', 36), -40, ours], ...crowd]));
    expect(left).toBeGreaterThan(4);
    expect(left).toBeLessThan(10);
  });
  test('the strongest of the band that the client takes serves; bands that it is not set to are left out', () => {
    const far = radio('far', 36);
    const low = radio('low', 1, { channel: { band: '2.4', primary: 1, widthMhz: 20 } });
    const all = [
      [low, -40, ours],
      [far, -75, ours],
      [radio('near', 44), -60, ours],
    ] as const;
    expect(tested(all)!.serving).toBe(2);
    expect(tested(all.slice(0, 2))!.serving).toBe(0);
    expect(tested(all, 3, { bands: ['5'] as never })!.serving).toBe(2);
    expect(tested(all, 3, { offsetDb: -4 })!.rssiDbm).toBe(-64);
    expect(tested(all, 3)!.runs).toHaveLength(3);
  });
});

test('the mean without the best and the worst, and the spread of all', () => {
  expect(trimmedMean([10, 100, 20, 30, 0])).toBe(20);
  expect(trimmedMean([10, 30])).toBe(20);
  expect(trimmedMean([7])).toBe(7);
  expect(spreadOf([2, 4, 4, 4, 5, 5, 7, 9])).toBeCloseTo(Math.sqrt(32 / 7), 12);
  expect(spreadOf([3])).toBeNaN();
});
