'use client';
import { useDocument } from '../state/documentStore';
import type { View } from '../state/sessionStore';
import { useLocated } from '../stages/survey/locate';
import { toScreen } from './view';

/** Where a transmitter was found to be: the region that holds it nine times in ten, hatched in the hand's colour, and the likeliest spot. */
export function LocatedLayer({ floorId, view }: { floorId: string; view: View }) {
  const { sought, found, rings } = useLocated();
  const projectId = useDocument((s) => s.projectId);
  if (sought === null || found === null || rings === null || sought.projectId !== projectId || sought.floorId !== floorId) return null;
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
      aria-label={`Likeliest place of ${sought.bssid}, and the region that holds it nine times in ten`}
      data-testid="located-region"
    >
      <path d={path} fill="var(--hand)" fillOpacity={0.14} stroke="var(--panel)" strokeWidth={4} fillRule="evenodd" />
      <path d={path} fill="none" stroke="var(--hand)" strokeWidth={1.8} fillRule="evenodd" />
      <path d={`M${x - 7} ${y}H${x + 7}M${x} ${y - 7}V${y + 7}`} stroke="var(--panel)" strokeWidth={4.5} />
      <path d={`M${x - 7} ${y}H${x + 7}M${x} ${y - 7}V${y + 7}`} stroke="var(--hand)" strokeWidth={2} />
    </g>
  );
}
