import { useCallback, useEffect, useRef, useState, type PointerEvent as ReactPointerEvent } from 'react';
import { v7 as uuid } from 'uuid';
import { UpperRoomError } from '@/core/errors';
import { addAccessPoint, addWall, moveAccessPoints, moveWall } from '@/core/design/commands';
import { onFloor } from '@/core/design/design';
import { distanceM, type PointM } from '@/core/geometry/point';
import { useDocument } from '../state/documentStore';
import { placeNow } from '../state/selectors';
import { useSession, type View } from '../state/sessionStore';
import { clickTurn } from '../stages/survey/walker';
import { toPlan, toScreen, zoomView, type PointPx } from './view';

/** What the pointer is doing: a small state machine, left by release or Escape. */
type Gesture =
  | { phase: 'idle' }
  | { phase: 'pan'; from: PointPx; view: View; moved: boolean; button: number }
  | { phase: 'drag-aps'; fromM: PointM; ids: readonly string[]; moved: boolean }
  | { phase: 'drag-wall'; fromM: PointM; id: string; part: 'whole' | 'a' | 'b'; moved: boolean }
  | { phase: 'marquee'; fromM: PointM; toM: PointM };

/** A line being drawn by clicks: a wall, or a length being measured. */
export type Rubber = { kind: 'wall' | 'length'; fromM: PointM; toM: PointM; done: boolean } | null;

const MOVE_PX = 4;
const SNAP_PX = 10;

/** The nearest wall end within reach of the pointer, else the spot itself; with `square` the line keeps to steps of 45 degrees. */
function snapped(at: PointM, view: View, fromM: PointM | null, square: boolean): PointM {
  const place = placeNow();
  const { design } = useDocument.getState();
  if (place !== null) {
    let best: PointM | null = null;
    let bestM = SNAP_PX / view.pxPerM;
    for (const wall of onFloor(design, 'walls', place.floor.id)) {
      for (const end of [
        { xM: wall.axM, yM: wall.ayM },
        { xM: wall.bxM, yM: wall.byM },
      ]) {
        const away = distanceM(at, end);
        if (away < bestM) {
          best = end;
          bestM = away;
        }
      }
    }
    if (best !== null) return best;
  }
  if (!square || fromM === null) return at;
  const angle = Math.round(Math.atan2(at.yM - fromM.yM, at.xM - fromM.xM) / (Math.PI / 4)) * (Math.PI / 4);
  const length = distanceM(fromM, at);
  return { xM: fromM.xM + length * Math.cos(angle), yM: fromM.yM + length * Math.sin(angle) };
}

/** Where an event lies: in the plan's pixels and in metres. */
function spotIn(element: SVGSVGElement | null, view: View, event: { clientX: number; clientY: number }): { px: PointPx; m: PointM } | null {
  const box = element?.getBoundingClientRect();
  if (!box) return null;
  const px = { x: event.clientX - box.left, y: event.clientY - box.top };
  return { px, m: toPlan(view, px.x, px.y) };
}

const run: ReturnType<typeof useDocument.getState>['run'] = (title, command) => useDocument.getState().run(title, command);

/** Turns pointer events on the plan into selection, previews and commands. A drag previews freely and commits one step on release. */
export function usePlanPointer(view: View | null, svg: React.RefObject<SVGSVGElement | null>) {
  const gesture = useRef<Gesture>({ phase: 'idle' });
  const [rubber, setRubber] = useState<Rubber>(null);
  const [marquee, setMarquee] = useState<{ fromM: PointM; toM: PointM } | null>(null);
  const frame = useRef(0);

  const spot = (event: { clientX: number; clientY: number }): { px: PointPx; m: PointM } | null =>
    view === null ? null : spotIn(svg.current, view, event);

  const cancel = useCallback(() => {
    const busy = gesture.current.phase !== 'idle' || rubber !== null;
    gesture.current = { phase: 'idle' };
    setRubber(null);
    setMarquee(null);
    if (useSession.getState().preview?.kind === 'drag') useSession.getState().set({ preview: null });
    return busy;
  }, [rubber]);

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || event.defaultPrevented) return;
      const { tool, pinned, selection, set } = useSession.getState();
      if (cancel()) return;
      if (pinned !== null) set({ pinned: null });
      else if (tool !== 'select') set({ tool: 'select' });
      else if (selection !== null) set({ selection: null });
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [cancel]);

  const onPointerDown = (event: ReactPointerEvent) => {
    const at = spot(event);
    if (at === null || view === null) return;
    const session = useSession.getState();
    if (event.button === 1 || event.button === 2) {
      gesture.current = { phase: 'pan', from: at.px, view, moved: false, button: event.button };
      return;
    }
    if (event.button !== 0) return;
    const target = event.target as Element;
    const apId = target.closest('[data-ap]')?.getAttribute('data-ap') ?? null;
    const wallId = target.closest('[data-wall]')?.getAttribute('data-wall') ?? null;
    svg.current?.setPointerCapture(event.pointerId);
    if (session.tool === 'select' && apId !== null) {
      const chosen = session.selection?.table === 'accessPoints' ? session.selection.ids : [];
      const ids = event.shiftKey
        ? chosen.includes(apId)
          ? chosen.filter((id) => id !== apId)
          : [...chosen, apId]
        : chosen.includes(apId)
          ? chosen
          : [apId];
      session.set({ selection: ids.length > 0 ? { table: 'accessPoints', ids } : null });
      gesture.current = session.stage === 'design' && !event.shiftKey ? { phase: 'drag-aps', fromM: at.m, ids, moved: false } : { phase: 'idle' };
      return;
    }
    if (session.tool === 'select' && session.stage === 'building' && wallId !== null) {
      session.set({ selection: { table: 'walls', ids: [wallId] } });
      const wall = useDocument.getState().design.walls[wallId];
      if (wall === undefined) return;
      const nearPx = (end: PointM) => {
        const p = toScreen(view, end);
        return Math.hypot(p.x - at.px.x, p.y - at.px.y) < SNAP_PX;
      };
      const part = nearPx({ xM: wall.axM, yM: wall.ayM }) ? 'a' : nearPx({ xM: wall.bxM, yM: wall.byM }) ? 'b' : 'whole';
      gesture.current = { phase: 'drag-wall', fromM: at.m, id: wallId, part, moved: false };
      return;
    }
    if (session.tool === 'select' && event.shiftKey) {
      gesture.current = { phase: 'marquee', fromM: at.m, toM: at.m };
      return;
    }
    gesture.current = { phase: 'pan', from: at.px, view, moved: false, button: 0 };
  };

  const onPointerMove = (event: ReactPointerEvent) => {
    const at = spot(event);
    if (at === null || view === null) return;
    const { clientX, clientY, shiftKey } = event;
    // One look per frame: a fast pointer must not queue up work.
    cancelAnimationFrame(frame.current);
    frame.current = requestAnimationFrame(() => {
      const session = useSession.getState();
      const now = gesture.current;
      const m = spot({ clientX, clientY })?.m ?? at.m;
      session.set({ hover: m });
      if (now.phase === 'pan') {
        const moved = now.moved || Math.hypot(at.px.x - now.from.x, at.px.y - now.from.y) > MOVE_PX;
        gesture.current = { ...now, moved };
        if (moved)
          session.set({
            view: {
              ...now.view,
              leftM: now.view.leftM - (at.px.x - now.from.x) / now.view.pxPerM,
              topM: now.view.topM - (at.px.y - now.from.y) / now.view.pxPerM,
            },
          });
      } else if (now.phase === 'drag-aps' || now.phase === 'drag-wall') {
        const dx = m.xM - now.fromM.xM;
        const dy = m.yM - now.fromM.yM;
        if (!now.moved && Math.hypot(dx, dy) * view.pxPerM < MOVE_PX) return;
        gesture.current = { ...now, moved: true };
        const { design } = useDocument.getState();
        try {
          session.set({
            preview: {
              kind: 'drag',
              changes: now.phase === 'drag-aps' ? moveAccessPoints(design, now.ids, dx, dy) : moveWall(design, now.id, now.part, dx, dy),
            },
          });
        } catch (error) {
          // A wall end dragged onto its other end: the preview keeps the last good place.
          if (!(error instanceof UpperRoomError)) throw error;
        }
      } else if (now.phase === 'marquee') {
        gesture.current = { ...now, toM: m };
        setMarquee({ fromM: now.fromM, toM: m });
      }
      setRubber((line) => (line === null || line.done ? line : { ...line, toM: line.kind === 'wall' ? snapped(m, view, line.fromM, shiftKey) : m }));
    });
  };

  const click = (m: PointM, shiftKey: boolean) => {
    const session = useSession.getState();
    const place = placeNow();
    if (place === null || view === null) return;
    if (session.tool === 'ap') {
      const id = uuid();
      run('Add access point', (design) =>
        addAccessPoint(design, {
          id,
          floorId: place.floor.id,
          variantId: place.variant.id,
          modelId: session.modelId,
          xM: Math.round(m.xM * 100) / 100,
          yM: Math.round(m.yM * 100) / 100,
        }),
      );
      session.set({ selection: { table: 'accessPoints', ids: [id] } });
    } else if (session.tool === 'wall') {
      const to = snapped(m, view, rubber?.fromM ?? null, shiftKey);
      if (rubber !== null && rubber.kind === 'wall') {
        const from = rubber.fromM;
        run('Draw wall', (design) =>
          addWall(design, {
            id: uuid(),
            floorId: place.floor.id,
            axM: from.xM,
            ayM: from.yM,
            bxM: to.xM,
            byM: to.yM,
            materialId: session.materialId,
          }),
        );
      }
      setRubber({ kind: 'wall', fromM: to, toM: to, done: false });
    } else if (session.tool === 'length') {
      setRubber(
        rubber === null || rubber.done || rubber.kind !== 'length'
          ? { kind: 'length', fromM: m, toM: m, done: false }
          : { ...rubber, toM: m, done: true },
      );
    } else if (session.tool === 'walk') clickTurn({ xM: Math.round(m.xM * 100) / 100, yM: Math.round(m.yM * 100) / 100 });
    else session.set({ pinned: m, selection: session.stage === 'building' ? null : session.selection });
  };

  const onPointerUp = (event: ReactPointerEvent) => {
    const at = spot(event);
    cancelAnimationFrame(frame.current);
    const now = gesture.current;
    gesture.current = { phase: 'idle' };
    if (at === null) return;
    const { preview, set } = useSession.getState();
    if (now.phase === 'pan' && !now.moved && now.button === 0) click(at.m, event.shiftKey);
    if (now.phase === 'drag-aps' && now.moved) {
      const { design } = useDocument.getState();
      const first = design.accessPoints[now.ids[0]!];
      set({ preview: null });
      run(now.ids.length > 1 ? `Move ${now.ids.length} access points` : `Move ${first?.name ?? 'access point'}`, (present) =>
        moveAccessPoints(present, now.ids, at.m.xM - now.fromM.xM, at.m.yM - now.fromM.yM),
      );
    }
    if (now.phase === 'drag-wall' && now.moved) {
      set({ preview: null });
      if (preview?.kind === 'drag') useDocument.getState().run('Move wall', () => preview.changes);
    }
    if (now.phase === 'marquee') {
      const [west, east] = [now.fromM.xM, at.m.xM].sort((a, b) => a - b) as [number, number];
      const [north, south] = [now.fromM.yM, at.m.yM].sort((a, b) => a - b) as [number, number];
      const ids = (placeNow()?.aps ?? []).filter((ap) => ap.xM >= west && ap.xM <= east && ap.yM >= north && ap.yM <= south).map((ap) => ap.id);
      set({ selection: ids.length > 0 ? { table: 'accessPoints', ids } : null });
      setMarquee(null);
    }
  };

  // React listens passively to wheel; the plan must keep the page from scrolling.
  useEffect(() => {
    const element = svg.current;
    if (element === null || view === null) return;
    const onWheel = (event: WheelEvent) => {
      const at = spotIn(element, view, event);
      if (at === null) return;
      event.preventDefault();
      useSession.getState().set({ view: zoomView(view, Math.exp(-event.deltaY * 0.0015), at.px.x, at.px.y) });
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [svg, view]);

  return {
    rubber,
    marquee,
    handlers: {
      onPointerDown,
      onPointerMove,
      onPointerUp,
      onPointerCancel: cancel,
      onPointerLeave: () => useSession.getState().set({ hover: null }),
      onContextMenu: (event: React.MouseEvent) => event.preventDefault(),
    },
  };
}
