import { panesOf, type Panes } from '@/core/building/panes';
import { gridOver, maskOf } from '@/core/geometry/grid';
import { EXPONENT } from '@/core/propagation/pathLoss';
import { onFloor, openingsOf, projectOf, type AccessPoint, type Design, type Floor } from '@/core/design/design';
import type { Pose } from '@/core/propagation/ray';
import type { Scene } from './protocol';

/** A scene with the cells where service is owed: the service zones, or the whole outline where none is drawn. */
export type FloorScene = Scene & Readonly<{ mask: Uint8Array; maskKey: string; serviceM2: number }>;

let made = 0;

/**
 * Remembers the newest result of each floor by what it was made of: same values, or the same records by identity, for records are
 * immutable. Renaming a floor, or an edit on another one, makes nothing anew.
 */
function remembered<T>() {
  const last = new Map<string, { inputs: readonly unknown[]; result: T }>();
  return (id: string, inputs: readonly unknown[], make: () => T): T => {
    const known = last.get(id);
    if (known !== undefined && known.inputs.length === inputs.length && known.inputs.every((input, i) => input === inputs[i])) return known.result;
    const result = make();
    last.set(id, { inputs, result });
    return result;
  };
}
const panesFor = remembered<Scene>();
const masksFor = remembered<{ mask: Uint8Array; maskKey: string; serviceM2: number }>();
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
});

/**
 * The scene of a floor. Made anew only when what it depends on changed: records are immutable, so tables are compared by identity.
 * @throws UpperRoomError FLOOR_EMPTY, GRID_TOO_LARGE
 */
export function floorScene(design: Design, floor: Floor): FloorScene {
  const { outline, environment, id } = floor;
  const project = projectOf(design);
  const cellM = project?.cellM ?? 0.5;
  const clientHeightM = project?.clientHeightM ?? 1;
  const walls = onFloor(design, 'walls', id);
  const openings = openingsOf(design, id);
  const scene = panesFor(id, [outline, environment, cellM, clientHeightM, ...walls, null, ...openings], () => ({
    key: `scene-${++made}`,
    panes: shared(panesOf(walls, openings)),
    grid: gridOver(outline, cellM),
    exponent: EXPONENT[environment],
    clientHeightM,
  }));
  const owed = onFloor(design, 'zones', id)
    .filter((zone) => zone.kind === 'service')
    .map((zone) => zone.polygon);
  const masked = masksFor(id, [outline, cellM, ...owed], () => {
    const mask = share(maskOf(scene.grid, owed.length > 0 ? owed : [outline]));
    return { mask, maskKey: `mask-${++made}`, serviceM2: mask.reduce((sum, inside) => sum + inside, 0) * cellM * cellM };
  });
  return scenesFor(id, [scene, masked], () => ({ ...scene, ...masked }));
}

export const poseOf = (ap: AccessPoint): Pose => ({ xM: ap.xM, yM: ap.yM, heightM: ap.heightM, azimuthDeg: ap.azimuthDeg, tiltDeg: ap.tiltDeg });
