import type { KeyboardEvent, RefObject } from 'react';
import { moveAccessPoints, remove } from '@/core/design/commands';
import { useDocument } from '../state/documentStore';
import { useSession, type View } from '../state/sessionStore';
import { zoomView, type Size } from './view';

const ARROWS: Readonly<Record<string, readonly [number, number]>> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** Arrow keys move by this, with Shift by ten times it. */
const STEP_M = 0.1;
const PAN_PX = 40;

const stepOf = (event: KeyboardEvent): number => (event.shiftKey ? STEP_M * 10 : STEP_M);

/** An access point with the focus: Enter selects, arrows move, Delete deletes; what is selected with it goes along. */
function keyOnAp(event: KeyboardEvent, id: string): void {
  const { selection, stage, set } = useSession.getState();
  const { design, run } = useDocument.getState();
  const selectedIds = selection?.table === 'accessPoints' ? selection.ids : [];
  const ids = selectedIds.includes(id) ? selectedIds : [id];
  const name = design.accessPoints[id]?.name ?? 'access point';
  const arrow = ARROWS[event.key];
  if (event.key === 'Enter' || event.key === ' ') {
    set({ selection: { table: 'accessPoints', ids: event.shiftKey ? [...selectedIds.filter((other) => other !== id), id] : [id] } });
  } else if (arrow !== undefined && stage === 'design') {
    run(`Move ${name}`, (d) => moveAccessPoints(d, ids, arrow[0] * stepOf(event), arrow[1] * stepOf(event)));
  } else if ((event.key === 'Delete' || event.key === 'Backspace') && stage === 'design') {
    run(ids.length > 1 ? `Delete ${ids.length} access points` : `Delete ${name}`, (d) => remove(d, 'accessPoints', ids));
    set({ selection: null });
  } else return;
  event.preventDefault();
}

/** The pinned spot with the focus: arrows move it. */
function keyOnPinned(event: KeyboardEvent): void {
  const arrow = ARROWS[event.key];
  const { pinned, set } = useSession.getState();
  if (arrow === undefined || pinned === null) return;
  event.preventDefault();
  set({ pinned: { xM: pinned.xM + arrow[0] * stepOf(event), yM: pinned.yM + arrow[1] * stepOf(event) } });
}

/** What keys do on the plan. The handlers stay the same functions, so that marks are drawn again only when they change themselves. */
export function usePlanKeys(view: View | null, size: Size | null, svg: RefObject<SVGSVGElement | null>) {
  const onPlanKey = (event: KeyboardEvent) => {
    if (event.target !== svg.current || view === null || size === null) return;
    const { set } = useSession.getState();
    const arrow = ARROWS[event.key];
    const zoom = { '+': 1.25, '=': 1.25, '-': 0.8 }[event.key];
    if (arrow !== undefined)
      set({ view: { ...view, leftM: view.leftM + (arrow[0] * PAN_PX) / view.pxPerM, topM: view.topM + (arrow[1] * PAN_PX) / view.pxPerM } });
    else if (zoom !== undefined) set({ view: zoomView(view, zoom, size.widthPx / 2, size.heightPx / 2) });
    else return;
    event.preventDefault();
  };
  return { onApKey: keyOnAp, onPinnedKey: keyOnPinned, onPlanKey };
}
