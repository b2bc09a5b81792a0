import { expect, test } from '@jest/globals';
import { framesOf, type Sending } from './frames';

const sending: Sending = { channel: { band: '2.4', primary: 6, widthMhz: 20 }, seed: 99, share: 0.3, beaconUs: 0, beacons: 0 };
const airtime = (one: Sending, forUs: number): number => framesOf(one, 0, forUs).reduce((sum, { fromUs, toUs }) => sum + toUs - fromUs, 0) / forUs;

test.each([0.02, 0.1, 0.3, 0.6, 0.9])('data takes its share of the time: %d', (share) => {
  // 15 000 turns: the mean is within 2 % of the whole.
  expect(airtime({ ...sending, share }, 60e6)).toBeGreaterThan(share - 0.02);
  expect(airtime({ ...sending, share }, 60e6)).toBeLessThan(share + 0.02);
});
test('a beacon each 102.4 ms for each name, one after the other, and nothing else where there is no data', () => {
  const beacons = framesOf({ ...sending, share: 0, beaconUs: 2592, beacons: 4 }, 0, 1_024_000);
  expect(beacons).toHaveLength(10);
  expect(beacons[1]!.fromUs - beacons[0]!.fromUs).toBeCloseTo(102_400, 6);
  expect(beacons[0]!.toUs - beacons[0]!.fromUs).toBe(4 * 2592);
  expect(beacons[0]!.fromMhz).toBe(2437);
});
test('asked in parts it is the same', () => {
  const key = ({ fromUs }: { fromUs: number }) => fromUs;
  const whole = framesOf(sending, 1e9, 1e9 + 1e6).map(key);
  const parts = [0, 5e5].flatMap((from) => framesOf(sending, 1e9 + from, 1e9 + from + 5e5).map(key));
  expect([...new Set(parts)].sort()).toEqual([...whole].sort());
});
