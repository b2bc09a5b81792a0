'use client';
import { memo, useMemo } from 'react';
import type { AccessPoint } from '@/core/design/design';
import { modelOf } from '@/core/radio/catalogue';
import { BAND_MARK } from '../state/selectors';
import type { View } from '../state/sessionStore';
import { placeLabels, type LabelBox } from './labels';
import { toScreen, type PointPx, type Size } from './view';

const MARK_PX = 9;
const CHAR_PX = 6.7;
const LINE_PX = 13;

/** Label lines by zoom: name and radios, name alone, nothing. */
function linesOf(ap: AccessPoint, pxPerM: number, selected: boolean): string[] {
  if (pxPerM < 3 && !selected) return [];
  if (pxPerM < 8 && !selected) return [ap.name];
  return [
    ap.name,
    ...ap.radios.filter((radio) => radio.on).map((radio) => `${BAND_MARK[radio.band]} ${radio.channel}/${radio.widthMhz} ${radio.txPowerDbm}`),
  ];
}

/** What a person hears when the mark has the focus: everything the label says, with units. */
export function apTitle(ap: AccessPoint): string {
  const radios = ap.radios.map((radio) =>
    radio.on ? `${radio.band} GHz channel ${radio.channel} width ${radio.widthMhz} MHz ${radio.txPowerDbm} dBm` : `${radio.band} GHz off`,
  );
  return `Access point ${ap.name}, ${modelOf(ap.modelId).name}${ap.locked ? ', locked' : ''}: ${radios.join('; ')}`;
}

/** An access point with the place of its label, or none. */
export type PlacedAp = Readonly<{ ap: AccessPoint; lines: readonly string[]; at: PointPx; box: LabelBox | null }>;

/** Where every mark and label goes; the selected ones choose first. `bare`: marks only, for stages that are about something else. */
export function usePlacedAps(
  aps: readonly AccessPoint[],
  view: View | null,
  size: Size | null,
  selectedIds: readonly string[],
  bare: boolean,
): readonly PlacedAp[] {
  return useMemo(() => {
    if (view === null) return [];
    const order = [...aps].sort((a, b) => Number(selectedIds.includes(b.id)) - Number(selectedIds.includes(a.id)));
    const items = order.map((ap) => {
      const lines = bare ? [] : linesOf(ap, view.pxPerM, selectedIds.includes(ap.id));
      return {
        ap,
        lines,
        at: toScreen(view, ap),
        width: Math.max(...lines.map((line) => line.length), 0) * CHAR_PX + 10,
        height: lines.length * LINE_PX + 5,
      };
    });
    const boxes = placeLabels(items, MARK_PX, size);
    return items.map((item, i) => ({ ...item, box: item.lines.length > 0 ? boxes[i]! : null }));
  }, [aps, view, size, selectedIds, bare]);
}

/** The boxes that other writing on the plan must keep off: marks and labels. */
export const takenBy = (placed: readonly PlacedAp[]): LabelBox[] =>
  placed.flatMap(({ at, box }) => [
    { x: at.x - MARK_PX, y: at.y - MARK_PX, width: 2 * MARK_PX, height: 2 * MARK_PX },
    ...(box === null ? [] : [box]),
  ]);

type MarkProps = {
  ap: AccessPoint;
  lines: string;
  x: number;
  y: number;
  boxX: number | null;
  boxY: number;
  boxWidth: number;
  boxHeight: number;
  selected: boolean;
  onKey: (event: React.KeyboardEvent, id: string) => void;
};

/** One mark with its label. Plain values for properties: what did not change is not drawn again. */
const ApMark = memo(function ApMark({ ap, lines, x, y, boxX, boxY, boxWidth, boxHeight, selected, onKey }: MarkProps) {
  const model = modelOf(ap.modelId);
  const aimed = model.outdoor || model.mount === 'wall';
  const ink = selected ? 'var(--hand)' : 'var(--ink)';
  return (
    <g>
      {boxX !== null && (
        <g pointerEvents="none" aria-hidden="true">
          <rect
            x={boxX}
            y={boxY}
            width={boxWidth}
            height={boxHeight}
            rx={3}
            fill="var(--panel)"
            fillOpacity={0.93}
            stroke={selected ? 'var(--hand)' : 'var(--rule)'}
          />
          {lines.split('\n').map((line, i) => (
            <text
              key={i}
              x={boxX + 5}
              y={boxY + 12 + i * LINE_PX}
              fontSize={i === 0 ? 11 : 10.5}
              fontWeight={i === 0 ? 600 : 400}
              fontFamily={i === 0 ? 'Inter, sans-serif' : '"IBM Plex Mono", monospace'}
              fill={i === 0 ? ink : 'var(--ink)'}
            >
              {line}
            </text>
          ))}
        </g>
      )}
      <g
        transform={`translate(${x.toFixed(2)} ${y.toFixed(2)})`}
        data-ap={ap.id}
        role="button"
        tabIndex={0}
        aria-label={apTitle(ap)}
        aria-pressed={selected}
        onKeyDown={(event) => onKey(event, ap.id)}
        className={ap.locked ? undefined : 'movable'}
      >
        <circle r={MARK_PX + 4} fill="transparent" />
        {aimed && <line x1={0} y1={0} x2={0} y2={-17} transform={`rotate(${ap.azimuthDeg})`} stroke={ink} strokeWidth={2.4} />}
        <path d="M0 -9 L8.2 6 L-8.2 6 Z" fill={ink} stroke="var(--paper)" strokeWidth={2.6} paintOrder="stroke" />
        <path d="M0 -5.4 L5.2 4.2 L-5.2 4.2 Z" fill="var(--panel)" />
        <circle cy={1} r={1.7} fill={ink} />
        {ap.radios.every((radio) => !radio.on) && <line x1={-9} y1={8} x2={9} y2={-9} stroke="var(--ink)" strokeWidth={1.6} />}
        {ap.locked && <rect x={5} y={-11} width={5} height={5} fill="var(--hand)" />}
      </g>
    </g>
  );
});

/** Access points: a triangle with a dot, a bar toward the azimuth where it matters, and a label that covers nothing. */
export const AccessPointsLayer = memo(function AccessPointsLayer({
  placed,
  selectedIds,
  onKey,
}: {
  placed: readonly PlacedAp[];
  selectedIds: readonly string[];
  onKey: (event: React.KeyboardEvent, id: string) => void;
}) {
  return (
    <g>
      {placed.map(({ ap, lines, at, box }) => (
        <ApMark
          key={ap.id}
          ap={ap}
          lines={lines.join('\n')}
          x={at.x}
          y={at.y}
          boxX={box?.x ?? null}
          boxY={box?.y ?? 0}
          boxWidth={box?.width ?? 0}
          boxHeight={box?.height ?? 0}
          selected={selectedIds.includes(ap.id)}
          onKey={onKey}
        />
      ))}
    </g>
  );
});
