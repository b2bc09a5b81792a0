import { panesOf, type Panes } from '@/core/building/panes';
import { gridOver, maskOf } from '@/core/geometry/grid';
import { EXPONENT } from '@/core/propagation/pathLoss';
import { onFloor, openingsOf, projectOf, type AccessPoint, type Design, type Floor } from '@/core/design/design';
import type { Pose } from '@/core/propagation/ray';
import type { Scene } from './protocol';

/** A scene with the cells where service is owed: the service zones, or the whole outline where none is drawn. */
export type FloorScene = Scene & Readonly<{ mask: Uint8Array; serviceM2: number }>;

let made = 0;
let last: { inputs: readonly unknown[]; scene: FloorScene } | null = null;

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
});

/**
 * The scene of a floor. Made anew only when what it depends on changed: records are immutable, so tables are compared by identity.
 * @throws UpperRoomError FLOOR_EMPTY, GRID_TOO_LARGE
 */
export function floorScene(design: Design, floor: Floor): FloorScene {
  const project = projectOf(design);
  const cellM = project?.cellM ?? 0.5;
  const clientHeightM = project?.clientHeightM ?? 1;
  const inputs = [design.walls, design.openings, design.zones, floor, cellM, clientHeightM];
  if (last !== null && last.inputs.every((input, i) => input === inputs[i])) return last.scene;
  const grid = gridOver(floor.outline, cellM);
  const panes = shared(panesOf(onFloor(design, 'walls', floor.id), openingsOf(design, floor.id)));
  const owed = onFloor(design, 'zones', floor.id).filter((zone) => zone.kind === 'service');
  const mask = share(maskOf(grid, owed.length > 0 ? owed.map((zone) => zone.polygon) : [floor.outline]));
  const serviceM2 = mask.reduce((sum, inside) => sum + inside, 0) * cellM * cellM;
  const scene: FloorScene = { key: `scene-${++made}`, panes, grid, exponent: EXPONENT[floor.environment], clientHeightM, mask, serviceM2 };
  last = { inputs, scene };
  return scene;
}

export const poseOf = (ap: AccessPoint): Pose => ({ xM: ap.xM, yM: ap.yM, heightM: ap.heightM, azimuthDeg: ap.azimuthDeg, tiltDeg: ap.tiltDeg });
