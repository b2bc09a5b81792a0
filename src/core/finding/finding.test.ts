import { describe, expect, test } from '@jest/globals';
import { drawnSheet } from '@demo/drawing/image';
import type { DrawnOpening, DrawnPlan, DrawnWall } from '@demo/drawing/plan';
import { INK, arc, bar, blankSheet, hatching, type Sheet } from '@demo/drawing/sheet';
import { scanned } from '@demo/drawing/scan';
import { seeded } from '../random';
import { accepted, centreLines, type Piece } from './accept';
import { bandsOf } from './bands';
import { doorsOf, inkOf, scaleByDoors, type FoundDoor } from './doors';
import { edgesOf } from './edges';
import { withoutFamilies } from './families';
import { findWalls, rescaled, type FindOptions, type Found } from './findWalls';
import { cleaned, greyOf, noiseOf, type Picture } from './picture';
import { pruned, snapped } from './prune';
import { modeOf, partedAt, percentile, smallestCommon } from './statistics';
import { alongPx, asidePx, axisOf, chained, distancePx, joined, momentsOf, strokeOf } from './stroke';

const asIs = (sheet: Sheet) => ({ ...sheet, noisy: false });
const piece = (ax: number, ay: number, bx: number, by: number, thickPx = 8, fields: Partial<Piece> = {}): Piece => ({
  ...strokeOf(ax, ay, bx, by, thickPx),
  thickPx,
  inside: 'bar',
  balance: 1,
  claimed: 1,
  ...fields,
});
function find(picture: Picture, options: FindOptions = { pxPerM: null, style: null }): Found {
  const run = findWalls(picture, options);
  let step = run.next();
  const shares: number[] = [];
  for (; !step.done; step = run.next()) shares.push(step.value);
  expect(shares).toEqual([...shares].sort((p, q) => p - q));
  return step.value;
}

describe('a picture is made ready', () => {
  test('uneven light is evened out, ink becomes black and paper white', () => {
    const sheet = blankSheet(400, 300);
    bar(sheet, 50, 150, 350, 150, 12, 40);
    const lit: Picture = { ...sheet, grey: sheet.grey.map((shade, i) => shade * (0.95 - 0.25 * ((i % 400) / 400))) };
    expect(lit.grey[40 * 400 + 380]).toBeLessThan(190);
    const { grey, noisy } = cleaned(lit);
    expect(noisy).toBe(false);
    for (const x of [20, 200, 380]) {
      expect(grey[40 * 400 + x]).toBeGreaterThan(228);
      if (x === 200) expect(grey[150 * 400 + x]).toBeLessThan(25);
    }
  });

  test('noise is told by its standard deviation; ink is none', () => {
    const uniform = seeded(3);
    const bell = () => Array.from({ length: 12 }, uniform).reduce((sum, value) => sum + value, -6);
    const sheet = blankSheet(300, 300);
    bar(sheet, 20, 20, 280, 250, 9, INK);
    expect(noiseOf(sheet)).toBe(0);
    const noise = sheet.grey.map((shade) => Math.max(0, Math.min(255, Math.round(shade * 0.7 + 20 + 6 * bell()))));
    expect(noiseOf({ ...sheet, grey: noise }) / 6).toBeCloseTo(1, 0.7);
    expect(cleaned({ ...sheet, grey: noise }).noisy).toBe(true);
  });

  test('colours become grey by their luma, what is transparent is paper', () => {
    const rgba = Uint8ClampedArray.from([0, 0, 0, 255, 255, 255, 255, 255, 255, 0, 0, 255, 0, 0, 0, 0, 0, 0, 0, 128]);
    expect([...greyOf(rgba, 5, 1).grey]).toEqual([0, 255, 76, 255, 127]);
  });
});

describe('strokes', () => {
  test('moments fit a line and tell how far spots are from it', () => {
    const { mx, my, ux, uy, sd } = axisOf(momentsOf(10, 20, 40, 60, 1));
    expect([mx, my, Math.abs(ux), Math.abs(uy)].map((value) => Number(value.toFixed(6)))).toEqual([25, 40, 0.6, 0.8]);
    expect(sd).toBeCloseTo(0, 6);
  });

  test('along, aside and distance', () => {
    const stroke = strokeOf(0, 0, 10, 0);
    expect([alongPx(stroke, 3, 4), asidePx(stroke, 3, 4), asidePx(stroke, 3, -4)]).toEqual([3, 4, -4]);
    expect([distancePx(stroke, 5, -2), distancePx(stroke, 13, 4), distancePx(stroke, -3, 4)]).toEqual([2, 5, 5]);
  });

  test('two strokes are joined as long as both reach, the way of the first', () => {
    const whole = joined(strokeOf(0, 0, 10, 0), strokeOf(30, 0, 20, 0));
    expect([whole.ax, whole.bx, whole.ux].map((value) => Math.round(value))).toEqual([0, 30, 1]);
  });

  test.each([
    ['in line within the gap', 14, 0, 1],
    ['in line beyond it', 16, 0, 2],
    ['beside', 12, 2.5, 2],
    ['over one another', 5, 0, 1],
  ])('%s', (_name, from, aside, count) => {
    const rule = { gapPx: 5, asidePx: () => 1.6, cos: () => 0.99, alike: () => true };
    expect(chained([strokeOf(0, 0, 10, 0), strokeOf(from, aside, from + 20, aside)], rule, joined)).toHaveLength(count);
  });
});

describe('edges and what lies between them', () => {
  test.each([0, 17, 45, 90, 123])('a bar at %d degrees has an edge on each side, dark inwards, to a third of a pixel', (deg) => {
    const [cos, sin] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
    const sheet = blankSheet(300, 300);
    bar(sheet, 150 - 100 * cos, 150 - 100 * sin, 150 + 100 * cos, 150 + 100 * sin, 14, 0);
    const long = edgesOf(asIs(sheet)).filter(({ lengthPx }) => lengthPx > 100);
    expect(long).toHaveLength(2);
    for (const edge of long) {
      // Pixel (x, y) is drawn about its corner and seen about its middle.
      const off = asidePx(edge, 150.5, 150.5);
      expect(off).toBeGreaterThan(0);
      expect(Math.abs(off - 7)).toBeLessThan(0.34);
      expect(edge.lengthPx).toBeGreaterThan(190);
    }
  });

  test.each([
    ['bar', INK, 16],
    ['grey', 186, 16],
    ['hollow', 255, 16],
    ['hatched', hatching(6), 20],
  ] as const)('%s between the outlines', (inside, shade, thick) => {
    const sheet = blankSheet(400, 200);
    bar(sheet, 50, 100, 350, 100, thick, INK);
    bar(sheet, 52, 100, 348, 100, thick - 4, shade);
    const [widest] = bandsOf(asIs(sheet), edgesOf(asIs(sheet)), 40).sort((p, q) => q.thickPx * q.lengthPx - p.thickPx * p.lengthPx);
    expect(widest!.inside).toBe(inside);
    expect(Math.abs(widest!.thickPx - thick)).toBeLessThan(0.7);
    expect(Math.abs(asidePx(widest!, 200.5, 100.5))).toBeLessThan(0.5);
    expect(widest!.lengthPx).toBeGreaterThan(280);
  });

  test('a bar is cut where a window is: between its lines is no ink', () => {
    const sheet = blankSheet(500, 120);
    bar(sheet, 30, 60, 470, 60, 16, INK);
    bar(sheet, 200, 60, 280, 60, 12, 255);
    const bars = bandsOf(asIs(sheet), edgesOf(asIs(sheet)), 30).filter(({ inside, thickPx }) => inside === 'bar' && thickPx > 12);
    expect(bars.map(({ lengthPx }) => Math.round(lengthPx / 10) * 10).sort((p, q) => p - q)).toEqual([170, 190]);
  });

  test('a stair is no wall, two lines are one', () => {
    const sheet = blankSheet(300, 300);
    for (let i = 0; i < 10; i++) bar(sheet, 50, 50 + 11 * i, 150, 50 + 11 * i, 1.6, INK);
    bar(sheet, 200, 50, 200, 200, 1.6, INK);
    bar(sheet, 211, 50, 211, 200, 1.6, INK);
    const clean = asIs(sheet);
    const hollow = bandsOf(clean, edgesOf(clean), 14).filter(({ inside, thickPx }) => inside === 'hollow' && thickPx < 14);
    expect(hollow.length).toBeGreaterThan(8);
    const left = withoutFamilies(clean, hollow, 1.6);
    expect(left).toHaveLength(1);
    expect(Math.abs(left[0]!.ax - 206)).toBeLessThan(1);
  });

  test('a place is taken once: of two bands over one another the better one has it', () => {
    const band = { ...strokeOf(20, 50, 180, 50), thickPx: 10, inside: 'hollow' as const, balance: 1, strength: 200, pairPx: 160 };
    const worse = { ...band, ...strokeOf(20, 54, 240, 54), thickPx: 30, balance: 0.2 };
    const pieces = accepted(asIs(blankSheet(300, 100)), [worse, band], () => 1);
    expect(pieces.map(({ thickPx, ax, bx }) => [thickPx, Math.round(ax), Math.round(bx)])).toEqual([
      [10, 20, 180],
      [30, 180, 240],
    ]);
    expect(accepted(asIs(blankSheet(300, 100)), [worse, band], ({ thickPx }) => (thickPx > 20 ? 1 : 0))).toHaveLength(1);
  });

  test('pieces of one line, one thickness and a small gap are one wall', () => {
    const lines = (...pieces: Piece[]) => centreLines(pieces, 6).length;
    expect(lines(piece(0, 0, 50, 0), piece(55, 1, 90, 1))).toBe(1);
    expect(lines(piece(0, 0, 50, 0), piece(58, 0, 90, 0))).toBe(2);
    expect(lines(piece(0, 0, 50, 0), piece(55, 0, 90, 0, 15))).toBe(2);
    expect(lines(piece(0, 0, 50, 0), piece(55, 6, 90, 6))).toBe(2);
  });
});

test('percentile, commonest value, the smallest common one, and the cut between two groups', () => {
  const values = [1.6, 1.7, 1.6, 4, 4.1, 20].map((value, i) => ({ value, weight: [30, 20, 30, 30, 20, 50][i]! }));
  expect([percentile(values, 0.1), percentile(values, 0.5), percentile(values, 0.99)]).toEqual([1.6, 4, 20]);
  expect(modeOf(values)).toBeCloseTo(1.625, 2);
  expect([smallestCommon(values, 0.3), smallestCommon(values, 0.4), smallestCommon(values, 0.5)].map((value) => Number(value.toFixed(3)))).toEqual([
    1.6,
    1.625,
    NaN,
  ]);
  const { threshold, ratio, above } = partedAt(values.slice(0, 5));
  expect([threshold > 1.7 && threshold < 4, ratio > 2.3 && ratio < 2.6, above]).toEqual([true, true, 50]);
  expect([smallestCommon([], 0.1), partedAt([{ value: 2, weight: 1 }]).ratio]).toEqual([NaN, 1]);
});

/** A wall along y = 100 with an opening of 40 px from x = 100 on, and a leaf there. */
function doorSheet(hinge: 'a' | 'b', side: 1 | -1, leaf = true): Sheet {
  const sheet = blankSheet(260, 220);
  bar(sheet, 20, 100, 100, 100, 8, INK);
  bar(sheet, 140, 100, 240, 100, 8, INK);
  const [x, way] = hinge === 'a' ? [100, 0] : [140, Math.PI];
  if (leaf) bar(sheet, x, 100, x, 100 + 40 * side, 2, INK);
  const open = (side * Math.PI) / 2;
  arc(sheet, x, 100, 40, way, hinge === 'a' ? open : Math.PI - open, 1.6);
  return sheet;
}
const jambs = [piece(20, 100, 100, 100), piece(140, 100, 240, 100)];
const search = { minPx: 22, maxPx: 50, thickPx: 8, linePx: 1.6, reachPx: 12 };

describe('doors', () => {
  test.each([
    ['a', 1],
    ['a', -1],
    ['b', 1],
    ['b', -1],
  ] as const)('hung at %s, opening to side %d', (hinge, side) => {
    const doors = doorsOf(inkOf(asIs(doorSheet(hinge, side))), jambs, search);
    expect(doors).toHaveLength(1);
    const [door] = doors;
    expect(Math.abs(door!.radiusPx - 40)).toBeLessThan(1.2);
    expect(Math.abs(door!.hx - (hinge === 'a' ? 100 : 140))).toBeLessThan(2);
    expect([Math.round(door!.ux), Math.round(door!.oy)]).toEqual([hinge === 'a' ? 1 : -1, side]);
  });

  test('no leaf, no far jamb, or another size: no door', () => {
    expect(doorsOf(inkOf(asIs(doorSheet('a', 1, false))), jambs, search)).toEqual([]);
    expect(doorsOf(inkOf(asIs(doorSheet('a', 1))), [jambs[0]!], search)).toEqual([]);
    expect(doorsOf(inkOf(asIs(doorSheet('a', 1))), jambs, { ...search, maxPx: 34 })).toEqual([]);
  });

  test('leaves tell the scale: 0.90 m, chairs do not; fewer than four say nothing', () => {
    const door = (radiusPx: number, fields: Partial<FoundDoor> = {}) => ({ radiusPx, arc: 1, leaf: 1, beside: 0, ...fields }) as FoundDoor;
    expect(scaleByDoors([36, 36, 37, 36].map((r) => door(r)))).toEqual({ pxPerM: 40, count: 4 });
    expect(scaleByDoors([...[36, 36, 37, 36].map((r) => door(r)), ...[16, 16, 17].map((r) => door(r))])?.pxPerM).toBe(40);
    expect(scaleByDoors([36, 36, 36].map((r) => door(r)))).toBeNull();
    expect(scaleByDoors([door(36), door(36), door(36), door(36, { arc: 0.85 })])).toBeNull();
  });
});

describe('company', () => {
  const house = [piece(0, 0, 400, 0), piece(400, 0, 400, 300), piece(400, 300, 0, 300), piece(0, 300, 0, 0)];
  const none = { inked: false, lines: false };
  const left = (extra: Piece, company = none) => pruned([...house, extra], [], 40, company).includes(extra);

  test.each([
    ['a wall from side to side', piece(200, 0, 200, 300), true],
    ['a stub in the air', piece(100, 100, 125, 100), false],
    ['a wall that stands free', piece(100, 100, 220, 100), false],
    ['a cupboard before a wall', piece(20, 14, 100, 14), false],
    ['thicker than any wall', piece(200, 0, 200, 300, 22.1), false],
    ['as thick as an old outer wall drawn by its two faces', piece(200, 0, 200, 300, 21.9), true],
    ['hatching within a wall', piece(200, -2, 204, 3, 2), false],
    ['a short piece held at one end', piece(200, 0, 200, 30), false],
  ])('%s', (_name, extra, stays) => expect(left(extra)).toBe(stays));

  test('a free wall of ink stays where ink is told from lines; a line must be held at both ends', () => {
    expect(left(piece(100, 100, 220, 100), { inked: true, lines: false })).toBe(true);
    expect(left(piece(200, 0, 200, 200, 2), { inked: false, lines: true })).toBe(false);
    expect(left(piece(200, 0, 200, 300, 2), { inked: false, lines: true })).toBe(true);
  });

  test('ends are drawn to the middle of the wall they meet, and cut back to it', () => {
    const [short, long] = [piece(200, 6, 200, 200), piece(300, -9, 300, 200)];
    const [, , , , first, second] = snapped([...house, short, long], 40);
    expect([first!.ay, second!.ay].map((y) => Math.round(y))).toEqual([0, 0]);
  });
});

const opening = (kind: 'door' | 'window', atM: number, widthM: number, fields: Partial<DrawnOpening> = {}): DrawnOpening => ({
  kind,
  atM,
  widthM,
  hinge: 'a',
  swing: 'left',
  ...fields,
});
const wall = (ax: number, ay: number, bx: number, by: number, thickM: number, openings: DrawnOpening[] = []): DrawnWall => ({
  segment: { a: { xM: ax, yM: ay }, b: { xM: bx, yM: by } },
  thickM,
  low: false,
  openings,
});
/** Three rooms of 12 m x 8 m: doors of all four hangings, one of them double, and windows. */
const plan: DrawnPlan = {
  westM: 0,
  northM: 0,
  eastM: 12,
  southM: 8,
  walls: [
    wall(0, 0, 12, 0, 0.3, [opening('window', 1, 1.4), opening('window', 8.5, 1.4)]),
    wall(12, 0, 12, 8, 0.3, [opening('door', 3, 1.8)]),
    wall(12, 8, 0, 8, 0.3, [opening('window', 6, 1.4)]),
    wall(0, 8, 0, 0, 0.3, [opening('door', 2, 0.9, { hinge: 'b' })]),
    wall(0, 4, 7, 4, 0.14, [opening('door', 1, 0.9), opening('door', 4, 0.9, { hinge: 'b', swing: 'right' })]),
    wall(7, 0, 7, 8, 0.14, [opening('door', 1, 0.9, { swing: 'right' }), opening('door', 6, 0.9, { hinge: 'b' })]),
  ],
};
const PX_PER_M = 50;
/** Metres of the plan from pixels of its sheet, which has 2 m of margin. */
const metres = (px: number): number => px / PX_PER_M - 2;

describe('walls of a drawing', () => {
  test.each(['filled', 'hollow', 'hatched', 'grey'] as const)('%s: each wall to 10 cm, its doors as they hang, its windows, the scale', (style) => {
    const found = find(drawnSheet(plan, { style, pxPerM: PX_PER_M }));
    expect(found.walls).toHaveLength(6);
    expect(Math.abs(found.scale!.pxPerM / PX_PER_M - 1)).toBeLessThan(0.03);
    expect(found.scale).toMatchObject({ from: 'doors', count: 7 });
    for (const { segment, thickM, openings } of plan.walls) {
      const [a, b] = [segment.a, segment.b];
      const near = (x: number, y: number, at: { xM: number; yM: number }) => Math.hypot(metres(x) - at.xM, metres(y) - at.yM) < 0.1;
      const own = found.walls.find(
        (one) => (near(one.ax, one.ay, a) && near(one.bx, one.by, b)) || (near(one.ax, one.ay, b) && near(one.bx, one.by, a)),
      );
      expect(own).toBeDefined();
      expect(Math.abs(own!.thickPx / PX_PER_M - thickM)).toBeLessThan(0.03);
      expect(own!.confidence).toBeGreaterThan(0.9);
      const turned = near(own!.ax, own!.ay, b);
      const lengthM = Math.hypot(b.xM - a.xM, b.yM - a.yM);
      expect(own!.openings).toHaveLength(openings.length);
      for (const { kind, atM, widthM, hinge, swing } of openings) {
        const middle = turned ? lengthM - atM - widthM / 2 : atM + widthM / 2;
        const hole = own!.openings.find((one) => Math.abs((one.atPx + one.widthPx / 2) / PX_PER_M - middle) < 0.08);
        expect(hole?.kind).toBe(kind);
        expect(Math.abs(hole!.widthPx / PX_PER_M - widthM)).toBeLessThan(0.1);
        // Seen from the other end a door hangs at the other jamb and opens to the other side.
        if (kind === 'door' && widthM < 1.4)
          expect([hole!.hinge, hole!.swing]).toEqual(turned ? [hinge === 'a' ? 'b' : 'a', swing === 'left' ? 'right' : 'left'] : [hinge, swing]);
      }
    }
  });

  test('on a busy sheet that was scanned askew nearly all is found, and what is said of the scale is near', () => {
    const found = find(scanned(drawnSheet(plan, { style: 'hollow', pxPerM: PX_PER_M, busy: true }), 5, 1));
    const lengthM = found.walls.reduce((sum, { ax, ay, bx, by }) => sum + Math.hypot(bx - ax, by - ay), 0) / PX_PER_M;
    expect(Math.abs(lengthM - 55)).toBeLessThan(3);
    expect(Math.abs(found.scale!.pxPerM / PX_PER_M - 1)).toBeLessThan(0.06);
    expect(found.walls.flatMap(({ openings }) => openings.filter(({ kind }) => kind === 'door')).length).toBeGreaterThanOrEqual(5);
  });

  test('a known scale is not guessed, a style that is asked for is kept', () => {
    const sheet = drawnSheet(plan, { style: 'filled', pxPerM: PX_PER_M });
    expect(find(sheet, { pxPerM: PX_PER_M, style: 'mixed' })).toMatchObject({ scale: { pxPerM: PX_PER_M, from: 'known' }, style: 'mixed' });
  });

  test('an empty sheet, a sheet of one tone and one pixel hold no walls', () => {
    for (const sheet of [blankSheet(300, 200), { ...blankSheet(64, 64), grey: new Uint8Array(4096).fill(90) }, blankSheet(1, 1)])
      expect(find(sheet).walls).toEqual([]);
  });

  test('a sheet of thousands of dashes is no drawing, and is refused at once', () => {
    const side = 1400;
    const grey = Uint8Array.from({ length: side * side }, (_, i) => ((i % side) % 22 < 10 && Math.trunc(i / side) % 6 < 2 ? 0 : 255));
    expect(() => find({ widthPx: side, heightPx: side, grey })).toThrow(expect.objectContaining({ code: 'DRAWING_NO_PLAN' }));
  });

  test('without doors the scale is by the commonest thickness, and said so', () => {
    const bare = { ...plan, walls: plan.walls.map((one) => ({ ...one, thickM: 0.14, openings: [] })) };
    const { scale, walls } = find(drawnSheet(bare, { style: 'filled', pxPerM: PX_PER_M }));
    expect(walls).toHaveLength(6);
    expect(scale!.from).toBe('thickness');
    expect(scale!.pxPerM / PX_PER_M).toBeCloseTo(1, 1);
  });

  test('what was found in a smaller picture is told of the whole one', () => {
    const found = find(drawnSheet(plan, { style: 'filled', pxPerM: PX_PER_M }));
    const whole = rescaled(found, 0.5);
    expect([whole.walls[0]!.bx, whole.walls[0]!.thickPx, whole.scale!.pxPerM]).toEqual([
      found.walls[0]!.bx * 2,
      found.walls[0]!.thickPx * 2,
      found.scale!.pxPerM * 2,
    ]);
    const [before, after] = [found, whole].map(({ walls }) => walls.find(({ openings }) => openings.length > 0)!.openings[0]!);
    expect([after!.atPx, after!.widthPx]).toEqual([before!.atPx * 2, before!.widthPx * 2]);
  });
});
