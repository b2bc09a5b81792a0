import { MARGIN_M, drawnSheet, type Look } from '@demo/drawing/image';
import { planOf, type DrawnOpening, type DrawnPlan } from '@demo/drawing/plan';
import { WALL_STYLES } from '@demo/drawing/styles';
import { SKEW_DEG } from '@demo/drawing/scan';
import { museum } from '@demo/museum';
import { findWalls, type Found } from '@/core/finding/findWalls';
import { generatedPlan } from './plans';

/** How well walls were found, by length within 25 cm; a stretch found twice is false the second time. */
export type Rated = Readonly<{ precision: number; recall: number; doors: number; falseDoors: number; windows: number; scaleError: number }>;

type Turn = (x: number, y: number) => readonly [number, number];

const WITHIN_M = 0.25;
const PITCH_M = 0.05;

type Spot = Readonly<{ x: number; y: number; ux: number; uy: number }>;

/** Compares what was found with what was drawn. `turn` undoes what a scanner did to the sheet: from its px to px of the sheet as drawn. */
export function rated(plan: DrawnPlan, found: Found, pxPerM: number, turn: Turn = (x, y) => [x, y]): Rated {
  const truth: Spot[] = [];
  const openings: Array<{ kind: DrawnOpening['kind']; x: number; y: number }> = [];
  for (const { segment, low, openings: holes } of plan.walls) {
    if (low) continue;
    const [ax, ay] = [segment.a.xM - plan.westM, segment.a.yM - plan.northM];
    const length = Math.hypot(segment.b.xM - segment.a.xM, segment.b.yM - segment.a.yM);
    const [ux, uy] = [(segment.b.xM - segment.a.xM) / length, (segment.b.yM - segment.a.yM) / length];
    for (let at = PITCH_M / 2; at < length; at += PITCH_M)
      if (!holes.some(({ atM, widthM }) => at > atM && at < atM + widthM)) truth.push({ x: ax + ux * at, y: ay + uy * at, ux, uy });
    for (const { kind, atM, widthM } of holes) {
      const leaves = kind === 'door' && widthM > 1.4 ? [0.25, 0.75] : [0.5];
      for (const share of leaves) openings.push({ kind, x: ax + ux * (atM + widthM * share), y: ay + uy * (atM + widthM * share) });
    }
  }
  const inM = (x: number, y: number): readonly [number, number] => {
    const [sx, sy] = turn(x, y);
    return [sx / pxPerM - MARGIN_M, sy / pxPerM - MARGIN_M];
  };
  const cells = new Map<string, number[]>();
  truth.forEach(({ x, y }, i) => {
    const key = `${Math.floor(x)},${Math.floor(y)}`;
    cells.set(key, [...(cells.get(key) ?? []), i]);
  });
  const claimed = new Map<number, number>();
  let [right, total] = [0, 0];
  const foundOpenings: Array<{ kind: string; x: number; y: number; doubled: boolean }> = [];
  [...found.walls]
    .sort((p, q) => Math.hypot(q.bx - q.ax, q.by - q.ay) - Math.hypot(p.bx - p.ax, p.by - p.ay))
    .forEach((wall, w) => {
      const [ax, ay] = inM(wall.ax, wall.ay);
      const [bx, by] = inM(wall.bx, wall.by);
      const length = Math.hypot(bx - ax, by - ay);
      const [ux, uy] = [(bx - ax) / length, (by - ay) / length];
      const spans = wall.openings.map(({ atPx, widthPx, kind }) => ({ from: atPx / pxPerM, to: (atPx + widthPx) / pxPerM, kind }));
      for (const { from, to, kind } of spans)
        foundOpenings.push({ kind, x: ax + (ux * (from + to)) / 2, y: ay + (uy * (from + to)) / 2, doubled: false });
      for (let at = PITCH_M / 2; at < length; at += PITCH_M) {
        if (spans.some(({ from, to }) => at > from && at < to)) continue;
        total++;
        const [x, y] = [ax + ux * at, ay + uy * at];
        const near: number[] = [];
        for (let dx = -1; dx <= 1; dx++)
          for (let dy = -1; dy <= 1; dy++)
            for (const i of cells.get(`${Math.floor(x) + dx},${Math.floor(y) + dy}`) ?? []) {
              const spot = truth[i]!;
              if (Math.hypot(spot.x - x, spot.y - y) <= WITHIN_M && Math.abs(spot.ux * ux + spot.uy * uy) > 0.9) near.push(i);
            }
        if (near.some((i) => !claimed.has(i) || claimed.get(i) === w)) right++;
        for (const i of near) if (!claimed.has(i)) claimed.set(i, w);
      }
    });
  const hits = (kind: string, withinM: number) =>
    openings.filter(
      (one) => one.kind === kind && foundOpenings.some((other) => other.kind === kind && Math.hypot(one.x - other.x, one.y - other.y) < withinM),
    ).length;
  const count = (kind: string) => openings.filter((one) => one.kind === kind).length;
  const foundDoors = foundOpenings.filter(({ kind }) => kind === 'door');
  const wrong = foundDoors.filter(
    (one) => !openings.some((other) => other.kind === 'door' && Math.hypot(one.x - other.x, one.y - other.y) < 0.8),
  ).length;
  return {
    precision: total === 0 ? 0 : right / total,
    recall: claimed.size / truth.length,
    doors: count('door') === 0 ? 1 : hits('door', 0.6) / count('door'),
    falseDoors: foundDoors.length === 0 ? 0 : wrong / foundDoors.length,
    windows: count('window') === 0 ? 1 : hits('window', 0.8) / count('window'),
    scaleError: found.scale === null ? NaN : found.scale.pxPerM / pxPerM - 1,
  };
}

/** How a scanner turned the sheet, undone. */
function unturned(widthPx: number, heightPx: number): Turn {
  const [sin, cos] = [Math.sin((SKEW_DEG * Math.PI) / 180), Math.cos((SKEW_DEG * Math.PI) / 180)];
  const [cx, cy] = [widthPx / 2, heightPx / 2];
  return (x, y) => [cx + (x - cx) * cos + (y - cy) * sin, cy - (x - cx) * sin + (y - cy) * cos];
}

const percent = (share: number): string => `${(100 * share).toFixed(1)} %`;

/** Draws a plan, finds its walls with nothing told of the scale, and says how well. */
function one(plan: DrawnPlan, look: Look): { rated: Rated; ms: number; megapixels: number } {
  const sheet = drawnSheet(plan, look);
  const begin = performance.now();
  const run = findWalls(sheet, { pxPerM: null, style: null });
  let step = run.next();
  while (!step.done) step = run.next();
  const ms = performance.now() - begin;
  const turn = look.scan === true ? unturned(sheet.widthPx, sheet.heightPx) : undefined;
  return { rated: rated(plan, step.value, look.pxPerM, turn), ms, megapixels: (sheet.widthPx * sheet.heightPx) / 1e6 };
}

/** Rows of the bench: the museum's drawings one by one, generated ones by style, each the mean of its plans and the worst recall. */
export function benchFinding(): Array<[string, string, string]> {
  const rows: Array<[string, string, string]> = [['**Walls found in drawings** (scale not told; by length within 0.25 m)', '', '']];
  const add = (name: string, all: ReadonlyArray<ReturnType<typeof one>>) => {
    const mean = (of: (rated: Rated) => number): number => all.reduce((sum, each) => sum + of(each.rated), 0) / all.length;
    rows.push([
      `${name}, ${all.length} x ${(all.reduce((sum, { megapixels }) => sum + megapixels, 0) / all.length).toFixed(1)} Mpx`,
      (all.reduce((sum, { ms }) => sum + ms, 0) / all.length).toFixed(0),
      `precision ${percent(mean((r) => r.precision))}, recall ${percent(mean((r) => r.recall))} (worst ${percent(Math.min(...all.map((each) => each.rated.recall)))}); doors ${percent(mean((r) => r.doors))}, false ${percent(mean((r) => r.falseDoors))}; windows ${percent(mean((r) => r.windows))}; scale off by ${percent(mean((r) => Math.abs(r.scaleError)))}`,
    ]);
  };
  const design = museum();
  const floors = Object.keys(design.floors);
  one(planOf(design, floors[0]!), { style: 'filled', pxPerM: 20 });
  add(
    'museum, clean',
    floors.map((id) => one(planOf(design, id), { style: 'filled', pxPerM: 40 })),
  );
  add(
    'museum, scanned',
    floors.map((id) => one(planOf(design, id), { style: 'filled', pxPerM: 40, busy: true, scan: true })),
  );
  for (const style of WALL_STYLES) {
    // Seeds that nothing was tuned on; one plan of each kind stands askew.
    add(
      `${style}, clean`,
      [31, 32, 33].map((seed) => one(generatedPlan(seed, seed === 33 ? 9 : 0), { style, pxPerM: 45 })),
    );
    add(
      `${style}, busy`,
      [34, 35, 36].map((seed) => one(generatedPlan(seed), { style, pxPerM: 45, busy: true, seed })),
    );
    add(
      `${style}, busy and scanned`,
      [37, 38, 39].map((seed) => one(generatedPlan(seed), { style, pxPerM: 45, busy: true, scan: true, seed })),
    );
  }
  add(
    'all styles, busy and scanned at 30 px/m',
    WALL_STYLES.map((style, i) => one(generatedPlan(40 + i), { style, pxPerM: 30, busy: true, scan: true, seed: i })),
  );
  return rows;
}
