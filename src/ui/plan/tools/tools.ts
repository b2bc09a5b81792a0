import { addAccessPoint, addWall, moveAccessPoints, moveWall } from '@/core/design/commands';
import { onFloor } from '@/core/design/design';
import type { PointM } from '@/core/geometry/point';
import { alongSteps, nearestSpot } from '@/core/geometry/snap';
import type { Selection } from '../../state/types';
import { toScreen } from '../view';
import type { Dragged, Line, PlanTool, Spot, Target, ToolContext, ToolEvent } from './machine';

const SNAP_PX = 10;
const SQUARE_DEG = 45;

/** Clicked places are kept to the centimetre. */
const centimetres = ({ xM, yM }: PointM): PointM => ({ xM: Math.round(xM * 100) / 100, yM: Math.round(yM * 100) / 100 });

const endsOf = (wall: { axM: number; ayM: number; bxM: number; byM: number }): readonly [PointM, PointM] => [
  { xM: wall.axM, yM: wall.ayM },
  { xM: wall.bxM, yM: wall.byM },
];

/** The nearest wall end within reach of the pointer, else the spot itself; with `square` the line keeps to steps of 45 degrees. */
function snapped(at: PointM, fromM: PointM | null, square: boolean, { design, floorId, view }: ToolContext): PointM {
  const end = nearestSpot(at, onFloor(design, 'walls', floorId).flatMap(endsOf), SNAP_PX / view.pxPerM);
  return end ?? (square && fromM !== null ? alongSteps(fromM, at, SQUARE_DEG) : at);
}

/** What a press on an access point selects: it alone, or with Shift one more or one fewer. */
function picked(apId: string, shift: boolean, selection: Selection): readonly string[] {
  const chosen = selection?.table === 'accessPoints' ? selection.ids : [];
  if (!shift) return chosen.includes(apId) ? chosen : [apId];
  return chosen.includes(apId) ? chosen.filter((id) => id !== apId) : [...chosen, apId];
}

function draggedAps(ids: readonly string[], { design }: ToolContext): Dragged {
  const title = ids.length > 1 ? `Move ${ids.length} access points` : `Move ${design.accessPoints[ids[0]!]?.name ?? 'access point'}`;
  return { title, at: (present, dxM, dyM) => moveAccessPoints(present, ids, dxM, dyM) };
}

function draggedWall(id: string, at: Spot, { design, view }: ToolContext): Dragged | null {
  const wall = Object.hasOwn(design.walls, id) ? design.walls[id]! : null;
  if (wall === null) return null;
  const near = (end: PointM) => {
    const p = toScreen(view, end);
    return Math.hypot(p.x - at.px.x, p.y - at.px.y) < SNAP_PX;
  };
  const [a, b] = endsOf(wall);
  const part = near(a) ? 'a' : near(b) ? 'b' : 'whole';
  return { title: 'Move wall', at: (present, dxM, dyM) => moveWall(present, id, part, dxM, dyM) };
}

function pressToSelect({ at, shift, target }: ToolEvent & { type: 'down' } & { target: Target }, context: ToolContext) {
  const { stage, selection } = context;
  if (target.apId !== null) {
    const ids = picked(target.apId, shift, selection);
    const next: Selection = ids.length > 0 ? { table: 'accessPoints', ids } : null;
    if (stage !== 'design' || shift) return { gesture: { phase: 'idle' } as const, selection: next };
    return { gesture: { phase: 'drag', fromM: at.m, moved: false, what: draggedAps(ids, context) } as const, selection: next };
  }
  if (stage === 'building' && target.wallId !== null) {
    const what = draggedWall(target.wallId, at, context);
    if (what !== null)
      return { gesture: { phase: 'drag', fromM: at.m, moved: false, what } as const, selection: { table: 'walls', ids: [target.wallId] } as const };
  }
  return shift ? { gesture: { phase: 'marquee', fromM: at.m, toM: at.m } as const } : null;
}

const started = (at: PointM, dashed: boolean): Line => ({ fromM: at, toM: at, done: false, dashed });

/** The tools of the plan, each one object; the machine does the rest. */
export const PLAN_TOOLS = {
  select: {
    id: 'select',
    press: pressToSelect,
    click: ({ m }, _shift, line, { stage }) => ({ line, pin: m, ...(stage === 'building' ? { selection: null } : {}) }),
  },
  ap: {
    id: 'ap',
    click: ({ m }, _shift, line, { floorId, variantId, modelId, newId }) => {
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
    aim: (at, line, shift, context) => snapped(at, line.fromM, shift, context),
    click: ({ m }, shift, line, context) => {
      const { floorId, materialId, newId } = context;
      const to = snapped(m, line?.fromM ?? null, shift, context);
      if (line === null || line.dashed) return { line: started(to, false) };
      const { fromM } = line;
      const id = newId();
      return {
        line: started(to, false),
        commit: {
          title: 'Draw wall',
          command: (design) => addWall(design, { id, floorId, axM: fromM.xM, ayM: fromM.yM, bxM: to.xM, byM: to.yM, materialId }),
        },
      };
    },
  },
  length: {
    id: 'length',
    click: ({ m }, _shift, line) => ({ line: line === null || line.done || !line.dashed ? started(m, true) : { ...line, toM: m, done: true } }),
  },
  walk: { id: 'walk', click: ({ m }, _shift, line) => ({ line, walkTo: centimetres(m) }) },
} as const satisfies Readonly<Record<string, PlanTool>>;

export type ToolId = keyof typeof PLAN_TOOLS;
export const planToolOf = (id: ToolId): PlanTool => PLAN_TOOLS[id];
