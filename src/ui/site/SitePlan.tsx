'use client';
import type { Floor } from '@/core/design/design';
import type { Wall } from '@/core/building/wall';
import { boundsOf } from '@/core/geometry/polygon';
import { SIGNAL_WORDS } from '../state/signalWords';
import type { SiteParameters, Transmitter } from '@/core/survey/site';

/** Room round the floor, in m, and beside it for a name, as a share of the floor's width. */
const ROUND_M = 3;
const NAME_SHARE = 0.15;

/** The floor as it truly is, small: walls, where access points truly hang, neighbours, what is not Wi-Fi, and what nobody drew. */
export function SitePlan({
  floor,
  walls,
  site,
  transmitters,
}: {
  floor: Floor;
  walls: readonly Wall[];
  site: SiteParameters;
  transmitters: readonly Transmitter[];
}) {
  const bounds = boundsOf(floor.outline);
  if (bounds === null) return null;
  const { neighbours, faults = [] } = site;
  const west = Math.min(bounds.westM, ...neighbours.map(({ xM }) => xM)) - ROUND_M;
  const east = Math.max(bounds.eastM, ...neighbours.map(({ xM }) => xM)) + ROUND_M + NAME_SHARE * (bounds.eastM - bounds.westM);
  const north = Math.min(bounds.northM, ...neighbours.map(({ yM }) => yM)) - ROUND_M;
  const south = Math.max(bounds.southM, ...neighbours.map(({ yM }) => yM)) + ROUND_M;
  const absent = new Set(faults.flatMap((fault) => (fault.kind === 'no-wall' ? [fault.wallId] : [])));
  // Sizes in m that look the same on floors of all sizes.
  const u = (east - west) / 120;
  const here = [...new Map(transmitters.map((one) => [one.apId, one])).values()];
  return (
    <svg className="site-plan" viewBox={`${west} ${north} ${east - west} ${south - north}`} role="img" aria-label={`${floor.name} as it truly is`}>
      <polygon points={floor.outline.map(({ xM, yM }) => `${xM},${yM}`).join(' ')} fill="var(--paper)" stroke="var(--ink)" strokeWidth={u * 0.4} />
      {walls.map(({ id, axM, ayM, bxM, byM }) => (
        <line
          key={id}
          x1={axM}
          y1={ayM}
          x2={bxM}
          y2={byM}
          stroke={absent.has(id) ? 'var(--hand)' : 'var(--ink)'}
          strokeWidth={u * 0.35}
          strokeDasharray={absent.has(id) ? `${u} ${u}` : undefined}
        />
      ))}
      {faults.map((fault, i) =>
        fault.kind === 'obstacle' ? (
          <line key={i} x1={fault.axM} y1={fault.ayM} x2={fault.bxM} y2={fault.byM} stroke="var(--hand)" strokeWidth={u * 0.9} />
        ) : null,
      )}
      {here.map(({ apId, ssid, pose: { xM, yM } }) => (
        <g key={apId} transform={`translate(${xM} ${yM})`}>
          <path d={`M0 ${-u}L${u} ${u * 0.8}H${-u}Z`} fill="var(--panel)" stroke="var(--ink)" strokeWidth={u * 0.3} />
          <text x={u * 1.5} y={u * 0.8} fontSize={u * 2.1} fill="var(--ink)">
            {ssid}
          </text>
        </g>
      ))}
      {(site.interferers ?? []).map(({ id, kind, xM, yM }) => (
        <g key={id} transform={`translate(${xM} ${yM})`}>
          <path d={`M${-u} ${-u}L${u} ${u}M${-u} ${u}L${u} ${-u}`} stroke="var(--hand)" strokeWidth={u * 0.4} />
          <text x={u * 1.5} y={u * 0.8} fontSize={u * 2.1} fill="var(--hand)">
            {SIGNAL_WORDS[kind].label}
          </text>
        </g>
      ))}
      {neighbours.map(({ bssid, ssid, xM, yM }) => (
        <g key={bssid} transform={`translate(${xM} ${yM})`}>
          <circle r={u * 0.8} fill="var(--panel)" stroke="var(--ink2)" strokeWidth={u * 0.3} />
          <text x={u * 1.5} y={u * 0.8} fontSize={u * 2.1} fill="var(--ink2)">
            {ssid}
          </text>
        </g>
      ))}
    </svg>
  );
}
