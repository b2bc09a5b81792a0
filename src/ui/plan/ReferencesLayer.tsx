'use client';
import { errorOf, toFloor } from '@/core/building/drawing';
import { referencesOf, type Design, type Drawing } from '@/core/design/design';
import { formatLength, type UnitSystem } from '@/core/units/length';
import { signed } from '../state/format';
import type { View } from '../state/sessionStore';
import { toScreen } from './view';

/** How a reference's error is written: in % and in length. */
export function errorText({ errorM, share }: { errorM: number; share: number }, units: UnitSystem): string {
  return `${signed(share * 100, 1)} %, ${errorM < 0 ? '−' : ''}${formatLength(Math.abs(errorM), units)}`;
}

/** Half the width of a character of the small monospaced face. */
const CHAR_PX = 3.5;

/** The known lengths of a drawing as dimension lines: ticks, the true length, and how far the drawing is off there. */
export function ReferencesLayer({ design, drawing, view, units }: { design: Design; drawing: Drawing; view: View; units: UnitSystem }) {
  return (
    <g pointerEvents="none" data-testid="references">
      {referencesOf(design, drawing.id).map((reference) => {
        const a = toScreen(view, toFloor(drawing, { x: reference.axPx, y: reference.ayPx }));
        const b = toScreen(view, toFloor(drawing, { x: reference.bxPx, y: reference.byPx }));
        const length = Math.hypot(b.x - a.x, b.y - a.y) || 1;
        const [nx, ny] = [(-(b.y - a.y) / length) * 6, ((b.x - a.x) / length) * 6];
        // Written along the line, never upside down.
        const turn = (Math.atan2(b.y - a.y, b.x - a.x) * 180) / Math.PI;
        const upright = turn >= 90 || turn < -90 ? turn + 180 : turn;
        const [midX, midY] = [(a.x + b.x) / 2, (a.y + b.y) / 2];
        const text = `${formatLength(reference.lengthM, units)} (${errorText(errorOf(reference, drawing), units)})`;
        return (
          <g key={reference.id} stroke="var(--ink)" strokeWidth={1.2} fill="none">
            <path
              d={`M${a.x} ${a.y}L${b.x} ${b.y}M${a.x - nx} ${a.y - ny}L${a.x + nx} ${a.y + ny}M${b.x - nx} ${b.y - ny}L${b.x + nx} ${b.y + ny}`}
            />
            <g transform={`translate(${midX} ${midY}) rotate(${upright})`}>
              <rect x={-text.length * CHAR_PX - 4} y={-9} width={text.length * CHAR_PX * 2 + 8} height={18} fill="var(--panel)" />
              <text className="mono" y={4} textAnchor="middle" fontSize={11.5} fill="var(--ink)" stroke="none">
                {text}
              </text>
            </g>
          </g>
        );
      })}
    </g>
  );
}
