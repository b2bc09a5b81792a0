import { expect, test } from '@jest/globals';
import { clutterOf } from '../building/clutter';
import { materialOf } from '../building/material';
import { panesOf } from '../building/panes';
import { slabOf } from '../building/slab';
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
