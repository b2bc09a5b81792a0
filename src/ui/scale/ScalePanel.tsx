'use client';
import { useId, useRef, useState } from 'react';
import { formatArea } from '@/core/units/length';
import { lensOf, meets, tickLabel, type LensId } from '@/core/fields/lenses';
import { signed } from '../state/format';
import { NumberEntry } from '../kit/NumberEntry';
import { useDocument } from '../state/documentStore';
import { useUnits } from '../state/selectors';
import { useSessionFields } from '../state/sessionStore';
import { useMap } from '../state/useLens';
import { useSize } from '../plan/useSize';
import { useScheme } from '../theme/useScheme';
import { KIND_TINTS, RAMP_STOPS, rampOf } from '../theme/tokens';

/** As high as there is room for, so that its text keeps its size. */
const HIGH = { least: 140, most: 330 } as const;
const TOP = 10;
const RAMP_X = 46;
const RAMP_W = 14;

/** The scale of the lens: a ramp with a threshold, or, where it tells kinds apart, their tints. */
export function ScalePanel() {
  const scheme = useScheme();
  const { lens } = useSessionFields('lens');
  return lensOf(lens).threshold === null ? <Kinds scheme={scheme} /> : <Ramp />;
}

/** Ramp, histogram of floor area, and the threshold that can be moved by pointer or arrow keys. */
function Ramp() {
  const map = useMap((s) => s.map);
  const units = useUnits();
  const { lens, thresholds, ramp, set } = useSessionFields('lens', 'thresholds', 'ramp');
  const scheme = useScheme();
  const svg = useRef<SVGSVGElement>(null);
  const room = useRef<HTMLDivElement>(null);
  const size = useSize(room);
  const height = Math.round(Math.min(HIGH.most, Math.max(HIGH.least, size?.heightPx ?? HIGH.most)));
  const gradientId = useId();
  const fieldId = useId();
  /** What the threshold was before it was moved last, to go back to. */
  const [before, setBefore] = useState<{ lens: LensId; value: number } | null>(null);
  const shown = lensOf(lens);
  const { label, unit, scale, show } = shown;
  const rule = shown.threshold!;

  const threshold = thresholds[lens];
  const { least, most } = rule;
  const yOf = (value: number) => TOP + ((scale.to - value) / (scale.to - scale.from)) * (height - 2 * TOP);
  const setThreshold = (value: number) => set({ thresholds: { ...thresholds, [lens]: Math.min(most, Math.max(least, Math.round(value))) } });
  const moveTo = (value: number) => {
    setBefore({ lens, value: threshold });
    setThreshold(value);
  };
  const toValue = (clientY: number) => {
    const box = svg.current!.getBoundingClientRect();
    return scale.to - (((clientY - box.top) * (height / box.height) - TOP) / (height - 2 * TOP)) * (scale.to - scale.from);
  };
  const statistics = map !== null && map.lens === lens ? map.statistics : null;
  const peak = statistics === null ? 1 : Math.max(...statistics.binM2, 1e-9);
  const ticks: number[] = [];
  for (let value = scale.firstTick; value <= scale.to; value += scale.tickStep) ticks.push(value);
  const passes = (value: number) => meets(rule, value, threshold);
  const mark = rule.levelOf(threshold);
  return (
    <div className="scale" data-testid="scale">
      <div className="card ramp" ref={room}>
        <svg
          ref={svg}
          viewBox={`0 0 92 ${height}`}
          onPointerMove={(event) => svg.current!.hasPointerCapture(event.pointerId) && setThreshold(toValue(event.clientY))}
        >
          <defs>
            <linearGradient id={gradientId} x1="0" y1="1" x2="0" y2="0">
              {RAMP_STOPS[rampOf(ramp, shown)][scheme].map((stop, i, all) => (
                <stop key={stop} offset={i / (all.length - 1)} stopColor={`#${stop}`} />
              ))}
            </linearGradient>
            <pattern id={`${gradientId}-h`} patternUnits="userSpaceOnUse" width={4} height={4} patternTransform="rotate(45)">
              <line y2={4} stroke="var(--ink)" strokeWidth={1.2} />
            </pattern>
          </defs>
          <rect x={RAMP_X} y={TOP} width={RAMP_W} height={height - 2 * TOP} fill={`url(#${gradientId})`} stroke="var(--rule)" />
          {statistics !== null &&
            Array.from(statistics.binM2, (m2, bin) => {
              const from = statistics.fromValue + bin * statistics.binWidth;
              const width = (m2 / peak) * (RAMP_X - 6);
              const top = yOf(from + statistics.binWidth);
              const middle = show === 'steps' ? Math.round(from + 0.5) : from;
              return (
                m2 > 0 && (
                  <rect
                    key={bin}
                    x={RAMP_X - 2 - width}
                    y={top + 0.5}
                    width={width}
                    height={Math.max(1, yOf(from) - top - 1)}
                    fill={passes(middle) ? 'var(--ink2)' : `url(#${gradientId}-h)`}
                    fillOpacity={passes(middle) ? 0.6 : 1}
                    stroke={passes(middle) ? 'none' : 'var(--ink2)'}
                    strokeWidth={0.6}
                  />
                )
              );
            })}
          {ticks.map((value) => (
            <g key={value}>
              <line x1={RAMP_X + RAMP_W} x2={RAMP_X + RAMP_W + 3} y1={yOf(value)} y2={yOf(value)} stroke="var(--ink2)" />
              {/* The threshold's flag covers numbers next to it; they would be cut in half. */}
              {Math.abs(yOf(value) - yOf(mark)) > 12 && (
                <text x={RAMP_X + RAMP_W + 5} y={yOf(value) + 3.4} className="tick">
                  {tickLabel(shown, value)}
                </text>
              )}
            </g>
          ))}
          <g
            role="slider"
            tabIndex={0}
            aria-label={`Threshold of ${label}`}
            aria-orientation="vertical"
            aria-valuemin={least}
            aria-valuemax={most}
            aria-valuenow={threshold}
            aria-valuetext={`${signed(threshold)} ${unit}`}
            className="threshold"
            onPointerDown={(event) => {
              // Only the flag moves it: a click elsewhere on the scale changes nothing.
              svg.current!.setPointerCapture(event.pointerId);
              setBefore({ lens, value: threshold });
            }}
            onKeyDown={(event) => {
              const delta = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1, PageUp: 5, PageDown: -5 }[event.key];
              if (delta === undefined) return;
              event.preventDefault();
              // A run of keys is one change.
              if (before === null || before.lens !== lens) setBefore({ lens, value: threshold });
              setThreshold(threshold + delta);
            }}
          >
            <line x1={2} x2={RAMP_X + RAMP_W} y1={yOf(mark)} y2={yOf(mark)} stroke="var(--hand)" strokeWidth={1.5} />
            {/* What is taken hold of is larger than what is seen. */}
            <rect x={RAMP_X + RAMP_W} y={yOf(mark) - 13} width={31} height={26} fill="transparent" />
            <path d={`M${RAMP_X + RAMP_W} ${yOf(mark)}l6 -7h25v14h-25z`} fill="var(--hand)" />
            <text x={RAMP_X + RAMP_W + 8} y={yOf(mark) + 3.6} className="flag">
              {rule.flag(threshold)}
            </text>
          </g>
        </svg>
      </div>
      <div className="card threshold-field">
        <label htmlFor={fieldId}>threshold</label>
        <NumberEntry
          id={fieldId}
          label="Threshold"
          value={threshold}
          unit={unit}
          min={least}
          max={most}
          digits={0}
          onCommit={moveTo}
          onProblem={(words) => words !== null && useDocument.getState().setNotice({ words })}
        />
        {before !== null && before.lens === lens && before.value !== threshold && (
          <button type="button" className="quiet-button" onClick={() => moveTo(before.value)}>
            {`back to ${rule.flag(before.value)}`}
          </button>
        )}
      </div>
      {map !== null && statistics !== null && (
        <div className="card share" role="status" aria-label="Share of area that passes">
          {map.measured && statistics.areaM2 === 0 ? (
            <>
              <div className="mono" data-testid="share">
                –
              </div>
              nothing is measured here yet
            </>
          ) : (
            <>
              <div className="mono" data-testid="share">
                {(map.share * 100).toFixed(1)} %
              </div>
              {map.measured ? 'of the ' : 'of '}
              <span>{formatArea(statistics.areaM2, units)}</span>
              {map.measured && ' measured'}
              <br />
              {rule.words(map.threshold)}
            </>
          )}
          {map.measured && statistics.areaM2 > 0 && (
            <>
              <br />
              <span>{formatArea(statistics.areaM2, units)}</span> of <span>{formatArea(map.wholeM2, units)}</span> measured
            </>
          )}
          {show === 'steps' && !Number.isNaN(map.mean) && `; mean ${map.mean.toFixed(2)} ${unit}`}
        </div>
      )}
    </div>
  );
}

/** Kinds have no order: each tint with its name and area. */
function Kinds({ scheme }: { scheme: 'light' | 'dark' }) {
  const map = useMap((s) => s.map);
  const units = useUnits();
  if (map === null || map.kinds.length === 0) return <div className="scale" />;
  return (
    <div className="scale">
      <div className="card kinds">
        {map.kinds.map((kind) => (
          <div key={kind.id} className="kind">
            <span className="swatch" style={{ background: `#${KIND_TINTS[scheme][kind.tint]}` }} />
            <span>
              {kind.label}
              <br />
              <span className="mono">{formatArea(kind.areaM2, units)}</span>
            </span>
          </div>
        ))}
      </div>
    </div>
  );
}
