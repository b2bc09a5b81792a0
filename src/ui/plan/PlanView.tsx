'use client';
import { useColorScheme } from '@mui/material/styles';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { moveAccessPoints, remove } from '@/core/design/commands';
import { openingsOf, recordsOn, type Zone } from '@/core/design/design';
import { boundsOf, centreOf, type PolygonM } from '@/core/geometry/polygon';
import { distanceM } from '@/core/geometry/point';
import { measuredSpots } from '@/core/survey/measured';
import { walkerAt } from '@/core/survey/walk';
import { M_PER_FT, formatLength } from '@/core/units/length';
import { Readout } from '../readout/Readout';
import { heardHere, roomAt } from '../readout/heardHere';
import { useDocument } from '../state/documentStore';
import { useViewDesign, type Place } from '../state/selectors';
import { useSession, type View } from '../state/sessionStore';
import { useMap } from '../state/useLens';
import type { Sample } from '@/core/survey/receiver';
import { useWalker } from '../stages/survey/walker';
import { AccessPointsLayer, takenBy, usePlacedAps } from './AccessPointsLayer';
import { ContourNumbers, ContoursLayer } from './ContoursLayer';
import { FieldCanvas } from './FieldCanvas';
import { SightLinesLayer } from './SightLinesLayer';
import { freeSpot, type LabelBox } from './labels';
import { WalkLayer } from './WalkLayer';
import { WallsLayer } from './WallsLayer';
import { ZoomButtons } from './ZoomButtons';
import { usePlanPointer } from './usePlanPointer';
import { fitView, scaleBar, toScreen, zoomView, type Size } from './view';

const outlinePath = (outline: PolygonM) => `${outline.map((p, i) => `${i === 0 ? 'M' : 'L'}${p.xM} ${p.yM}`).join('')}Z`;
const ARROWS: Readonly<Record<string, readonly [number, number]>> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

function fitPlan(outline: PolygonM, size: Size): View {
  return fitView(boundsOf(outline) ?? { westM: 0, northM: 0, eastM: 10, southM: 10 }, size);
}

function useSize(element: React.RefObject<HTMLElement | null>): Size | null {
  const [size, setSize] = useState<Size | null>(null);
  useEffect(() => {
    if (!element.current) return;
    const observer = new ResizeObserver(([entry]) => entry && setSize({ widthPx: entry.contentRect.width, heightPx: entry.contentRect.height }));
    observer.observe(element.current);
    return () => observer.disconnect();
  }, [element]);
  return size;
}

/** The card's place beside a spot: right and below, or flipped where it would leave the plan. */
function besideSpot(x: number, y: number, size: Size, heightPx: number): { left: number; top: number } {
  const widthPx = 300;
  return { left: x + 18 + widthPx > size.widthPx ? Math.max(4, x - 18 - widthPx) : x + 18, top: Math.max(4, Math.min(y + 18, size.heightPx - heightPx - 6)) };
}

/** The plan: wash, contours, walls, names, access points, walks, and what is pinned. */
export function PlanView({ place, samples }: { place: Place; samples: readonly Sample[] }) {
  const box = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const size = useSize(box);
  const design = useViewDesign();
  const map = useMap((s) => s.map);
  const session = useSession();
  const { mode, systemMode } = useColorScheme();
  const scheme = (mode === 'system' ? systemMode : mode) === 'dark' ? 'dark' : 'light';
  const { set } = session;
  // Until somebody moves it, the plan fits its window, whatever size that takes.
  const view = useMemo(() => session.view ?? (size === null || size.widthPx < 10 ? null : fitPlan(place.floor.outline, size)), [session.view, size, place.floor.outline]);
  const { rubber, marquee, handlers } = usePlanPointer(view, svg);
  const units = place.project.units;

  // By table, not by design: a moved access point leaves the walls as they are, and they are not drawn again.
  const { walls: wallTable, openings: openingTable, zones: zoneTable } = design;
  const floorId = place.floor.id;
  const walls = useMemo(() => recordsOn(wallTable, floorId), [wallTable, floorId]);
  const openings = useMemo(() => openingsOf({ walls: wallTable, openings: openingTable }, floorId), [wallTable, openingTable, floorId]);
  const rooms = useMemo(() => recordsOn(zoneTable, floorId).filter((zone) => zone.kind === 'room'), [zoneTable, floorId]);
  const selectedIds = session.selection?.ids ?? NO_IDS;

  const walker = useWalker();
  const walk = session.stage === 'survey' && session.walkId !== null ? design.walks[session.walkId] : undefined;
  const spots = useMemo(() => (walk === undefined ? [] : measuredSpots(samples, session.band, session.heardApId, 0)), [walk, samples, session.band, session.heardApId]);
  const surveying = session.stage === 'survey' && samples.length > 0;
  const readoutSamples = surveying ? samples : NO_SAMPLES;

  const dragging = session.preview?.kind === 'drag';
  const hover = session.hover !== null && !dragging && session.pinned === null && session.tool === 'select' ? session.hover : null;
  const spotShown = session.pinned ?? hover;
  const lines = useMemo(
    () => (spotShown === null ? [] : heardHere(design, place, session.band, session.heardApId, spotShown, session.ignoreBelowDbm, readoutSamples, session.reachM)),
    [design, place, session.band, session.heardApId, spotShown, session.ignoreBelowDbm, readoutSamples, session.reachM],
  );

  const placed = usePlacedAps(place.aps, view, size, selectedIds, session.stage === 'building');
  const taken = useMemo(() => takenBy(placed), [placed]);
  const names = useMemo(() => (view === null || view.pxPerM <= 4 ? [] : roomNames(rooms, view, taken)), [rooms, view, taken]);
  const takenWithNames = useMemo(() => [...taken, ...names.map(({ at, room }) => ({ x: at.x - room.name.length * 3.2, y: at.y - 8, width: room.name.length * 6.4, height: 16 }))], [taken, names]);
  const { run } = useDocument.getState();
  const keyOnAp = (event: React.KeyboardEvent, id: string) => {
    const arrow = ARROWS[event.key];
    const ids = selectedIds.includes(id) ? selectedIds : [id];
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      set({ selection: { table: 'accessPoints', ids: event.shiftKey ? [...selectedIds.filter((other) => other !== id), id] : [id] } });
    } else if (arrow !== undefined && session.stage === 'design') {
      event.preventDefault();
      const step = event.shiftKey ? 1 : 0.1;
      run(`Move ${design.accessPoints[id]?.name ?? 'access point'}`, moveAccessPoints(useDocument.getState().design, ids, arrow[0] * step, arrow[1] * step));
    } else if ((event.key === 'Delete' || event.key === 'Backspace') && session.stage === 'design') {
      event.preventDefault();
      run(ids.length > 1 ? `Delete ${ids.length} access points` : `Delete ${design.accessPoints[id]?.name ?? ''}`, remove(useDocument.getState().design, 'accessPoints', ids));
      set({ selection: null });
    }
  };
  // One function for all marks, so that a mark is drawn again only when it changed itself.
  const newestKeyOnAp = useRef(keyOnAp);
  useEffect(() => {
    newestKeyOnAp.current = keyOnAp;
  });
  const onApKey = useCallback((event: React.KeyboardEvent, id: string) => newestKeyOnAp.current(event, id), []);
  const pickWall = useCallback((id: string) => set({ selection: { table: 'walls', ids: [id] } }), [set]);
  const keyOnPinned = (event: React.KeyboardEvent) => {
    const arrow = ARROWS[event.key];
    if (arrow === undefined || session.pinned === null) return;
    event.preventDefault();
    const step = event.shiftKey ? 1 : 0.1;
    set({ pinned: { xM: session.pinned.xM + arrow[0] * step, yM: session.pinned.yM + arrow[1] * step } });
  };
  const keyOnPlan = (event: React.KeyboardEvent) => {
    if (event.target !== svg.current || view === null || size === null) return;
    const arrow = ARROWS[event.key];
    if (arrow !== undefined) set({ view: { ...view, leftM: view.leftM + (arrow[0] * 40) / view.pxPerM, topM: view.topM + (arrow[1] * 40) / view.pxPerM } });
    else if (event.key === '+' || event.key === '=') set({ view: zoomView(view, 1.25, size.widthPx / 2, size.heightPx / 2) });
    else if (event.key === '-') set({ view: zoomView(view, 0.8, size.widthPx / 2, size.heightPx / 2) });
    else return;
    event.preventDefault();
  };

  const bar = view === null ? null : scaleBar(view.pxPerM, units === 'us' ? M_PER_FT : 1);
  const spotPx = view !== null && spotShown !== null ? toScreen(view, spotShown) : null;
  const showMap = map !== null && session.stage !== 'building' && map.scene.grid.cols > 0;
  return (
    <div className="plan" ref={box}>
      {view !== null && size !== null && <FieldCanvas map={showMap ? map : null} outline={place.floor.outline} view={view} size={size} ramp={session.ramp} mode={scheme} />}
      <svg ref={svg} {...handlers} onKeyDown={keyOnPlan} tabIndex={0} role="group" aria-label={`Plan of ${place.floor.name}. Arrow keys move the plan, + and − zoom.`} data-testid="plan" style={{ cursor: session.tool === 'select' ? 'default' : 'crosshair' }}>
        {view !== null && size !== null && (
          <>
            <defs>
              <clipPath id="floor-outline">
                <path d={outlinePath(place.floor.outline)} />
              </clipPath>
            </defs>
            <g transform={`scale(${view.pxPerM}) translate(${-view.leftM} ${-view.topM})`}>
              <path d={outlinePath(place.floor.outline)} fill="none" stroke="var(--rule)" strokeWidth={1} vectorEffect="non-scaling-stroke" />
              {showMap && <ContoursLayer map={map} outline={place.floor.outline} pxPerM={view.pxPerM} hatchAll={session.source === 'predicted' || map.lens !== 'signal'} />}
              <WallsLayer walls={walls} openings={openings} selectedIds={selectedIds} focusable={session.stage === 'building'} units={units} onPick={pickWall} />
            </g>
            {showMap && <ContourNumbers map={map} view={view} taken={takenWithNames} />}
            {names.map(({ room, at }) => (
                  <text key={room.id} x={at.x} y={at.y + 4} textAnchor="middle" pointerEvents="none" fontFamily='"Source Serif 4", serif' fontStyle="italic" fontSize={12.5} fill="var(--ink)" stroke="var(--paper)" strokeOpacity={0.75} strokeWidth={3} paintOrder="stroke">
                    {room.name}
                  </text>
            ))}
            {showMap && map.lens === 'serving' && <ServedNames map={map} view={view} taken={takenWithNames} />}
            {walk && <WalkLayer walk={walk} spots={spots} walker={walker.walkId === walk.id ? walkerAt(walk.legs, walker.clockMs) : null} view={view} ramp={session.ramp} mode={scheme} />}
            <AccessPointsLayer placed={placed} selectedIds={selectedIds} onKey={onApKey} />
            {session.stage === 'building' && session.selection?.table === 'walls' && <WallEnds place={place} view={view} id={selectedIds[0]} />}
            {session.pinned !== null && <SightLinesLayer at={session.pinned} lines={lines} view={view} onKey={keyOnPinned} />}
            {rubber && <RubberLine rubber={rubber} view={view} label={formatLength(distanceM(rubber.fromM, rubber.toM), units)} />}
            {marquee && <Marquee marquee={marquee} view={view} />}
            {bar && (
              <g transform={`translate(16 ${size.heightPx - 14})`} aria-hidden="true">
                <path d={`M0 -6V0H${bar.px}V-6M${bar.px / 2} -4V0`} fill="none" stroke="var(--ink)" strokeWidth={1.3} />
                <text className="mono" x={bar.px + 7} y={2} fontSize={11} fill="var(--ink)">
                  {bar.units} {units === 'us' ? 'ft' : 'm'}
                </text>
              </g>
            )}
          </>
        )}
      </svg>
      {spotPx !== null && spotShown !== null && size !== null && session.stage !== 'building' && (
        <Readout
          title={roomAt(design, place, spotShown)}
          place={`${formatCoordinate(spotShown.xM, units)}, ${formatCoordinate(spotShown.yM, units)} ${units === 'us' ? 'ft' : 'm'}`}
          lines={lines}
          pinned={session.pinned !== null}
          measured={surveying}
          ignoreBelowDbm={session.ignoreBelowDbm}
          {...besideSpot(spotPx.x, spotPx.y, size, 74 + Math.min(5, lines.length) * 21 + (session.pinned ? 30 : 0))}
          onClose={() => set({ pinned: null })}
        />
      )}
      {view !== null && size !== null && <ZoomButtons view={view} size={size} />}
      {place.aps.length === 0 && session.stage === 'design' && session.tool === 'select' && (
        <div className="card" style={{ position: 'absolute', left: '50%', top: 16, transform: 'translateX(-50%)', padding: '6px 12px', fontSize: 13 }}>
          No access point on this floor in this variant yet. Choose the tool “AP” and click the plan.
        </div>
      )}
    </div>
  );
}

/** Where a room's name may go when its middle is taken, in px: a little above or below first. */
const ROOM_OFFSETS = [[0, 0], [0, -26], [0, 30], [0, -44], [0, 50], [-46, 0], [46, 0], [-46, -30], [46, -30], [-46, 36], [46, 36], [0, -66], [0, 72], [-70, -50], [70, 50]] as const;
const NO_IDS: readonly string[] = [];
const NO_SAMPLES: readonly Sample[] = [];
const formatCoordinate = (m: number, units: 'metric' | 'us') => (units === 'us' ? (m / M_PER_FT).toFixed(1) : m.toFixed(1));

/** Rooms with the places of their names: in the middle, or beside what is there. */
function roomNames(rooms: readonly Zone[], view: View, taken: readonly LabelBox[]) {
  return rooms.map((room) => ({ room, at: freeSpot(toScreen(view, centreOf(room.polygon)), room.name.length * 6.3, 15, ROOM_OFFSETS, taken) }));
}

/** The handles at the ends of the selected wall. */
function WallEnds({ place, view, id }: { place: Place; view: View; id: string | undefined }) {
  const wall = useViewDesign().walls[id ?? ''];
  if (wall === undefined || wall.floorId !== place.floor.id) return null;
  return (
    <g pointerEvents="none">
      {[{ xM: wall.axM, yM: wall.ayM }, { xM: wall.bxM, yM: wall.byM }].map((end, i) => {
        const p = toScreen(view, end);
        return <circle key={i} cx={p.x} cy={p.y} r={5} fill="var(--panel)" stroke="var(--hand)" strokeWidth={2} />;
      })}
    </g>
  );
}

function RubberLine({ rubber, view, label }: { rubber: NonNullable<ReturnType<typeof usePlanPointer>['rubber']>; view: View; label: string }) {
  const a = toScreen(view, rubber.fromM);
  const b = toScreen(view, rubber.toM);
  return (
    <g pointerEvents="none">
      <line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke="var(--hand)" strokeWidth={2} strokeDasharray={rubber.kind === 'length' ? '5 3' : undefined} />
      <text className="mono" x={(a.x + b.x) / 2} y={(a.y + b.y) / 2 - 7} textAnchor="middle" fill="var(--hand)" stroke="var(--paper)" strokeWidth={3} paintOrder="stroke" data-testid="rubber-length">
        {label}
      </text>
    </g>
  );
}

function Marquee({ marquee, view }: { marquee: NonNullable<ReturnType<typeof usePlanPointer>['marquee']>; view: View }) {
  const a = toScreen(view, marquee.fromM);
  const b = toScreen(view, marquee.toM);
  return <rect x={Math.min(a.x, b.x)} y={Math.min(a.y, b.y)} width={Math.abs(b.x - a.x)} height={Math.abs(b.y - a.y)} fill="var(--hand)" fillOpacity={0.08} stroke="var(--hand)" strokeDasharray="4 3" />;
}

/** The serving access point's name in each area large enough: colour is never the only carrier. */
function ServedNames({ map, view, taken }: { map: NonNullable<ReturnType<typeof useMap.getState>['map']>; view: View; taken: readonly LabelBox[] }) {
  const spots = useMemo(() => {
    const { grid } = map.scene;
    const sums = map.radios.map(() => ({ x: 0, y: 0, n: 0 }));
    map.values.forEach((radio, i) => {
      const sum = sums[radio];
      if (sum === undefined) return;
      sum.x += i % grid.cols;
      sum.y += Math.floor(i / grid.cols);
      sum.n++;
    });
    return sums.map(({ x, y, n }) => (n < 30 ? null : { xM: grid.originXM + (x / n) * grid.cellM, yM: grid.originYM + (y / n) * grid.cellM }));
  }, [map]);
  return (
    <g pointerEvents="none" aria-hidden="true">
      {spots.map((spot, i) => {
        if (spot === null) return null;
        const p = freeSpot(toScreen(view, spot), 44, 16, ROOM_OFFSETS, taken);
        return (
          <text key={i} x={p.x} y={p.y + 5} textAnchor="middle" fontSize={13} fontWeight={600} fill="var(--ink)" stroke="var(--paper)" strokeOpacity={0.6} strokeWidth={3} paintOrder="stroke">
            {map.radios[i]!.ap.name}
          </text>
        );
      })}
    </g>
  );
}
