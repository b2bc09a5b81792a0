import { expect, test } from '@jest/globals';
import { drawnSheet } from '@demo/drawing/image';
import { planOf } from '@demo/drawing/plan';
import { blankSheet, INK, bar, type Sheet } from '@demo/drawing/sheet';
import { museum } from '@demo/museum';
import { floorsOf } from '../design/design';
import { bandsOf } from './bands';
import { edgesOf } from './edges';
import { findWalls } from './findWalls';
import { fittingsOf } from './fittings';
import { cleaned } from './picture';

const PX_PER_M = 40;
const line = (sheet: Sheet, ax: number, ay: number, bx: number, by: number) => bar(sheet, ax, ay, bx, by, 2, INK, 0.4);
function found(sheet: Sheet) {
  const clean = cleaned(sheet);
  return fittingsOf(bandsOf(clean, edgesOf(clean), 0.56 * PX_PER_M), 2, PX_PER_M);
}
/** A flight of `count` lines `stepPx` apart, turned by `deg`. */
function flight(count: number, stepPx: number, deg = 0): Sheet {
  const widePx = 60;
  const sheet = blankSheet(500, 500);
  const [cos, sin] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
  const at = (along: number, aside: number) => [120 + along * cos - aside * sin, 160 + along * sin + aside * cos] as const;
  for (let i = 0; i < count; i++) line(sheet, ...at(i * stepPx, 0), ...at(i * stepPx, widePx));
  return sheet;
}

test('equal lines one going apart are stairs, whichever way they lie; its corners go round them', () => {
  for (const deg of [0, 31, 90]) {
    const [stairs, ...others] = found(flight(10, 11, deg));
    expect(others).toEqual([]);
    expect(stairs!.kind).toBe('stairs');
    const sides = stairs!.corners.map((corner, i) => {
      const next = stairs!.corners[(i + 1) % 4]!;
      return Math.hypot(next.x - corner.x, next.y - corner.y);
    });
    expect([...sides].sort((a, b) => a - b).map((side) => Math.round(side / 10))).toEqual([6, 6, 10, 10]);
  }
});

test('tiles, hatching, and a few lines are no stairs', () => {
  // 0.6 m, 0.15 m; four lines at 0.28 m.
  for (const sheet of [flight(10, 24), flight(20, 6), flight(4, 11)]) expect(found(sheet)).toEqual([]);
  expect(found(flight(5, 11))).toHaveLength(1);
});

test('a box with both its diagonals is a lift; a box alone, a cross alone and a large one are none', () => {
  const draw = (sidePx: number, box: boolean, cross: boolean) => {
    const sheet = blankSheet(400, 400);
    const [a, b] = [100, 100 + sidePx];
    if (box)
      for (const ends of [
        [a, a, b, a],
        [b, a, b, b],
        [b, b, a, b],
        [a, b, a, a],
      ] as const)
        line(sheet, ...ends);
    if (cross)
      for (const ends of [
        [a, a, b, b],
        [a, b, b, a],
      ] as const)
        line(sheet, ...ends);
    return found(sheet).map(({ kind }) => kind);
  };
  expect(draw(64, true, true)).toEqual(['lift']);
  expect(draw(64, true, false)).toEqual([]);
  expect(draw(64, false, true)).toEqual([]);
  expect(draw(200, true, true)).toEqual([]);
  expect(draw(24, true, true)).toEqual([]);
});

test('of a busy sheet of the museum both flights and the lift are found, and nothing else; on a scan the flights', () => {
  const design = museum();
  const { id } = floorsOf(design)[0]!;
  for (const scan of [false, true]) {
    const run = findWalls(drawnSheet(planOf(design, id), { style: 'filled', pxPerM: 40, busy: true, scan }), { pxPerM: null, style: null });
    let step = run.next();
    while (!step.done) step = run.next();
    expect(step.value.fittings.map(({ kind }) => kind)).toEqual(scan ? ['stairs', 'stairs'] : ['stairs', 'stairs', 'lift']);
  }
});
