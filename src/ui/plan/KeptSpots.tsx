'use client';
import type { Design } from '@/core/design/design';
import { heardHere } from '../readout/heardHere';
import { signed } from '../state/format';
import type { Place } from '../state/selectors';
import { useSessionFields, type View } from '../state/sessionStore';
import { toScreen } from './view';

/** More spots than this would hide the plan. */
export const MAX_KEPT = 8;

/** Spots that were kept: each with a number and the level of the strongest radio; activating one pins it again. */
export function KeptSpots({ view, design, place }: { view: View; design: Design; place: Place }) {
  const { kept, band, heardApId, ignoreBelowDbm, reachM, set } = useSessionFields('kept', 'band', 'heardApId', 'ignoreBelowDbm', 'reachM');
  return kept.map((spot, i) => {
    const [first] = heardHere(design, place, band, heardApId, spot, ignoreBelowDbm, [], reachM, ignoreBelowDbm);
    const text = first === undefined ? `${i + 1}  not heard` : `${i + 1}  ${first.of.name} ${signed(first.rssiDbm, 1)} dBm`;
    const { x, y } = toScreen(view, spot);
    const pin = () => set({ pinned: spot, kept: kept.filter((other) => other !== spot), explainedApId: null });
    return (
      <g
        key={`${spot.xM}/${spot.yM}`}
        transform={`translate(${x} ${y})`}
        role="button"
        tabIndex={0}
        aria-label={`Kept spot ${text}: pin it again`}
        className="kept"
        onPointerDown={(event) => event.stopPropagation()}
        onClick={pin}
        onKeyDown={(event) => (event.key === 'Enter' || event.key === ' ') && pin()}
      >
        <path d="M-6 -6L6 6M-6 6L6 -6" stroke="var(--hand)" strokeWidth={1.8} />
        <rect x={9} y={-12} width={text.length * 6.7 + 8} height={24} rx={3} />
        <text x={13} y={4}>
          {text}
        </text>
      </g>
    );
  });
}
