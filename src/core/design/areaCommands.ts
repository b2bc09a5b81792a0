import { UpperRoomError } from '../errors';
import { between, distanceM, type PointM } from '../geometry/point';
import { inRegion, regionAreaM2, ringsOf, type PolygonM, type RegionM } from '../geometry/polygon';
import { crossesItself, ringsCross } from '../geometry/ring';
import { edit, existing, round } from './commands';
import { onFloor, type Design, type RecordOf, type Zone } from './design';
import { change, type Change } from './step';

/** What a drawn area can be: a zone of some kind, an opening in the slab under the floor, a hole in an area, or the floor's own outline. */
export const AREA_KINDS = ['room', 'service', 'keep-out', 'clutter', 'electronics', 'slab opening', 'hole', 'outline'] as const;
export type AreaKind = (typeof AREA_KINDS)[number];
/** Kinds of areas that are records of their own. */
export type NewAreaKind = Exclude<AreaKind, 'hole' | 'outline'>;

/**
 * What clutter begins with: as high as a shelf, with a loss of furniture and goods that leave ways between them. Our own estimate, to be replaced by what
 * was measured on the site.
 */
export const USUAL_CLUTTER: NonNullable<Zone['clutter']> = { topM: 2, dbPerM: { '2.4': 0.6, '5': 1, '6': 1.1 } };

const millimetres = (ring: PolygonM): PointM[] => ring.map(({ xM, yM }) => ({ xM: round(xM), yM: round(yM) }));

/** A region to the millimetre. @throws UpperRoomError AREA_CROSSED */
function checked(region: RegionM): RegionM {
  const rings = ringsOf(region);
  if (rings.some(crossesItself) || rings.some((ring, i) => rings.some((other, j) => j > i && ringsCross(ring, other))))
    throw new UpperRoomError('AREA_CROSSED');
  return { polygon: millimetres(region.polygon), holes: region.holes.map(millimetres) };
}

const WORD: Readonly<Record<NewAreaKind, string>> = {
  room: 'Room',
  service: 'Service',
  'keep-out': 'Keep out',
  clutter: 'Clutter',
  electronics: 'Electronics',
  'slab opening': 'Opening',
};

function nextZoneName(design: Design, floorId: string, kind: NewAreaKind): string {
  const names = new Set([...onFloor(design, 'zones', floorId), ...onFloor(design, 'slabOpenings', floorId)].map(({ name }) => name));
  for (let n = 1; ; n++) if (!names.has(`${WORD[kind]} ${n}`)) return `${WORD[kind]} ${n}`;
}

/** Draws an area. @throws UpperRoomError AREA_CROSSED */
export function addArea(
  design: Design,
  { id, floorId, kind, polygon: drawn }: { id: string; floorId: string; kind: Exclude<AreaKind, 'hole'>; polygon: PolygonM },
): Change[] {
  const { polygon, holes } = checked({ polygon: drawn, holes: [] });
  if (kind === 'outline') {
    const floor = existing(design, 'floors', floorId);
    return change('floors', floorId, floor, { ...floor, outline: polygon });
  }
  const name = nextZoneName(design, floorId, kind);
  if (kind === 'slab opening') return change('slabOpenings', id, null, { id, floorId, name, polygon, holes });
  const clutter = kind === 'clutter' ? USUAL_CLUTTER : null;
  return change('zones', id, null, {
    id,
    floorId,
    kind,
    name,
    polygon,
    holes,
    serviceLevelId: null,
    people: null,
    clutter,
    keepsOut: 'access points',
  });
}

/** Makes a zone one of another kind. Clutter begins with what is usual, and is kept when it is something else for a while. */
export const setZoneKind = (design: Design, id: string, kind: Zone['kind']): Change[] =>
  edit(design, 'zones', id, { kind, ...(kind === 'clutter' ? { clutter: existing(design, 'zones', id).clutter ?? USUAL_CLUTTER } : {}) });

/** Tables whose records are areas with corners. */
export type AreaTable = 'zones' | 'slabOpenings';
export type AreaId = Readonly<{ table: AreaTable; id: string }>;

/** The area in which a hole would lie that is drawn with these corners: the preferred one where all lie in it, else the smallest; null where there is none. */
export function areaRound(design: Design, floorId: string, corners: PolygonM, preferred: AreaId | null): AreaId | null {
  const round = (['zones', 'slabOpenings'] as const)
    .flatMap((table) => onFloor(design, table, floorId).map((area) => ({ table, id: area.id, area })))
    .filter(({ area }) => corners.every(({ xM, yM }) => inRegion(area, xM, yM)))
    .sort((p, q) => regionAreaM2(p.area) - regionAreaM2(q.area));
  const found = round.find(({ table, id }) => table === preferred?.table && id === preferred.id) ?? round[0];
  return found === undefined ? null : { table: found.table, id: found.id };
}

/** An area with other rings. @throws UpperRoomError AREA_CROSSED */
function withRegion(design: Design, { table, id }: AreaId, made: (region: RegionM) => RegionM): Change[] {
  return edit(design, table, id, checked(made(existing(design, table, id))) as Partial<RecordOf<AreaTable>>);
}

/** Cuts a hole into the area that lies round it. @throws UpperRoomError AREA_CROSSED, NO_AREA_HERE */
export function cutHole(design: Design, floorId: string, hole: PolygonM, preferred: AreaId | null): Change[] {
  const area = areaRound(design, floorId, hole, preferred);
  if (area === null) throw new UpperRoomError('NO_AREA_HERE');
  return withRegion(design, area, ({ polygon, holes }) => ({ polygon, holes: [...holes, hole] }));
}

/** Fills a hole. */
export const fillHole = (design: Design, area: AreaId, index: number): Change[] =>
  withRegion(design, area, ({ polygon, holes }) => ({ polygon, holes: holes.filter((_, i) => i !== index) }));

/** All corners of an area, those of its outer ring first. */
export const cornersOf = (region: RegionM): PointM[] => ringsOf(region).flat();

/** A region whose corners lie elsewhere; `to` is told their place in `cornersOf`. */
export function mapRegion({ polygon, holes }: RegionM, to: (at: PointM, corner: number) => PointM): RegionM {
  let corner = 0;
  const mapped = (ring: PolygonM): PointM[] => ring.map((at) => to(at, corner++));
  return { polygon: mapped(polygon), holes: holes.map(mapped) };
}

/** Moves an area, or one of its corners. @throws UpperRoomError AREA_CROSSED */
export const moveArea = (design: Design, area: AreaId, corner: number | null, dxM: number, dyM: number): Change[] =>
  withRegion(design, area, (region) => mapRegion(region, (at, i) => (corner === null || corner === i ? { xM: at.xM + dxM, yM: at.yM + dyM } : at)));

/** Puts a corner into the middle of the longest outer side. */
export const addCorner = (design: Design, area: AreaId): Change[] =>
  withRegion(design, area, ({ polygon: ring, holes }) => {
    const lengths = ring.map((at, i) => distanceM(at, ring[(i + 1) % ring.length]!));
    const i = lengths.indexOf(Math.max(...lengths));
    return { polygon: [...ring.slice(0, i + 1), between(ring[i]!, ring[(i + 1) % ring.length]!, 0.5), ...ring.slice(i + 1)], holes };
  });

/** Takes an outer corner away; the last three stay. @throws UpperRoomError LAST_OF_KIND, AREA_CROSSED */
export const removeCorner = (design: Design, area: AreaId, corner: number): Change[] =>
  withRegion(design, area, ({ polygon, holes }) => {
    if (polygon.length <= 3) throw new UpperRoomError('LAST_OF_KIND', { what: 'corner of three' });
    return { polygon: polygon.filter((_, i) => i !== corner), holes };
  });
