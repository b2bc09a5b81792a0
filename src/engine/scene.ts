import { OPEN_ID } from '@/core/building/material';
import { joinPanes, panesOf, type Panes } from '@/core/building/panes';
import { clutterOf } from '@/core/building/clutter';
import { slabOf } from '@/core/building/slab';
import { regionOf, type RegionM } from '@/core/geometry/polygon';
import { gridOver, maskOf, type Grid } from '@/core/geometry/grid';
import {
  exponentOf,
  floorsOf,
  materialsOf,
  modelsOf,
  onFloor,
  openingsOf,
  projectOf,
  type AccessPoint,
  type Design,
  type Floor,
  type Zone,
} from '@/core/design/design';
import { mediumOf, type Medium } from '@/core/propagation/medium';
import type { Pose } from '@/core/propagation/crossing';
import type { Emitter } from '@/core/propagation/station';
import type { Band } from '@/core/radio/band';
import { radioModelOf } from '@/core/radio/catalogue';
import { channelOf } from '@/core/radio/channel';
import { COMMON_TYPE, type ClientType } from '@/core/radio/clientTypes';
import { COMMON_CLIENT } from '@/core/radio/receiver';
import { keptOutOn, serviceZonesOn } from '@/core/design/service';
import type { Scene } from './protocol';

/** A scene with the cells where service is owed: the service zones, or the whole outline where none is drawn, less keep-out zones without service. */
export type FloorScene = Scene & Readonly<{ mask: Uint8Array; maskKey: string; serviceM2: number; zones: readonly ServiceZone[] }>;

/** A zone where service is owed and its cells, less those of keep-out zones in which none is owed; and how much these take of it, in m2. */
export type ServiceZone = Readonly<{ zone: Zone; mask: Uint8Array; exempt: readonly Zone[]; exemptM2: number }>;

let made = 0;

/** Two designs may be in view at once, each with what is being tried out on it. */
const REMEMBERED = 4;

/**
 * Remembers the newest results of each floor by what they were made of: same values, or the same records by identity, for records are
 * immutable. Renaming a floor, or an edit on another one, makes nothing anew.
 */
function remembered<T>() {
  type Made = { inputs: readonly unknown[]; result: T };
  const last = new Map<string, Made[]>();
  return (id: string, inputs: readonly unknown[], make: () => T): T => {
    const all = last.get(id) ?? [];
    const same = (made: Made) => made.inputs.length === inputs.length && made.inputs.every((input, i) => input === inputs[i]);
    const known = all.find(same) ?? { inputs, result: make() };
    last.set(id, [known, ...all.filter((made) => made !== known)].slice(0, REMEMBERED));
    return known.result;
  };
}
const planesFor = remembered<Scene>();
const masksFor = remembered<{ mask: Uint8Array; maskKey: string; serviceM2: number }>();
const zonesFor = remembered<readonly ServiceZone[]>();
const scenesFor = remembered<FloorScene>();

function share<T extends Float64Array | Int32Array | Uint8Array>(array: T): T {
  if (typeof SharedArrayBuffer === 'undefined' || !globalThis.crossOriginIsolated) return array;
  const copy = new (array.constructor as new (buffer: SharedArrayBuffer) => T)(new SharedArrayBuffer(array.byteLength));
  copy.set(array as never);
  return copy;
}

const shared = (panes: Panes): Panes => ({
  ...panes,
  ends: share(panes.ends as Float64Array),
  heights: share(panes.heights as Float64Array),
  lossUnits: share(panes.lossUnits as Int32Array),
  wallIndex: share(panes.wallIndex as Int32Array),
  reach: share(panes.reach as Uint8Array),
  storeys: share(panes.storeys as Float64Array),
  materialIndex: share(panes.materialIndex as Int32Array),
});

const panesFor = remembered<Panes>();

/** A floor's walls at the building's heights. */
function floorPanes(design: Design, { id, elevationM, ceilingM }: Floor): Panes {
  const walls = onFloor(design, 'walls', id);
  const openings = openingsOf(design, id);
  return panesFor(id, [elevationM, ceilingM, design.materials, ...walls, null, ...openings], () =>
    panesOf(walls, openings, elevationM, materialsOf(design), ceilingM),
  );
}

/** What rays to a floor meet: the building's walls and the slabs between its floors, at the building's heights, and the floor's environment. */
export function floorMedium(design: Design, floor: Floor): Medium {
  const floors = floorsOf(design);
  // The lowest floor's own slab lies under everything that sends or receives.
  const slabs = floors
    .slice(1)
    .filter(({ slabMaterialId }) => slabMaterialId !== OPEN_ID)
    .map(({ id, slabMaterialId, elevationM, outline }) =>
      slabOf(materialsOf(design)(slabMaterialId), elevationM, outline, onFloor(design, 'slabOpenings', id)),
    );
  const clutter = floors.flatMap(({ id, elevationM }) => clutterZones(design, id).map((zone) => clutterOf(zone.id, zone, zone.clutter!, elevationM)));
  return mediumOf(joinPanes(floors.map((one) => floorPanes(design, one))), { exponent: exponentOf(floor), slant: floor.slant }, slabs, clutter);
}

const clutterZones = (design: Design, floorId: string) => onFloor(design, 'zones', floorId).filter(({ kind }) => kind === 'clutter');

/** All records that a medium is made of. */
const madeOf = (design: Design): unknown[] => [
  design.materials,
  ...floorsOf(design).flatMap(({ id, elevationM, ceilingM, outline, slabMaterialId }, i) => [
    elevationM,
    ceilingM,
    ...onFloor(design, 'walls', id),
    null,
    ...openingsOf(design, id),
    null,
    ...clutterZones(design, id),
    null,
    ...(i === 0 ? [] : [outline, slabMaterialId, ...onFloor(design, 'slabOpenings', id)]),
  ]),
];

/** Height above the floor at which clients are, in m. */
export const clientHeightM = (design: Design): number => projectOf(design)?.clientHeightM ?? COMMON_CLIENT.heightM;

/**
 * The scene of a floor, for a kind of client. Made anew only when what it depends on changed: records are immutable, so tables are compared by identity.
 * @throws UpperRoomError FLOOR_EMPTY, GRID_TOO_LARGE
 */
export function floorScene(design: Design, floor: Floor, client: ClientType = COMMON_TYPE): FloorScene {
  const { outline, slant, elevationM, id } = floor;
  const cellM = projectOf(design)?.cellM ?? 0.5;
  const heightM = clientHeightM(design);
  const scene = planesFor(id, [outline, exponentOf(floor), slant, elevationM, cellM, heightM, client, ...madeOf(design)], () => {
    const medium = floorMedium(design, floor);
    const key = `scene-${++made}`;
    return {
      key,
      mediumKey: key,
      medium: { ...medium, panes: shared(medium.panes) },
      grid: gridOver(outline, cellM),
      planeZM: elevationM + heightM,
      receiver: { ...client.equipment, heightM },
    };
  });
  const owed = serviceZonesOn(design, id);
  const exempt = keptOutOn(design, id, 'service');
  const shapes = (zones: readonly Zone[]) => zones.flatMap(({ polygon, holes }) => [polygon, holes]);
  const masked = masksFor(id, [outline, cellM, ...shapes(owed), null, ...shapes(exempt)], () => {
    const mask = share(maskOf(scene.grid, owed.length > 0 ? owed : [regionOf(outline)], exempt));
    return { mask, maskKey: `mask-${++made}`, serviceM2: mask.reduce((sum, inside) => sum + inside, 0) * cellM * cellM };
  });
  const zones = zonesFor(id, [outline, cellM, ...owed, null, ...shapes(exempt)], () =>
    owed.map((zone) => ({
      zone,
      exempt,
      mask: share(maskOf(scene.grid, [zone], exempt)),
      exemptM2: sharedCells(scene.grid, zone, exempt) * cellM * cellM,
    })),
  );
  return scenesFor(id, [scene, masked, zones], () => ({ ...scene, ...masked, zones }));
}

/** How many cells of a region lie in others too. */
const sharedCells = (grid: Grid, region: RegionM, others: readonly RegionM[]): number => {
  const count = (mask: Uint8Array) => mask.reduce((sum, inside) => sum + inside, 0);
  return others.length === 0 ? 0 : count(maskOf(grid, [region])) - count(maskOf(grid, [region], others));
};

/** The scene without what only the page needs, so that messages stay small. */
export const sceneOf = ({ key, mediumKey, medium, grid, planeZM, receiver }: FloorScene): Scene => ({
  key,
  mediumKey,
  medium,
  grid,
  planeZM,
  receiver,
});

/** Where an access point hangs in the building. */
export const poseOf = (design: Design, ap: AccessPoint): Pose => ({
  xM: ap.xM,
  yM: ap.yM,
  zM: (design.floors[ap.floorId]?.elevationM ?? 0) + ap.heightM,
  azimuthDeg: ap.azimuthDeg,
  tiltDeg: ap.tiltDeg,
});

type ApEmitter = Emitter & Readonly<{ of: AccessPoint; on: boolean }>;

/** Records are immutable: the radios of an access point are the same as long as it, its floor and the models are, and what is known of them holds. */
const emitters = new WeakMap<AccessPoint, { floors: Design['floors']; apModels: Design['apModels']; all: readonly ApEmitter[] }>();

function allEmittersOf(design: Design, ap: AccessPoint): readonly ApEmitter[] {
  const { floors, apModels } = design;
  const known = emitters.get(ap);
  if (known !== undefined && known.floors === floors && known.apModels === apModels) return known.all;
  const pose = poseOf(design, ap);
  const all = ap.radios.flatMap((radio): ApEmitter[] => {
    const model = radioModelOf(modelsOf(design)(ap.modelId), radio.band);
    return model === null ? [] : [{ of: ap, pose, antenna: model.antenna, channel: channelOf(radio), txPowerDbm: radio.txPowerDbm, on: radio.on }];
  });
  emitters.set(ap, { floors, apModels, all });
  return all;
}

/** The radios of access points that are on, in the bands asked for, ready for rays. A band that the model lacks has none. */
export const emittersOf = (design: Design, aps: readonly AccessPoint[], bands: readonly Band[], evenOff = false): ApEmitter[] =>
  aps.flatMap((ap) => allEmittersOf(design, ap).filter(({ on, channel: { band } }) => (on || evenOff) && bands.includes(band)));
