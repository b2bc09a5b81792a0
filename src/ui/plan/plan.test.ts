import { describe, expect, test } from '@jest/globals';
import type { Wall } from '@/core/building/wall';
import { covers, detailGrid } from './detail';
import { placeLabels, freeSpot, isFree } from './labels';
import { isCrossed, linesOf } from './lines';
import { areasOf } from './names';
import { gridOver } from '@/core/geometry/grid';
import { pinchedView } from './useFingers';
import { fitView, scaleBar, toPlan, toScreen, zoomView } from './view';
import { signed } from '../state/format';
import { contourLevels, lensOf } from '@/core/fields/lenses';
import { ACTIONS, actionFor, actionOf, keyText } from '../commands/actions';
import { curveOption } from '../evidence/curveOption';
import { TOKENS, RAMPS, RAMP_STOPS, rampTable } from '../theme/tokens';

const size = { widthPx: 800, heightPx: 500 };

describe('the view', () => {
  const view = fitView({ westM: 0, northM: 0, eastM: 72, southM: 46 }, size);
  test('shows the whole floor in the middle', () => {
    const [a, b] = [toScreen(view, { xM: 0, yM: 0 }), toScreen(view, { xM: 72, yM: 46 })];
    expect(Math.min(a.x, a.y)).toBeGreaterThanOrEqual(20);
    expect(b.x).toBeLessThanOrEqual(780);
    expect(b.y).toBeLessThanOrEqual(480);
    expect(a.x + b.x).toBeCloseTo(800, 6);
  });
  test('screen and plan are inverses, and zoom keeps the spot under the pointer', () => {
    const at = toPlan(view, 300, 200);
    expect(toScreen(view, at).x).toBeCloseTo(300, 9);
    const near = zoomView(view, 3, 300, 200);
    expect(near.pxPerM).toBeCloseTo(view.pxPerM * 3, 9);
    expect(toScreen(near, at).x).toBeCloseTo(300, 6);
    expect(zoomView(view, 1e9, 0, 0).pxPerM).toBe(400);
  });
  test.each([
    [10.8, 1, 10],
    [2.2, 1, 50],
    [100, 1, 1],
    [10.8, 0.3048, 20],
  ])('at %d px/m the bar is round', (pxPerM, unitM, units) => {
    const bar = scaleBar(pxPerM, unitM);
    expect(bar.units).toBe(units);
    expect(bar.px).toBeGreaterThanOrEqual(60);
  });
});

test('labels cover neither each other nor a mark, nor leave the plan', () => {
  const items = Array.from({ length: 60 }, (_, i) => ({
    at: { x: 30 + (i % 10) * 78, y: 20 + Math.floor(i / 10) * 80 },
    sizes: [
      { width: 70, height: 44 },
      { width: 30, height: 17 },
    ],
  }));
  const boxes = placeLabels(items, 9, { x: 0, y: 0, width: 800, height: 500 }).filter((box) => box !== null);
  // Where the large one has no room the small one may stand.
  expect(new Set(boxes.map((box) => box.size))).toEqual(new Set([0, 1]));
  expect(boxes.length).toBeGreaterThan(20);
  boxes.forEach((box, i) => {
    expect(
      isFree(
        box,
        boxes.filter((_, j) => j !== i),
      ),
    ).toBe(true);
    expect(box.x >= 0 && box.y >= 0 && box.x + box.width <= 800 && box.y + box.height <= 500).toBe(true);
    // Its own mark may touch nothing either: the gap keeps it off.
    for (const { at } of items) expect(isFree({ x: at.x - 9, y: at.y - 9, width: 18, height: 18 }, [box])).toBe(true);
  });
  expect(
    freeSpot(
      { x: 50, y: 50 },
      20,
      10,
      [
        [0, 0],
        [0, 30],
      ],
      [{ x: 45, y: 45, width: 10, height: 10 }],
    ),
  ).toEqual({ x: 50, y: 80 });
  // Nothing is written over something else, or outside: rather not at all.
  expect(freeSpot({ x: 50, y: 50 }, 20, 10, [[0, 0]], [{ x: 45, y: 45, width: 10, height: 10 }])).toBeNull();
  expect(freeSpot({ x: 5, y: 50 }, 20, 10, [[0, 0]], [], { x: 0, y: 0, width: 99, height: 99 })).toBeNull();
});

test('contours stand at even levels with the threshold among them, apart', () => {
  expect(contourLevels(lensOf('signal'), -67)).toEqual([-90, -80, -70, -67, -60, -50, -40]);
  expect(contourLevels(lensOf('signal'), -69)).toEqual([-90, -80, -69, -60, -50, -40]);
  expect(contourLevels(lensOf('contention'), 1)).toEqual([0.5, 1.5, 2.5, 3.5, 4.5, 5.5, 6.5]);
  expect(lensOf('contention').threshold!.levelOf(1)).toBe(1.5);
  expect(contourLevels(lensOf('serving'), 0)).toEqual([]);
  expect(signed(-67.24, 1)).toBe('−67.2');
});

test('actions have ids and keys of their own, and a key stands for its action', () => {
  expect(new Set(ACTIONS.map((action) => action.id)).size).toBe(ACTIONS.length);
  const keys = ACTIONS.flatMap((action) => [action.key ?? [], ...(action.alsoKeys ?? [])].flat());
  expect(new Set(keys).size).toBe(keys.length);
  expect(actionFor('Ctrl+K')).toBe(actionOf('palette'));
  expect(actionFor('Ctrl+Shift+Alt+Q')).toBeNull();
  // Nothing to undo: the key is nobody's.
  expect(actionFor('Ctrl+Z')).toBeNull();
  expect(() => actionOf('fly')).toThrow(/fly/);
  const event = (key: string, fields = {}) => keyText({ key, code: '', ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...fields });
  expect(event('z', { ctrlKey: true })).toBe('Ctrl+Z');
  expect(event('z', { metaKey: true })).toBe('Ctrl+Z');
  expect(event('¡', { altKey: true, code: 'Digit1' })).toBe('Alt+1');
  expect(event('Delete')).toBe('Delete');
  expect(event('Z', { ctrlKey: true, shiftKey: true })).toBe('Ctrl+Shift+Z');
  expect(event('?', { shiftKey: true })).toBe('?');
});

test('the curve has its threshold and percent', () => {
  const asked = { from: -90, step: 10, shares: [1, 0.5, 0], threshold: -67, unit: 'dBm', better: 'or more' };
  const compared = curveOption({ ...asked, other: { shares: [1, 1, 0.25], name: 'As found' } }, TOKENS.light) as { series: object[] };
  expect(compared.series).toMatchObject([
    { name: 'now' },
    {
      name: 'As found',
      lineStyle: { type: 'dashed' },
      data: [
        [-90, 100],
        [-80, 100],
        [-70, 25],
      ],
    },
  ]);
  const option = curveOption({ ...asked, other: null }, TOKENS.light) as {
    series: Array<{ data: number[][]; markLine: { data: Array<{ xAxis: number }> } }>;
    xAxis: { max: number };
  };
  expect(option.series[0]!.data).toEqual([
    [-90, 100],
    [-80, 50],
    [-70, 0],
  ]);
  expect(option.series[0]!.markLine.data[0]!.xAxis).toBe(-67);
  expect(option.xAxis.max).toBe(-70);
});

describe('inks', () => {
  const lightness = (hex: string) => [0, 2, 4].reduce((sum, i, c) => sum + parseInt(hex.slice(i, i + 2), 16) * [0.2126, 0.7152, 0.0722][c]!, 0);
  test.each(RAMPS)('%s is ordered in lightness by day and night', (name) => {
    const day = RAMP_STOPS[name].light.map(lightness);
    const night = RAMP_STOPS[name].dark.map(lightness);
    for (let i = 1; i < day.length; i++) expect(day[i]!).toBeLessThan(day[i - 1]!);
    for (let i = 1; i < night.length; i++) expect(night[i]!).toBeGreaterThan(night[i - 1]!);
    expect(rampTable(RAMP_STOPS[name].light)[0]! & 0xff).toBe(parseInt(RAMP_STOPS[name].light[0]!.slice(0, 2), 16));
  });
  test('text keeps WCAG AA contrast on paper and panel, by day and night', () => {
    const luminance = (hex: string) =>
      [1, 3, 5].reduce((sum, i, c) => {
        const v = parseInt(hex.slice(i, i + 2), 16) / 255;
        return sum + (v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4) * [0.2126, 0.7152, 0.0722][c]!;
      }, 0);
    const contrast = (a: string, b: string) => (Math.max(luminance(a), luminance(b)) + 0.05) / (Math.min(luminance(a), luminance(b)) + 0.05);
    for (const t of Object.values(TOKENS))
      for (const ground of [t.paper, t.panel]) for (const ink of [t.ink, t.ink2, t.hand]) expect(contrast(ink, ground)).toBeGreaterThanOrEqual(4.5);
  });
});

describe('finer cells where the window enlarges the map', () => {
  const outline = [
    { xM: 0, yM: 0 },
    { xM: 72, yM: 0 },
    { xM: 72, yM: 46 },
    { xM: 0, yM: 46 },
  ];
  const coarse = gridOver(outline, 0.5);
  const enlarged = { pxPerM: 60, leftM: 20, topM: 10 };
  test('none where a cell is a few pixels, where no radio is, or where there are too many for the time', () => {
    expect(detailGrid(coarse, outline, { ...enlarged, pxPerM: 11 }, size, 10)).toBeNull();
    expect(detailGrid(coarse, outline, enlarged, size, 0)).toBeNull();
    expect(detailGrid(coarse, outline, { pxPerM: 14, leftM: 0, topM: 0 }, size, 2000)).toBeNull();
  });
  test('they are of about three pixels, on the floor’s own lattice, and hold the window with a margin', () => {
    const fine = detailGrid(coarse, outline, enlarged, size, 10)!;
    expect(fine.cellM * 60).toBeGreaterThanOrEqual(3);
    expect(fine.cellM * 60).toBeLessThan(6);
    const parts = coarse.cellM / fine.cellM;
    expect(parts).toBeCloseTo(Math.round(parts), 9);
    // The edge of a finer cell is an edge of the floor's first cell, a whole number of finer ones away.
    const away = (fine.originXM - fine.cellM / 2 - (coarse.originXM - coarse.cellM / 2)) / fine.cellM;
    expect(away).toBeCloseTo(Math.round(away), 6);
    expect(fine.cols * fine.cellM * 60).toBeGreaterThan(size.widthPx * 1.2);
    expect(covers(fine, outline, enlarged, size)).toBe(true);
    expect(covers(fine, outline, { ...enlarged, leftM: 21 }, size)).toBe(true);
    expect(covers(fine, outline, { ...enlarged, leftM: 24 }, size)).toBe(false);
    expect(covers(fine, outline, { ...enlarged, topM: 7 }, size)).toBe(false);
  });
  test('with many radios they are larger, so that cells times radios stay the same', () => {
    const [few, many] = [10, 90].map((radios) => detailGrid(coarse, outline, enlarged, size, radios)!);
    expect(many!.cellM).toBeGreaterThan(few!.cellM);
    expect(many!.cols * many!.rows * 90).toBeLessThan(1_700_000);
  });
  test('beyond the outline there is nothing to look at', () => {
    expect(detailGrid(coarse, outline, { ...enlarged, leftM: 500 }, size, 10)).toBeNull();
    expect(detailGrid(coarse, outline, { ...enlarged, leftM: 65, topM: 40 }, size, 10)!.cols * 0.05).toBeLessThan(10);
  });
});

test('numbers keep off walls: a box is crossed by a line through it and not by one beside it', () => {
  const wall = { axM: 1, ayM: 1, bxM: 9, byM: 5 } as Wall;
  const lines = linesOf([wall], { pxPerM: 50, leftM: 0, topM: 0 }, size);
  const boxAt = (x: number, y: number) => ({ x: x - 15, y: y - 8, width: 30, height: 16 });
  // At x = 250 px the wall is at 150 px.
  expect([110, 135, 150, 165, 190].map((y) => isCrossed(boxAt(250, y), lines))).toEqual([false, true, true, true, false]);
  expect(isCrossed(boxAt(20, 25), lines)).toBe(false);
});

test('a name stands in each area of one kind that has room for it, at its cell nearest to its middle', () => {
  // 20 x 8 cells: kind 0 in an L round a block of kind 1, a strip of kind 2 too small for a name, the rest without a value.
  const cols = 20;
  const values = new Float32Array(cols * 8).fill(NaN);
  const fill = (kind: number, [c0, c1]: readonly [number, number], [r0, r1]: readonly [number, number]) => {
    for (let row = r0; row <= r1; row++) for (let col = c0; col <= c1; col++) values[row * cols + col] = kind;
  };
  fill(0, [0, 10], [0, 7]);
  fill(1, [1, 10], [0, 6]);
  fill(2, [11, 15], [0, 7]);
  fill(1, [17, 19], [0, 7]);
  expect(areasOf(values, cols)).toEqual([{ kind: 1, col: 5, row: 3 }]);
  fill(0, [0, 19], [4, 7]);
  // The L and what it meets count together: 80 cells and 4 above.
  expect(areasOf(values, cols)).toEqual([{ kind: 0, col: 9, row: 5 }]);
  // The last cell of a row and the first of the next are no neighbours.
  values.fill(NaN);
  fill(0, [0, 8], [1, 7]);
  fill(0, [11, 19], [0, 7]);
  expect(areasOf(values, cols).map(({ col }) => col)).toEqual([15, 4]);
  values.fill(NaN);
  fill(0, [0, 8], [0, 7]);
  fill(0, [11, 19], [0, 6]);
  expect(areasOf(values, cols).map(({ col }) => col)).toEqual([4, 15]);
});

describe('two fingers', () => {
  const view = { pxPerM: 10, leftM: 5, topM: 7 };
  const from = [
    { x: 100, y: 100 },
    { x: 200, y: 100 },
  ];
  test('what lies under them lies under them after: enlarged, moved, or both', () => {
    for (const to of [
      [
        { x: 50, y: 100 },
        { x: 250, y: 100 },
      ],
      [
        { x: 130, y: 160 },
        { x: 230, y: 160 },
      ],
      [
        { x: 20, y: 300 },
        { x: 320, y: 300 },
      ],
    ]) {
      const after = pinchedView(view, from, to);
      from.forEach((finger, i) => {
        const under = toPlan(view, finger.x, finger.y);
        const now = toScreen(after, under);
        expect([now.x, now.y]).toEqual([expect.closeTo(to[i]!.x, 6), expect.closeTo(to[i]!.y, 6)]);
      });
    }
    expect(pinchedView(view, from, from)).toEqual(view);
  });
});
