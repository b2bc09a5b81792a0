'use client';
import { keyOnMark } from '../plan/marks';
import { toScreen, type Size } from '../plan/view';
import type { Place } from '../state/selectors';
import { useSession, type View } from '../state/sessionStore';
import { showFinding } from './FindingsTable';
import { SEVERITY_WORDS, SeverityShape } from './SeverityMark';
import { useChecking, useFindings } from './useFindings';

/** Flags of one place stand beside each other. */
const APART_PX = 27;

/** Kept in the window, where what it belongs to is near its edge. */
const within = (at: number, most: number): number => Math.max(EDGE_PX, Math.min(most - EDGE_PX, at));
const EDGE_PX = 16;

/** Findings that have a place on the floor, as numbered flags beside it. */
export function FindingsLayer({ place, view, size }: { place: Place; view: View; size: Size }) {
  const checking = useChecking();
  const { listed } = useFindings(place);
  const chosen = useSession((s) => s.finding);
  if (!checking || listed === null) return null;
  const here = new Map<string, number>();
  return (
    <g data-marks data-testid="flags">
      {listed.map((finding) => {
        if (finding.place === null || finding.place.floorId !== place.floor.id || finding.accepted !== null) return null;
        const at = toScreen(view, finding.place);
        if (at.x < 0 || at.y < 0 || at.x > size.widthPx || at.y > size.heightPx) return null;
        const spot = `${finding.place.xM.toFixed(1)}/${finding.place.yM.toFixed(1)}`;
        const before = here.get(spot) ?? 0;
        here.set(spot, before + 1);
        // To the left and above: what is written beside an access point stands to its right, as a rule.
        const x = within(at.x - 22 - before * APART_PX, size.widthPx);
        const y = within(at.y - 20, size.heightPx);
        return (
          <g
            key={finding.key}
            role="button"
            tabIndex={-1}
            aria-label={`Finding ${finding.number}, ${SEVERITY_WORDS[finding.severity]}: ${finding.title}`}
            data-finding={finding.number}
            transform={`translate(${x} ${y})`}
            style={{ cursor: 'pointer' }}
            onPointerDown={(event) => {
              event.stopPropagation();
              showFinding(finding);
            }}
            onKeyDown={(event) => keyOnMark(event, () => showFinding(finding))}
          >
            {before === 0 && <line x1={at.x - x} y1={at.y - y} x2={0} y2={0} stroke="var(--ink)" strokeWidth={1} />}
            <SeverityShape severity={finding.severity} number={finding.number} chosen={finding.key === chosen} />
          </g>
        );
      })}
    </g>
  );
}
