'use client';
import { useSessionFields, type View } from '../state/sessionStore';
import { useLearned } from '../state/surveyed';
import { toScreen } from './view';

/** So many pixels a dB. */
export const PX_PER_DB = 2.5;

/** While Fit is open: what the corrected model leaves at each spot of the walk, as bars: up is louder than thought. */
export function ResidualsLayer({ view }: { view: View }) {
  const { source, evidence, evidenceOpen } = useSessionFields('source', 'evidence', 'evidenceOpen');
  const summary = useLearned((s) => s.summary);
  if (source !== 'measured' || evidence !== 'fit' || !evidenceOpen || summary === null) return null;
  return (
    <g pointerEvents="none" role="img" aria-label={`${summary.residuals.length} residuals of the fit`} data-testid="residuals">
      {summary.residuals.map(({ xM, yM, offDb }, i) => {
        const { x, y } = toScreen(view, { xM, yM });
        const to = y - offDb * PX_PER_DB;
        return (
          <g key={i}>
            <path d={`M${x} ${y}V${to}`} stroke="var(--panel)" strokeWidth={6} />
            <path d={`M${x - 3} ${y}H${x + 3}M${x} ${y}V${to}`} stroke="var(--ink)" strokeWidth={2.6} fill="none" />
          </g>
        );
      })}
    </g>
  );
}
