'use client';
import { useModels } from '../state/useModels';
import { memo, useMemo } from 'react';
import type { AccessPoint } from '@/core/design/design';
import type { ApModel } from '@/core/radio/catalogue';
import { lawProblem } from '@/core/radio/law';
import type { Domain } from '@/core/radio/regulation';
import { BAND_MARK } from '../state/selectors';
import type { TagsShown, View } from '../state/sessionStore';
import { placeLabels, type LabelBox } from './labels';
import { toScreen, type PointPx } from './view';

const MARK_PX = 9;
const CHAR_PX = 7;
const LINE_PX = 13;

/** Labels by choice, or by zoom: name and radios, name alone, nothing; the larger first, to be given up where there is no room. */
function labelsOf(ap: AccessPoint, model: ApModel, domain: Domain, pxPerM: number, selected: boolean, shown: TagsShown): string[][] {
  const kind = shown !== 'zoom' ? shown : pxPerM < 3 ? 'mark' : pxPerM < 8 ? 'name' : 'full';
  const full = [
    ap.name,
    ...ap.radios
      .filter((radio) => radio.on)
      .map(
        (radio) =>
          `${BAND_MARK[radio.band]} ${radio.channel}/${radio.widthMhz} ${radio.txPowerDbm}${lawProblem(domain, model, radio) === null ? '' : ' !'}`,
      ),
  ];
  if (selected || kind === 'full') return [full, [ap.name]];
  return kind === 'name' ? [[ap.name]] : [];
}

/** What a person hears when the mark has the focus: everything the label says, with units. */
export function apTitle(ap: AccessPoint, model: ApModel): string {
  const radios = ap.radios.map((radio) =>
    radio.on ? `${radio.band} GHz channel ${radio.channel} width ${radio.widthMhz} MHz ${radio.txPowerDbm} dBm` : `${radio.band} GHz off`,
  );
  return `Access point ${ap.name}, ${model.name}${ap.locked ? ', locked' : ''}: ${radios.join('; ')}`;
}

/** An access point with the place of its label, or none. */
export type PlacedAp = Readonly<{ ap: AccessPoint; model: ApModel; lines: readonly string[]; at: PointPx; box: LabelBox | null }>;

/** Where every mark and label goes; the selected ones choose first. */
export function usePlacedAps(
  aps: readonly AccessPoint[],
  view: View | null,
  bounds: LabelBox | null,
  selectedIds: readonly string[],
  shown: TagsShown,
  domain: Domain,
): readonly PlacedAp[] {
  const { models } = useModels();
  return useMemo(() => {
    if (view === null) return [];
    const order = [...aps].sort((a, b) => Number(selectedIds.includes(b.id)) - Number(selectedIds.includes(a.id)));
    const items = order.map((ap) => {
      const model = models(ap.modelId);
      const labels = labelsOf(ap, model, domain, view.pxPerM, selectedIds.includes(ap.id), shown);
      const sizes = labels.map((lines) => ({
        width: Math.max(...lines.map((line) => line.length), 0) * CHAR_PX + 10,
        height: lines.length * LINE_PX + 5,
      }));
      return { ap, model, labels, at: toScreen(view, ap), sizes };
    });
    const boxes = placeLabels(items, MARK_PX, bounds);
    return items.map(({ ap, model, labels, at }, i) => {
      const box = boxes[i] ?? null;
      return { ap, model, at, box, lines: box === null ? [] : labels[box.size]! };
    });
  }, [aps, view, bounds, selectedIds, shown, domain, models]);
}

/** The boxes that other writing on the plan must keep off: marks and labels. */
export const takenBy = (placed: readonly PlacedAp[]): LabelBox[] =>
  placed.flatMap(({ at, box }) => [
    { x: at.x - MARK_PX, y: at.y - MARK_PX, width: 2 * MARK_PX, height: 2 * MARK_PX },
    ...(box === null ? [] : [box]),
  ]);

type MarkProps = {
  ap: AccessPoint;
  model: ApModel;
  lines: string;
  x: number;
  y: number;
  boxX: number | null;
  boxY: number;
  boxWidth: number;
  boxHeight: number;
  selected: boolean;
  /** Null where marks are only looked at. */
  onKey: ((event: React.KeyboardEvent, id: string) => void) | null;
};

/** One mark with its label. Plain values for properties: what did not change is not drawn again. */
const ApMark = memo(function ApMark({ ap, model, lines, x, y, boxX, boxY, boxWidth, boxHeight, selected, onKey }: MarkProps) {
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
              fontSize={11.5}
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
        {...(onKey === null
          ? {}
          : {
              'data-ap': ap.id,
              role: 'button',
              tabIndex: 0,
              'aria-label': apTitle(ap, model),
              'aria-pressed': selected,
              onKeyDown: (event: React.KeyboardEvent) => onKey(event, ap.id),
              className: ap.locked ? undefined : 'movable',
            })}
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
  onKey: MarkProps['onKey'];
}) {
  return (
    <g>
      {placed.map(({ ap, model, lines, at, box }) => (
        <ApMark
          key={ap.id}
          ap={ap}
          model={model}
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
