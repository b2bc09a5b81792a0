import { LOSS_UNIT_DB, lossUnitsOf, materialOf, type Material, type MaterialLookup } from './material';
import { FULL, LOWER } from './reach';
import { wallLengthM, type Opening, type Wall } from './wall';

/**
 * Upright rectangles with one loss per band: walls with their openings cut out. Typed arrays, one entry per pane, so that a
 * worker can take them without copying and a kernel can run over them. Heights are the building's z; loss in LOSS_UNIT_DB.
 */
export type Panes = Readonly<{
  count: number;
  /** ax, ay, bx, by per pane, in m. */
  ends: Float64Array;
  /** base, top per pane, in m. */
  heights: Float64Array;
  /** One Int32 per band per pane, at the band's middle or, in a medium of `mediumAt`, at a channel's: BANDS.length * count. */
  lossUnits: Int32Array;
  /** Index into `wallIds` per pane. */
  wallIndex: Int32Array;
  wallIds: readonly string[];
  /** Per pane: 0, or, where all of a heavy wall's height stands there, whether it reaches the ceiling (`FULL`) or not (`LOWER`). */
  reach: Uint8Array;
  /** Floor and ceiling of the storey in which the pane stands, per pane. */
  storeys: Float64Array;
  /** Index into `materials` per pane: what it loses at other frequencies. */
  materialIndex: Int32Array;
  materials: readonly Material[];
}>;

/** What loses this much in some band is worth going round, in dB. */
const HEAVY_DB = 10;
/** Walls that begin higher are passed under; walls that end this close to the ceiling reach it, in m. */
const ON_FLOOR_M = 0.3;
const AT_CEILING_M = 0.1;

function reachOf(wall: Wall, rect: Rect, ceilingM: number | null): number {
  const heavy = rect.units.some((unit) => unit * LOSS_UNIT_DB >= HEAVY_DB);
  // A sill or a lintel is no low obstacle: the wall is judged.
  const whole = rect.baseM === wall.baseM && rect.topM === wall.topM;
  if (ceilingM === null || !heavy || !whole || wall.baseM > ON_FLOOR_M) return 0;
  return wall.topM >= ceilingM - AT_CEILING_M ? FULL : LOWER;
}

type Rect = { from: number; to: number; baseM: number; topM: number; material: Material; units: readonly number[] };

/** Cuts the openings out of one wall. Overlapping openings: the one listed first wins on the shared part. */
function rectsOf(wall: Wall, openings: readonly Opening[], materials: MaterialLookup): Rect[] {
  const lengthM = wallLengthM(wall);
  const wallMaterial = materials(wall.materialId);
  const holes = openings
    .map((opening) => ({
      from: Math.max(0, opening.atM / lengthM),
      to: Math.min(1, (opening.atM + opening.widthM) / lengthM),
      baseM: Math.max(wall.baseM, opening.sillM),
      topM: Math.min(wall.topM, opening.headM),
      material: materials(opening.materialId),
    }))
    .filter((hole) => hole.to > hole.from && hole.topM > hole.baseM);
  const cuts = [...new Set([0, 1, ...holes.flatMap((hole) => [hole.from, hole.to])])].sort((p, q) => p - q);
  const rects: Rect[] = [];
  for (let i = 1; i < cuts.length; i++) {
    const from = cuts[i - 1]!;
    const to = cuts[i]!;
    const over = holes.filter((hole) => hole.from <= from && hole.to >= to);
    const levels = [...new Set([wall.baseM, wall.topM, ...over.flatMap((hole) => [hole.baseM, hole.topM])])].sort((p, q) => p - q);
    for (let j = 1; j < levels.length; j++) {
      const baseM = levels[j - 1]!;
      const topM = levels[j]!;
      const material = over.find((hole) => hole.baseM <= baseM && hole.topM >= topM)?.material ?? wallMaterial;
      const last = rects[rects.length - 1];
      // Equal neighbours are one pane: a wall without openings stays whole.
      if (last !== undefined && last.to === from && last.baseM === baseM && last.topM === topM && last.material === material) last.to = to;
      else rects.push({ from, to, baseM, topM, material, units: lossUnitsOf(material) });
    }
  }
  return rects.filter((rect) => rect.units.some((unit) => unit !== 0));
}

/** The panes of several floors as one. */
export function joinPanes(parts: readonly Panes[]): Panes {
  if (parts.length === 1) return parts[0]!;
  const all = <K extends 'ends' | 'heights' | 'lossUnits'>(key: K): number[] => parts.flatMap((part) => [...part[key]]);
  let before = 0;
  const wallIndex = parts.flatMap((part) => {
    const moved = Array.from(part.wallIndex, (index) => index + before);
    before += part.wallIds.length;
    return moved;
  });
  const materials = [...new Set(parts.flatMap((part) => part.materials))];
  return {
    count: wallIndex.length,
    ends: Float64Array.from(all('ends')),
    heights: Float64Array.from(all('heights')),
    lossUnits: Int32Array.from(all('lossUnits')),
    wallIndex: Int32Array.from(wallIndex),
    wallIds: parts.flatMap((part) => part.wallIds),
    reach: Uint8Array.from(parts.flatMap((part) => [...part.reach])),
    storeys: Float64Array.from(parts.flatMap((part) => [...part.storeys])),
    materialIndex: Int32Array.from(parts.flatMap((part) => Array.from(part.materialIndex, (index) => materials.indexOf(part.materials[index]!)))),
    materials,
  };
}

/**
 * All panes of a floor at `elevationM`. Walls without length or height have none.
 * @param ceilingM clear height of the floor; null where nothing is to be gone round
 * @throws UpperRoomError MATERIAL_UNKNOWN
 */
export function panesOf(
  walls: readonly Wall[],
  openings: readonly Opening[],
  elevationM = 0,
  materials: MaterialLookup = materialOf,
  ceilingM: number | null = null,
): Panes {
  const byWall = new Map<string, Opening[]>();
  for (const opening of openings) byWall.set(opening.wallId, [...(byWall.get(opening.wallId) ?? []), opening]);
  const ends: number[] = [];
  const heights: number[] = [];
  const lossUnits: number[] = [];
  const wallIndex: number[] = [];
  const reach: number[] = [];
  const materialIndex: number[] = [];
  const used: Material[] = [];
  walls.forEach((wall, index) => {
    if (!(wallLengthM(wall) > 0) || !(wall.topM > wall.baseM)) return;
    const at = (share: number): [number, number] =>
      share === 0
        ? [wall.axM, wall.ayM]
        : share === 1
          ? [wall.bxM, wall.byM]
          : [wall.axM + (wall.bxM - wall.axM) * share, wall.ayM + (wall.byM - wall.ayM) * share];
    for (const rect of rectsOf(wall, byWall.get(wall.id) ?? [], materials)) {
      ends.push(...at(rect.from), ...at(rect.to));
      heights.push(elevationM + rect.baseM, elevationM + rect.topM);
      lossUnits.push(...rect.units);
      wallIndex.push(index);
      reach.push(reachOf(wall, rect, ceilingM));
      if (!used.includes(rect.material)) used.push(rect.material);
      materialIndex.push(used.indexOf(rect.material));
    }
  });
  return {
    count: wallIndex.length,
    ends: Float64Array.from(ends),
    heights: Float64Array.from(heights),
    lossUnits: Int32Array.from(lossUnits),
    wallIndex: Int32Array.from(wallIndex),
    wallIds: walls.map((wall) => wall.id),
    reach: Uint8Array.from(reach),
    storeys: Float64Array.from(reach.flatMap(() => [elevationM, elevationM + (ceilingM ?? 0)])),
    materialIndex: Int32Array.from(materialIndex),
    materials: used,
  };
}
