import { wallLengthM, type OpeningKind } from '../building/wall';
import { UpperRoomError } from '../errors';
import { existing, round } from './commands';
import type { Design, Opening } from './design';
import { change, type Change } from './step';
import { openingsIn } from './wallCommands';

/** What an opening is unless told otherwise: usual sizes of the building trade. */
export const OPENING_DEFAULTS: Readonly<Record<OpeningKind, Pick<Opening, 'widthM' | 'sillM' | 'headM' | 'materialId'>>> = {
  door: { widthM: 0.9, sillM: 0, headM: 2.1, materialId: 'wood' },
  window: { widthM: 1.2, sillM: 0.9, headM: 2.1, materialId: 'glass' },
  passage: { widthM: 1.5, sillM: 0, headM: 2.4, materialId: 'open' },
  shutter: { widthM: 3, sillM: 0, headM: 3, materialId: 'metal' },
};

/**
 * Where an opening of a width can begin whose middle is wanted at a distance from the wall's end A: there, or the nearest place where it neither
 * leaves the wall nor lies over another opening. @throws UpperRoomError OPENING_NO_ROOM
 */
export function roomFor(lengthM: number, others: ReadonlyArray<Pick<Opening, 'atM' | 'widthM'>>, middleM: number, widthM: number): number {
  const blocked = [...others].sort((p, q) => p.atM - q.atM);
  const gaps: Array<[from: number, to: number]> = [];
  let fromM = 0;
  for (const { atM, widthM: taken } of blocked) {
    gaps.push([fromM, atM]);
    fromM = Math.max(fromM, atM + taken);
  }
  gaps.push([fromM, lengthM]);
  const wanted = middleM - widthM / 2;
  const places = gaps.filter(([from, to]) => to - from >= widthM - 1e-9).map(([from, to]) => Math.min(to - widthM, Math.max(from, wanted)));
  const nearest = places.sort((p, q) => Math.abs(p - wanted) - Math.abs(q - wanted))[0];
  if (nearest === undefined) throw new UpperRoomError('OPENING_NO_ROOM');
  return Math.max(0, round(nearest));
}

/** Puts an opening into a wall, its middle at a distance from end A or as near as there is room. @throws UpperRoomError OPENING_NO_ROOM */
export function addOpening(
  design: Design,
  { id, wallId, kind, middleM, ...fields }: Pick<Opening, 'id' | 'wallId' | 'kind'> & { middleM: number } & Partial<Opening>,
): Change[] {
  const wall = existing(design, 'walls', wallId);
  const usual = OPENING_DEFAULTS[kind];
  const widthM = fields.widthM ?? usual.widthM;
  const opening: Opening = {
    ...usual,
    hinge: 'a',
    swing: 'left',
    // A window above a half wall, or a door higher than it, is as high as the wall.
    headM: Math.min(usual.headM, wall.topM),
    sillM: Math.min(usual.sillM, Math.max(0, wall.topM - 0.1)),
    ...fields,
    id,
    wallId,
    kind,
    atM: roomFor(wallLengthM(wall), openingsIn(design, wallId), middleM, widthM),
  };
  return change('openings', id, null, opening);
}

/** Slides openings along their walls. @throws UpperRoomError OPENING_NO_ROOM */
export function slideOpening(design: Design, id: string, byM: number): Change[] {
  const opening = existing(design, 'openings', id);
  const wall = existing(design, 'walls', opening.wallId);
  const others = openingsIn(design, opening.wallId).filter((other) => other.id !== id);
  const atM = roomFor(wallLengthM(wall), others, opening.atM + opening.widthM / 2 + byM, opening.widthM);
  return change('openings', id, opening, { ...opening, atM });
}

/** Sets fields of openings; a new width grows from the middle and is kept within the wall. @throws UpperRoomError OPENING_NO_ROOM */
export function editOpenings(design: Design, ids: readonly string[], fields: Partial<Omit<Opening, 'id' | 'wallId'>>): Change[] {
  return ids.flatMap((id) => {
    const opening = existing(design, 'openings', id);
    const wall = existing(design, 'walls', opening.wallId);
    const next: Opening = { ...opening, ...fields };
    if (fields.widthM !== undefined || fields.atM !== undefined) {
      const others = openingsIn(design, opening.wallId).filter((other) => other.id !== id);
      const middleM = fields.atM === undefined ? opening.atM + opening.widthM / 2 : fields.atM + next.widthM / 2;
      return change('openings', id, opening, { ...next, atM: roomFor(wallLengthM(wall), others, middleM, next.widthM) });
    }
    return change('openings', id, opening, next);
  });
}
