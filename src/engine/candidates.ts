import { hungHeightM } from '@/core/design/commands';
import { modelsOf, onFloor, type AccessPoint, type Design, type Floor } from '@/core/design/design';
import { keptOutOn, zonesWithLevel } from '@/core/design/service';
import { segmentOf } from '@/core/building/wall';
import { minus } from '@/core/fields/lens';
import { gridOver, maskOf } from '@/core/geometry/grid';
import { boundsOf, contains, inRegion, regionOf, areaM2 } from '@/core/geometry/polygon';
import { distanceToM } from '@/core/geometry/segment';
import type { PointM } from '@/core/geometry/point';
import type { PositionGroup } from '@/core/planning/positions/positions';
import type { ApModel } from '@/core/radio/catalogue';
import type { Band } from '@/core/radio/band';
import type { PlacedRadio, Scene } from './protocol';
import { poseOf, sceneOf, type FloorScene } from './scene';

/** Candidates stand this far apart, further where there would be too many. */
const PITCH_M = 2.5;
const MOST_CANDIDATES = 900;
/** From walls. */
const OFF_WALLS_M = 0.5;
/** Points at which what is owed is looked at. */
const POINTS_M = 2;
const MOST_POINTS = 4000;

/** Where an access point may hang on a floor: a lattice within the outline, off walls and out of keep-out zones. */
export function candidatesOn(design: Design, floor: Floor): PointM[] {
  const box = boundsOf(floor.outline);
  if (box === null) return [];
  const pitch = Math.max(PITCH_M, Math.sqrt(areaM2(floor.outline) / MOST_CANDIDATES));
  const walls = onFloor(design, 'walls', floor.id).map(segmentOf);
  const keepOut = keptOutOn(design, floor.id, 'access points');
  const found: PointM[] = [];
  for (let yM = box.northM + pitch / 2; yM < box.southM; yM += pitch)
    for (let xM = box.westM + pitch / 2; xM < box.eastM; xM += pitch) {
      const at = { xM: Math.round(xM * 100) / 100, yM: Math.round(yM * 100) / 100 };
      if (!contains(floor.outline, at.xM, at.yM) || keepOut.some((zone) => inRegion(zone, at.xM, at.yM))) continue;
      if (walls.every((wall) => distanceToM(wall, at) >= OFF_WALLS_M)) found.push(at);
    }
  return found;
}

/** The cells at which what is owed is looked at: those of the floor's plane, further apart. */
export function coarseScene(floor: Floor, scene: FloorScene): Scene {
  const cellM = Math.max(POINTS_M, Math.sqrt(areaM2(floor.outline) / MOST_POINTS));
  return { ...sceneOf(scene), key: `${scene.key}/${cellM}`, grid: gridOver(floor.outline, cellM) };
}

/** What is owed on a floor, zone by zone: the first signal and, where the level asks for it, the second. */
export function groupsOn(design: Design, floor: Floor, { grid }: Scene): PositionGroup[] {
  const exempt = keptOutOn(design, floor.id, 'service');
  return zonesWithLevel(design, floor.id).flatMap(({ zone, level }): PositionGroup[] => {
    const mask = maskOf(grid, [zone], exempt);
    const first = {
      name: `${zone.name}, signal ${minus(level.signalDbm)} dBm`,
      mask,
      need: 1,
      levelDbm: level.signalDbm,
      share: level.share,
    } as const;
    return level.secondDbm === null
      ? [first]
      : [first, { name: `${zone.name}, second ${minus(level.secondDbm)} dBm`, mask, need: 2, levelDbm: level.secondDbm, share: level.share }];
  });
}

/** The whole floor at one level, for the table of how many, less where no service is owed. */
export const wholeFloor = (design: Design, floor: Floor, { grid }: Scene, levelDbm: number, share: number): PositionGroup => ({
  name: floor.name,
  mask: maskOf(grid, [regionOf(floor.outline)], keptOutOn(design, floor.id, 'service')),
  need: 1,
  levelDbm,
  share,
});

/** Candidates as radios of a model. */
export const placedAt = (floor: Floor, spots: readonly PointM[], model: ApModel, txPowerDbm: number): PlacedRadio[] =>
  spots.map(({ xM, yM }) => ({
    model,
    txPowerDbm,
    pose: { xM, yM, zM: floor.elevationM + hungHeightM(floor, model), azimuthDeg: 0, tiltDeg: 0 },
  }));

/** What hangs already, of a band: it stands. */
export const standingIn = (design: Design, aps: readonly AccessPoint[], band: Band): PlacedRadio[] =>
  aps.flatMap((ap) =>
    ap.radios
      .filter((radio) => radio.on && radio.band === band)
      .map(({ txPowerDbm }) => ({ model: modelsOf(design)(ap.modelId), pose: poseOf(design, ap), txPowerDbm })),
  );
