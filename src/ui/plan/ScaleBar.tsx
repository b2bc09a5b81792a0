'use client';
import { M_PER_FT, type UnitSystem } from '@/core/units/length';
import type { View } from '../state/sessionStore';
import { scaleBar } from './view';

/** A round length in the plan's lower left corner. */
export function ScaleBar({ view, units, heightPx }: { view: View; units: UnitSystem; heightPx: number }) {
  const bar = scaleBar(view.pxPerM, units === 'us' ? M_PER_FT : 1);
  return (
    <g transform={`translate(16 ${heightPx - 14})`} aria-hidden="true">
      <path d={`M0 -6V0H${bar.px}V-6M${bar.px / 2} -4V0`} fill="none" stroke="var(--ink)" strokeWidth={1.3} />
      <text className="mono" x={bar.px + 7} y={2} fontSize={11} fill="var(--ink)">
        {bar.units} {units === 'us' ? 'ft' : 'm'}
      </text>
    </g>
  );
}
