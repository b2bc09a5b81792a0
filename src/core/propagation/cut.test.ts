import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { clutterOf } from '../building/clutter';
import { materialOf } from '../building/material';
import { panesOf } from '../building/panes';
import { slabOf } from '../building/slab';
import { inRegion } from '../geometry/polygon';
import { cutAlong } from './cut';
import { mediumOf } from './medium';

const ring = (...xy: number[]) => Array.from({ length: xy.length / 2 }, (_, i) => ({ xM: xy[2 * i]!, yM: xy[2 * i + 1]! }));
const wall = (id: string, x: number, topM: number) => ({ id, floorId: 'f', axM: x, ayM: -5, bxM: x, byM: 5, baseM: 0, topM, materialId: 'brick' });

test('the section shows what stands on the way, met or not: walls with their heights, slabs with their openings, clutter with its holes', () => {
  const slab = slabOf(materialOf('concrete'), 4, ring(-10, -10, 16, -10, 16, 10, -10, 10), [{ polygon: ring(4, -2, 8, -2, 8, 2, 4, 2), holes: [] }]);
  const shelves = clutterOf(
    'z',
    { polygon: ring(2, -1, 12, -1, 12, 1, 2, 1), holes: [ring(6, -0.5, 7, -0.5, 7, 0.5, 6, 0.5)] },
    { topM: 2, dbPerM: { '2.4': 1, '5': 1, '6': 1 } },
    0,
  );
  const walls = [wall('far', 15, 3), wall('low', 5, 1.2), { ...wall('beside', 9, 3), ayM: 1 }];
  const cut = cutAlong(mediumOf(panesOf(walls, []), { exponent: 2 }, [slab], [shelves]), { xM: 0, yM: 0, zM: 3 }, { xM: 20, yM: 0, zM: 1 });
  expect(cut.lengthM).toBeCloseTo(20, 4);
  const near = (value: number) => expect.closeTo(value, 4);
  expect(cut.walls).toEqual([
    { wallId: 'low', share: near(0.25), baseZM: 0, topZM: 1.2 },
    { wallId: 'far', share: near(0.75), baseZM: 0, topZM: 3 },
  ]);
  expect(cut.slabs).toEqual([
    { from: 0, to: near(0.2), zM: 4 },
    { from: near(0.4), to: near(0.8), zM: 4 },
  ]);
  expect(cut.clutter).toEqual([
    { zoneId: 'z', from: near(0.1), to: near(0.3), baseZM: 0, topZM: 2 },
    { zoneId: 'z', from: near(0.35), to: near(0.6), baseZM: 0, topZM: 2 },
  ]);
});

test('stretches of any way through any body are where its spots lie inside, and touching ones are one', () => {
  const coordinate = fc.double({ min: -20, max: 20, noNaN: true });
  const around = fc.tuple(coordinate, coordinate, fc.array(fc.double({ min: 1, max: 9, noNaN: true }), { minLength: 3, maxLength: 9 }));
  fc.assert(
    fc.property(around, coordinate, coordinate, coordinate, coordinate, ([x, y, radii], ax, ay, bx, by) => {
      fc.pre(Math.hypot(bx - ax, by - ay) > 1);
      // A star about (x, y), with a hole of half its size.
      const star = (part: number) =>
        radii.map((radius, k) => {
          const angle = (2 * Math.PI * k) / radii.length;
          return { xM: x + radius * part * Math.cos(angle), yM: y + radius * part * Math.sin(angle) };
        });
      const body = clutterOf('z', { polygon: star(1), holes: [star(0.5)] }, { topM: 2, dbPerM: { '2.4': 1, '5': 1, '6': 1 } }, 0);
      const { clutter } = cutAlong(mediumOf(panesOf([], []), { exponent: 2 }, [], [body]), { xM: ax, yM: ay, zM: 1 }, { xM: bx, yM: by, zM: 1 });
      const within = (share: number) => clutter.some(({ from, to }) => share > from && share < to);
      for (let k = 0; k < 100; k++) {
        const share = (k + 0.5) / 100;
        // Spots right at an edge are of either side.
        if (clutter.some(({ from, to }) => Math.abs(share - from) < 1e-4 || Math.abs(share - to) < 1e-4)) continue;
        expect(within(share)).toBe(inRegion(body.region, ax + (bx - ax) * share, ay + (by - ay) * share));
      }
      clutter.slice(1).forEach(({ from }, i) => expect(from).toBeGreaterThan(clutter[i]!.to));
      for (const { from, to } of clutter) expect([from >= 0, to <= 1, to > from]).toEqual([true, true, true]);
    }),
    { numRuns: 120, seed: 6 },
  );
});
