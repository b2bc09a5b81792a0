import { seeded } from '@/core/random';
import { distanceToM } from '@/core/geometry/segment';
import type { DrawnPlan } from './plan';
import { INK, arc, bar, write } from './sheet';
import type { Draft } from './styles';

const THIN_PX = 1.4;

/** What else is on an architect's sheet: furniture, stairs, tiles, words, dimension lines, grid lines and the frame. The seed decides what stands where. */
export function drawClutter(draft: Draft, plan: DrawnPlan, seed: number): void {
  const uniform = seeded(seed);
  const { westM, northM, eastM, southM, walls } = plan;
  const { sheet, pxPerM, x, y } = draft;
  const line = (ax: number, ay: number, bx: number, by: number) => bar(sheet, x(ax), y(ay), x(bx), y(by), THIN_PX, INK, 0.4);
  const box = (west: number, north: number, wide: number, deep: number) => {
    line(west, north, west + wide, north);
    line(west + wide, north, west + wide, north + deep);
    line(west + wide, north + deep, west, north + deep);
    line(west, north + deep, west, north);
  };
  const circle = (xM: number, yM: number, radiusM: number) => arc(sheet, x(xM), y(yM), radiusM * pxPerM, 0, 2 * Math.PI, THIN_PX);
  const taken: Array<readonly [xM: number, yM: number, roomM: number]> = [];
  const place = (roomM: number): readonly [number, number] | null => {
    for (let tries = 0; tries < 40; tries++) {
      const at = { xM: westM + uniform() * (eastM - westM), yM: northM + uniform() * (southM - northM) };
      const clear = walls.every(({ segment }) => distanceToM(segment, at) > roomM + 0.35);
      if (clear && taken.every(([xM, yM, other]) => Math.hypot(at.xM - xM, at.yM - yM) > roomM + other + 0.2)) {
        taken.push([at.xM, at.yM, roomM]);
        return [at.xM, at.yM];
      }
    }
    return null;
  };
  const put = (count: number, roomM: number, draw: (xM: number, yM: number) => void) => {
    for (let i = 0; i < count; i++) {
      const at = place(roomM);
      if (at !== null) draw(...at);
    }
  };
  const area = (eastM - westM) * (southM - northM);
  // Stairs and tiles first: they want the most room.
  put(2, 1.9, (xM, yM) => {
    for (let step = 0; step <= 11; step++) line(xM - 1.54 + step * 0.28, yM - 0.6, xM - 1.54 + step * 0.28, yM + 0.6);
    line(xM - 1.54, yM - 0.6, xM + 1.54, yM - 0.6);
    line(xM - 1.54, yM + 0.6, xM + 1.54, yM + 0.6);
    line(xM - 1.3, yM, xM + 1.3, yM);
  });
  put(1, 2.2, (xM, yM) => {
    for (let i = 0; i <= 6; i++) {
      line(xM - 1.8 + i * 0.6, yM - 1.2, xM - 1.8 + i * 0.6, yM + 1.2);
      if (i <= 4) line(xM - 1.8, yM - 1.2 + i * 0.6, xM + 1.8, yM - 1.2 + i * 0.6);
    }
  });
  put(Math.round(area / 45), 1, (xM, yM) => {
    const upright = uniform() < 0.5;
    box(xM - (upright ? 0.4 : 0.8), yM - (upright ? 0.8 : 0.4), upright ? 0.8 : 1.6, upright ? 1.6 : 0.8);
    circle(upright ? xM + 0.65 : xM, upright ? yM : yM + 0.65, 0.22);
  });
  put(Math.round(area / 150), 1, (xM, yM) => {
    circle(xM, yM, 0.5);
    for (let i = 0; i < 4; i++) circle(xM + 0.75 * Math.cos((i * Math.PI) / 2), yM + 0.75 * Math.sin((i * Math.PI) / 2), 0.2);
  });
  const words = ['store', 'salon', 'tea', 'rest', 'tenant', 'lot'];
  put(Math.round(area / 70), 0.9, (xM, yM) => {
    write(sheet, words[Math.floor(uniform() * words.length)]!, x(xM - 0.6), y(yM), 0.24 * pxPerM);
    write(sheet, (8 + uniform() * 40).toFixed(1), x(xM - 0.6), y(yM + 0.4), 0.2 * pxPerM);
  });
  // A lift's car, with the cross that says it is one.
  put(1, 1.2, (xM, yM) => {
    box(xM - 0.8, yM - 0.7, 1.6, 1.4);
    line(xM - 0.8, yM - 0.7, xM + 0.8, yM + 0.7);
    line(xM - 0.8, yM + 0.7, xM + 0.8, yM - 0.7);
  });
  dimensions(draft, plan, line);
  // Lines of the building's grid: dash and dot, right across the sheet.
  for (let at = westM + 6.1; at < eastM - 3; at += 7.3) {
    for (let run = northM - 1; run < southM + 0.9; run += 1.1) {
      line(at, run, at, run + 0.7);
      line(at, run + 0.88, at, run + 0.92);
    }
    circle(at, northM - 1.36, 0.32);
  }
  // The frame of the sheet, with its box of words.
  const edge = 1.75;
  box(westM - edge, northM - edge, eastM - westM + 2 * edge, southM - northM + 2 * edge);
  box(eastM - 4, southM + 0.25, 4 + edge - 0.2, edge - 0.45);
  write(sheet, 'note 1.100', x(eastM - 3.7), y(southM + 1), 0.3 * pxPerM);
}

/** Chains of dimensions along the north and west sides: a line, ticks where walls meet it, and lengths in mm. */
function dimensions({ sheet, pxPerM, x, y }: Draft, { westM, northM, eastM, southM, walls }: DrawnPlan, line: LineM): void {
  const stops = (of: 'xM' | 'yM', from: number, to: number): number[] => {
    const all = [from, to, ...walls.filter(({ low }) => !low).flatMap(({ segment }) => [segment.a[of], segment.b[of]])].sort((p, q) => p - q);
    return all.filter((at, i) => at >= from && at <= to && (i === 0 || at - all[i - 1]! > 1.2));
  };
  const across = stops('xM', westM, eastM);
  across.forEach((at, i) => {
    line(at - 0.12, northM - 0.88, at + 0.12, northM - 1.12);
    const next = across[i + 1];
    if (next !== undefined) line(at, northM - 1, next, northM - 1);
    if (next !== undefined && next - at > 1.5)
      write(sheet, String(Math.round((next - at) * 1000)), x((at + next) / 2 - 0.45), y(northM - 1.08), 0.2 * pxPerM);
  });
  const down = stops('yM', northM, southM);
  down.forEach((at, i) => {
    line(westM - 0.88, at - 0.12, westM - 1.12, at + 0.12);
    const next = down[i + 1];
    if (next !== undefined) line(westM - 1, at, westM - 1, next);
    if (next !== undefined && next - at > 1.5)
      write(sheet, String(Math.round((next - at) * 1000)), x(westM - 1.08), y((at + next) / 2 + 0.45), 0.2 * pxPerM, true);
  });
}

type LineM = (axM: number, ayM: number, bxM: number, byM: number) => void;
