'use client';
import type { Contour } from '@/core/fields/contour';
import type { Located } from '@/core/survey/fit/locate';
import { useSignals } from '../stages/air/signals';
import { useDocument } from '../state/documentStore';
import type { View } from '../state/sessionStore';
import { nameOfSought, useLocated } from '../stages/survey/locate';
import { useLinked } from '../state/samplesStore';
import type { Place } from '../state/selectors';
import { SIGNAL_WORDS } from '../state/signalWords';
import { toScreen } from './view';

/** Where a transmitter, or a signal that is not Wi-Fi, was found to come from. */
export function LocatedLayer({ place, view }: { place: Place; view: View }) {
  const located = useLocated();
  const signal = useSignals();
  const projectId = useDocument((s) => s.projectId);
  const linked = useLinked();
  const here = (of: Readonly<{ projectId: string; floorId: string }> | null) =>
    of !== null && of.projectId === projectId && of.floorId === place.floor.id;
  return (
    <>
      {here(located.sought) && <Region {...located} what={located.sought!.bssid} name={nameOfSought(located.sought!, linked, place)} view={view} />}
      {here(signal.of) && (
        <Region
          {...signal}
          what={`the ${SIGNAL_WORDS[signal.of!.kind].label.toLowerCase()}`}
          name={SIGNAL_WORDS[signal.of!.kind].label}
          view={view}
        />
      )}
    </>
  );
}

/** From the likeliest spot to the ends of its cross. */
const CROSS_PX = 7;

type RegionProps = { found: Located | null; rings: Contour | null; what: string; name: string; view: View };
/** The region that holds what is looked for nine times in ten, tinted in the hand's colour, and the likeliest spot; its name stands above both. */
function Region({ found, rings, what, name, view }: RegionProps) {
  if (found === null || rings === null) return null;
  const outlines = rings.rings.map((ring) =>
    Array.from({ length: ring.length / 2 }, (_, i) => toScreen(view, { xM: ring[2 * i]!, yM: ring[2 * i + 1]! })),
  );
  const path = outlines.map((points) => `M${points.map((point) => `${point.x.toFixed(1)} ${point.y.toFixed(1)}`).join('L')}Z`).join('');
  const { x, y } = toScreen(view, found);
  const cross = `M${x - CROSS_PX} ${y}H${x + CROSS_PX}M${x} ${y - CROSS_PX}V${y + CROSS_PX}`;
  const topPx = Math.min(y - CROSS_PX, ...outlines.flat().map((point) => point.y));
  return (
    <g
      pointerEvents="none"
      role="img"
      aria-label={`Likeliest place of ${what}, and the region that holds it nine times in ten`}
      data-testid="located-region"
    >
      <path d={path} fill="var(--hand)" fillOpacity={0.14} stroke="var(--panel)" strokeWidth={4} fillRule="evenodd" />
      <path d={path} fill="none" stroke="var(--hand)" strokeWidth={1.8} fillRule="evenodd" />
      <path d={cross} stroke="var(--panel)" strokeWidth={4.5} />
      <path d={cross} stroke="var(--hand)" strokeWidth={2} />
      <text
        x={x}
        y={topPx - 6}
        textAnchor="middle"
        fontSize={12}
        fontWeight={600}
        fill="var(--hand)"
        stroke="var(--panel)"
        strokeWidth={4}
        paintOrder="stroke"
      >
        {name}
      </text>
    </g>
  );
}
