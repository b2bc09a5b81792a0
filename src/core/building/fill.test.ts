import { describe, expect, test } from '@jest/globals';
import { areaM2 } from '../geometry/polygon';
import { crossesItself, simplified } from '../geometry/ring';
import { roomRound } from './fill';
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
