'use client';
import { memo } from 'react';
import type { Design } from '@/core/design/design';
import { emittersOn } from '@/core/design/surveyCommands';
import { SIGNAL_WORDS } from '../state/signalWords';
import { useSessionFields, type View } from '../state/sessionStore';
import { toScreen } from './view';

/** What was found on a floor that is not Wi-Fi and was put on the plan: a lozenge with a wave; activating one takes it in hand in Survey. */
export const EmittersLayer = memo(function EmittersLayer({
  design,
  floorId,
  view,
}: {
  design: Pick<Design, 'emitters'>;
  floorId: string;
  view: View;
}) {
  const { selection, set } = useSessionFields('selection');
  return emittersOn(design, floorId).map((emitter) => {
    const { x, y } = toScreen(view, emitter);
    const chosen = selection?.table === 'emitters' && selection.ids[0] === emitter.id;
    const choose = () => set({ stage: 'survey', selection: { table: 'emitters', ids: [emitter.id] } });
    const { label } = SIGNAL_WORDS[emitter.signal];
    return (
      <g
        key={emitter.id}
        transform={`translate(${x} ${y})`}
        role="button"
        tabIndex={0}
        aria-pressed={chosen}
        aria-label={`Emitter: ${label}`}
        className={chosen ? 'mark chosen' : 'mark'}
        onPointerDown={(event) => event.stopPropagation()}
        onClick={choose}
        onKeyDown={(event) => (event.key === 'Enter' || event.key === ' ') && choose()}
      >
        <circle r={13} className="reach" />
        <path d="M0 -11L11 0L0 11L-11 0Z" />
        <path d="M-5.5 0Q-2.75 -5 0 0T5.5 0" className="wave" />
        <title>{label}</title>
      </g>
    );
  });
});
