import { UpperRoomError } from '../errors';
import { between, distanceM, type PointM } from '../geometry/point';
import { crossesItself } from '../geometry/ring';
import { edit, existing, round } from './commands';
import { onFloor, type Design, type RecordOf } from './design';
import { change, type Change } from './step';

/** What a drawn area can be: a zone of some kind, an opening in the slab under the floor, or the floor's own outline. */
export const AREA_KINDS = ['room', 'service', 'keep-out', 'slab opening', 'outline'] as const;
export type AreaKind = (typeof AREA_KINDS)[number];

/** @throws UpperRoomError AREA_CROSSED */
function checked(polygon: readonly PointM[]): PointM[] {
  if (crossesItself(polygon)) throw new UpperRoomError('AREA_CROSSED');
  return polygon.map(({ xM, yM }) => ({ xM: round(xM), yM: round(yM) }));
}

const WORD: Readonly<Record<Exclude<AreaKind, 'outline'>, string>> = {
  room: 'Room',
  service: 'Service',
  'keep-out': 'Keep out',
  'slab opening': 'Opening',
};

function nextZoneName(design: Design, floorId: string, kind: Exclude<AreaKind, 'outline'>): string {
  const names = new Set([...onFloor(design, 'zones', floorId), ...onFloor(design, 'slabOpenings', floorId)].map(({ name }) => name));
  for (let n = 1; ; n++) if (!names.has(`${WORD[kind]} ${n}`)) return `${WORD[kind]} ${n}`;
}

/** Draws an area. @throws UpperRoomError AREA_CROSSED */
export function addArea(
  design: Design,
  { id, floorId, kind, polygon }: { id: string; floorId: string; kind: AreaKind; polygon: readonly PointM[] },
): Change[] {
  const ring = checked(polygon);
  if (kind === 'outline') {
    const floor = existing(design, 'floors', floorId);
    return change('floors', floorId, floor, { ...floor, outline: ring });
  }
  const name = nextZoneName(design, floorId, kind);
  return kind === 'slab opening'
    ? change('slabOpenings', id, null, { id, floorId, name, polygon: ring })
    : change('zones', id, null, { id, floorId, kind, name, polygon: ring, serviceLevelId: null, people: null });
}

/** Tables whose records are areas with corners. */
export type AreaTable = 'zones' | 'slabOpenings';

/** An area with another ring. @throws UpperRoomError AREA_CROSSED */
function withRing(design: Design, table: AreaTable, id: string, ringOf: (polygon: readonly PointM[]) => readonly PointM[]): Change[] {
  const { polygon } = existing(design, table, id);
  return edit(design, table, id, { polygon: checked(ringOf(polygon)) } as Partial<RecordOf<AreaTable>>);
}

/** Moves an area, or one of its corners. @throws UpperRoomError AREA_CROSSED */
export const moveArea = (design: Design, table: AreaTable, id: string, corner: number | null, dxM: number, dyM: number): Change[] =>
  withRing(design, table, id, (ring) => ring.map((at, i) => (corner === null || corner === i ? { xM: at.xM + dxM, yM: at.yM + dyM } : at)));

/** Puts a corner into the middle of the longest side. */
export const addCorner = (design: Design, table: AreaTable, id: string): Change[] =>
  withRing(design, table, id, (ring) => {
    const lengths = ring.map((at, i) => distanceM(at, ring[(i + 1) % ring.length]!));
    const i = lengths.indexOf(Math.max(...lengths));
    return [...ring.slice(0, i + 1), between(ring[i]!, ring[(i + 1) % ring.length]!, 0.5), ...ring.slice(i + 1)];
  });

/** Takes a corner away; the last three stay. @throws UpperRoomError LAST_OF_KIND, AREA_CROSSED */
export const removeCorner = (design: Design, table: AreaTable, id: string, corner: number): Change[] =>
  withRing(design, table, id, (ring) => {
    if (ring.length <= 3) throw new UpperRoomError('LAST_OF_KIND', { what: 'corner of three' });
    return ring.filter((_, i) => i !== corner);
  });
