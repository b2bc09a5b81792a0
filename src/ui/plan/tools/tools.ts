import { roomRound } from '@/core/building/fill';
import { segmentOf, wallLengthM, type Wall } from '@/core/building/wall';
import { addArea, areaRound, cutHole, type AreaId } from '@/core/design/areaCommands';
import { addAccessPoint } from '@/core/design/commands';
import { onFloor, type Design } from '@/core/design/design';
import { floorBelow } from '@/core/design/floorCommands';
import { addMark } from '@/core/design/surveyCommands';
import { addOpening } from '@/core/design/openingCommands';
import type { Change } from '@/core/design/step';
import { addChain, addRoom, addWall } from '@/core/design/wallCommands';
import { UpperRoomError } from '@/core/errors';
import { arcThrough } from '@/core/geometry/arc';
import { distanceM, type PointM } from '@/core/geometry/point';
import { alongM, distanceToM } from '@/core/geometry/segment';
import { alongSteps } from '@/core/geometry/snap';
import { SQUARE_DEG, aimed, centimetres } from './aim';
import { tried, type Keys, type Line, type PlanTool, type Spot, type ToolContext } from './machine';
import { pressToSelect } from './select';

/** How far from a wall a click still means it. */
const ON_WALL_PX = 16;

const started = (at: PointM, fields: Partial<Line> = {}): Line => ({ fromM: at, toM: at, done: false, dashed: false, ...fields });

/** What the opening tool does at a spot: into the nearest wall within reach. */
function openingAt({ m }: Spot, id: string, { design, floorId, view, openingKind }: ToolContext): readonly Change[] | null {
  const reachM = ON_WALL_PX / view.pxPerM;
  const offM = (wall: Wall): number => distanceToM(segmentOf(wall), m);
  const wall = onFloor(design, 'walls', floorId)
    .filter((candidate) => offM(candidate) < reachM && wallLengthM(candidate) > 0)
    .sort((p, q) => offM(p) - offM(q))[0];
  return wall === undefined ? null : addOpening(design, { id, wallId: wall.id, kind: openingKind, middleM: alongM(segmentOf(wall), m) });
}

/** A length shorter than this on the screen is a second click on the same spot: it ends the chain. */
const SAME_PX = 5;

/** What a click of the wall tool does when it draws arcs: one end, the other end, then a spot that the arc goes over. */
function clickArc(to: PointM, line: Line | null, { floorId, materialId, newId, view }: ToolContext): Clicked {
  if (line?.shape !== 'arc') return { line: started(to, { shape: 'arc', corners: [to] }) };
  const [a, b] = line.corners!;
  if (b === undefined) return distanceM(a!, to) * view.pxPerM < SAME_PX ? { line: null } : { line: started(to, { shape: 'arc', corners: [a!, to] }) };
  return {
    line: null,
    commit: {
      title: 'Draw an arc of walls',
      command: (present) => addChain(present, { floorId, materialId, corners: arcThrough(a!, b, to) }, newId),
    },
  };
}

/** What a click of the area tool does: begins, goes on, or closes the ring. */
function clickArea(
  { m }: Spot,
  _keys: Keys,
  line: Line | null,
  { design, floorId, areaKind: kind, areaShape, view, newId, selection }: ToolContext,
): Clicked {
  const id = newId();
  const cut = (ringOf: (present: Design) => readonly PointM[]): Clicked => {
    const chosen: AreaId | null =
      selection?.table === 'zones' || selection?.table === 'slabOpenings' ? { table: selection.table, id: selection.ids[0]! } : null;
    const area = tried(() => areaRound(design, floorId, ringOf(design), chosen));
    return {
      line: null,
      commit: { title: 'Cut a hole', command: (present) => cutHole(present, floorId, ringOf(present), chosen) },
      ...(area === null ? {} : { selection: { table: area.table, ids: [area.id] } }),
    };
  };
  const drawn = (ringOf: (present: Design) => readonly PointM[]): Clicked => {
    if (kind === 'hole') return cut(ringOf);
    return {
      line: null,
      commit: {
        title: kind === 'outline' ? 'Draw the outline' : `Draw ${kind === 'room' ? 'room area' : kind}`,
        command: (present) => addArea(present, { id, floorId, kind, polygon: ringOf(present) }),
      },
      selection: kind === 'outline' ? null : { table: kind === 'slab opening' ? 'slabOpenings' : 'zones', ids: [id] },
    };
  };
  if (areaShape === 'fill') return drawn((present) => roomRound(m, onFloor(present, 'walls', floorId), present.floors[floorId]!.outline));
  if (areaShape === 'rectangle') {
    if (line?.shape !== 'box') return { line: started(m, { shape: 'box' }) };
    const { fromM } = line;
    return drawn(() => [fromM, { xM: m.xM, yM: fromM.yM }, m, { xM: fromM.xM, yM: m.yM }]);
  }
  const corners = line?.corners ?? [];
  if (corners.length === 0) return { line: started(m, { corners: [m] }) };
  // On the first corner again, or twice on one spot, the ring is closed.
  const closes = [corners[0]!, corners.at(-1)!].some((corner) => distanceM(corner, m) * view.pxPerM < 2 * SAME_PX);
  if (!closes) return { line: started(m, { corners: [...corners, m] }) };
  return corners.length < 3 ? { line } : drawn(() => corners);
}

type Clicked = ReturnType<PlanTool['click']>;

/** The tools of the plan, each one object; the machine does the rest. */
export const PLAN_TOOLS = {
  select: {
    id: 'select',
    press: pressToSelect,
    click: ({ m }, _keys, line, { stage }) => ({ line, pin: m, ...(stage === 'building' || stage === 'brief' ? { selection: null } : {}) }),
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
      if (context.wallShape === 'arc') return clickArc(to, line, context);
      if (line === null || line.dashed || line.shape !== undefined) return { line: started(to) };
      const { fromM } = line;
      if (distanceM(fromM, to) * view.pxPerM < SAME_PX) return { line: null };
      const id = newId();
      // A wall that arrives at another ends the chain: there is nothing to go on from.
      const arrived = onFloor(design, 'walls', floorId).some((wall) => distanceToM(segmentOf(wall), to) < 0.002);
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
  area: {
    id: 'area',
    aim: (at, line, keys, context) =>
      context.areaShape === 'fill' ? { at, mark: null } : aimed(at, line?.corners === undefined ? null : line.fromM, keys, context),
    click: clickArea,
  },
  register: {
    id: 'register',
    // The first spot is looked for on this floor, the second on the one below.
    aim: (at, line, keys, context) => {
      const below = floorBelow(context.design, context.floorId);
      return aimed(at, null, keys, line === null || line.done || below === null ? context : { ...context, floorId: below.id });
    },
    click: ({ m }, _keys, line) =>
      line === null || line.done ? { line: started(m, { dashed: true }) } : { line: null, pair: { from: line.fromM, to: m } },
  },
  lay: {
    id: 'lay',
    // The first spot is one of the drawing, where nothing of ours draws the pointer away; the second one of the model.
    aim: (at, line, keys, context) => (line === null || line.done ? { at, mark: null } : aimed(at, null, keys, context)),
    click: ({ m }, _keys, line) =>
      line === null || line.done ? { line: started(m, { dashed: true }) } : { line: null, pair: { from: line.fromM, to: m } },
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
  review: {
    id: 'review',
    press: ({ at }) => ({ gesture: { phase: 'marquee', fromM: at.m, toM: at.m } }),
    sweep: (fromM, toM, { view }) => ({ judged: { fromM, toM, reachM: ON_WALL_PX / view.pxPerM } }),
    click: (_at, _keys, line) => ({ line }),
  },
  length: {
    id: 'length',
    aim: (at, line, keys, context) => aimed(at, line === null || line.done ? null : line.fromM, keys, context),
    // A chain: a second click on the last spot ends it, one on the first closes it.
    click: ({ m }, _keys, line, { view }) => {
      if (line === null || line.done || line.corners === undefined) return { line: started(m, { dashed: true, corners: [m] }) };
      const { corners } = line;
      const [first, last] = [corners[0]!, corners.at(-1)!];
      const onSpot = (spot: PointM): boolean => distanceM(spot, m) * view.pxPerM < SAME_PX;
      if (onSpot(last)) return { line: corners.length === 1 ? null : { ...line, toM: last, corners: corners.slice(0, -1), done: true } };
      if (corners.length > 2 && onSpot(first)) return { line: { ...line, toM: first, done: true } };
      return { line: { ...line, fromM: m, toM: m, corners: [...corners, m] } };
    },
  },
  reference: {
    id: 'reference',
    // A drawing's own lines are what is measured: nothing of ours draws the pointer away from them.
    aim: (at, line, { shift }) => ({ at: shift && line !== null && !line.done ? alongSteps(line.fromM, at, SQUARE_DEG) : at, mark: null }),
    click: ({ m }, _keys, line) => ({ line: line === null || line.done ? started(m, { dashed: true }) : { ...line, toM: m, done: true } }),
  },
  mark: {
    id: 'mark',
    click: ({ m }, _keys, line, { floorId, newId }) => {
      const id = newId();
      return {
        line,
        commit: { title: 'Set a mark', command: () => addMark({ id, floorId, ...centimetres(m) }) },
        selection: { table: 'marks', ids: [id] },
      };
    },
  },
  walk: { id: 'walk', click: ({ m }, _keys, line) => ({ line, walkTo: centimetres(m) }) },
} as const satisfies Readonly<Record<string, PlanTool>>;

/** What is only shown under the pointer is no record yet. */
const GHOST_ID = 'ghost';

export type ToolId = keyof typeof PLAN_TOOLS;
export const planToolOf = (id: ToolId): PlanTool => PLAN_TOOLS[id];
