'use client';
import { memo } from 'react';
import type { PointM } from '@/core/geometry/point';
import { between } from '@/core/geometry/point';
import type { ReadoutLine } from '../readout/heardHere';
import { chargesOf } from '../readout/charges';
import { signed } from '../state/format';
import type { View } from '../state/sessionStore';
import { toScreen } from './view';

const MAX_LINES = 3;

/** Sight lines of the radio explained and the strongest others to the pinned spot; the first one's with each wall's loss where it is crossed. */
export const SightLinesLayer = memo(function SightLinesLayer({
  at,
  lines,
  explainedId,
  view,
  onKey,
}: {
  at: PointM;
  lines: readonly ReadoutLine[];
  /** The access point that is explained; null for the strongest. */
  explainedId: string | null;
  view: View;
  onKey: (event: React.KeyboardEvent) => void;
}) {
  const spot = toScreen(view, at);
  const first = lines.find(({ of }) => of.id === explainedId) ?? lines[0];
  const drawn = first === undefined ? [] : [first, ...lines.filter((line) => line !== first && line.of.id !== explainedId).slice(0, MAX_LINES - 1)];
  return (
    <g>
      <g pointerEvents="none" data-testid="sight-lines">
        {drawn.map((line, rank) => {
          const from = toScreen(view, line.of);
          return (
            <g key={line.of.id} opacity={rank === 0 ? 1 : 0.55}>
              <line x1={from.x} y1={from.y} x2={spot.x} y2={spot.y} stroke="var(--hand)" strokeWidth={rank === 0 ? 1.6 : 1.1} strokeDasharray="6 4" />
              {chargesOf(line.line).map(({ share, lossDb, what }, i) => {
                const p = toScreen(view, between(line.of, at, share));
                const text = `${what}${signed(-lossDb, 1)}`;
                return (
                  <g key={i} transform={`translate(${p.x} ${p.y})`}>
                    <circle r={2.4} fill="var(--hand)" />
                    {rank === 0 && (
                      <>
                        <rect
                          x={-text.length * 3.2 - 2}
                          y={-19}
                          width={text.length * 6.4 + 4}
                          height={13}
                          rx={2}
                          fill="var(--panel)"
                          fillOpacity={0.9}
                        />
                        <text y={-9} textAnchor="middle" className="loss">
                          {text}
                        </text>
                      </>
                    )}
                  </g>
                );
              })}
            </g>
          );
        })}
      </g>
      <g
        transform={`translate(${spot.x} ${spot.y})`}
        data-pinned
        role="button"
        tabIndex={0}
        aria-label={`Pinned spot at ${at.xM.toFixed(1)}, ${at.yM.toFixed(1)} m; arrow keys move it, Escape removes it`}
        onKeyDown={onKey}
      >
        <circle r={14} fill="none" />
        <circle r={7} fill="none" stroke="var(--hand)" strokeWidth={1.8} />
        <path d="M-11 0H-4M4 0H11M0 -11V-4M0 4V11" stroke="var(--hand)" strokeWidth={1.8} />
      </g>
    </g>
  );
});
