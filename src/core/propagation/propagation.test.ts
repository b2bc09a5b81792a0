import { describe, expect, test } from '@jest/globals';
import { LOSS_UNIT_DB, materialLossDb } from '../building/material';
import { panesOf } from '../building/panes';
import type { Wall } from '../building/wall';
import { EXPONENT, freeSpaceLossDb, pathLossDb } from './pathLoss';
import { mediumOf } from './medium';
import { slabUnits, type Slab } from '../building/slab';
import { crossingShare, slabShare, type Pose } from './crossing';
import { sightLine } from './ray';

describe('path loss', () => {
  test.each([
    // 20 log10(4 pi d f / c), c = 299 792 458 m/s, rounded to 0.01 dB
    { freqMhz: 2412, distanceM: 1, lossDb: 40.1 },
    { freqMhz: 2442, distanceM: 1, lossDb: 40.2 },
    { freqMhz: 5180, distanceM: 100, lossDb: 86.73 },
    { freqMhz: 6525, distanceM: 10, lossDb: 68.74 },
  ])('free space: $freqMhz MHz over $distanceM m', ({ freqMhz, distanceM, lossDb }) =>
    expect(freeSpaceLossDb(freqMhz, distanceM)).toBeCloseTo(lossDb, 2),
  );
  test("the constant is the trade's 27.55", () => expect(20 * Math.log10(5500) - freeSpaceLossDb(5500, 1)).toBeCloseTo(27.55, 2));
  test('the exponent counts from 1 m; nearer than 0.5 m nothing changes', () => {
    expect(pathLossDb(5500, 10, 2.2) - pathLossDb(5500, 1, 2.2)).toBeCloseTo(22, 9);
    expect(pathLossDb(5500, 0.1, 2.2)).toBe(pathLossDb(5500, 0.5, 2.2));
  });
  test.each([
    // ITU-R P.1238: 20 log10(f) + N log10(d) - 28 on one floor, N 22 in shops, 28 in dwellings, 30 in offices at 5 GHz; ours has the 27.55 of free space at 1 m.
    ['undrawn-hall', 20, 74.32 + 28.62 - 28],
    ['undrawn-dwelling', 10, 74.32 + 28 - 28],
    ['undrawn-office', 20, 74.32 + 39.03 - 28],
    ['undrawn-office', 50, 74.32 + 50.97 - 28],
  ] as const)('%s at 5200 MHz, %d m: %d dB, but for the constant', (environment, distanceM, lossDb) =>
    expect(pathLossDb(5200, distanceM, EXPONENT[environment]) - lossDb).toBeCloseTo(28 - 27.55, 2),
  );
  test.each([
    // ITU-R P.1238, offices near 2 GHz: 15 + 4 (n - 1) dB through n floors.
    [1, 15],
    [2, 19],
    [3, 23],
    [5, 31],
  ])('through %d floors of 15 dB: %d dB at 2.4 GHz', (n, lossDb) => {
    const slabs = Array.from({ length: n }, () => ({ lossUnits: [15 / LOSS_UNIT_DB, 0, 0] }));
    expect(slabUnits(slabs, 0).reduce((sum, units) => sum + units, 0) * LOSS_UNIT_DB).toBeCloseTo(lossDb, 9);
  });
  test('no distance is an error with a code', () =>
    expect(() => freeSpaceLossDb(5500, 0)).toThrow(expect.objectContaining({ code: 'DISTANCE_NOT_POSITIVE' })));
});

describe('a golden scene, by hand', () => {
  // One brick wall at x = 5; the AP at (2, 5) at 3 m, the client at (8, 5) at 1 m: distance sqrt(36 + 4) = 6.3246 m.
  const through = (walls: readonly Wall[]) => mediumOf(panesOf(walls, []), { exponent: 2 });
  const medium = through([{ id: 'w', floorId: 'f', axM: 5, ayM: 0, bxM: 5, byM: 10, baseM: 0, topM: 4, materialId: 'brick' }]);
  const spot = (yM: number) => ({ xM: 8, yM, zM: 1 });
  const isotropic = { peakDbi: 3, horizontalDb: [0], verticalDb: [0, 0] };
  const pose: Pose = { xM: 2, yM: 5, zM: 3, azimuthDeg: 0, tiltDeg: 0 };
  test('the budget at 5 GHz', () => {
    const line = sightLine(medium, pose, isotropic, '5', spot(5));
    expect(line.distanceM).toBeCloseTo(6.3246, 3);
    expect(line.pathLossDb).toBeCloseTo(47.25 + 16.02, 1); // 20 log10(5500) - 27.55 = 47.26; 20 log10(6.3246) = 16.02
    expect(line.walls).toHaveLength(1);
    expect(line.walls[0]).toMatchObject({ wallId: 'w', lossDb: materialLossDb('brick', '5') });
    expect(line.walls[0]!.share).toBeCloseTo(0.5, 5);
    expect(line.walls[0]!.zM).toBeCloseTo(2, 4);
    expect(line.lossDb).toBeCloseTo(line.pathLossDb + materialLossDb('brick', '5') - 3, 9);
  });
  test('a wall ending below the ray is not charged', () => {
    const low = through([{ id: 'w', floorId: 'f', axM: 5, ayM: 0, bxM: 5, byM: 10, baseM: 0, topM: 1.9, materialId: 'brick' }]);
    expect(sightLine(low, pose, isotropic, '5', spot(5)).walls).toHaveLength(0);
    expect(sightLine(low, { ...pose, zM: 1 }, isotropic, '5', spot(5)).walls).toHaveLength(1);
  });
  test('walls are told nearest the access point first, in whichever order they were drawn', () => {
    const at = (xM: number): Wall => ({ id: `w${xM}`, floorId: 'f', axM: xM, ayM: 0, bxM: xM, byM: 10, baseM: 0, topM: 4, materialId: 'brick' });
    const line = sightLine(through([at(7), at(3), at(5)]), pose, isotropic, '5', spot(5));
    expect(line.walls.map(({ wallId }) => wallId)).toEqual(['w3', 'w5', 'w7']);
  });
  test('loss never falls when a wall is added', () => {
    for (const y of [1, 3, 5, 7, 9])
      expect(sightLine(medium, pose, isotropic, '2.4', spot(y)).lossDb).toBeGreaterThan(
        sightLine(through([]), pose, isotropic, '2.4', spot(y)).lossDb,
      );
  });
});

describe('what a ray meets, at the limits', () => {
  const slab = { zM: 4 } as Slab;
  test.each([
    [3, 5, 0.5],
    [5, 3, 0.5],
    [1, 5, 0.75],
    // Ends at the slab, or beyond it: not passed.
    [4, 5, -1],
    [3, 4, -1],
    [1, 3, -1],
    [5, 6, -1],
    [6, 5, -1],
  ])('a slab at 4 m from %d m to %d m: %d of the way', (from, to, share) => expect(slabShare(slab, from, to)).toBe(share));
  test('a pane is met from its base on and below its top; not beside it, not behind the end', () => {
    const panes = panesOf([{ id: 'w', floorId: 'f', axM: 5, ayM: -1, bxM: 5, byM: 1, baseM: 1, topM: 2, materialId: 'brick' }], []);
    const at = (zM: number, toX = 10, toY = 0) => crossingShare(panes, 0, 0, 0, zM, toX, toY, zM);
    expect([0.99, 1, 1.99, 2].map((zM) => at(zM))).toEqual([-1, 0.5, 0.5, -1]);
    expect([at(1.5, 4.99), at(1.5, 10, 3), at(1.5, -10)]).toEqual([-1, -1, -1]);
    // Rising over it, and through it.
    expect(crossingShare(panes, 0, 0, 0, 1.2, 10, 0, 3)).toBe(-1);
    expect(crossingShare(panes, 0, 0, 0, 0.2, 10, 0, 3)).toBe(0.5);
  });
});
