import { UpperRoomError } from '@/core/errors';
import type { Design } from '@/core/design/registry';
import type { Change } from '@/core/design/step';
import type { PointM } from '@/core/geometry/point';
import type { Selection, Stage, View } from '../../state/types';
import type { PointPx } from '../view';

/** Where an event lies: in the plan's pixels and in metres. */
export type Spot = Readonly<{ px: PointPx; m: PointM }>;

/** What is under the pointer. */
export type Target = Readonly<{ apId: string | null; wallId: string | null }>;

export type ToolEvent =
  | Readonly<{ type: 'down'; at: Spot; button: number; shift: boolean; target: Target }>
  | Readonly<{ type: 'move'; at: Spot; shift: boolean }>
  | Readonly<{ type: 'up'; at: Spot; shift: boolean }>
  | Readonly<{ type: 'cancel' }>;

/** What a pressed pointer is doing. */
export type Gesture =
  | Readonly<{ phase: 'idle' }>
  | Readonly<{ phase: 'pan'; from: PointPx; view: View; moved: boolean; button: number }>
  | Readonly<{ phase: 'drag'; fromM: PointM; moved: boolean; what: Dragged }>
  | Readonly<{ phase: 'marquee'; fromM: PointM; toM: PointM }>;

/** What is being dragged: the changes at a distance from where it began, and what the step will be called. */
export type Dragged = Readonly<{ title: string; at: (design: Design, dxM: number, dyM: number) => readonly Change[] }>;

/** A line being drawn by clicks. `done` stays to be read. */
export type Line = Readonly<{ fromM: PointM; toM: PointM; done: boolean; dashed: boolean }>;

/** Where a tool stands between two events. */
export type ToolState = Readonly<{ gesture: Gesture; line: Line | null }>;
export const IDLE: ToolState = { gesture: { phase: 'idle' }, line: null };

/** What a tool may look at. It changes nothing by itself. */
export type ToolContext = Readonly<{
  design: Design;
  floorId: string;
  variantId: string;
  stage: Stage;
  view: View;
  selection: Selection;
  modelId: string;
  materialId: string;
  newId: () => string;
}>;

/** What follows from an event: the next state, and what the page should do. What is not named stays as it is. */
export type Outcome = Readonly<{
  state: ToolState;
  preview?: readonly Change[] | null;
  commit?: Readonly<{ title: string; command: (design: Design) => readonly Change[] }>;
  view?: View;
  selection?: Selection;
  pin?: PointM;
  walkTo?: PointM;
  /** Whether something was under way that a cancel ended. */
  cancelled?: boolean;
}>;

/**
 * A tool: what a press begins (null: the plan is panned), what a click does, and where a line being drawn ends at the pointer.
 * All are pure, so that they are tested without a page.
 */
export type PlanTool = Readonly<{
  id: string;
  press?: (event: ToolEvent & { type: 'down' }, context: ToolContext) => Readonly<{ gesture: Gesture; selection?: Selection }> | null;
  click: (at: Spot, shift: boolean, line: Line | null, context: ToolContext) => Omit<Outcome, 'state'> & Readonly<{ line: Line | null }>;
  aim?: (at: PointM, line: Line, shift: boolean, context: ToolContext) => PointM;
}>;

/** A press that stays within this is a click. */
const MOVE_PX = 4;
const LEFT = 0;
const farPx = (a: PointPx, b: PointPx) => Math.hypot(a.x - b.x, a.y - b.y) > MOVE_PX;

/** The one state machine of the plan: `(state, event) -> what follows`, for whatever tool is in hand. */
export function planStep(tool: PlanTool, state: ToolState, event: ToolEvent, context: ToolContext): Outcome {
  const { gesture, line } = state;
  switch (event.type) {
    case 'cancel': {
      const busy = gesture.phase !== 'idle' || line !== null;
      return { state: IDLE, cancelled: busy, ...(gesture.phase === 'drag' ? { preview: null } : {}) };
    }
    case 'down': {
      const pan: Gesture = { phase: 'pan', from: event.at.px, view: context.view, moved: false, button: event.button };
      if (event.button !== LEFT) return { state: { gesture: pan, line } };
      const pressed = tool.press?.(event, context) ?? null;
      if (pressed === null) return { state: { gesture: pan, line } };
      return { state: { gesture: pressed.gesture, line }, ...(pressed.selection === undefined ? {} : { selection: pressed.selection }) };
    }
    case 'move':
      return moved(tool, state, event, context);
    case 'up': {
      const next: ToolState = { gesture: { phase: 'idle' }, line };
      if (gesture.phase === 'pan' && !gesture.moved && gesture.button === LEFT) {
        const { line: after, ...rest } = tool.click(event.at, event.shift, line, context);
        return { ...rest, state: { gesture: next.gesture, line: after } };
      }
      if (gesture.phase === 'drag' && gesture.moved) {
        const { title, at } = gesture.what;
        const [dx, dy] = [event.at.m.xM - gesture.fromM.xM, event.at.m.yM - gesture.fromM.yM];
        return { state: next, preview: null, commit: { title, command: (design) => at(design, dx, dy) } };
      }
      if (gesture.phase === 'marquee') return { state: next, selection: apsWithin(gesture.fromM, event.at.m, context) };
      return { state: next };
    }
  }
}

function moved(tool: PlanTool, { gesture, line }: ToolState, { at, shift }: ToolEvent & { type: 'move' }, context: ToolContext): Outcome {
  const drawn = line === null || line.done ? line : { ...line, toM: tool.aim?.(at.m, line, shift, context) ?? at.m };
  if (gesture.phase === 'pan') {
    if (!gesture.moved && !farPx(at.px, gesture.from)) return { state: { gesture, line: drawn } };
    const { view, from } = gesture;
    return {
      state: { gesture: { ...gesture, moved: true }, line: drawn },
      view: { ...view, leftM: view.leftM - (at.px.x - from.x) / view.pxPerM, topM: view.topM - (at.px.y - from.y) / view.pxPerM },
    };
  }
  if (gesture.phase === 'marquee') return { state: { gesture: { ...gesture, toM: at.m }, line: drawn } };
  if (gesture.phase !== 'drag') return { state: { gesture, line: drawn } };
  const [dx, dy] = [at.m.xM - gesture.fromM.xM, at.m.yM - gesture.fromM.yM];
  if (!gesture.moved && Math.hypot(dx, dy) * context.view.pxPerM < MOVE_PX) return { state: { gesture, line: drawn } };
  const state: ToolState = { gesture: { ...gesture, moved: true }, line: drawn };
  try {
    return { state, preview: gesture.what.at(context.design, dx, dy) };
  } catch (error) {
    // A wall end dragged onto its other end: the preview keeps the last good place.
    if (!(error instanceof UpperRoomError)) throw error;
    return { state };
  }
}

/** The access points of the floor and variant in a box. */
function apsWithin(a: PointM, b: PointM, { design, floorId, variantId }: ToolContext): Selection {
  const inside = (value: number, one: number, other: number) => value >= Math.min(one, other) && value <= Math.max(one, other);
  const ids = Object.values(design.accessPoints)
    .filter((ap) => ap.floorId === floorId && ap.variantId === variantId && inside(ap.xM, a.xM, b.xM) && inside(ap.yM, a.yM, b.yM))
    .map((ap) => ap.id);
  return ids.length > 0 ? { table: 'accessPoints', ids } : null;
}
