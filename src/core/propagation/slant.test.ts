import { expect, test } from '@jest/globals';
import { panesOf } from '../building/panes';
import { materialLossDb } from '../building/material';
import { mediumOf } from './medium';
import type { Pose } from './crossing';
import { sightLine } from './ray';
import { panesMetFrom, slantFactor } from './slant';

const wall = { id: 'w', floorId: 'f', axM: -100, ayM: 10, bxM: 100, byM: 10, baseM: 0, topM: 4, materialId: 'plasterboard' };
const from: Pose = { xM: 0, yM: 0, zM: 2, azimuthDeg: 0, tiltDeg: 0 };
const antenna = { peakDbi: 0, horizontalDb: [0], verticalDb: [0, 0, 0] };
const medium = (slant: boolean, materialId = 'plasterboard') => mediumOf(panesOf([{ ...wall, materialId }], []), { exponent: 2, slant });
const lossDb = (slant: boolean, xM: number, materialId?: string) =>
  sightLine(medium(slant, materialId), from, antenna, '5', { xM, yM: 20, zM: 2 }).wallLossDb;

test.each([
  // Angle to the upright and 1 / cos: 0, 1; 30, 1.155; 45, 1.414; 60, 2; 75, 3.86.
  [0, 1],
  [30, 1.2],
  [45, 1.4],
  [60, 2],
  [75, 2],
])('met at %d degrees a wall costs %d times as much', (degrees, times) => {
  const xM = 20 * Math.tan((degrees * Math.PI) / 180);
  const onceDb = materialLossDb('plasterboard', '5');
  expect(Math.abs(lossDb(true, xM) - times * onceDb)).toBeLessThan(0.026);
  expect(lossDb(true, -xM)).toBeCloseTo(lossDb(true, xM), 9);
  expect(lossDb(false, xM)).toBeCloseTo(onceDb, 9);
});

test('the step is the nearest tenth, from either side; at an access point on the wall there is none', () => {
  // 1 / cos is 1.15 at tan = 0.568.
  expect([slantFactor(10, 5.67), slantFactor(10, 5.69)]).toEqual([1.1, 1.2]);
  expect([slantFactor(0.011, 3), slantFactor(0.009, 3)]).toEqual([2, 1]);
});

test('no wall costs more than the most that any may, and the pieces lie end to end', () => {
  expect(lossDb(true, 60, 'metal')).toBeCloseTo(40, 9);
  const { panes, origin } = panesMetFrom(medium(true), 3, 0);
  expect(panes.count).toBe(21);
  expect([...origin].every((p) => p === 0)).toBe(true);
  for (let p = 1; p < panes.count; p++) expect([...panes.ends.subarray(p * 4, p * 4 + 2)]).toEqual([...panes.ends.subarray(p * 4 - 2, p * 4)]);
  expect([...panes.ends.subarray(0, 2), ...panes.ends.subarray(82)]).toEqual([-100, 10, 100, 10]);
});
