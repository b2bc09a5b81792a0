import { segmentOf } from '@/core/building/wall';
import { cornersOf, moveArea, type AreaTable } from '@/core/design/areaCommands';
import { moveAccessPoints } from '@/core/design/commands';
import type { Design } from '@/core/design/design';
import { slideOpening } from '@/core/design/openingCommands';
import type { Change } from '@/core/design/step';
import { endOf, moveWalls } from '@/core/design/wallCommands';
import { distanceM, type PointM } from '@/core/geometry/point';
import { alongM } from '@/core/geometry/segment';
import type { Selection } from '../../state/types';
import { toScreen } from '../view';
import { SNAP_PX, aimed } from './aim';
import type { Dragged, Spot, ToolContext, ToolEvent } from './machine';

/** What a press on a thing selects: it alone, or with Shift one more or one fewer. */
function picked(table: NonNullable<Selection>['table'], id: string, shift: boolean, selection: Selection): readonly string[] {
  const chosen = selection?.table === table ? selection.ids : [];
  if (!shift) return chosen.includes(id) ? chosen : [id];
  return chosen.includes(id) ? chosen.filter((other) => other !== id) : [...chosen, id];
}

function draggedAps(ids: readonly string[], { design }: ToolContext): Dragged {
  const title = ids.length > 1 ? `Move ${ids.length} access points` : `Move ${design.accessPoints[ids[0]!]?.name ?? 'access point'}`;
  return { title, at: (present, dxM, dyM) => moveAccessPoints(present, ids, dxM, dyM) };
}

/** One wall is dragged by an end or as a whole; several only as a whole. Neighbours go along unless Alt is down. */
function draggedWalls(ids: readonly string[], pressedId: string, at: Spot, alt: boolean, { design, view }: ToolContext): Dragged {
  const wall = design.walls[pressedId]!;
  const near = (end: PointM) => {
    const p = toScreen(view, end);
    return Math.hypot(p.x - at.px.x, p.y - at.px.y) < SNAP_PX;
  };
  const part = ids.length > 1 ? 'whole' : near(endOf(wall, 'a')) ? 'a' : near(endOf(wall, 'b')) ? 'b' : 'whole';
  const follow = alt ? 'none' : 'neighbours';
  const title = ids.length > 1 ? `Move ${ids.length} walls` : part === 'whole' ? 'Move wall' : 'Move wall end';
  const move = (present: Design, dxM: number, dyM: number): Change[] => moveWalls(present, ids, part, dxM, dyM, follow);
  if (part === 'whole') return { title, at: move };
  // The end is drawn to what is near it, not the spot where it was taken hold of.
  const end = endOf(wall, part);
  const fixed = endOf(wall, part === 'a' ? 'b' : 'a');
  const [offX, offY] = [at.m.xM - end.xM, at.m.yM - end.yM];
  // Neighbours that share the corner go along: drawn to where they were, it could not be moved a little.
  const along = Object.values(design.walls)
    .filter((other) => (['a', 'b'] as const).some((side) => distanceM(endOf(other, side), end) < 0.002))
    .map((other) => other.id);
  return {
    title,
    at: move,
    aim: ({ xM, yM }, keys, context) => {
      const raw = { xM: xM - offX, yM: yM - offY };
      const snapped = aimed(raw, fixed, keys, context, [pressedId, ...along]);
      // Nor is it drawn back to where it was, by the outline say.
      const { at: to, mark } = distanceM(snapped.at, end) < 0.002 ? { at: raw, mark: null } : snapped;
      return { at: { xM: to.xM + offX, yM: to.yM + offY }, mark };
    },
  };
}

function draggedOpening(id: string, { design }: ToolContext): Dragged {
  const opening = design.openings[id]!;
  const wall = design.walls[opening.wallId]!;
  const { a, b } = segmentOf(wall);
  return {
    title: `Slide ${opening.kind}`,
    at: (present, dxM, dyM) => slideOpening(present, id, alongM({ a, b }, { xM: a.xM + dxM, yM: a.yM + dyM })),
  };
}

/** An area is dragged by the corner that was pressed, or as a whole. */
function draggedArea(table: AreaTable, id: string, at: Spot, { design, view }: ToolContext): Dragged {
  const { name } = design[table][id]!;
  const corners = cornersOf(design[table][id]!);
  const near = corners.findIndex((corner) => {
    const p = toScreen(view, corner);
    return Math.hypot(p.x - at.px.x, p.y - at.px.y) < SNAP_PX;
  });
  const corner = near < 0 ? null : near;
  const move = (present: Design, dxM: number, dyM: number): Change[] => moveArea(present, { table, id }, corner, dxM, dyM);
  if (corner === null) return { title: `Move ${name}`, at: move };
  const [offX, offY] = [at.m.xM - corners[corner]!.xM, at.m.yM - corners[corner]!.yM];
  return {
    title: `Move a corner of ${name}`,
    at: move,
    aim: ({ xM, yM }, keys, context) => {
      const { at: to, mark } = aimed({ xM: xM - offX, yM: yM - offY }, null, keys, context);
      return { at: { xM: to.xM + offX, yM: to.yM + offY }, mark };
    },
  };
}

/** A press of the tool Select: what is under the pointer is selected, and dragged where the stage lets it. */
export function pressToSelect({ at, shift, alt, target }: ToolEvent & { type: 'down' }, context: ToolContext) {
  const { stage, selection, design } = context;
  if (target === null || !Object.hasOwn(design[target.table], target.id))
    return shift ? { gesture: { phase: 'marquee', fromM: at.m, toM: at.m } as const } : null;
  const { table, id } = target;
  const ofAps = table === 'accessPoints';
  // In Brief zones are looked at, in Building they and all else of it are moved.
  if (!ofAps && stage !== 'building' && !(stage === 'brief' && table === 'zones')) return null;
  const ids = picked(table, id, shift, selection);
  const next: Selection = ids.length > 0 ? { table, ids } : null;
  const what = shift || (ofAps ? stage !== 'design' : stage !== 'building') ? null : draggedRecords(table, ids, id, at, alt === true, context);
  return { gesture: what === null ? ({ phase: 'idle' } as const) : ({ phase: 'drag', fromM: at.m, moved: false, what } as const), selection: next };
}

function draggedRecords(
  table: NonNullable<Selection>['table'],
  ids: readonly string[],
  id: string,
  at: Spot,
  alt: boolean,
  context: ToolContext,
): Dragged | null {
  if (table === 'accessPoints') return draggedAps(ids, context);
  if (table === 'walls') return draggedWalls(ids, id, at, alt, context);
  if (table === 'openings') return draggedOpening(id, context);
  if (table === 'zones' || table === 'slabOpenings') return draggedArea(table, id, at, context);
  return null;
}
