import { hungHeightM } from '@/core/design/commands';
import { modelsOf, onFloor, type AccessPoint, type Design, type Floor } from '@/core/design/design';
import { keptOutOn, zonesWithLevel } from '@/core/design/service';
import { segmentOf } from '@/core/building/wall';
import { minus } from '@/core/fields/lens';
import { gridOver, maskOf } from '@/core/geometry/grid';
import { boundsOf, contains, inRegion, regionOf, areaM2 } from '@/core/geometry/polygon';
import { distanceToM } from '@/core/geometry/segment';
import type { PointM } from '@/core/geometry/point';
import { isOmni } from '@/core/radio/antenna';
import { radioModelOf, type ApModel } from '@/core/radio/catalogue';
import type { Band, WidthMhz } from '@/core/radio/band';
import { channelOf, middlePowerDbm } from '@/core/radio/channel';
import type { Ask, Candidate, CrowdAsked, Demand, HungRadio, PlacedRadio, Scene } from './protocol';
import { poseOf, sceneOf, type FloorScene } from './scene';

/** Candidates stand this far apart, further where there would be too many. */
const PITCH_M = 2.5;
const MOST_CANDIDATES = 900;
/** From walls. */
const OFF_WALLS_M = 0.5;
/** Points at which what is owed is looked at. */
const POINTS_M = 2;
const MOST_POINTS = 4000;

/** A spot where an access point may hang, and how far the next wall is; infinitely far where there is none. */
export type HangingSpot = PointM & Readonly<{ clearanceM: number }>;

/** Where one may hang on a floor: within the outline, off walls and out of keep-out zones. Null elsewhere. */
function hangingOn(design: Design, floor: Floor): (at: PointM) => HangingSpot | null {
  const walls = onFloor(design, 'walls', floor.id).map(segmentOf);
  const keepOut = keptOutOn(design, floor.id, 'access points');
  return (at) => {
    if (!contains(floor.outline, at.xM, at.yM) || keepOut.some((zone) => inRegion(zone, at.xM, at.yM))) return null;
    const clearanceM = walls.reduce((least, wall) => Math.min(least, distanceToM(wall, at)), Infinity);
    return clearanceM >= OFF_WALLS_M ? { ...at, clearanceM } : null;
  };
}

const toCentimetres = (m: number): number => Math.round(m * 100) / 100;

/** Where an access point may hang on a floor, on a lattice. */
export function candidatesOn(design: Design, floor: Floor): HangingSpot[] {
  const box = boundsOf(floor.outline);
  if (box === null) return [];
  const pitch = Math.max(PITCH_M, Math.sqrt(areaM2(floor.outline) / MOST_CANDIDATES));
  const hanging = hangingOn(design, floor);
  const found: HangingSpot[] = [];
  for (let yM = box.northM + pitch / 2; yM < box.southM; yM += pitch)
    for (let xM = box.westM + pitch / 2; xM < box.eastM; xM += pitch) {
      const spot = hanging({ xM: toCentimetres(xM), yM: toCentimetres(yM) });
      if (spot !== null) found.push(spot);
    }
  return found;
}

/** How far what hangs may go aside, in m, and in which directions. */
const ASIDE_M = [1.5, 3];
const ASIDE_WAYS = 8;

/** Places round an access point where it may hang as well. */
export function asideOf(design: Design, floor: Floor, { xM, yM }: PointM): Array<HangingSpot & Readonly<{ movedM: number }>> {
  const hanging = hangingOn(design, floor);
  return ASIDE_M.flatMap((movedM) =>
    Array.from({ length: ASIDE_WAYS }, (_, k) => (2 * Math.PI * k) / ASIDE_WAYS).flatMap((angle) => {
      const spot = hanging({ xM: toCentimetres(xM + movedM * Math.cos(angle)), yM: toCentimetres(yM + movedM * Math.sin(angle)) });
      return spot === null ? [] : [{ ...spot, movedM }];
    }),
  );
}

/** The cells at which what is owed is looked at: those of the floor's plane, further apart. */
export function coarseScene(floor: Floor, scene: FloorScene): Scene {
  const cellM = Math.max(POINTS_M, Math.sqrt(areaM2(floor.outline) / MOST_POINTS));
  return { ...sceneOf(scene), key: `${scene.key}/${cellM}`, grid: gridOver(floor.outline, cellM) };
}

/** What is owed on a floor, zone by zone: the first signal, and the second, SNR and rate where the level asks for them. @param scene the place of the floor's scene among those asked */
export function demandsOn(design: Design, floor: Floor, { grid }: Scene, scene = 0, named = false): Demand[] {
  const exempt = keptOutOn(design, floor.id, 'service');
  return zonesWithLevel(design, floor.id).flatMap(({ zone, level }) => {
    const mask = maskOf(grid, [zone], exempt);
    const where = named ? `${floor.name}, ${zone.name}` : zone.name;
    const demand = (words: string, ask: Ask, need: 1 | 2 = 1): Demand => ({ scene, zone: where, name: words, mask, need, ask, share: level.share });
    return [
      demand(`signal ${minus(level.signalDbm)} dBm`, { what: 'level', dbm: level.signalDbm }),
      ...(level.secondDbm === null ? [] : [demand(`second ${minus(level.secondDbm)} dBm`, { what: 'level', dbm: level.secondDbm }, 2)]),
      ...(level.snrDb === null ? [] : [demand(`SNR ${level.snrDb} dB`, { what: 'snr', db: level.snrDb })]),
      ...(level.rateMbps === null ? [] : [demand(`rate ${level.rateMbps} Mb/s`, { what: 'rate', mbps: level.rateMbps })]),
    ];
  });
}

/** The whole floor at one level, for the table of how many, less where no service is owed. */
export const wholeFloor = (design: Design, floor: Floor, { grid }: Scene, levelDbm: number, share: number): Demand => ({
  scene: 0,
  zone: floor.name,
  name: `signal ${minus(levelDbm)} dBm`,
  mask: maskOf(grid, [regionOf(floor.outline)], keptOutOn(design, floor.id, 'service')),
  need: 1,
  ask: { what: 'level', dbm: levelDbm },
  share,
});

/** The people expected on a floor, zone by zone, at the points of its scene. */
export const peopleOn = (design: Design, floor: Floor, { grid }: Scene, scene = 0): CrowdAsked['people'] =>
  onFloor(design, 'zones', floor.id).flatMap((zone) =>
    zone.kind !== 'service' || zone.people === null || zone.people === 0
      ? []
      : [{ scene, mask: maskOf(grid, [zone], keptOutOn(design, floor.id, 'service')), count: zone.people }],
  );

/** A directional antenna may look these ways. */
const LOOKS_DEG = [0, 90, 180, 270];

/** Radios of some models at spots of a floor; a directional one looks along or across. Places are counted from `firstPlace` on. */
export function placedAt(
  floor: Floor,
  spots: readonly HangingSpot[],
  models: ReadonlyArray<Readonly<{ model: ApModel; txPowerDbm: number; widthMhz: WidthMhz }>>,
  band: Band,
  scene = 0,
  firstPlace = 0,
): Candidate[] {
  const kinds = models.flatMap(({ model, ...rest }) =>
    (isOmni(radioModelOf(model, band)!.antenna) ? [0] : LOOKS_DEG).map((azimuthDeg) => ({ ...rest, model, azimuthDeg })),
  );
  return spots.flatMap(({ xM, yM, clearanceM }, i) =>
    kinds.map(({ model, azimuthDeg, ...radio }, kind) => ({
      ...radio,
      model,
      pose: { xM, yM, zM: floor.elevationM + hungHeightM(floor, model), azimuthDeg, tiltDeg: 0 },
      scene,
      place: firstPlace + i,
      clearanceM,
      kind,
    })),
  );
}

/** What hangs already, of a band, with which access point it is. Those of floors that are not asked are heard too: they have no scene. */
export const standingIn = (
  design: Design,
  aps: readonly AccessPoint[],
  band: Band,
  floors: readonly Floor[],
): Array<PlacedRadio & Readonly<{ ap: AccessPoint; locked: HungRadio['locked'] }>> =>
  aps.flatMap((ap) =>
    ap.radios
      .filter((radio) => radio.on && radio.band === band && radioModelOf(modelsOf(design)(ap.modelId), band) !== null)
      .map((radio) => ({
        model: modelsOf(design)(ap.modelId),
        pose: poseOf(design, ap),
        txPowerDbm: middlePowerDbm({ txPowerDbm: radio.txPowerDbm, channel: channelOf(radio) }),
        widthMhz: radio.widthMhz,
        scene: floors.findIndex(({ id }) => id === ap.floorId),
        ap,
        // Nothing but their own form moves locked ones, and those of other floors are not asked about.
        locked: ap.locked || floors.every(({ id }) => id !== ap.floorId),
      })),
  );
