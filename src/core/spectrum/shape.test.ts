import { describe, expect, test } from '@jest/globals';
import { maskDbr, maskPoints, overlapShare } from '../radio/overlap';
import { bell, block, chips, densityAt, filtered, masked, NOISE_BANDWIDTH, passes, picture, shareBetween } from './shape';

describe('transmit masks (IEEE 802.11ax-2021, 27.3.19.1)', () => {
  test.each([
    [20, 9.75, 0],
    [20, 10.25, -20],
    [20, 20, -28],
    [20, 30, -40],
    [40, 40, -28],
    [80, 40.5, -20],
    [160, 240, -40],
    [320, 160.5, -20],
  ] as const)('%d MHz at %d MHz from the centre: %d dBr', (widthMhz, offsetMhz, dbr) => {
    expect(maskDbr(widthMhz, offsetMhz)).toBeCloseTo(dbr, 6);
    expect(maskDbr(widthMhz, -offsetMhz)).toBeCloseTo(dbr, 6);
  });
  test('between the points it is straight in dB, beyond the last nothing', () => {
    expect(maskDbr(20, 25)).toBeCloseTo(-34, 6);
    expect(maskDbr(20, 30.1)).toBe(-Infinity);
    expect(maskPoints(20).at(-1)).toEqual([30, -40]);
  });
});

describe('shapes', () => {
  test.each([bell(5), block(8), chips(1.35), picture(17), masked(20), masked(80)])('$key holds all of its power, alike on both sides', (shape) => {
    expect(shareBetween(shape, -1000, 1000)).toBeCloseTo(1, 3);
    expect(shareBetween(shape, -1000, 0)).toBeCloseTo(0.5, 3);
    expect(densityAt(shape, 0.37 * shape.reachMhz)).toBeCloseTo(densityAt(shape, -0.37 * shape.reachMhz), 9);
    expect(densityAt(shape, 1.01 * shape.reachMhz)).toBe(0);
  });
  test('a bell has fallen by 10 dB at the ends of its width, chips are nothing at their rate, a block is flat', () => {
    const db = (shape: ReturnType<typeof bell>, offset: number) => 10 * Math.log10(densityAt(shape, offset) / densityAt(shape, 0));
    expect(db(bell(5), 2.5)).toBeCloseTo(-10, 1);
    expect(db(chips(1.35), 1.35)).toBeLessThan(-25);
    expect(db(chips(1.35), 0.675)).toBeCloseTo(20 * Math.log10(2 / Math.PI), 1);
    expect(db(block(8), 3.9)).toBeCloseTo(0, 6);
    expect(densityAt(block(8), 0)).toBeCloseTo(1 / 8, 2);
  });
  test('what of a network falls into a channel is what the overlap says', () => {
    const [one, three] = [1, 3].map((primary) => ({ band: '2.4' as const, primary, widthMhz: 20 as const }));
    expect(shareBetween(masked(20), 0, 20)).toBeCloseTo(overlapShare(one!, three!), 2);
  });
});

describe('the resolution filter', () => {
  test('noise bandwidth of a bell: 1.0645 of its width at 3 dB', () => expect(NOISE_BANDWIDTH).toBeCloseTo(1.0645, 4));
  test('of a flat signal it lets through its noise bandwidth, of a line all in the middle and half at the edge of its width', () => {
    expect(passes(filtered(block(8), 0.3), 0)).toBeCloseTo((0.3 * 1.0645) / 8, 3);
    const line = filtered(bell(0.02), 1);
    expect(passes(line, 0)).toBeCloseTo(1, 2);
    expect(passes(line, 0.5)).toBeCloseTo(0.5, 2);
    expect(passes(line, 4)).toBe(0);
  });
});
