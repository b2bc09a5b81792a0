import { modelOf } from '@/core/radio/catalogue';
import { museum } from '@demo/museum';
import { floorsOf, type Design, type Floor } from '@/core/design/design';
import { applyChanges } from '@/core/design/step';
import { newProject } from '@/core/design/commands';
import { EMPTY_DESIGN } from '@/core/design/registry';
import { IDLE_ROUNDS } from '@/core/planning/positions/positions';
import type { Positions } from '@/core/planning/positions/proposed';
import { candidatesOn, coarseScene, demandsOn, peopleOn, placedAt, wholeFloor } from '@/engine/candidates';
import { positions } from '@/engine/positions';
import type { Demand, Scene } from '@/engine/protocol';
import { floorScene } from '@/engine/scene';

/** Positions of one floor: how many were found, with what bound, when the last came, and all the time it took. */
function one(name: string, design: Design, floor: Floor, demandsIn: (scene: Scene) => Demand[]): [string, string, string] {
  const scene = coarseScene(floor, floorScene(design, floor));
  const spots = candidatesOn(design, floor);
  const begin = performance.now();
  const run = positions({
    scenes: [scene],
    band: '5',
    candidates: placedAt(floor, spots, [{ model: modelOf('heron-c4'), txPowerDbm: 15, widthMhz: 20 }], '5'),
    standing: [],
    demands: demandsIn(scene),
    crowd: null,
    seed: 1,
    idleRounds: IDLE_ROUNDS.thorough,
  });
  let [levelsMs, bestMs, first] = [0, 0, null as number | null];
  let best: Positions | null = null;
  for (;;) {
    const step = run.next();
    const now: Positions | null = step.done ? step.value : step.value.best;
    if (now === null) levelsMs = performance.now() - begin;
    else if (best === null || now.count !== best.count) [bestMs, first] = [performance.now() - begin, first ?? now.count];
    best = now ?? best;
    if (step.done) break;
  }
  const { count, bound, groups } = best!;
  return [
    `positions, ${name}: ${spots.length} candidates`,
    (performance.now() - begin).toFixed(0),
    `${count} found (first ${first}), bound ${bound}; levels ${levelsMs.toFixed(0)} ms, the best after ${bestMs.toFixed(0)} ms; ${groups.map((group) => `${group.zone} ${group.name} ${(group.share * 100).toFixed(1)} %`).join(', ')}`,
  ];
}

/** Positions of all floors together, for what is owed and for the people expected, by the stages of the search. */
function together(design: Design): [string, string, string] {
  const floors = floorsOf(design).map((floor) => ({
    floor,
    scene: coarseScene(floor, floorScene(design, floor)),
    spots: candidatesOn(design, floor),
  }));
  let first = 0;
  const candidates = floors.flatMap(({ floor, spots }, f) => {
    const placed = placedAt(floor, spots, [{ model: modelOf('heron-c4'), txPowerDbm: 15, widthMhz: 20 }], '5', f, first);
    first += spots.length;
    return placed;
  });
  const begin = performance.now();
  const run = positions({
    scenes: floors.map(({ scene }) => scene),
    band: '5',
    candidates,
    standing: [],
    demands: floors.flatMap(({ floor, scene }, f) => demandsOn(design, floor, scene, f, true)),
    crowd: { people: floors.flatMap(({ floor, scene }, f) => peopleOn(design, floor, scene, f)), mbpsEach: 2, airtimeShare: 0.5 },
    seed: 1,
    idleRounds: IDLE_ROUNDS.thorough,
  });
  const counts = new Map<string, string>();
  let step = run.next();
  for (; !step.done; step = run.next()) if (step.value.best !== null) counts.set(step.value.best.stage, String(step.value.best.count));
  const { count, bound, inLine, load } = step.value;
  return [
    `positions, all ${floors.length} floors for their people, 2 Mb/s each: ${candidates.length} candidates`,
    (performance.now() - begin).toFixed(0),
    `${[...counts].map(([stage, n]) => `${stage} ${n}`).join(', ')}; ${count} in the end, bound ${bound}, ${inLine} in line, the busiest ${(100 * (load?.busiest ?? 0)).toFixed(0)} % of its airtime`,
  ];
}

export function benchPositions(): Array<[string, string, string]> {
  const design = museum();
  const hall = applyChanges(
    EMPTY_DESIGN,
    newProject({ name: 'Hall', units: 'metric', domain: 'EU', floorId: 'hall', variantId: 'first', widthM: 200, heightM: 150 }),
  );
  return [
    ['**Positions** (one floor, 5 GHz, 15 dBm)', '', ''],
    ...floorsOf(design).map((floor) => one(floor.name, design, floor, (scene) => demandsOn(design, floor, scene))),
    together(design),
    one('hall of 200 x 150 m, −67 dBm in 95 %', hall, hall.floors.hall!, (scene) => [wholeFloor(hall, hall.floors.hall!, scene, -67, 0.95)]),
    one('hall of 200 x 150 m, −60 dBm in 95 %', hall, hall.floors.hall!, (scene) => [wholeFloor(hall, hall.floors.hall!, scene, -60, 0.95)]),
  ];
}
