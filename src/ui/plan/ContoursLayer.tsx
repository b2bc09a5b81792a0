'use client';
import { memo, useId } from 'react';
import type { Contour } from '@/core/fields/contour';
import type { PolygonM } from '@/core/geometry/polygon';
import { contourLabel, lensOf } from '@/core/fields/lenses';
import type { View } from '../state/sessionStore';
import { ANY_VALUE_LEVEL, type MapResult } from '../state/useLens';
import { isFree, type LabelBox } from './labels';
import { toScreen, type PointPx } from './view';
import { isCrossed, type DrawnLines } from './lines';
import { outlinePath } from './paths';

const ringPath = (ring: Float32Array): string => {
  let d = '';
  for (let i = 0; i < ring.length; i += 2) d += `${i === 0 ? 'M' : 'L'}${ring[i]!.toFixed(3)} ${ring[i + 1]!.toFixed(3)}`;
  return `${d}Z`;
};

const linePath = (line: Float32Array): string => ringPath(line).slice(0, -1);

/** The larger side of the box around a ring, on the screen. */
function spanPx(ring: Float32Array, view: View): number {
  let west = Infinity,
    east = -Infinity,
    north = Infinity,
    south = -Infinity;
  for (let i = 0; i < ring.length; i += 2) {
    west = Math.min(west, ring[i]!);
    east = Math.max(east, ring[i]!);
    north = Math.min(north, ring[i + 1]!);
    south = Math.max(south, ring[i + 1]!);
  }
  return Math.max(east - west, south - north) * view.pxPerM;
}

/** Where contour numbers stand: on each long ring's smoothest stretch, apart from each other and off walls, in screen space. */
function numberSpots(
  contours: readonly Contour[],
  view: View,
  taken: readonly LabelBox[],
  lines: DrawnLines,
  levelOf: (contour: Contour) => string,
): Array<{ at: PointPx; text: string; level: number }> {
  const spots: Array<{ at: PointPx; text: string; level: number }> = [];
  for (const contour of contours) {
    for (const ring of contour.lines) {
      const n = ring.length / 2;
      if (n < 24 || spanPx(ring, view) < 44) continue;
      // Straightness over a window of 8 points: a stretch that runs evenly is off corners and wall edges.
      let best = -1;
      let bestTurn = Infinity;
      for (let k = 8; k < n - 8; k += 3) {
        let turn = 0;
        for (let j = k - 6; j < k + 6; j++) {
          const ax = ring[j * 2]! - ring[j * 2 - 2]!;
          const ay = ring[j * 2 + 1]! - ring[j * 2 - 1]!;
          const bx = ring[j * 2 + 2]! - ring[j * 2]!;
          const by = ring[j * 2 + 3]! - ring[j * 2 + 1]!;
          turn += Math.abs(Math.atan2(ax * by - ay * bx, ax * bx + ay * by));
        }
        const at = toScreen(view, { xM: ring[k * 2]!, yM: ring[k * 2 + 1]! });
        const box = { x: at.x - 15, y: at.y - 8, width: 30, height: 16 };
        if (
          turn > bestTurn ||
          spots.some((spot) => Math.hypot(spot.at.x - at.x, spot.at.y - at.y) < 46) ||
          !isFree(box, taken) ||
          isCrossed(box, lines)
        )
          continue;
        bestTurn = turn;
        best = k;
      }
      if (best >= 0)
        spots.push({ at: toScreen(view, { xM: ring[best * 2]!, yM: ring[best * 2 + 1]! }), text: levelOf(contour), level: contour.level });
    }
  }
  return spots.slice(0, 60);
}

/** Numbered contours, the threshold's bold; what fails the threshold is hatched. In plan coordinates. */
export const ContoursLayer = memo(function ContoursLayer({
  map,
  outline,
  pxPerM,
  hatchAll,
  clipId,
}: {
  map: MapResult;
  outline: PolygonM;
  pxPerM: number;
  hatchAll: boolean;
  /** The clip path of the floor's outline. */
  clipId: string;
}) {
  const patternId = useId();
  const lens = lensOf(map.lens);
  if (map.contours === null || lens.threshold === null) return null;
  const own = lens.threshold.levelOf(map.threshold);
  const bold = map.contours.find((contour) => contour.level === own);
  const any = map.contours.find((contour) => contour.level === ANY_VALUE_LEVEL);
  const region = bold?.rings.map(ringPath).join('') ?? '';
  const around = hatchAll ? outlinePath(outline) : (any?.rings.map(ringPath).join('') ?? '');
  const fails = lens.threshold.sense === 'least' ? around + region : region;
  const gap = 7 / pxPerM;
  return (
    <g clipPath={`url(#${clipId})`}>
      <defs>
        <pattern id={patternId} patternUnits="userSpaceOnUse" width={gap} height={gap} patternTransform="rotate(45)">
          <line x1={0} y1={0} x2={0} y2={gap} stroke="var(--ink)" strokeOpacity={0.5} strokeWidth={1 / pxPerM} />
        </pattern>
      </defs>
      <path d={fails} fillRule="evenodd" fill={`url(#${patternId})`} data-testid="fails" />
      {map.contours
        .filter((contour) => contour.level !== ANY_VALUE_LEVEL)
        .map((contour) => (
          <path
            key={contour.level}
            d={contour.lines.map(linePath).join('')}
            fill="none"
            stroke="var(--ink)"
            strokeWidth={contour.level === own ? 2.2 : 0.7}
            strokeOpacity={contour.level === own ? 0.95 : 0.6}
            strokeLinejoin="round"
            vectorEffect="non-scaling-stroke"
          />
        ))}
    </g>
  );
});

/** The contours' numbers, in screen coordinates so that they keep their size. */
export const ContourNumbers = memo(function ContourNumbers({
  map,
  view,
  taken,
  lines,
}: {
  map: MapResult;
  view: View;
  taken: readonly LabelBox[];
  lines: DrawnLines;
}) {
  const lens = lensOf(map.lens);
  if (map.contours === null || lens.threshold === null) return null;
  const own = lens.threshold.levelOf(map.threshold);
  const spots = numberSpots(
    map.contours.filter((contour) => contour.level !== ANY_VALUE_LEVEL),
    view,
    taken,
    lines,
    (contour) => contourLabel(lens, contour.level),
  );
  return (
    <g className="mono" fontSize={11.5} aria-hidden="true" pointerEvents="none">
      {spots.map(({ at, text, level }, i) => (
        <g key={i} transform={`translate(${at.x.toFixed(1)} ${at.y.toFixed(1)})`}>
          <rect x={-3.6 * text.length - 2} y={-7} width={7.2 * text.length + 4} height={14} rx={2} fill="var(--panel)" fillOpacity={0.88} />
          <text textAnchor="middle" dy={4} fontSize={11.5} fill="var(--ink)" fontWeight={level === own ? 700 : 400}>
            {text}
          </text>
        </g>
      ))}
    </g>
  );
});
