'use client';
import { memo } from 'react';
import { marksOn } from '@/core/design/surveyCommands';
import type { Design } from '@/core/design/design';
import { useSessionFields, type View } from '../state/sessionStore';
import { toScreen } from './view';

/** The marks of a floor: small flags with their numbers; activating one takes it in hand. */
export const MarksLayer = memo(function MarksLayer({ design, floorId, view }: { design: Pick<Design, 'marks'>; floorId: string; view: View }) {
  const { selection, set } = useSessionFields('selection');
  return marksOn(design, floorId).map((mark, i) => {
    const { x, y } = toScreen(view, mark);
    const chosen = selection?.table === 'marks' && selection.ids[0] === mark.id;
    const choose = () => set({ selection: { table: 'marks', ids: [mark.id] } });
    return (
      <g
        key={mark.id}
        transform={`translate(${x} ${y})`}
        role="button"
        tabIndex={0}
        aria-pressed={chosen}
        aria-label={`Mark ${i + 1}${mark.note === '' ? '' : `: ${mark.note.slice(0, 80)}`}`}
        className={chosen ? 'mark chosen' : 'mark'}
        onPointerDown={(event) => event.stopPropagation()}
        onClick={choose}
        onKeyDown={(event) => (event.key === 'Enter' || event.key === ' ') && choose()}
      >
        <path d="M0 0V-22H19L14 -15.5L19 -9H0" />
        <circle r={2.5} />
        <text x={6.5} y={-12}>
          {i + 1}
        </text>
      </g>
    );
  });
});
