'use client';
import { memo, useMemo } from 'react';
import type { Design } from '@/core/design/design';
import type { PointM } from '@/core/geometry/point';
import { heardHere } from '../readout/heardHere';
import { signed } from '../state/format';
import type { Place } from '../state/selectors';
import { useSessionFields, type KeptSpot, type View } from '../state/sessionStore';
import { toScreen } from './view';

/** More spots than this would hide the plan: the oldest goes. */
const MAX_KEPT = 8;

const isAt = (spot: KeptSpot, floorId: string, at: PointM): boolean => spot.floorId === floorId && spot.xM === at.xM && spot.yM === at.yM;

/** The kept spots and one more; one that is kept already comes last. */
export const withSpot = (kept: readonly KeptSpot[], floorId: string, at: PointM): KeptSpot[] =>
  [...kept.filter((spot) => !isAt(spot, floorId, at)), { floorId, xM: at.xM, yM: at.yM }].slice(-MAX_KEPT);

/** Spots of this floor that were kept: each with a number and the level of the strongest radio; activating one pins it again. */
export const KeptSpots = memo(function KeptSpots({ view, design, place }: { view: View; design: Design; place: Place }) {
  const { kept, set, ...asked } = useSessionFields('kept', 'band', 'byClient', 'source', 'heardFrom', 'clientId', 'ignoreBelowDbm');
  const { band, byClient, source, heardFrom, clientId, ignoreBelowDbm } = asked;
  const floorId = place.floor.id;
  // Rays are drawn when something changes, not when the plan is moved.
  const texts = useMemo(
    () =>
      kept
        .filter((spot) => spot.floorId === floorId)
        .map((spot, i) => {
          const [first] = heardHere(design, place, spot, { band, byClient, source, heardFrom, clientId, ignoreBelowDbm });
          return { spot, text: first === undefined ? `${i + 1}  not heard` : `${i + 1}  ${first.of.name} ${signed(first.rssiDbm, 1)} dBm` };
        }),
    [kept, floorId, design, place, band, byClient, source, heardFrom, clientId, ignoreBelowDbm],
  );
  return texts.map(({ spot, text }) => {
    const { x, y } = toScreen(view, spot);
    const pin = () => set({ pinned: { xM: spot.xM, yM: spot.yM }, kept: kept.filter((other) => !isAt(other, floorId, spot)), explainedApId: null });
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
});
