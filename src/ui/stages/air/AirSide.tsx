'use client';
import { useRef } from 'react';
import { boundsOf } from '@/core/geometry/polygon';
import { onFloor } from '@/core/design/design';
import { signalsOn } from '@/core/design/surveyCommands';
import { formatLength } from '@/core/units/length';
import { SelectField } from '../../inspector/fields';
import { roomAt } from '../../readout/heardHere';
import { useDocument } from '../../state/documentStore';
import type { Place } from '../../state/selectors';
import { useSignals } from './signals';
import { SIGNAL_WORDS } from '../../state/signalWords';
import { middleOf, putReceiver, scanChannels, setAir, useAir } from './airStore';

const ROUND_M = 1;
const ARROWS: Readonly<Record<string, readonly [number, number]>> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

/** The floor, small, with the receiver's spot: put elsewhere by hand, or where an access point hangs. */
export function AirSide({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const spot = useAir((s) => s.spot);
  const apId = useAir((s) => s.apId);
  const scan = useAir((s) => s.scan);
  const planWide = useAir((s) => s.planWide);
  const box = useRef<SVGSVGElement>(null);
  const bounds = boundsOf(place.floor.outline);
  if (bounds === null) return <p className="empty">This floor has no outline yet: draw one in Building.</p>;
  const { westM, eastM, northM, southM } = bounds;
  const walls = onFloor(design, 'walls', place.floor.id);
  const at = spot ?? middleOf(place.floor.outline);
  const listening = place.aps.find(({ id }) => id === apId);
  const here = listening ?? at;
  const u = (eastM - westM) / 100;
  const spotOf = (event: React.PointerEvent) => {
    const matrix = box.current!.getScreenCTM();
    if (matrix === null) return null;
    const point = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse());
    return { xM: Math.min(eastM, Math.max(westM, point.x)), yM: Math.min(southM, Math.max(northM, point.y)) };
  };
  const channels = scanChannels(scan).length;
  const roundS = Math.max(scan.intervalS, (channels * scan.dwellMs) / 1000);
  const { units } = place.project;
  return (
    <div className="air-side">
      <svg
        ref={box}
        viewBox={`${westM - ROUND_M} ${northM - ROUND_M} ${eastM - westM + 2 * ROUND_M} ${southM - northM + 2 * ROUND_M}`}
        role="group"
        aria-label={`${place.floor.name}: where the receiver stands`}
        onPointerDown={(event) => {
          const to = spotOf(event);
          if (to === null) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          putReceiver({ spot: to, apId: null });
        }}
        onPointerMove={(event) => {
          const to = event.buttons === 1 && event.currentTarget.hasPointerCapture(event.pointerId) ? spotOf(event) : null;
          if (to !== null) putReceiver({ spot: to, apId: null });
        }}
      >
        <polygon
          points={place.floor.outline.map(({ xM, yM }) => `${xM},${yM}`).join(' ')}
          fill="var(--paper)"
          stroke="var(--rule)"
          strokeWidth={u * 0.5}
        />
        {walls.map(({ id, axM, ayM, bxM, byM }) => (
          <line key={id} x1={axM} y1={ayM} x2={bxM} y2={byM} stroke="var(--ink)" strokeOpacity={0.75} strokeWidth={u * 0.6} />
        ))}
        {place.aps.map(({ id, name, xM, yM }) => (
          <path
            key={id}
            transform={`translate(${xM} ${yM})`}
            d={`M0 ${-2 * u}L${2 * u} ${1.6 * u}H${-2 * u}Z`}
            fill="var(--panel)"
            stroke={id === apId ? 'var(--hand)' : 'var(--ink)'}
            strokeWidth={u * 0.7}
          >
            <title>{name}</title>
          </path>
        ))}
        <SignalMarks floorId={place.floor.id} u={u} />
        <g
          role="slider"
          tabIndex={0}
          aria-label="Receiver"
          aria-valuetext={
            listening === undefined ? `at ${formatLength(here.xM, units, 1)}, ${formatLength(here.yM, units, 1)}` : `where ${listening.name} hangs`
          }
          aria-valuenow={Math.round(here.xM)}
          transform={`translate(${here.xM} ${here.yM})`}
          className="receiver-cross"
          onKeyDown={(event) => {
            const arrow = ARROWS[event.key];
            if (arrow === undefined) return;
            event.preventDefault();
            const step = event.shiftKey ? 5 : 1;
            putReceiver({ spot: { xM: here.xM + arrow[0] * step, yM: here.yM + arrow[1] * step }, apId: null });
          }}
        >
          <circle r={7 * u} fill="transparent" />
          <circle r={3 * u} fill="none" stroke="var(--hand)" strokeWidth={u * 0.7} />
          <path d={`M${-5 * u} 0H${5 * u}M0 ${-5 * u}V${5 * u}`} stroke="var(--hand)" strokeWidth={u * 0.7} />
        </g>
      </svg>
      <SelectField
        label="listens from"
        value={listening?.id ?? ''}
        options={[{ value: '', label: 'the cross' }, ...place.aps.map(({ id, name }) => ({ value: id, label: name }))]}
        onCommit={(id) => putReceiver({ spot, apId: id === '' ? null : id })}
      />
      <dl className="facts">
        <dt>stands in</dt>
        <dd>{listening === undefined ? roomAt(design, place, at) : `${listening.name}’s place`}</dd>
        <dt>round</dt>
        <dd className="mono">{channels === 0 ? 'no channels' : `${channels} ch, ${roundS.toFixed(1)} s`}</dd>
      </dl>
      <button type="button" className="quiet-button" aria-pressed={planWide} onClick={() => setAir({ planWide: !planWide })}>
        {planWide ? 'small plan' : 'large plan'}
      </button>
      <p>Click, drag or arrow keys put the receiver elsewhere.</p>
    </div>
  );
}

/** Spots at which a signal was kept, and where it was found to come from, with the region that holds it nine times in ten. */
function SignalMarks({ floorId, u }: { floorId: string; u: number }) {
  const design = useDocument((s) => s.design);
  const projectId = useDocument((s) => s.projectId);
  const tab = useAir((s) => s.tab);
  const { of, found, rings } = useSignals();
  if (tab !== 'what') return null;
  const kept = [...signalsOn(design, floorId).values()].flat();
  const path = (rings?.rings ?? [])
    .map((ring) => `M${Array.from({ length: ring.length / 2 }, (_, i) => `${ring[2 * i]!.toFixed(2)} ${ring[2 * i + 1]!.toFixed(2)}`).join('L')}Z`)
    .join('');
  return (
    <g pointerEvents="none">
      {kept.map(({ id, xM, yM }) => (
        <rect
          key={id}
          x={xM - 0.9 * u}
          y={yM - 0.9 * u}
          width={1.8 * u}
          height={1.8 * u}
          fill="var(--panel)"
          stroke="var(--ink)"
          strokeWidth={u * 0.5}
        />
      ))}
      {found !== null && of?.projectId === projectId && of?.floorId === floorId && (
        <g
          role="img"
          aria-label={`Likeliest place of the ${SIGNAL_WORDS[of.kind].label.toLowerCase()}, and the region that holds it nine times in ten`}
        >
          <path d={path} fill="var(--hand)" fillOpacity={0.2} stroke="var(--hand)" strokeWidth={u * 0.6} fillRule="evenodd" />
          <path
            d={`M${found.xM - 2.4 * u} ${found.yM}h${4.8 * u}M${found.xM} ${found.yM - 2.4 * u}v${4.8 * u}`}
            stroke="var(--hand)"
            strokeWidth={u * 0.9}
          />
        </g>
      )}
    </g>
  );
}
