import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { inRegion, type RegionM } from '../geometry/polygon';
import { clutterOf, shareInside } from './clutter';

const ring = (...xy: number[]) => Array.from({ length: xy.length / 2 }, (_, i) => ({ xM: xy[2 * i]!, yM: xy[2 * i + 1]! }));
const KIND = { topM: 2, dbPerM: { '2.4': 1, '5': 2, '6': 3 } };
const block: RegionM = { polygon: ring(2, 0, 8, 0, 8, 4, 2, 4), holes: [ring(4, 1, 6, 1, 6, 3, 4, 3)] };

/** The share by many samples along the way: slow and plain. */
function sampled(region: RegionM, baseZM: number, topZM: number, a: readonly number[], c: readonly number[], n = 20_000): number {
  let hits = 0;
  for (let i = 0; i < n; i++) {
    const t = (i + 0.5) / n;
    const [x, y, z] = a.map((from, k) => from + (c[k]! - from) * t) as [number, number, number];
    if (z >= baseZM && z < topZM && inRegion(region, x, y)) hits++;
  }
  return hits / n;
}

describe('the way through clutter', () => {
  const body = clutterOf('z', block, KIND, 10);
  test('by hand: a level way through a block with a hole in it', () => {
    // From x = 0 to 10 at y = 2: in at 2, out into the hole at 4, in again at 6, out at 8: 4 of 10 m.
    expect(shareInside(body, 0, 2, 11, 10, 2, 11)).toBeCloseTo(0.4, 12);
    // Above the hole, at y = 0.5: 6 of 10 m; back the other way as much.
    expect(shareInside(body, 10, 0.5, 11, 0, 0.5, 11)).toBeCloseTo(0.6, 12);
    // Ends in it, begins in it.
    expect(shareInside(body, 0, 0.5, 11, 5, 0.5, 11)).toBeCloseTo(0.6, 12);
    expect(shareInside(body, 3, 0.5, 11, 13, 0.5, 11)).toBeCloseTo(0.5, 12);
  });
  test('by hand: what runs over it or under it is not charged', () => {
    expect(shareInside(body, 0, 0.5, 12, 10, 0.5, 12)).toBe(0);
    expect(shareInside(body, 0, 0.5, 9.9, 10, 0.5, 9.9)).toBe(0);
    // From 14 m down to 10 m over 10 m of way the top at 12 m is passed half way: from x = 5 to 8 is in.
    expect(shareInside(body, 0, 0.5, 14, 10, 0.5, 10)).toBeCloseTo(0.3, 12);
    expect(shareInside(body, 0, 9, 11, 10, 9, 11)).toBe(0);
  });
  test('whichever way round its rings are written', () => {
    const turned = clutterOf('z', { polygon: [...block.polygon].reverse(), holes: block.holes.map((hole) => [...hole].reverse()) }, KIND, 10);
    expect(turned.sides.length).toBe(body.sides.length);
    expect(shareInside(turned, 0, 2, 11, 10, 2, 11)).toBeCloseTo(0.4, 12);
  });
  test('its losses are in the order of the bands', () => expect(body.dbPerM).toEqual([1, 2, 3]));
  test('agrees with walking along the way, for any way and any star with a hole', () => {
    const metres = fc.double({ min: -4, max: 14, noNaN: true, noDefaultInfinity: true });
    const high = fc.double({ min: 8, max: 15, noNaN: true, noDefaultInfinity: true });
    fc.assert(
      fc.property(metres, metres, high, metres, metres, high, fc.integer({ min: 3, max: 9 }), (ax, ay, az, cx, cy, cz, corners) => {
        const star = (scale: number) =>
          Array.from({ length: corners }, (_, i) => {
            const angle = (i / corners) * 2 * Math.PI;
            const reachM = scale * (3 + ((i * 7) % 4));
            return { xM: 5 + reachM * Math.cos(angle), yM: 5 + reachM * Math.sin(angle) };
          });
        const region = { polygon: star(1), holes: [star(0.4)] };
        const exact = shareInside(clutterOf('z', region, KIND, 10), ax, ay, az, cx, cy, cz);
        expect(Math.abs(exact - sampled(region, 10, 12, [ax, ay, az], [cx, cy, cz], 4000))).toBeLessThan(0.004);
      }),
      { numRuns: 120, seed: 20261124 },
    );
  });
});
