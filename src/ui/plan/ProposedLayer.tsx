'use client';
import { isFor, proposedSpots, useProposal } from '../stages/design/positions/proposal';
import { useDocument } from '../state/documentStore';
import type { Place } from '../state/selectors';
import type { View } from '../state/sessionStore';
import { toScreen } from './view';

/** Positions being proposed: candidates as tiny dots, chosen ones as pencilled triangles that become ink when they are hung. */
export function ProposedLayer({ place, view }: { place: Place; view: View }) {
  const proposal = useProposal();
  const projectId = useDocument((s) => s.projectId);
  if (!isFor(proposal, projectId, place.floor.id, place.variant.id)) return null;
  const here = ({ floorId }: { floorId: string }) => floorId === place.floor.id;
  const chosen = proposedSpots(proposal).filter(here);
  // Looks of one spot are one dot.
  const spots = [...new Map(proposal.spots.filter(here).map((spot) => [`${spot.xM}/${spot.yM}`, spot])).values()];
  return (
    <g pointerEvents="none" data-testid="proposed">
      {spots.map((spot, i) => {
        const { x, y } = toScreen(view, spot);
        return <circle key={i} cx={x} cy={y} r={1.2} fill="var(--ink)" opacity={0.5} />;
      })}
      {chosen.map((spot) => {
        const { x, y } = toScreen(view, spot);
        return (
          <path
            key={`${spot.xM}/${spot.yM}`}
            d={`M${x} ${y - 11}L${x + 11} ${y + 8}L${x - 11} ${y + 8}Z`}
            fill="var(--panel)"
            fillOpacity={0.8}
            stroke="var(--ink)"
            strokeWidth={1.8}
            strokeDasharray="4 3"
            data-proposed
          />
        );
      })}
    </g>
  );
}
