import { useEffect, useRef, type PointerEvent as ReactPointerEvent, type RefObject } from 'react';
import { useSession, type View } from '../state/sessionStore';
import { useFingers } from './useFingers';
import { toPlan, zoomView } from './view';

/** Wheel over the plan zooms about the pointer. React listens passively to wheel; the plan must keep the page from scrolling. */
export function useWheelZoom(svg: RefObject<SVGSVGElement | null>, view: View | null): void {
  useEffect(() => {
    const element = svg.current;
    if (element === null || view === null) return;
    const onWheel = (event: WheelEvent) => {
      const box = element.getBoundingClientRect();
      event.preventDefault();
      useSession.getState().set({ view: zoomView(view, Math.exp(-event.deltaY * 0.0015), event.clientX - box.left, event.clientY - box.top) });
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [svg, view]);
}

/** For a plan that is only looked at: dragging moves the one view that all plans share, hovering is told to all, a click pins the spot. */
export function usePan(svg: RefObject<SVGSVGElement | null>, view: View | null) {
  const from = useRef<{ x: number; y: number; view: View; moved: boolean } | null>(null);
  useWheelZoom(svg, view);
  const fingers = useFingers(svg, view, () => (from.current = null));
  return {
    onPointerDown: (event: ReactPointerEvent) => {
      if (fingers.onDown(event)) return;
      if (view === null || event.button !== 0) return;
      svg.current?.setPointerCapture(event.pointerId);
      from.current = { x: event.clientX, y: event.clientY, view, moved: false };
    },
    onPointerMove: (event: ReactPointerEvent) => {
      if (fingers.onMove(event)) return;
      const box = svg.current?.getBoundingClientRect();
      if (view === null || box === undefined) return;
      const { set } = useSession.getState();
      const start = from.current;
      if (start === null) return set({ hover: toPlan(view, event.clientX - box.left, event.clientY - box.top) });
      const [dx, dy] = [event.clientX - start.x, event.clientY - start.y];
      start.moved ||= Math.hypot(dx, dy) > 3;
      if (start.moved)
        set({ view: { ...start.view, leftM: start.view.leftM - dx / start.view.pxPerM, topM: start.view.topM - dy / start.view.pxPerM } });
    },
    onPointerUp: (event: ReactPointerEvent) => {
      if (fingers.onUp(event)) return;
      const box = svg.current?.getBoundingClientRect();
      if (view !== null && box !== undefined && from.current?.moved === false)
        useSession.getState().set({ pinned: toPlan(view, event.clientX - box.left, event.clientY - box.top), explainedApId: null });
      from.current = null;
    },
    onPointerCancel: (event: ReactPointerEvent) => {
      fingers.onUp(event);
      from.current = null;
    },
    onPointerLeave: () => useSession.getState().set({ hover: null }),
  };
}
