import { UpperRoomError } from '@/core/errors';
import type { Design } from '@/core/design/registry';
import type { Change } from '@/core/design/step';
import type { PointM } from '@/core/geometry/point';
import type { Snapped } from '@/core/geometry/snap';
import type { OpeningKind } from '@/core/building/wall';
import type { AreaKind } from '@/core/design/areaCommands';
import type { Pair } from '@/core/geometry/similarity';
import type { AreaShape, WallShape, Selection, Stage, View } from '../../state/types';
import { toScreen, type PointPx } from '../view';

/** Where an event lies: in the plan's pixels and in metres. */
export type Spot = Readonly<{ px: PointPx; m: PointM }>;

/** The record whose mark is under the pointer; null for bare plan. */
export type Target = Readonly<{ table: NonNullable<Selection>['table']; id: string }> | null;

/** Shift: whole steps of the angle, or one more selected; Alt: no snapping, and neighbours stay. */
export type Keys = Readonly<{ shift: boolean; alt?: boolean }>;

export type ToolEvent =
  | (Readonly<{ type: 'down'; at: Spot; button: number; target: Target }> & Keys)
  | (Readonly<{ type: 'move'; at: Spot }> & Keys)
  | (Readonly<{ type: 'up'; at: Spot }> & Keys)
  /** A click on an exact spot that was typed instead of pointed at. */
  | Readonly<{ type: 'put'; m: PointM }>
  | Readonly<{ type: 'cancel' }>;

/** What a pressed pointer is doing. */
export type Gesture =
  | Readonly<{ phase: 'idle' }>
  | Readonly<{ phase: 'pan'; from: PointPx; view: View; moved: boolean; button: number }>
  | Readonly<{ phase: 'drag'; fromM: PointM; moved: boolean; what: Dragged }>
  | Readonly<{ phase: 'marquee'; fromM: PointM; toM: PointM }>;

/** What is being dragged: the changes at a distance from where it began, and what the step will be called. */
export type Dragged = Readonly<{
  title: string;
  at: (design: Design, dxM: number, dyM: number) => readonly Change[];
  /** Where the pointer is taken to be: drawn to something near. */
  aim?: (at: PointM, keys: Keys, context: ToolContext) => Snapped;
}>;

/** A line, or the diagonal of a box, being drawn by clicks. `done` stays to be read. `corners` are the earlier ones of a polygon, or both ends of an arc. */
export type Line = Readonly<{ fromM: PointM; toM: PointM; done: boolean; dashed: boolean; shape?: 'box' | 'arc'; corners?: readonly PointM[] }>;

/** Where a tool stands between two events. `snapped` is where a click would fall, when it is drawn to something. */
export type ToolState = Readonly<{ gesture: Gesture; line: Line | null; snapped: Snapped | null }>;
export const IDLE: ToolState = { gesture: { phase: 'idle' }, line: null, snapped: null };

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
  openingKind: OpeningKind;
  areaKind: AreaKind;
  areaShape: AreaShape;
  wallShape: WallShape;
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
  /** A spot of this floor and the same spot of the floor below. */
  pair?: Pair;
  /** A box that was swept over what was found in a drawing: what lies in it is taken out, or in again. A click is a box of no size. */
  judged?: Readonly<{ fromM: PointM; toM: PointM; reachM: number }>;
  /** Whether something was under way that a cancel ended. */
  cancelled?: boolean;
}>;

/**
 * A tool: what a press begins (null: the plan is panned), where the pointer is taken to be, what a click there does, and what the plan shows of it
 * before. All are pure, so that they are tested without a page.
 */
export type PlanTool = Readonly<{
  id: string;
  press?: (event: ToolEvent & { type: 'down' }, context: ToolContext) => Readonly<{ gesture: Gesture; selection?: Selection }> | null;
  aim?: (at: PointM, line: Line | null, keys: Keys, context: ToolContext) => Snapped;
  click: (at: Spot, keys: Keys, line: Line | null, context: ToolContext) => Omit<Outcome, 'state'> & Readonly<{ line: Line | null }>;
  /** What a box does that was drawn by a press of the tool; without it, what lies in it is selected. */
  sweep?: (fromM: PointM, toM: PointM, context: ToolContext) => Omit<Outcome, 'state'>;
  /** What a click would change, shown under the pointer; null where it would do nothing. */
  ghost?: (at: Spot, context: ToolContext) => readonly Change[] | null;
}>;

/** A press that stays within this is a click. */
const MOVE_PX = 4;
const LEFT = 0;
const farPx = (a: PointPx, b: PointPx) => Math.hypot(a.x - b.x, a.y - b.y) > MOVE_PX;
const IDLE_GESTURE: Gesture = { phase: 'idle' };

/** The one state machine of the plan: `(state, event) -> what follows`, for whatever tool is in hand. */
export function planStep(tool: PlanTool, state: ToolState, event: ToolEvent, context: ToolContext): Outcome {
  const { gesture, line, snapped } = state;
  switch (event.type) {
    case 'cancel': {
      const busy = gesture.phase !== 'idle' || line !== null;
      return { state: IDLE, cancelled: busy, ...(gesture.phase === 'drag' || tool.ghost !== undefined ? { preview: null } : {}) };
    }
    case 'down': {
      const pan: Gesture = { phase: 'pan', from: event.at.px, view: context.view, moved: false, button: event.button };
      if (event.button !== LEFT) return { state: { gesture: pan, line, snapped } };
      const pressed = tool.press?.(event, context) ?? null;
      if (pressed === null) return { state: { gesture: pan, line, snapped } };
      return { state: { gesture: pressed.gesture, line, snapped }, ...(pressed.selection === undefined ? {} : { selection: pressed.selection }) };
    }
    case 'move':
      return moved(tool, state, event, context);
    case 'put':
      return clicked(tool, { px: toScreen(context.view, event.m), m: event.m }, { shift: false, alt: true }, line, context);
    case 'up': {
      const next: ToolState = { gesture: IDLE_GESTURE, line, snapped: null };
      if (gesture.phase === 'pan' && !gesture.moved && gesture.button === LEFT) {
        const m = tool.aim?.(event.at.m, line, event, context).at ?? event.at.m;
        return clicked(tool, { px: event.at.px, m }, event, line, context);
      }
      if (gesture.phase === 'drag' && gesture.moved) {
        const { title, at } = gesture.what;
        const [dx, dy] = draggedBy(gesture, event.at.m, event, context);
        return { state: next, preview: null, commit: { title, command: (design) => at(design, dx, dy) } };
      }
      if (gesture.phase === 'marquee' && tool.sweep !== undefined) return { state: next, ...tool.sweep(gesture.fromM, event.at.m, context) };
      if (gesture.phase === 'marquee') return { state: next, selection: recordsWithin(gesture.fromM, event.at.m, context) };
      return { state: next };
    }
  }
}

function clicked(tool: PlanTool, at: Spot, keys: Keys, line: Line | null, context: ToolContext): Outcome {
  const { line: after, ...rest } = tool.click(at, keys, line, context);
  return { ...rest, ...(tool.ghost === undefined ? {} : { preview: null }), state: { gesture: IDLE_GESTURE, line: after, snapped: null } };
}

function draggedBy({ fromM, what }: Gesture & { phase: 'drag' }, atM: PointM, keys: Keys, context: ToolContext): readonly [number, number] {
  const to = what.aim?.(atM, keys, context).at ?? atM;
  return [to.xM - fromM.xM, to.yM - fromM.yM];
}

function moved(tool: PlanTool, { gesture, line, ...rest }: ToolState, event: ToolEvent & { type: 'move' }, context: ToolContext): Outcome {
  const { at } = event;
  const aimed = gesture.phase === 'idle' || gesture.phase === 'pan' ? (tool.aim?.(at.m, line, event, context) ?? null) : null;
  const drawn = line === null || line.done ? line : { ...line, toM: aimed?.at ?? at.m };
  const snapped = aimed;
  if (gesture.phase === 'pan') {
    if (!gesture.moved && !farPx(at.px, gesture.from)) return { state: { gesture, line: drawn, snapped } };
    const { view, from } = gesture;
    return {
      state: { gesture: { ...gesture, moved: true }, line: drawn, snapped },
      view: { ...view, leftM: view.leftM - (at.px.x - from.x) / view.pxPerM, topM: view.topM - (at.px.y - from.y) / view.pxPerM },
    };
  }
  if (gesture.phase === 'marquee') return { state: { ...rest, gesture: { ...gesture, toM: at.m }, line: drawn } };
  if (gesture.phase !== 'drag')
    return {
      state: { gesture, line: drawn, snapped },
      ...(tool.ghost === undefined ? {} : { preview: tried(() => tool.ghost!(at, context)) ?? null }),
    };
  const by = Math.hypot(at.m.xM - gesture.fromM.xM, at.m.yM - gesture.fromM.yM);
  if (!gesture.moved && by * context.view.pxPerM < MOVE_PX) return { state: { ...rest, gesture, line: drawn } };
  const state: ToolState = { gesture: { ...gesture, moved: true }, line: drawn, snapped: gesture.what.aim?.(at.m, event, context) ?? null };
  const preview = tried(() => gesture.what.at(context.design, ...draggedBy(gesture, at.m, event, context)));
  // A wall end dragged onto its other end: the preview keeps the last good place.
  return preview === null ? { state } : { state, preview };
}

/** What a command would give; null where it refuses. */
export function tried<T>(command: () => T | null): T | null {
  try {
    return command();
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    return null;
  }
}

/** What of the stage lies in a box: walls with both ends in it in Building, else access points of the floor and variant. */
function recordsWithin(a: PointM, b: PointM, { design, floorId, variantId, stage }: ToolContext): Selection {
  const inside = (p: PointM): boolean =>
    p.xM >= Math.min(a.xM, b.xM) && p.xM <= Math.max(a.xM, b.xM) && p.yM >= Math.min(a.yM, b.yM) && p.yM <= Math.max(a.yM, b.yM);
  if (stage === 'building') {
    const ids = Object.values(design.walls)
      .filter((wall) => wall.floorId === floorId && inside({ xM: wall.axM, yM: wall.ayM }) && inside({ xM: wall.bxM, yM: wall.byM }))
      .map((wall) => wall.id);
    return ids.length > 0 ? { table: 'walls', ids } : null;
  }
  const ids = Object.values(design.accessPoints)
    .filter((ap) => ap.floorId === floorId && ap.variantId === variantId && inside(ap))
    .map((ap) => ap.id);
  return ids.length > 0 ? { table: 'accessPoints', ids } : null;
}
