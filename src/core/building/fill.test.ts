import { describe, expect, test } from '@jest/globals';
import { areaM2 } from '../geometry/polygon';
import { crossesItself, simplified } from '../geometry/ring';
import { outlineOf, roomRound } from './fill';
import type { Wall } from './wall';

const p = (xM: number, yM: number) => ({ xM, yM });
const outline = [p(0, 0), p(20, 0), p(20, 12), p(0, 12)];
const wall = (axM: number, ayM: number, bxM: number, byM: number): Wall => ({
  id: `${axM},${ayM}`,
  floorId: 'f',
  axM,
  ayM,
  bxM,
  byM,
  baseM: 0,
  topM: 3,
  materialId: 'brick',
});
const sorted = (ring: ReadonlyArray<{ xM: number; yM: number }>) => ring.map(({ xM, yM }) => `${xM},${yM}`).sort();

describe('the room round a spot', () => {
  const walls = [wall(8, 0, 8, 12), wall(8, 5, 20, 5)];
  test('follows its walls and the outline, corner by corner', () => {
    expect(sorted(roomRound(p(3, 3), walls, outline))).toEqual(sorted([p(0, 0), p(8, 0), p(8, 12), p(0, 12)]));
    expect(sorted(roomRound(p(12, 9), walls, outline))).toEqual(sorted([p(8, 5), p(20, 5), p(20, 12), p(8, 12)]));
  });
  test('a slanting wall is followed', () => {
    const ring = roomRound(p(2, 8), [wall(0, 0, 12, 12)], outline);
    expect(areaM2(ring)).toBeCloseTo(72, -1);
    expect(Math.abs(areaM2(ring) - 72)).toBeLessThan(2);
  });
  test.each([
    ['on a wall', p(8, 3)],
    ['outside', p(30, 3)],
  ])('%s there is none', (_what, at) => expect(() => roomRound(at, walls, outline)).toThrow(expect.objectContaining({ code: 'NO_ROOM_HERE' })));
});

describe('rings', () => {
  test('that cross themselves are told from those that do not', () => {
    expect(crossesItself(outline)).toBe(false);
    expect(crossesItself([p(0, 0), p(4, 4), p(4, 0), p(0, 4)])).toBe(true);
    // A star's inner corners touch nothing.
    expect(crossesItself([p(0, 0), p(4, 1), p(8, 0), p(7, 4), p(8, 8), p(4, 7), p(0, 8), p(1, 4)])).toBe(false);
    expect(crossesItself([p(0, 0), p(10, 0), p(10, 5), p(5, -3), p(0, 5)])).toBe(true);
  });
  test('lose the corners that lie on the way, never the last three', () => {
    expect(simplified([p(0, 0), p(5, 0.01), p(10, 0), p(10, 10)], 0.1)).toEqual([p(0, 0), p(10, 0), p(10, 10)]);
    expect(simplified([p(0, 0), p(5, 0), p(10, 0)], 0.1)).toHaveLength(3);
  });
});

describe('the outline that the outer walls make', () => {
  const ell = [wall(0, 0, 20, 0), wall(20, 0, 20, 6), wall(20, 6, 12, 6), wall(12, 6, 12, 14), wall(12, 14, 0, 14), wall(0, 14, 0, 0)];
  test('an L of walls with a partition in it has the six corners of the L', () => {
    const outline = outlineOf([...ell, wall(6, 0, 6, 14)]);
    expect(outline).toHaveLength(6);
    expect(areaM2(outline)).toBeCloseTo(20 * 6 + 12 * 8, 6);
  });
  test('of two buildings the larger; a gap, or no wall at all, is told', () => {
    const shed = [wall(30, 0, 33, 0), wall(33, 0, 33, 3), wall(33, 3, 30, 3), wall(30, 3, 30, 0)];
    expect(areaM2(outlineOf([...shed, ...ell]))).toBeCloseTo(216, 6);
    expect(() => outlineOf(ell.slice(1))).toThrow(expect.objectContaining({ code: 'NO_OUTER_WALLS' }));
    expect(() => outlineOf([])).toThrow(expect.objectContaining({ code: 'NO_OUTER_WALLS' }));
  });
});
