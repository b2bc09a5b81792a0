'use client';
import { useScheme } from '../theme/useScheme';
import { useCallback, useId, useMemo, useRef } from 'react';
import { domainOf, clientTypesOf, isToScale, openingsOf, recordsOn, type AccessPoint } from '@/core/design/design';
import { lensOf } from '@/core/fields/lenses';
import type { Counted } from '@/core/survey/heard';
import { measuredSpots } from '@/core/survey/measured';
import { sweptSpots } from '@/core/survey/swept';
import { walkerAt } from '@/core/survey/walk';
import { M_PER_FT } from '@/core/units/length';
import { MAX_LINES, Readout, type Elsewhere } from '../readout/Readout';
import { useSize } from './useSize';
import { heardHere, roomAt } from '../readout/heardHere';
import { lensHere, measuredHere } from '../readout/lensHere';
import { useDocument } from '../state/documentStore';
import { bandsAsked, takesBand, type BandAsked } from '../state/bandsAsked';
import { measuredOf } from '../state/heardFrom';
import { useViewDesign, type Place } from '../state/selectors';
import { LEAST_EXPLAINED_DBM, hasMap, useSessionFields } from '../state/sessionStore';
import { useMap } from '../state/useLens';
import { useMaterials } from '../state/useMaterials';
import type { Sample } from '@/core/survey/sample';
import { useWalker } from '../stages/survey/walker';
import { AccessPointsLayer, takenBy, usePlacedAps } from './AccessPointsLayer';
import { ContourNumbers, ContoursLayer } from './ContoursLayer';
import { FieldCanvas } from './FieldCanvas';
import { useDetail } from './useDetail';
import { usePicture } from './fieldPicture';
import { SightLinesLayer } from './SightLinesLayer';
import { LocatedLayer } from './LocatedLayer';
import { sweptAsked } from '../state/sweptAsked';
import { EmittersLayer } from './EmittersLayer';
import { MarksLayer } from './MarksLayer';
import { ResidualsLayer } from './ResidualsLayer';
import { RouteLayer } from './RouteLayer';
import { WalkLayer } from './WalkLayer';
import { WallsLayer } from './WallsLayer';
import { ZoomButtons } from './ZoomButtons';
import { usePlanKeys } from './usePlanKeys';
import { usePlanPointer } from './usePlanPointer';
import { KeptSpots, withSpot } from './KeptSpots';
import { InPlanBar } from './PlanBar';
import { DrawingCanvas } from './DrawingCanvas';
import { drawingMeant } from '@/core/design/drawingCommands';
import { useFinding } from '../stages/building/finding';
import { ProposalsLayer } from './ProposalsLayer';
import { ReferenceEntry } from './ReferenceEntry';
import { ReferencesLayer } from './ReferencesLayer';
import { AreasLayer } from './AreasLayer';
import { AreaCorners, DrawnLine, GhostWalls, Marquee, PairsLayer, SnapSpot, WallEnds } from './Overlays';
import { TypedLine } from './TypedLine';
import { KindNames, RoomNames, roomNames, withRoomNames } from './names';
import { PaneTitle } from '../compare/Panes';
import { FindingsLayer } from '../checks/FindingsLayer';
import { ProposedLayer } from './ProposedLayer';
import { ScaleBar } from './ScaleBar';
import { fitPlan, insideOf, toScreen, type Size } from './view';
import { linesOf } from './lines';
import { outlinePath } from './paths';

/** About how high the readout is, in px, so that it is placed where it fits. */
function cardHeight(pinned: boolean, all: boolean, count: number): number {
  if (!pinned) return 74 + Math.min(MAX_LINES, count) * 21;
  return 110 + Math.min(250, 24 + (all ? count : Math.min(MAX_LINES, count)) * 27);
}

/** The card's place beside a spot: right and below, or flipped where it would leave the plan. */
function besideSpot(x: number, y: number, size: Size, heightPx: number, wide: boolean): { left: number; top: number } {
  // As the style sheet has it; with what was measured there is a column more.
  const widthPx = wide ? 440 : 350;
  return {
    left: x + 18 + widthPx > size.widthPx ? Math.max(4, x - 18 - widthPx) : x + 18,
    top: Math.max(4, Math.min(y + 18, size.heightPx - heightPx - 6)),
  };
}

const PLAN_FIELDS = [
  'view',
  'selection',
  'stage',
  'walkId',
  'band',
  'byClient',
  'heardFrom',
  'preview',
  'hover',
  'pinned',
  'tool',
  'ignoreBelowDbm',
  'reachM',
  'source',
  'ramp',
  'lens',
  'rank',
  'widthMhz',
  'direction',
  'clientId',
  'countEmitters',
  'sweptChannel',
  'signalKind',
  'tags',
  'explainedApId',
  'readoutAll',
  'kept',
  'pairs',
] as const;

/** The plan: wash, contours, walls, names, access points, walks, and what is pinned. `title`: what it shows while it is compared. */
export function PlanView({ place, heard: { samples, looks }, title }: { place: Place; heard: Counted; title: string | null }) {
  const box = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const size = useSize(box);
  const design = useViewDesign();
  const map = useMap((s) => s.map);
  const session = useSessionFields(...PLAN_FIELDS);
  const scheme = useScheme();
  const { set } = session;
  const clipId = useId();
  // Until somebody moves it, the plan fits its window; without a scale beside it, as if there were one, so that it stays where it is.
  const unscaled = !hasMap(session.stage);
  const view = useMemo(() => {
    if (session.view !== null || size === null || size.widthPx < 10) return session.view;
    return fitPlan(place.floor.outline, { ...size, widthPx: size.widthPx - (unscaled ? SCALE_PX : 0) });
  }, [session.view, size, place.floor.outline, unscaled]);
  const { line, snapped, marquee, handlers, put, cancel } = usePlanPointer(view, svg, size);
  const units = place.project.units;

  // By table, not by design: a moved access point leaves the walls as they are, and they are not drawn again.
  const { walls: wallTable, openings: openingTable, zones: zoneTable, slabOpenings: slabTable, floors } = design;
  const floorId = place.floor.id;
  const walls = useMemo(() => recordsOn(wallTable, floorId), [wallTable, floorId]);
  const openings = useMemo(() => openingsOf({ walls: wallTable, openings: openingTable }, floorId), [wallTable, openingTable, floorId]);
  const zones = useMemo(() => recordsOn(zoneTable, floorId), [zoneTable, floorId]);
  const slabOpenings = useMemo(() => recordsOn(slabTable, floorId), [slabTable, floorId]);
  const rooms = useMemo(() => zones.filter((zone) => zone.kind === 'room'), [zones]);
  const { drawings: drawingTable } = design;
  const drawings = useMemo(() => recordsOn(drawingTable, floorId).filter((drawing) => !drawing.hidden), [drawingTable, floorId]);
  const projectId = useDocument((s) => s.projectId);
  const { of: materials } = useMaterials();
  const toScale = isToScale(design, floorId);
  const { floor: ownFloor } = place;
  const elsewhere = useCallback(
    ({ floorId: id }: AccessPoint): Elsewhere | null => {
      const floor = id === ownFloor.id ? undefined : floors[id];
      return floor === undefined ? null : { above: floor.elevationM > ownFloor.elevationM, floor: floor.name };
    },
    [floors, ownFloor],
  );
  const selectedIds = session.selection?.ids ?? NO_IDS;
  const measured = line === null ? undefined : drawingMeant(drawings, selectedIds, { a: line.fromM, b: line.toM });

  const finding = useFinding((s) => s.of);
  const proposed = recordsOn(drawingTable, floorId).find(({ id }) => id === finding?.drawingId) ?? null;

  const walker = useWalker();
  const walk = session.stage === 'survey' && session.walkId !== null ? design.walks[session.walkId] : undefined;
  const spots = useMemo(
    () => (walk === undefined ? [] : measuredSpots(samples, session.band, measuredOf(session.heardFrom, design, place.around, session.band), 0)),
    [walk, samples, session.band, session.heardFrom, design, place.around],
  );
  const { sweptChannel, signalKind } = session;
  const sweptHere = useMemo(() => {
    const asked = sweptAsked({ lens: session.lens, band: session.band, sweptChannel, signalKind }, looks);
    return asked === null ? null : sweptSpots(looks, session.band, asked);
  }, [session.lens, session.band, sweptChannel, signalKind, looks]);
  const surveying = session.stage === 'survey' && samples.length + looks.length > 0;
  const readoutSamples = surveying ? samples : NO_SAMPLES;

  const dragging = session.preview?.kind === 'drag';
  const hover = session.hover !== null && !dragging && session.pinned === null && session.tool === 'select' ? session.hover : null;
  const spotShown = session.pinned ?? hover;
  // Whoever pins a spot may ask about every radio, however weak.
  const listFromDbm = session.pinned === null ? session.ignoreBelowDbm : LEAST_EXPLAINED_DBM;
  const { lens, band, byClient, source, heardFrom, ignoreBelowDbm, rank, widthMhz, direction, clientId, reachM, countEmitters } = session;
  const lines = useMemo(
    () =>
      spotShown === null
        ? []
        : heardHere(
            design,
            place,
            spotShown,
            { band, byClient, source, heardFrom, clientId, ignoreBelowDbm },
            { samples: readoutSamples, reachM, listFromDbm },
          ),
    [design, place, band, byClient, source, heardFrom, clientId, spotShown, ignoreBelowDbm, readoutSamples, reachM, listFromDbm],
  );

  const inside = useMemo(
    () => (view === null || size === null ? null : insideOf(place.floor.outline, view, size)),
    [place.floor.outline, view, size],
  );
  const placed = usePlacedAps(place.aps, view, inside, selectedIds, hasMap(session.stage) ? session.tags : 'mark', domainOf(place.project));
  const taken = useMemo(() => takenBy(placed), [placed]);
  const names = useMemo(() => (view === null || view.pxPerM <= 4 ? [] : roomNames(rooms, view, taken, inside)), [rooms, view, taken, inside]);
  const takenWithNames = useMemo(() => withRoomNames(taken, names), [taken, names]);
  const wallLines = useMemo(() => (view === null || size === null ? NO_LINES : linesOf(walls, view, size)), [walls, view, size]);
  const pickMark = useCallback(
    (table: 'walls' | 'openings' | 'zones' | 'slabOpenings', id: string) => set({ selection: { table, ids: [id] } }),
    [set],
  );
  // One that is selected alone is what the engineer asks about; else the row that was opened, else the strongest.
  const only = session.selection?.table === 'accessPoints' && selectedIds.length === 1 ? selectedIds[0]! : null;
  const explainedId = session.explainedApId ?? only;
  const { onApKey, onPinnedKey, onPlanKey } = usePlanKeys(view, size, svg);
  const spotPx = view !== null && spotShown !== null ? toScreen(view, spotShown) : null;
  const showMap = map !== null && hasMap(session.stage) && map.scene.grid.cols > 0;
  const seen = useDetail(showMap ? map : null, place.floor.outline, view, size);
  const picture = usePicture(seen, session.ramp, scheme);

  const measuredNote =
    surveying && map !== null && spotShown !== null && map.measured ? measuredHere({ ...map, rank: map.question.rank }, spotShown) : null;
  const bandHere = takesBand(session) ? lines[0]?.channel.band : undefined;
  const lensNote = useMemo(
    () =>
      spotShown === null || lensOf(lens).measuredOnly
        ? ''
        : lensHere(design, place, spotShown, {
            lens,
            band,
            byClient,
            source,
            heardFrom,
            ignoreBelowDbm,
            rank,
            widthMhz,
            direction,
            clientId,
            countEmitters,
          }),
    [design, place, spotShown, lens, band, byClient, source, heardFrom, ignoreBelowDbm, rank, widthMhz, direction, clientId, countEmitters],
  );
  const note = [bandHere === undefined ? '' : `${clientTypesOf(design)(clientId).name} takes ${bandHere} GHz here`, measuredNote ?? lensNote]
    .filter((words) => words !== '')
    .join(' · ');
  return (
    <div className="plan" ref={box}>
      {view !== null && size !== null && <FieldCanvas picture={picture} outline={place.floor.outline} view={view} size={size} mode={scheme} />}
      {view !== null &&
        size !== null &&
        drawings.map((drawing) => (
          <DrawingCanvas key={drawing.id} projectId={projectId!} drawing={drawing} view={view} size={size} night={scheme === 'dark'} />
        ))}
      <svg
        ref={svg}
        {...handlers}
        onKeyDown={onPlanKey}
        tabIndex={0}
        role="group"
        aria-label={`Plan of ${place.floor.name}. Arrow keys move the plan, + and − zoom.`}
        data-testid="plan"
        className={session.tool === 'select' ? undefined : 'aiming'}
      >
        {view !== null && size !== null && (
          <>
            <defs>
              <clipPath id={clipId}>
                <path d={outlinePath(place.floor.outline)} />
              </clipPath>
            </defs>
            <g transform={`scale(${view.pxPerM}) translate(${-view.leftM} ${-view.topM})`}>
              <path d={outlinePath(place.floor.outline)} fill="none" stroke="var(--rule)" strokeWidth={1} vectorEffect="non-scaling-stroke" />
              {seen !== null && (
                <ContoursLayer map={seen} outline={place.floor.outline} pxPerM={view.pxPerM} clipId={clipId} hatchAll={!seen.measured} />
              )}
              {!hasMap(session.stage) && <AreasLayer zones={zones} slabOpenings={slabOpenings} selectedIds={selectedIds} onPick={pickMark} />}
              {session.tool === 'register' && <GhostWalls design={design} floorId={floorId} />}
              <WallsLayer
                walls={walls}
                openings={openings}
                selectedIds={selectedIds}
                focusable={session.stage === 'building'}
                units={units}
                materials={materials}
                onPick={pickMark}
              />
            </g>
            {seen !== null && lensOf(seen.lens).show === 'wash' && <ContourNumbers map={seen} view={view} taken={takenWithNames} lines={wallLines} />}
            <RoomNames names={names} />
            {showMap && lensOf(map.lens).show !== 'wash' && <KindNames map={map} view={view} taken={takenWithNames} bounds={inside} />}
            {session.stage === 'survey' && <LocatedLayer place={place} view={view} />}
            {session.stage === 'survey' && <RouteLayer floorId={floorId} view={view} />}
            {walk && (
              <WalkLayer
                walk={walk}
                spots={sweptHere ?? spots}
                lens={sweptHere === null ? 'signal' : session.lens}
                walker={walker.walkId === walk.id ? walkerAt(walk.legs, walker.clockMs) : null}
                view={view}
                ramp={session.ramp}
                mode={scheme}
                editable={session.stage === 'survey' && session.tool === 'select' && walker.walkId !== walk.id}
              />
            )}
            {session.stage === 'survey' && <ResidualsLayer view={view} />}
            {session.stage === 'survey' && <MarksLayer design={design} floorId={floorId} view={view} />}
            {hasMap(session.stage) && <EmittersLayer design={design} floorId={floorId} view={view} />}
            <AccessPointsLayer placed={placed} selectedIds={selectedIds} onKey={onApKey} />
            {session.stage === 'building' && <AreaCorners design={design} selection={session.selection} view={view} />}
            {(session.tool === 'register' || session.tool === 'lay') && session.pairs?.floorId === floorId && (
              <PairsLayer pairs={session.pairs.pairs} view={view} />
            )}
            {session.stage === 'building' && session.selection?.table === 'walls' && <WallEnds place={place} view={view} id={selectedIds[0]} />}
            {session.pinned !== null && (
              <SightLinesLayer at={session.pinned} lines={lines} explainedId={explainedId} view={view} onKey={onPinnedKey} />
            )}
            {hasMap(session.stage) && <KeptSpots view={view} design={design} place={place} />}
            {session.stage === 'building' &&
              drawings.map((drawing) => <ReferencesLayer key={drawing.id} design={design} drawing={drawing} view={view} units={units} />)}
            {session.tool === 'review' && proposed !== null && <ProposalsLayer drawing={proposed} view={view} />}
            {session.stage === 'design' && <ProposedLayer place={place} view={view} />}
            <FindingsLayer place={place} view={view} size={size} />
            {line && <DrawnLine line={line} view={view} units={units} />}
            {snapped !== null && snapped.mark !== null && <SnapSpot snapped={snapped} view={view} />}
            {marquee && <Marquee marquee={marquee} view={view} />}
            {!toScale && (
              <text
                className="serif"
                x={size.widthPx / 2}
                y={size.heightPx - 14}
                textAnchor="middle"
                fontSize={15}
                fill="var(--ink)"
                stroke="var(--paper)"
                strokeWidth={4}
                paintOrder="stroke"
                pointerEvents="none"
                data-testid="not-to-scale"
              >
                Not to scale
              </text>
            )}
            <ScaleBar view={view} units={units} heightPx={size.heightPx} />
          </>
        )}
      </svg>
      {spotPx !== null && spotShown !== null && size !== null && hasMap(session.stage) && (
        <Readout
          title={roomAt(design, place, spotShown)}
          place={`${formatCoordinate(spotShown.xM, units)}, ${formatCoordinate(spotShown.yM, units)} ${units === 'us' ? 'ft' : 'm'}`}
          lines={lines}
          actions={
            session.pinned === null
              ? null
              : {
                  explainedId,
                  explain: (apId) => set({ explainedApId: apId }),
                  all: session.readoutAll,
                  showAll: (readoutAll) => set({ readoutAll }),
                  keep: () => set({ kept: withSpot(session.kept, floorId, spotShown), pinned: null }),
                  close: () => set({ pinned: null }),
                }
          }
          measured={surveying}
          ignoreBelowDbm={session.ignoreBelowDbm}
          note={note}
          elsewhere={elsewhere}
          {...besideSpot(
            spotPx.x,
            spotPx.y,
            size,
            cardHeight(session.pinned !== null, session.readoutAll, lines.length) + (note === '' ? 0 : 40),
            surveying,
          )}
        />
      )}
      {session.stage === 'building' && line !== null && (
        <InPlanBar>
          {line.done && session.tool === 'reference' && measured !== undefined && (
            <ReferenceEntry line={line} drawing={measured} units={units} onDone={cancel} />
          )}
          {!line.done && !line.dashed && !(line.shape === 'arc' && line.corners?.[1] !== undefined) && (
            <TypedLine line={line} units={units} put={put} />
          )}
        </InPlanBar>
      )}
      {title !== null && <PaneTitle title={`${title}, now`} />}
      {view !== null && size !== null && <ZoomButtons view={view} size={size} />}
      {session.stage === 'design' && session.tool === 'select' && <Empty place={place} asked={session} clientId={clientId} />}
    </div>
  );
}

/** Why the map is empty, and what to do. */
function Empty({ place, asked, clientId }: { place: Place; asked: BandAsked; clientId: string }) {
  const client = clientTypesOf(useViewDesign())(clientId);
  const bands = bandsAsked(asked, client);
  const on = place.aps.some((ap) => ap.radios.some((radio) => radio.on && bands.includes(radio.band)));
  const deaf = bands.length === 0;
  if (on) return null;
  const which = takesBand(asked) ? bands.join(' or ') : asked.band;
  const words = deaf
    ? `${client.name}: it does not know ${which} GHz. Choose another band, or another client under “for”.`
    : place.aps.length === 0
      ? 'No access point on this floor in this variant yet. Choose the tool “AP” and click the plan.'
      : `No ${which} GHz radio is on here on this floor in this variant. Choose another band, or a model that has it.`;
  return (
    <div className="card toast" role="status">
      {words}
    </div>
  );
}

/** Width of the scale beside the plan, as the style sheet has it. */
const SCALE_PX = 104;

const NO_LINES = linesOf([], { pxPerM: 1, leftM: 0, topM: 0 }, { widthPx: 0, heightPx: 0 });
const NO_IDS: readonly string[] = [];
const NO_SAMPLES: readonly Sample[] = [];
const formatCoordinate = (m: number, units: 'metric' | 'us') => (units === 'us' ? (m / M_PER_FT).toFixed(1) : m.toFixed(1));
