import type { KeyboardEvent } from 'react';

/** Marks of one layer are one tab stop: arrows go from one to the next, Enter picks. */
export function keyOnMark(event: KeyboardEvent<SVGElement>, pick: () => void): void {
  const step = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 }[event.key];
  if (step !== undefined) {
    const marks = [...event.currentTarget.closest('[data-marks]')!.querySelectorAll<SVGElement>('[role=button]')];
    marks.at((marks.indexOf(event.currentTarget) + step) % marks.length)?.focus();
  } else if (event.key === 'Enter' || event.key === ' ') pick();
  else return;
  event.preventDefault();
  event.stopPropagation();
}
