import { describe, expect, test } from '@jest/globals';
import { SITE_KINDS, surveyedSite } from '../../../../bench/sites';
import { panesOf } from '../../building/panes';
import { doubtOf, noiseOf, stretchesOf } from './scatter';
import { joined, NOTHING_COUNTED } from '../heard';
import { evenlyOf, readingsOf, spreadM, type Reading } from './readings';
import { trendOf } from './trend';
import { mediumOf } from '../../propagation/medium';
import { type Scatter } from './whiten';

const scatter: Scatter = { shadowVar: 16, correlationM: 5, beaconVar: 4, wallVar: 1 };
const rooms = SITE_KINDS[0]!;

describe('what a reading varies by', () => {
  const at = (...spots: ReadonlyArray<readonly [number, number]>): Reading => {
    const places = spots.map(([xM, yM]) => ({ xM, yM }));
    return { radio: 0, xM: 0, yM: 0, dbm: -60, count: spots.length, tMs: 0, spots: places };
  };
  test('of many some, evenly; of few all', () => {
    const all = Array.from({ length: 10 }, (_, i) => i);
    expect(evenlyOf(all, 10)).toEqual(all);
    expect(evenlyOf(all, 12)).toEqual(all);
    expect(evenlyOf(all, 5)).toEqual([1, 3, 5, 7, 9]);
    expect(evenlyOf(all, 4)).toHaveLength(4);
  });
  test('who stands for long keeps the places of some beacons, and the mean of all', () => {
    const sample = { leg: 0, bssid: 'b', ssid: 's', apId: 'a', band: '5' as const, channel: 36, widthMhz: 20 };
    const samples = Array.from({ length: 320 }, (_, i) => ({ ...sample, tMs: i, xM: i < 160 ? 0.2 : 0.6, yM: -0.5, rssiDbm: i < 160 ? -60 : -70 }));
    const [reading, ...others] = readingsOf(samples, [{ apId: 'a', band: '5' }], () => false);
    expect(others).toEqual([]);
    expect(reading).toMatchObject({ xM: expect.closeTo(0.4, 9), yM: -0.5, dbm: -65, count: 320 });
    expect(reading!.spots).toEqual([0.2, 0.6].flatMap((xM) => Array(8).fill({ xM, yM: -0.5 })));
  });
  test('how far two of its beacons lie from each other', () => {
    expect(spreadM([])).toBe(0);
    expect(spreadM([{ xM: 3, yM: 4 }])).toBe(0);
    expect(spreadM(at([0, 0], [0.6, 0.8]).spots)).toBeCloseTo(1, 12);
    // Three at the corners of a triangle with sides 3, 4 and 5: the mean of 9, 16 and 25.
    expect(spreadM(at([0, 0], [3, 0], [0, 4]).spots)).toBeCloseTo(Math.sqrt(50 / 3), 12);
  });
  test('by its beacons, averaged, less what their shadows average to: by hand', () => {
    const [one, same, apart, far] = noiseOf([at([0, 0]), at([0, 0], [0, 0]), at([0, 0], [0.3, 0.4]), at([0, 0], [3, 4])], scatter);
    expect(one).toBe(4);
    expect(same).toBe(2);
    // Of two, half of 16 (1 - e^-0.1) is averaged out.
    expect(apart).toBeCloseTo(2 - 8 * (1 - Math.exp(-0.1)), 10);
    // Never below a quarter of what beacons scatter.
    expect(far).toBe(0.5);
  });
  test('how they vary is learned from those that are heard for certain, in whole stretches; from all where most are not', () => {
    const of = (levels: readonly number[], radio: (i: number) => number = () => 0) =>
      stretchesOf(
        levels.map((_, i) => ({ radio: radio(i) })),
        { rows: levels.map((baseDbm) => ({ baseDbm })) },
      );
    expect(of([-60, -81, -80, -70])).toEqual([0, 2, 3]);
    expect(of([-60, -81, -90, -95])).toEqual([0, 1, 2, 3]);
    // Of nine radios the eight that have most; of more than 900 whole stretches of 30, evenly.
    expect(new Set(of(Array(90).fill(-60), (i) => (i < 4 ? 8 : i % 8)).map((i) => (i < 4 ? 8 : i % 8)))).toEqual(new Set([0, 1, 2, 3, 4, 5, 6, 7]));
    const many = of(Array(3600).fill(-60), (i) => i % 2);
    expect(many).toHaveLength(900);
    for (let k = 0; k < 900; k += 30) for (let j = 1; j < 30; j++) expect(many[k + j]).toBe(many[k]! + 2 * j);
    expect(Math.max(...many)).toBeGreaterThan(3400);
  });
  test('from few readings nobody knows for certain what shadows vary by: as Student has it', () => {
    // 4 + 120 / 20 = 10 degrees of freedom: 10 / 8.
    expect([0, 120, 1e9].map(doubtOf)).toEqual([2, 1.25, expect.closeTo(1, 6)]);
  });
  test('a reading is foretold at the places of its beacons, one in the shadow of a wall and one beside it', () => {
    const wall = { id: 'w', floorId: 'f', axM: 5, ayM: 0, bxM: 5, byM: 10, baseM: 0, topM: 3, materialId: 'plasterboard' };
    const medium = mediumOf(panesOf([wall], []), { exponent: 2 });
    const radio = { ...surveyedSite(rooms, 1).radios[0]!, pose: { xM: 0, yM: 0, zM: 2, azimuthDeg: 0, tiltDeg: 0 } };
    // Seen from the origin the wall ends on the line to (10, 20).
    const spots = [
      { xM: 9.9, yM: 20, zM: 1 },
      { xM: 10.3, yM: 20, zM: 1 },
    ];
    const trend = trendOf(
      medium,
      [radio],
      Array.from({ length: 5 }, () => ({ radio: 0, spots })),
    );
    const [row] = trend.rows;
    const [beside, behind] = spots.map((spot) => trend.rowAt(0, spot));
    expect(beside!.columns).toEqual([0, 1, 2]);
    expect(behind!.columns).toEqual([0, 1, 2, 3, 4]);
    expect(row!.baseDbm).toBeCloseTo((beside!.baseDbm + behind!.baseDbm) / 2, 9);
    expect(row!.columns).toEqual([0, 1, 2, 3, 4]);
    expect(row!.slopes).toEqual([1, expect.closeTo((beside!.slopes[1]! + behind!.slopes[1]!) / 2, 9), 1, -0.5, -0.5]);
    // Four readings look through it, with a beacon each: it is told apart; three are too few.
    const ofSome = (count: number, at: typeof spots) => trendOf(medium, [radio], Array(count).fill({ radio: 0, spots: at }));
    expect(ofSome(4, spots).parameters).toHaveLength(5);
    expect(ofSome(3, [spots[1]!, spots[1]!]).parameters).toHaveLength(4);
    // What has no parameter of its own is crossed by one beacon of two.
    expect(ofSome(3, spots).rows[0]!.free).toBe(0.5);
  });
});

describe('readings', () => {
  const sample = { leg: 0, bssid: 'b', ssid: 's', apId: 'a', band: '5' as const, channel: 36, widthMhz: 20 };
  const never = () => false;
  test('beacons of one square are one reading, at their mean place and level; another leg, radio or square is another', () => {
    const samples = [
      { ...sample, tMs: 0, xM: 0.2, yM: 0.2, rssiDbm: -60 },
      { ...sample, tMs: 900, xM: 0.8, yM: 0.4, rssiDbm: -64 },
      { ...sample, tMs: 1800, xM: 1.1, yM: 0.4, rssiDbm: -50 },
      { ...sample, tMs: 2000, xM: 0.2, yM: 0.2, rssiDbm: -40, leg: 1 },
      { ...sample, tMs: 2000, xM: 0.2, yM: 0.2, rssiDbm: -40, apId: null },
    ];
    const readings = readingsOf(samples, [{ apId: 'a', band: '5' }], never);
    expect(readings).toHaveLength(3);
    const spots = [
      { xM: 0.2, yM: 0.2 },
      { xM: 0.8, yM: 0.4 },
    ];
    expect(readings[0]).toEqual({ radio: 0, xM: 0.5, yM: expect.closeTo(0.3, 9), dbm: -62, count: 2, tMs: 0, spots });
    // Of two walks over the same square, at the same times: a reading each, one walk after the other.
    const both = joined([samples.slice(0, 3), [], samples.slice(0, 4)].map((own) => ({ ...NOTHING_COUNTED, samples: own }))).samples;
    expect(both.map(({ leg }) => leg)).toEqual([0, 0, 0, 1, 1, 1, 2]);
    expect(readingsOf(both, [{ apId: 'a', band: '5' }], never).map(({ dbm, tMs }) => [dbm, tMs])).toEqual([
      [-62, 0],
      [-50, 1800],
      [-62, 0],
      [-50, 1800],
      [-40, 2000],
    ]);
    // A wall at x = 0.5 parts the square.
    expect(readingsOf(samples, [{ apId: 'a', band: '5' }], (ax, _ay, bx) => ax < 0.5 !== bx < 0.5)).toHaveLength(4);
  });
});
