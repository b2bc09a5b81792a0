'use client';
import { useId, useMemo } from 'react';
import { domainOf, materialsOf, onFloor, openingsOf, type Design } from '@/core/design/design';
import { lensOf } from '@/core/fields/lenses';
import type { Place } from '../state/selectors';
import type { TagsShown, View } from '../state/sessionStore';
import type { MapResult } from '../state/useLens';
import { AccessPointsLayer, takenBy, usePlacedAps } from './AccessPointsLayer';
import { ContourNumbers, ContoursLayer } from './ContoursLayer';
import { KindNames, RoomNames, roomNames, withRoomNames } from './names';
import { linesOf } from './lines';
import { outlinePath } from './paths';
import { ScaleBar } from './ScaleBar';
import { insideOf, type Size } from './view';
import { WallsLayer } from './WallsLayer';

const NONE: readonly string[] = [];
const nothing = () => undefined;

/**
 * The plan as it is looked at and not touched, over a field that is painted below: contours, walls, names, access points and the scale bar.
 * `hatchAll`: what has no value fails too.
 */
export function PlanDrawing({
  design,
  place,
  map,
  view,
  size,
  tags,
  hatchAll,
}: {
  design: Design;
  place: Place;
  map: MapResult | null;
  view: View;
  size: Size;
  tags: TagsShown;
  hatchAll: boolean;
}) {
  const clipId = useId();
  const { floor, project, aps } = place;
  const walls = useMemo(() => onFloor(design, 'walls', floor.id), [design, floor.id]);
  const openings = useMemo(() => openingsOf(design, floor.id), [design, floor.id]);
  const materials = useMemo(() => materialsOf(design), [design]);
  const inside = useMemo(() => insideOf(floor.outline, view, size), [floor.outline, view, size]);
  const placed = usePlacedAps(aps, view, inside, NONE, tags, domainOf(project));
  const taken = useMemo(() => takenBy(placed), [placed]);
  const names = useMemo(() => {
    const rooms = onFloor(design, 'zones', floor.id).filter(({ kind }) => kind === 'room');
    return view.pxPerM <= 4 ? [] : roomNames(rooms, view, taken, inside);
  }, [design, floor.id, view, taken, inside]);
  const takenWithNames = useMemo(() => withRoomNames(taken, names), [taken, names]);
  const wallLines = useMemo(() => linesOf(walls, view, size), [walls, view, size]);
  const show = map === null ? null : lensOf(map.lens).show;
  return (
    <>
      <defs>
        <clipPath id={clipId}>
          <path d={outlinePath(floor.outline)} />
        </clipPath>
      </defs>
      <g transform={`scale(${view.pxPerM}) translate(${-view.leftM} ${-view.topM})`}>
        <path d={outlinePath(floor.outline)} fill="none" stroke="var(--rule)" strokeWidth={1} vectorEffect="non-scaling-stroke" />
        {map !== null && <ContoursLayer map={map} outline={floor.outline} pxPerM={view.pxPerM} hatchAll={hatchAll} clipId={clipId} />}
        <WallsLayer
          walls={walls}
          openings={openings}
          selectedIds={NONE}
          focusable={false}
          units={project.units}
          materials={materials}
          onPick={nothing}
        />
      </g>
      {map !== null && show === 'wash' && <ContourNumbers map={map} view={view} taken={takenWithNames} lines={wallLines} />}
      <RoomNames names={names} />
      {map !== null && show !== 'wash' && <KindNames map={map} view={view} taken={takenWithNames} bounds={inside} />}
      <AccessPointsLayer placed={placed} selectedIds={NONE} onKey={null} />
      <ScaleBar view={view} units={project.units} heightPx={size.heightPx} />
    </>
  );
}
