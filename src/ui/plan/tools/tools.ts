import { segmentOf, wallLengthM, type Wall } from '@/core/building/wall';
import { UpperRoomError } from '@/core/errors';
import { addAccessPoint, moveAccessPoints } from '@/core/design/commands';
import { onFloor, type Design, type Floor } from '@/core/design/design';
import { addOpening, slideOpening } from '@/core/design/openingCommands';
import type { Change } from '@/core/design/step';
import { addRoom, addWall, endOf, moveWalls } from '@/core/design/wallCommands';
import { between, distanceM, nearestShare, type PointM } from '@/core/geometry/point';
import { alongM, type SegmentM } from '@/core/geometry/segment';
import { alongSteps, snapSpot, type Snapped } from '@/core/geometry/snap';
import type { Selection } from '../../state/types';
import { toScreen } from '../view';
import type { Dragged, Keys, Line, PlanTool, Spot, ToolContext, ToolEvent } from './machine';

const SNAP_PX = 10;
const ON_WALL_PX = 16;
const SQUARE_DEG = 45;

/** Clicked places are kept to the centimetre. */
const centimetres = ({ xM, yM }: PointM): PointM => ({ xM: Math.round(xM * 100) / 100, yM: Math.round(yM * 100) / 100 });

const edgesOf = ({ outline }: Floor): SegmentM[] => outline.map((a, i) => ({ a, b: outline[(i + 1) % outline.length]! }));

/** What lines are drawn to: walls and the outline. Made once per floor and its walls, for the pointer asks at every move. */
const fields = new WeakMap<Design['walls'], Map<Floor, readonly SegmentM[]>>();
function segmentsOf({ walls, floors }: Design, floorId: string, besides: readonly string[]): readonly SegmentM[] {
  const own = (): SegmentM[] =>
    Object.values(walls)
      .filter((wall) => wall.floorId === floorId && !besides.includes(wall.id))
      .map(segmentOf);
  const floor = floors[floorId]!;
  if (besides.length > 0) return [...own(), ...edgesOf(floor)];
  const known = fields.get(walls) ?? new Map<Floor, readonly SegmentM[]>();
  fields.set(walls, known);
  const segments = known.get(floor) ?? [...own(), ...edgesOf(floor)];
  known.set(floor, segments);
  return segments;
}

/** The raster that spots fall on: the finest of these that is still seen. */
const RASTER_M = [0.05, 0.1, 0.25, 0.5, 1] as const;
const RASTER_PX = 2;

function aimed(
  at: PointM,
  fromM: PointM | null,
  { shift, alt }: Keys,
  { design, floorId, view }: ToolContext,
  besides: readonly string[] = [],
): Snapped {
  if (alt === true) return { at, mark: null };
  return snapSpot(at, {
    segments: segmentsOf(design, floorId, besides),
    fromM,
    reachM: SNAP_PX / view.pxPerM,
    gridM: RASTER_M.find((m) => m * view.pxPerM >= RASTER_PX) ?? 1,
    stepDeg: shift ? SQUARE_DEG : null,
  });
}

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
  return {
    title,
    at: move,
    aim: ({ xM, yM }, keys, context) => {
      const { at: to, mark } = aimed({ xM: xM - offX, yM: yM - offY }, fixed, keys, context, [pressedId]);
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

function pressToSelect({ at, shift, alt, target }: ToolEvent & { type: 'down' }, context: ToolContext) {
  const { stage, selection, design } = context;
  if (target === null || !Object.hasOwn(design[target.table], target.id))
    return shift ? { gesture: { phase: 'marquee', fromM: at.m, toM: at.m } as const } : null;
  const { table, id } = target;
  const ofAps = table === 'accessPoints';
  if (!ofAps && stage !== 'building') return null;
  const ids = picked(table, id, shift, selection);
  const next: Selection = ids.length > 0 ? { table, ids } : null;
  const what = shift || (ofAps && stage !== 'design') ? null : draggedRecords(table, ids, id, at, alt === true, context);
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
  return null;
}

const started = (at: PointM, fields: Partial<Line> = {}): Line => ({ fromM: at, toM: at, done: false, dashed: false, ...fields });

const liesOn = (wall: Wall, at: PointM, withinM: number): boolean => {
  const { a, b } = segmentOf(wall);
  return distanceM(at, between(a, b, nearestShare(at, a, b))) < withinM;
};

/** What the opening tool does at a spot: into the nearest wall within reach. */
function openingAt({ m }: Spot, id: string, { design, floorId, view, openingKind }: ToolContext): readonly Change[] | null {
  const reachM = ON_WALL_PX / view.pxPerM;
  const offM = (wall: Wall): number => {
    const { a, b } = segmentOf(wall);
    return distanceM(m, between(a, b, nearestShare(m, a, b)));
  };
  const wall = onFloor(design, 'walls', floorId)
    .filter((candidate) => liesOn(candidate, m, reachM) && wallLengthM(candidate) > 0)
    .sort((p, q) => offM(p) - offM(q))[0];
  return wall === undefined ? null : addOpening(design, { id, wallId: wall.id, kind: openingKind, middleM: alongM(segmentOf(wall), m) });
}

/** A length shorter than this on the screen is a second click on the same spot: it ends the chain. */
const SAME_PX = 5;

/** The tools of the plan, each one object; the machine does the rest. */
export const PLAN_TOOLS = {
  select: {
    id: 'select',
    press: pressToSelect,
    click: ({ m }, _keys, line, { stage }) => ({ line, pin: m, ...(stage === 'building' ? { selection: null } : {}) }),
  },
  ap: {
    id: 'ap',
    click: ({ m }, _keys, line, { floorId, variantId, modelId, newId }) => {
      const id = newId();
      return {
        line,
        commit: { title: 'Add access point', command: (design) => addAccessPoint(design, { id, floorId, variantId, modelId, ...centimetres(m) }) },
        selection: { table: 'accessPoints', ids: [id] },
      };
    },
  },
  wall: {
    id: 'wall',
    aim: (at, line, keys, context) => aimed(at, line !== null && !line.dashed ? line.fromM : null, keys, context),
    click: ({ m: to }, _keys, line, context) => {
      const { floorId, materialId, newId, design, view } = context;
      if (line === null || line.dashed || line.shape !== undefined) return { line: started(to) };
      const { fromM } = line;
      if (distanceM(fromM, to) * view.pxPerM < SAME_PX) return { line: null };
      const id = newId();
      // A wall that arrives at another ends the chain: there is nothing to go on from.
      const arrived = onFloor(design, 'walls', floorId).some((wall) => liesOn(wall, to, 0.002));
      return {
        line: arrived ? null : started(to),
        commit: {
          title: 'Draw wall',
          command: (present) => addWall(present, { id, floorId, axM: fromM.xM, ayM: fromM.yM, bxM: to.xM, byM: to.yM, materialId }),
        },
      };
    },
  },
  room: {
    id: 'room',
    aim: (at, line, keys, context) => {
      const snapped = aimed(at, null, keys, context);
      if (line === null || !keys.shift) return snapped;
      // With Shift a square.
      const side = Math.max(Math.abs(at.xM - line.fromM.xM), Math.abs(at.yM - line.fromM.yM));
      return {
        at: { xM: line.fromM.xM + Math.sign(at.xM - line.fromM.xM) * side, yM: line.fromM.yM + Math.sign(at.yM - line.fromM.yM) * side },
        mark: 'angle',
      };
    },
    click: ({ m: to }, _keys, line, { floorId, materialId, newId }) => {
      if (line?.shape !== 'box') return { line: started(to, { shape: 'box' }) };
      return {
        line: null,
        commit: { title: 'Draw room', command: (design) => addRoom(design, { floorId, materialId, from: line.fromM, to }, newId) },
      };
    },
  },
  opening: {
    id: 'opening',
    ghost: (at, context) => openingAt(at, GHOST_ID, context),
    click: (at, _keys, line, context) => {
      const id = context.newId();
      return {
        line,
        commit: {
          title: `Add ${context.openingKind}`,
          command: (design) => {
            const changes = openingAt(at, id, { ...context, design });
            if (changes === null) throw new UpperRoomError('NO_WALL_HERE');
            return changes;
          },
        },
        selection: { table: 'openings', ids: [id] },
      };
    },
  },
  length: {
    id: 'length',
    aim: (at, line, keys, context) => aimed(at, line === null || line.done ? null : line.fromM, keys, context),
    click: ({ m }, _keys, line) => ({
      line: line === null || line.done || !line.dashed ? started(m, { dashed: true }) : { ...line, toM: m, done: true },
    }),
  },
  reference: {
    id: 'reference',
    // A drawing's own lines are what is measured: nothing of ours draws the pointer away from them.
    aim: (at, line, { shift }) => ({ at: shift && line !== null && !line.done ? alongSteps(line.fromM, at, SQUARE_DEG) : at, mark: null }),
    click: ({ m }, _keys, line) => ({ line: line === null || line.done ? started(m, { dashed: true }) : { ...line, toM: m, done: true } }),
  },
  walk: { id: 'walk', click: ({ m }, _keys, line) => ({ line, walkTo: centimetres(m) }) },
} as const satisfies Readonly<Record<string, PlanTool>>;

/** What is only shown under the pointer is no record yet. */
const GHOST_ID = 'ghost';

export type ToolId = keyof typeof PLAN_TOOLS;
export const planToolOf = (id: ToolId): PlanTool => PLAN_TOOLS[id];
