import { useCallback, useEffect, useRef, useState, type PointerEvent as ReactPointerEvent } from 'react';
import { v7 as uuid } from 'uuid';
import type { PointM } from '@/core/geometry/point';
import { useDocument } from '../state/documentStore';
import { placeNow } from '../state/selectors';
import { useSession, type View } from '../state/sessionStore';
import { clickTurn } from '../stages/survey/walker';
import { judgeBox } from '../stages/building/finding';
import { IDLE, planStep, type Outcome, type Spot, type Target, type ToolEvent, type ToolState } from './tools/machine';
import { planToolOf } from './tools/tools';
import { useFingers } from './useFingers';
import { useWheelZoom } from './usePan';
import { toPlan, type Size } from './view';

/** Where an event lies on a plan whose corner lies at `box`: in the plan's pixels and in metres. */
function spotIn(box: { left: number; top: number }, view: View, event: { clientX: number; clientY: number }): Spot {
  const px = { x: event.clientX - box.left, y: event.clientY - box.top };
  return { px, m: toPlan(view, px.x, px.y) };
}

/** The tables whose records have marks on the plan, by the attribute of the mark that holds the id. */
const MARKS = { ap: 'accessPoints', opening: 'openings', wall: 'walls', zone: 'zones', 'slab-opening': 'slabOpenings' } as const;

/** The record that the mark under the pointer stands for: the innermost, for an opening lies in its wall's mark. */
function recordUnder(element: Element): Target {
  const names = Object.keys(MARKS) as Array<keyof typeof MARKS>;
  const mark = element.closest(names.map((name) => `[data-${name}]`).join());
  const name = names.find((candidate) => mark?.hasAttribute(`data-${candidate}`));
  return name === undefined ? null : { table: MARKS[name], id: mark!.getAttribute(`data-${name}`)! };
}

/** Does what a tool said should follow. */
function carryOut({ preview, commit, view, selection, pin, walkTo, pair, judged }: Outcome): void {
  const { set } = useSession.getState();
  if (preview !== undefined) set({ preview: preview === null ? null : { kind: 'drag', changes: preview } });
  if (view !== undefined) set({ view });
  // What was refused is not there to be selected.
  const done = commit === undefined || useDocument.getState().run(commit.title, commit.command);
  if (selection !== undefined && done) set({ selection });
  if (pin !== undefined) set({ pinned: pin, explainedApId: null });
  if (walkTo !== undefined) clickTurn(walkTo);
  if (judged !== undefined) judgeBox(judged.fromM, judged.toM, judged.reachM);
  const floorId = placeNow()?.floor.id;
  if (pair !== undefined && floorId !== undefined) {
    const { pairs } = useSession.getState();
    set({ pairs: { floorId, pairs: [...(pairs?.floorId === floorId ? pairs.pairs : []), pair] } });
  }
}

/** Feeds pointer events on the plan to the tool in hand, one look a frame, and carries out what it says. */
export function usePlanPointer(view: View | null, svg: React.RefObject<SVGSVGElement | null>, size: Size | null) {
  const [state, setState] = useState<ToolState>(IDLE);
  const latest = useRef<ToolState>(IDLE);
  const frame = useRef(0);

  const feed = useCallback((event: ToolEvent, at: View): Outcome | null => {
    const place = placeNow();
    if (place === null) return null;
    const { tool, stage, selection, modelId, materialId, openingKind, areaKind, areaShape, wallShape } = useSession.getState();
    const outcome = planStep(planToolOf(tool), latest.current, event, {
      design: useDocument.getState().design,
      floorId: place.floor.id,
      variantId: place.variant.id,
      stage,
      view: at,
      selection,
      modelId,
      materialId,
      openingKind,
      areaKind,
      areaShape,
      wallShape,
      newId: uuid,
    });
    latest.current = outcome.state;
    setState(outcome.state);
    carryOut(outcome);
    return outcome;
  }, []);

  const cancel = useCallback(() => view !== null && (feed({ type: 'cancel' }, view)?.cancelled ?? false), [feed, view]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || event.defaultPrevented) return;
      if (cancel()) return;
      const { tool, pinned, selection, set } = useSession.getState();
      if (pinned !== null) set({ pinned: null });
      else if (tool !== 'select') set({ tool: 'select' });
      else if (selection !== null) set({ selection: null });
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [cancel]);

  // Where the plan lies is asked when the pointer comes, is pressed, or the plan has another size: asking on every move would have the page laid out twice a frame.
  const box = useRef<DOMRect | null>(null);
  useEffect(() => {
    box.current = null;
  }, [size]);
  const spot = (event: { clientX: number; clientY: number }): Spot | null => {
    if (view === null || svg.current === null) return null;
    return spotIn((box.current ??= svg.current.getBoundingClientRect()), view, event);
  };

  const fingers = useFingers(svg, view, cancel);
  const onPointerDown = (event: ReactPointerEvent) => {
    box.current = null;
    if (fingers.onDown(event)) return;
    const at = spot(event);
    if (at === null || view === null || event.button > 2) return;
    if (event.button === 0) svg.current?.setPointerCapture(event.pointerId);
    feed({ type: 'down', at, button: event.button, shift: event.shiftKey, alt: event.altKey, target: recordUnder(event.target as Element) }, view);
  };
  const onPointerMove = (event: ReactPointerEvent) => {
    const { clientX, clientY, shiftKey, altKey } = event;
    if (view === null || fingers.onMove(event)) return;
    // One look per frame: a fast pointer must not queue up work.
    cancelAnimationFrame(frame.current);
    frame.current = requestAnimationFrame(() => {
      const at = spot({ clientX, clientY });
      if (at === null) return;
      useSession.getState().set({ hover: at.m });
      feed({ type: 'move', at, shift: shiftKey, alt: altKey }, view);
    });
  };
  const onPointerUp = (event: ReactPointerEvent) => {
    if (fingers.onUp(event)) return;
    const at = spot(event);
    cancelAnimationFrame(frame.current);
    if (at !== null && view !== null) feed({ type: 'up', at, shift: event.shiftKey, alt: event.altKey }, view);
  };

  useWheelZoom(svg, view);

  // Another tool takes nothing over of what the last one had begun.
  useEffect(
    () =>
      useSession.subscribe(({ tool, preview, set }, before) => {
        if (tool === before.tool) return;
        latest.current = IDLE;
        setState(IDLE);
        if (preview?.kind === 'drag') set({ preview: null });
      }),
    [],
  );

  return {
    line: state.line,
    snapped: state.snapped,
    cancel,
    /** Clicks on an exact spot. */
    put: (m: PointM) => view !== null && feed({ type: 'put', m }, view),
    marquee: state.gesture.phase === 'marquee' ? state.gesture : null,
    handlers: {
      onPointerEnter: () => void (box.current = null),
      onPointerDown,
      onPointerMove,
      onPointerUp,
      onPointerCancel: (event: ReactPointerEvent) => {
        fingers.onUp(event);
        cancel();
      },
      onPointerLeave: () => {
        const { preview, set } = useSession.getState();
        // What a tool only showed under the pointer goes with it.
        const shown = latest.current.gesture.phase === 'idle' && preview?.kind === 'drag';
        set({ hover: null, ...(shown ? { preview: null } : {}) });
      },
      onContextMenu: (event: React.MouseEvent) => event.preventDefault(),
    },
  };
}
