import { useEffect, useRef, type PointerEvent as ReactPointerEvent, type RefObject } from 'react';
import { useSession, type View } from '../state/sessionStore';
import { toPlan, zoomView } from './view';

/** So long a finger rests for a long press, in ms, and so far it may stray, in px. */
const LONG_PRESS_MS = 550;
const STRAY_PX = 9;

type Spot = { x: number; y: number };
const middleOf = ([a, b]: readonly Spot[]): Spot => ({ x: (a!.x + b!.x) / 2, y: (a!.y + b!.y) / 2 });
const apart = ([a, b]: readonly Spot[]): number => Math.hypot(a!.x - b!.x, a!.y - b!.y);

/** The view after two fingers have gone from where they were to where they are: what lay under them lies under them. */
export function pinchedView(view: View, from: readonly Spot[], to: readonly Spot[]): View {
  const [was, is] = [middleOf(from), middleOf(to)];
  const zoomed = zoomView(view, apart(to) / Math.max(1, apart(from)), was.x, was.y);
  return { ...zoomed, leftM: zoomed.leftM - (is.x - was.x) / zoomed.pxPerM, topM: zoomed.topM - (is.y - was.y) / zoomed.pxPerM };
}

/**
 * Fingers on the plan: two move and enlarge it, one that rests pins the spot. Each handler says whether the event was its own: then nobody else takes it.
 * `giveUp` ends what a tool has begun with the first finger.
 */
export function useFingers(svg: RefObject<SVGSVGElement | null>, view: View | null, giveUp: () => void) {
  const down = useRef(new Map<number, Spot>());
  const pinch = useRef<{ view: View; from: Spot[] } | null>(null);
  /** After a pinch or a long press the fingers that are still down do nothing more. */
  const spent = useRef(false);
  const press = useRef<{ timer: number; at: Spot } | null>(null);
  const endPress = () => {
    if (press.current !== null) clearTimeout(press.current.timer);
    press.current = null;
  };
  useEffect(() => endPress, []);
  const spotOf = (event: ReactPointerEvent): Spot | null => {
    const box = svg.current?.getBoundingClientRect();
    return box === undefined || event.pointerType !== 'touch' ? null : { x: event.clientX - box.left, y: event.clientY - box.top };
  };
  return {
    onDown: (event: ReactPointerEvent): boolean => {
      const at = spotOf(event);
      if (at === null || view === null) return false;
      if (down.current.size === 0) spent.current = false;
      down.current.set(event.pointerId, at);
      endPress();
      if (down.current.size === 1) {
        press.current = {
          at,
          timer: window.setTimeout(() => {
            press.current = null;
            spent.current = true;
            giveUp();
            useSession.getState().set({ pinned: toPlan(view, at.x, at.y), explainedApId: null });
          }, LONG_PRESS_MS),
        };
        return false;
      }
      giveUp();
      spent.current = true;
      pinch.current = down.current.size === 2 ? { view, from: [...down.current.values()] } : null;
      return true;
    },
    onMove: (event: ReactPointerEvent): boolean => {
      const at = spotOf(event);
      if (at === null || !down.current.has(event.pointerId)) return false;
      down.current.set(event.pointerId, at);
      if (press.current !== null && Math.hypot(at.x - press.current.at.x, at.y - press.current.at.y) > STRAY_PX) endPress();
      if (pinch.current !== null && down.current.size === 2)
        useSession.getState().set({ view: pinchedView(pinch.current.view, pinch.current.from, [...down.current.values()]) });
      return spent.current;
    },
    onUp: (event: ReactPointerEvent): boolean => {
      endPress();
      const own = down.current.delete(event.pointerId) && spent.current;
      pinch.current = null;
      return own;
    },
  };
}
