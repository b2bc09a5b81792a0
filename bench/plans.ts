import { seeded } from '@/core/random';
import type { DrawnOpening, DrawnPlan, DrawnWall } from '@demo/drawing/plan';

/**
 * A made-up floor to be drawn: a corridor with rooms on both sides, a hall at one end, outer walls thicker than inner ones, doors and
 * windows. With `turnDeg` the whole of it stands askew on the sheet.
 */
export function generatedPlan(seed: number, turnDeg = 0): DrawnPlan {
  const uniform = seeded(seed);
  const pick = (from: number, to: number): number => from + uniform() * (to - from);
  const [wide, deep] = [Math.round(pick(30, 52)), Math.round(pick(16, 24))];
  const [outer, bearing, light] = [pick(0.3, 0.42), pick(0.18, 0.26), pick(0.1, 0.14)];
  const corridor = pick(1.8, 2.6);
  const north = Math.round(pick(0.38, 0.52) * deep * 10) / 10;
  const south = north + corridor;
  const hall = Math.round(pick(6, 10));
  const walls: DrawnWall[] = [];
  const wall = (ax: number, ay: number, bx: number, by: number, thickM: number, openings: DrawnOpening[] = []) =>
    walls.push({ segment: { a: { xM: ax, yM: ay }, b: { xM: bx, yM: by } }, thickM, low: false, openings });
  const door = (atM: number, widthM = 0.9): DrawnOpening => ({
    kind: 'door',
    atM,
    widthM,
    hinge: uniform() < 0.5 ? 'a' : 'b',
    swing: uniform() < 0.5 ? 'left' : 'right',
  });
  const rooms = (from: number, to: number): number[] => {
    const ends: number[] = [from];
    while (to - ends.at(-1)! > 5.5) ends.push(Math.round((ends.at(-1)! + pick(2.8, 5)) * 10) / 10);
    ends.push(to);
    return ends;
  };
  const end = wide - hall;
  const windows = (ends: readonly number[]): DrawnOpening[] =>
    ends.slice(1).flatMap((to, i): DrawnOpening[] => {
      const [from, widthM] = [ends[i]!, pick(1.2, 1.8)];
      return uniform() < 0.85 ? [{ ...door((from + to) / 2 - widthM / 2, widthM), kind: 'window' }] : [];
    });
  const doors = (ends: readonly number[]): DrawnOpening[] =>
    ends.slice(1).map((to, i) => door(ends[i]! + pick(0.35, Math.max(0.4, to - ends[i]! - 1.4))));
  const [upper, lower] = [rooms(0, end), rooms(0, end)];
  wall(0, 0, wide, 0, outer, windows(upper));
  wall(wide, 0, wide, deep, outer, [door(deep / 2 - 0.9, 1.8)]);
  wall(0, deep, wide, deep, outer, windows(lower));
  wall(0, 0, 0, deep, outer, [{ ...door(north + 0.3, corridor - 0.6), kind: 'window' }]);
  wall(0, north, end, north, bearing, doors(upper));
  wall(0, south, end, south, bearing, doors(lower));
  wall(end, 0, end, deep, bearing, [door(north + corridor / 2 - 0.5, 1)]);
  for (const at of upper.slice(1, -1)) wall(at, 0, at, north, light, uniform() < 0.25 ? [door(pick(0.6, north - 1.8))] : []);
  for (const at of lower.slice(1, -1)) wall(at, south, at, deep, light, uniform() < 0.25 ? [door(pick(0.6, deep - south - 1.8))] : []);
  return turned({ walls, westM: 0, northM: 0, eastM: wide, southM: deep }, turnDeg);
}

function turned(plan: DrawnPlan, turnDeg: number): DrawnPlan {
  const [sin, cos] = [Math.sin((turnDeg * Math.PI) / 180), Math.cos((turnDeg * Math.PI) / 180)];
  const at = ({ xM, yM }: { xM: number; yM: number }) => ({ xM: xM * cos - yM * sin, yM: xM * sin + yM * cos });
  const walls = plan.walls.map((wall) => ({ ...wall, segment: { a: at(wall.segment.a), b: at(wall.segment.b) } }));
  const ends = walls.flatMap(({ segment }) => [segment.a, segment.b]);
  const [xs, ys] = [ends.map(({ xM }) => xM), ends.map(({ yM }) => yM)];
  return { walls, westM: Math.min(...xs), northM: Math.min(...ys), eastM: Math.max(...xs), southM: Math.max(...ys) };
}
