import { expect, test } from '@jest/globals';
import { panesOf } from '../building/panes';
import { ISOTROPIC } from '../radio/antenna';
import { seeded } from '../random';
import { mediumOf } from './medium';
import type { Pose, Spot } from './crossing';
import { sightLine, sightLinesFrom } from './ray';
import { sectorOf, sectorsFrom } from './sectors';

/** Walls anywhere, some of them along the axes and through the very spots where something hangs or stands. */
function scene(seed: number) {
  const uniform = seeded(seed);
  const at = (): number => Math.round(uniform() * 80) / 2;
  const walls = Array.from({ length: 60 }, (_, i) => {
    const [axM, ayM] = [at(), at()];
    const along = i % 3 === 0 ? { bxM: axM, byM: at() } : i % 3 === 1 ? { bxM: at(), byM: ayM } : { bxM: at(), byM: at() };
    return { id: `w${i}`, floorId: 'f', axM, ayM, ...along, baseM: 0, topM: 3, materialId: 'brick' };
  }).filter(({ axM, ayM, bxM, byM }) => axM !== bxM || ayM !== byM);
  const poses: Pose[] = Array.from({ length: 12 }, () => ({ xM: at(), yM: at(), zM: 2, azimuthDeg: 0, tiltDeg: 0 }));
  const spots: Spot[] = Array.from({ length: 50 }, (_, i) => ({ xM: at(), yM: i % 4 === 0 ? poses[i % 12]!.yM : at(), zM: 1 }));
  return { walls, poses, spots };
}

test.each([false, true])('rays that look at their own sector alone meet what those meet that try every pane (at a slant: %s)', (slant) => {
  let met = 0;
  for (const seed of [1, 2, 3]) {
    const { walls, poses, spots } = scene(seed);
    const medium = mediumOf(panesOf(walls, []), { exponent: 2, slant });
    for (const pose of poses) {
      const lineTo = sightLinesFrom(medium, pose, ISOTROPIC, '5');
      for (const spot of spots) {
        const line = lineTo(spot);
        // One ray alone tries every pane.
        expect(line).toEqual(sightLine(medium, pose, ISOTROPIC, '5', spot));
        met += line.walls.length;
      }
    }
  }
  expect(met).toBeGreaterThan(5000);
});

test('sectors follow each other all the way round, each as wide as the one opposite', () => {
  const around = Array.from({ length: 3600 }, (_, i) => sectorOf(Math.cos((i * Math.PI) / 1800 + 1e-4), Math.sin((i * Math.PI) / 1800 + 1e-4)));
  expect(around[0]).toBe(0);
  expect(around.at(-1)).toBe(63);
  for (let i = 1; i < around.length; i++) expect([0, 1]).toContain(around[i]! - around[i - 1]!);
  for (let i = 0; i < 1800; i++) expect(around[i + 1800]).toBe(around[i]! + 32);
});

test('a wall is listed in the sectors that it takes up, also across the first and the last', () => {
  const wall = { id: 'w', floorId: 'f', axM: 10, ayM: -0.1, bxM: 10, byM: 0.1, baseM: 0, topM: 3, materialId: 'brick' };
  const sectorsWith = (ax: number, ay: number) => {
    const { starts } = sectorsFrom(panesOf([wall], []), ax, ay);
    return Array.from({ length: 64 }, (_, s) => s).filter((s) => starts[s + 1]! > starts[s]!);
  };
  expect(sectorsWith(0, 0)).toEqual([0, 63]);
  expect(sectorsWith(20, 0)).toEqual([31, 32]);
  // From beside it half of all directions.
  expect(sectorsWith(10 - 1e-6, 0)).toEqual([...Array.from({ length: 16 }, (_, s) => s), ...Array.from({ length: 16 }, (_, s) => 48 + s)]);
});
