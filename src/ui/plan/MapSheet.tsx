'use client';
import type { Design } from '@/core/design/design';
import { lensOf, tickLabel } from '@/core/fields/lenses';
import { formatArea } from '@/core/units/length';
import type { Place } from '../state/selectors';
import type { TagsShown, View } from '../state/sessionStore';
import type { MapResult } from '../state/useLens';
import { KIND_TINTS, RAMP_STOPS, rampOf, type RampName } from '../theme/tokens';
import { PlanDrawing } from './PlanDrawing';
import type { Size } from './view';

/** The sheet that a map is kept on: landscape, as a page is. */
export const SHEET = { widthPx: 1400, heightPx: 980, headPx: 86, legendPx: 190, marginPx: 24 } as const;

/** The room that the plan has on the sheet. */
export const planSize = (): Size => ({
  widthPx: SHEET.widthPx - SHEET.legendPx - SHEET.marginPx,
  heightPx: SHEET.heightPx - SHEET.headPx - SHEET.marginPx,
});

/** A map on a sheet of its own: title, plan, legend, scale bar. `field` is its wash as a picture of the plan's room. */
export function MapSheet({
  design,
  place,
  map,
  view,
  ramp,
  tags,
  field,
  subtitle,
  hatchAll,
}: {
  design: Design;
  place: Place;
  map: MapResult;
  view: View;
  ramp: RampName;
  tags: TagsShown;
  field: string;
  subtitle: string;
  hatchAll: boolean;
}) {
  const size = planSize();
  return (
    <svg
      xmlns="http://www.w3.org/2000/svg"
      width={SHEET.widthPx}
      height={SHEET.heightPx}
      viewBox={`0 0 ${SHEET.widthPx} ${SHEET.heightPx}`}
      fontFamily="Inter, sans-serif"
    >
      <style />
      <rect width={SHEET.widthPx} height={SHEET.heightPx} fill="var(--paper)" />
      <text x={SHEET.marginPx} y={44} fontFamily='"Source Serif 4", serif' fontWeight={700} fontSize={27} fill="var(--ink)">
        {`${place.project.name}: ${place.floor.name}`}
      </text>
      <text x={SHEET.marginPx} y={72} fontSize={15} fill="var(--ink2)">
        {`${place.variant.name} · ${subtitle}`}
      </text>
      <g transform={`translate(${SHEET.marginPx} ${SHEET.headPx})`}>
        <image href={field} width={size.widthPx} height={size.heightPx} />
        <PlanDrawing design={design} place={place} map={map} view={view} size={size} tags={tags} hatchAll={hatchAll} />
      </g>
      <g transform={`translate(${SHEET.widthPx - SHEET.legendPx + 26} ${SHEET.headPx + 20})`}>
        <Legend map={map} ramp={ramp} place={place} />
      </g>
      <text x={SHEET.widthPx - SHEET.marginPx} y={SHEET.heightPx - 12} textAnchor="end" fontSize={11} fill="var(--ink2)">
        Upper Room
      </text>
    </svg>
  );
}

const RAMP_PX = { width: 22, height: 420 } as const;

/** The ramp with its ticks and the threshold, or the tints with their names and areas. */
function Legend({ map, ramp, place }: { map: MapResult; ramp: RampName; place: Place }) {
  const lens = lensOf(map.lens);
  if (lens.show === 'tints')
    return map.kinds
      .filter(({ areaM2 }) => areaM2 > 0)
      .slice(0, 26)
      .map(({ id, label, tint, areaM2 }, i) => (
        <g key={id} transform={`translate(0 ${i * 32})`}>
          <rect width={18} height={18} fill={`#${KIND_TINTS.light[tint]}`} stroke="var(--ink)" strokeWidth={0.8} />
          <text x={26} y={9} fontSize={12} fontWeight={600} fill="var(--ink)">
            {label}
          </text>
          <text x={26} y={23} fontSize={11} fill="var(--ink2)">
            {formatArea(areaM2, place.project.units)}
          </text>
        </g>
      ));
  const { scale, threshold: rule } = lens;
  const stops = RAMP_STOPS[rampOf(ramp, lens)].light;
  const yOf = (value: number) => ((scale.to - value) / (scale.to - scale.from)) * RAMP_PX.height;
  const ticks: number[] = [];
  for (let value = scale.firstTick; value <= scale.to; value += scale.tickStep) ticks.push(value);
  const mark = rule === null ? null : rule.levelOf(map.threshold);
  return (
    <>
      <defs>
        <linearGradient id="legend-ramp" x1="0" y1="1" x2="0" y2="0">
          {stops.map((stop, i) => (
            <stop key={stop} offset={i / (stops.length - 1)} stopColor={`#${stop}`} />
          ))}
        </linearGradient>
      </defs>
      <rect width={RAMP_PX.width} height={RAMP_PX.height} fill="url(#legend-ramp)" stroke="var(--ink)" strokeWidth={0.8} />
      {ticks.map((value) => (
        <text key={value} x={RAMP_PX.width + 8} y={yOf(value) + 4} fontFamily='"IBM Plex Mono", monospace' fontSize={12} fill="var(--ink)">
          {`${tickLabel(lens, value)} ${lens.unit}`.trim()}
        </text>
      ))}
      {mark !== null && (
        <>
          <line x1={-6} x2={RAMP_PX.width + 4} y1={yOf(mark)} y2={yOf(mark)} stroke="var(--hand)" strokeWidth={2.4} />
          <text y={RAMP_PX.height + 26} fontSize={12} fill="var(--hand)" fontWeight={600}>
            {`threshold ${rule!.flag(map.threshold)} ${lens.unit}`.trim()}
          </text>
          <text y={RAMP_PX.height + 44} fontSize={11.5} fill="var(--ink2)">
            hatched: it is missed
          </text>
        </>
      )}
    </>
  );
}
