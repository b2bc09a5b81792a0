'use client';
import type { Contour } from '@/core/fields/contour';
import type { Located } from '@/core/survey/fit/locate';
import { useSignals } from '../stages/air/signals';
import { useDocument } from '../state/documentStore';
import type { View } from '../state/sessionStore';
import { useLocated } from '../stages/survey/locate';
import { SIGNAL_WORDS } from '../state/signalWords';
import { toScreen } from './view';

/** Where a transmitter, or a signal that is not Wi-Fi, was found to come from. */
export function LocatedLayer({ floorId, view }: { floorId: string; view: View }) {
  const located = useLocated();
  const signal = useSignals();
  const projectId = useDocument((s) => s.projectId);
  const here = (of: Readonly<{ projectId: string; floorId: string }> | null) => of !== null && of.projectId === projectId && of.floorId === floorId;
  return (
    <>
      {here(located.sought) && <Region {...located} what={located.sought!.bssid} name={located.sought!.ssid || located.sought!.bssid} view={view} />}
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

type RegionProps = { found: Located | null; rings: Contour | null; what: string; name: string; view: View };
/** The region that holds what is looked for nine times in ten, tinted in the hand's colour, and the likeliest spot with its name. */
function Region({ found, rings, what, name, view }: RegionProps) {
  if (found === null || rings === null) return null;
  const path = rings.rings
    .map((ring) => {
      let text = '';
      for (let i = 0; i < ring.length; i += 2) {
        const { x, y } = toScreen(view, { xM: ring[i]!, yM: ring[i + 1]! });
        text += `${i === 0 ? 'M' : 'L'}${x.toFixed(1)} ${y.toFixed(1)}`;
      }
      return `${text}Z`;
    })
    .join('');
  const { x, y } = toScreen(view, found);
  return (
    <g
      pointerEvents="none"
      role="img"
      aria-label={`Likeliest place of ${what}, and the region that holds it nine times in ten`}
      data-testid="located-region"
    >
      <path d={path} fill="var(--hand)" fillOpacity={0.14} stroke="var(--panel)" strokeWidth={4} fillRule="evenodd" />
      <path d={path} fill="none" stroke="var(--hand)" strokeWidth={1.8} fillRule="evenodd" />
      <path d={`M${x - 7} ${y}H${x + 7}M${x} ${y - 7}V${y + 7}`} stroke="var(--panel)" strokeWidth={4.5} />
      <path d={`M${x - 7} ${y}H${x + 7}M${x} ${y - 7}V${y + 7}`} stroke="var(--hand)" strokeWidth={2} />
      <text
        x={x}
        y={y - 13}
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
