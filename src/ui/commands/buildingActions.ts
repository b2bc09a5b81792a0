import { v7 as uuid } from 'uuid';
import { outlineOf } from '@/core/building/fill';
import { wallLengthM, segmentOf, type Wall } from '@/core/building/wall';
import { addArea } from '@/core/design/areaCommands';
import { between } from '@/core/geometry/point';
import { remove } from '@/core/design/commands';
import { onFloor, type Drawing } from '@/core/design/design';
import { addFloor, duplicateFloor, floorBelow, levelOf, restackFloor } from '@/core/design/floorCommands';
import { connectedWalls, copyWalls, joinWalls, meetWall, offsetWalls, splitWall } from '@/core/design/wallCommands';
import { findIn } from '../stages/building/finding';
import { writeOut } from '../stages/building/bringIn';
import { useDocument } from '../state/documentStore';
import { placeNow } from '../state/selectors';
import { showFloor, useSession } from '../state/sessionStore';
import type { Action } from './action';

const session = () => useSession.getState();
const doc = () => useDocument.getState();
/** The drawing selected, else the topmost that is seen on the floor in view. */
const drawingHere = (): Drawing | undefined => {
  const place = placeNow();
  if (place === null) return undefined;
  const drawings = onFloor(doc().design, 'drawings', place.floor.id);
  return drawings.find(({ id }) => session().selection?.ids.includes(id)) ?? drawings.findLast(({ hidden }) => !hidden);
};
const selectedWalls = (): string[] => {
  const { selection, stage } = session();
  return stage === 'building' && selection?.table === 'walls' ? selection.ids.filter((id) => Object.hasOwn(doc().design.walls, id)) : [];
};
const many = (count: number): string => (count === 1 ? 'wall' : `${count} walls`);

/** Runs a command that makes walls, and selects what it made. */
function drawn(title: string, command: (newId: () => string) => Parameters<ReturnType<typeof doc>['run']>[1]): void {
  const made: string[] = [];
  const done = doc().run(
    title,
    command(() => {
      made.push(uuid());
      return made.at(-1)!;
    }),
  );
  if (done) session().set({ selection: { table: 'walls', ids: made.filter((id) => Object.hasOwn(doc().design.walls, id)) } });
}

/** Draws walls beside the selected ones. */
export function offsetSelected(byM: number): void {
  const ids = selectedWalls();
  drawn(`Draw ${many(ids.length)} beside`, (newId) => (design) => offsetWalls(design, ids, byM, newId));
}

function mirror(axis: 'x' | 'y'): void {
  const ids = selectedWalls();
  const { floorId } = doc().design.walls[ids[0]!]!;
  drawn(`Mirror ${many(ids.length)}`, (newId) => (design) => copyWalls(design, ids, { floorId, dxM: 0, dyM: 0, mirror: axis }, newId));
}

/** A copy beside what was copied can be told from it; on another floor it stands at the same place. */
const PASTE_M = 1;

function paste(): void {
  const { copied } = session();
  const place = placeNow();
  if (copied === null || place === null) return;
  const ids = copied.wallIds.filter((id) => Object.hasOwn(doc().design.walls, id));
  if (ids.length === 0) return doc().setNotice({ words: 'The copied walls are not in the project any more. Copy others.' });
  const byM = copied.floorId === place.floor.id ? PASTE_M : 0;
  drawn(`Paste ${many(ids.length)}`, (newId) => (design) => copyWalls(design, ids, { floorId: place.floor.id, dxM: byM, dyM: byM }, newId));
  session().set({ stage: 'building' });
}

const select = (ids: readonly string[]) => session().set({ selection: { table: 'walls', ids } });
const count =
  (least: number, most = Infinity) =>
  () =>
    selectedWalls().length >= least && selectedWalls().length <= most;

const here = (): string => placeNow()!.floor.id;
const toFloor = (floorId: string) => {
  session().set({ stage: 'building' });
  showFloor(floorId);
};

/** Shelves and counters close no building in. */
const isHigh = ({ topM }: Wall): boolean => topM >= 2;

/** What can be done with floors. */
const FLOOR_ACTIONS: readonly Action[] = [
  {
    id: 'floor-add',
    title: 'Add a floor on top',
    run: () => {
      const id = uuid();
      if (doc().run('Add floor', (design) => addFloor(design, id))) toFloor(id);
    },
  },
  ...([false, true] as const).map((accessPoints): Action => ({
    id: accessPoints ? 'floor-duplicate-aps' : 'floor-duplicate',
    title: accessPoints ? 'Duplicate the floor with its access points' : 'Duplicate the floor',
    run: () => {
      const made: string[] = [];
      const newId = () => made[made.push(uuid()) - 1]!;
      const floorId = here();
      if (doc().run('Duplicate floor', (design) => duplicateFloor(design, floorId, { walls: true, zones: true, accessPoints }, newId)))
        toFloor(made[0]!);
    },
  })),
  ...(['up', 'down'] as const).map((way): Action => ({
    id: `floor-${way}`,
    title: way === 'up' ? 'Put the floor one higher' : 'Put the floor one lower',
    enabled: () => {
      const level = placeNow() === null ? -1 : levelOf(doc().design, here());
      return way === 'up' ? level >= 0 && level < Object.keys(doc().design.floors).length - 1 : level > 0;
    },
    run: () => {
      const floorId = here();
      doc().run(way === 'up' ? 'Floor one higher' : 'Floor one lower', (design) => restackFloor(design, floorId, way));
    },
  })),
  {
    id: 'outline-walls',
    title: 'Take the outline from the outer walls',
    enabled: () => placeNow() !== null && onFloor(doc().design, 'walls', here()).length > 2,
    run: () => {
      const floorId = here();
      doc().run('Outline from the outer walls', (design) =>
        addArea(design, { id: uuid(), floorId, kind: 'outline', polygon: outlineOf(onFloor(design, 'walls', floorId).filter(isHigh)) }),
      );
    },
  },
  { id: 'floor-geojson', title: 'Write the floor as GeoJSON', run: () => writeOut('geojson') },
  { id: 'floor-dxf', title: 'Write the floor as DXF', run: () => writeOut('dxf') },
  {
    id: 'floor-delete',
    title: 'Delete the floor with all that lies on it',
    enabled: () => Object.keys(doc().design.floors).length > 1,
    run: () => {
      const floorId = here();
      const others = Object.keys(doc().design.floors).filter((id) => id !== floorId);
      if (doc().run('Delete floor', (design) => remove(design, 'floors', [floorId]))) toFloor(others[0]!);
    },
  },
];

/** What can be done with walls. */
export const BUILDING_ACTIONS: readonly Action[] = [
  { id: 'tool-wall', title: 'Tool: draw walls', key: 'W', run: () => session().set({ tool: 'wall', stage: 'building' }) },
  { id: 'tool-room', title: 'Tool: draw rooms', key: 'Q', run: () => session().set({ tool: 'room', stage: 'building' }) },
  {
    id: 'tool-opening',
    title: 'Tool: doors, windows and other openings',
    key: 'D',
    run: () => session().set({ tool: 'opening', stage: 'building' }),
  },
  { id: 'tool-area', title: 'Tool: draw areas, zones and slab openings', key: 'Z', run: () => session().set({ tool: 'area', stage: 'building' }) },
  {
    id: 'tool-register',
    title: 'Lay the floor over the one below …',
    enabled: () => {
      const place = placeNow();
      return place !== null && floorBelow(doc().design, place.floor.id) !== null;
    },
    run: () => session().set({ tool: 'register', pairs: null, stage: 'building', selection: null, panelOpen: true }),
  },
  {
    id: 'tool-lay',
    title: 'Lay the drawing over the walls …',
    enabled: () => session().stage === 'building' && session().selection?.table === 'drawings',
    run: () => session().set({ tool: 'lay', pairs: null, panelOpen: true }),
  },
  {
    id: 'find-walls',
    title: 'Find walls in the drawing',
    enabled: () => drawingHere() !== undefined,
    run: () => {
      const drawing = drawingHere();
      if (drawing !== undefined) void findIn(drawing, null);
    },
  },
  ...FLOOR_ACTIONS,
  {
    id: 'tool-reference',
    title: 'Tool: measure a known length of the drawing',
    key: 'M',
    enabled: () => {
      const place = placeNow();
      return place !== null && onFloor(doc().design, 'drawings', place.floor.id).length > 0;
    },
    run: () => session().set({ tool: 'reference', stage: 'building' }),
  },
  {
    id: 'split',
    title: 'Split in the middle',
    enabled: count(1, 1),
    run: () => {
      const [id] = selectedWalls();
      const { a, b } = segmentOf(doc().design.walls[id!]!);
      drawn('Split wall', (newId) => (design) => splitWall(design, id!, session().pinned ?? between(a, b, 0.5), newId()));
    },
  },
  {
    id: 'join',
    title: 'Make one wall of two',
    enabled: count(2, 2),
    run: () => {
      const [id, other] = selectedWalls();
      if (doc().run('Join walls', (design) => joinWalls(design, id!, other!))) select([id!]);
    },
  },
  {
    id: 'meet',
    title: 'Extend or trim the first to the second',
    enabled: count(2, 2),
    run: () => {
      const [id, other] = selectedWalls();
      doc().run('Extend or trim wall', (design) => meetWall(design, id!, other!));
    },
  },
  { id: 'mirror-x', title: 'Mirrored copy, left to right', enabled: count(1), run: () => mirror('x') },
  { id: 'mirror-y', title: 'Mirrored copy, top to bottom', enabled: count(1), run: () => mirror('y') },
  {
    id: 'copy',
    title: 'Copy walls',
    key: 'Ctrl+C',
    // Text that is marked is what is copied.
    enabled: () => selectedWalls().length > 0 && String(getSelection()) === '',
    run: () => {
      const wallIds = selectedWalls();
      session().set({ copied: { floorId: doc().design.walls[wallIds[0]!]!.floorId, wallIds } });
      const lengthM = wallIds.reduce((sum, id) => sum + wallLengthM(doc().design.walls[id]!), 0);
      doc().setNotice({
        words: `Copied ${many(wallIds.length)}, ${lengthM.toFixed(1)} m in all, with openings. Ctrl+V pastes, also on another floor.`,
      });
    },
  },
  { id: 'paste', title: 'Paste walls', key: 'Ctrl+V', enabled: () => session().copied !== null && session().stage === 'building', run: paste },
  {
    id: 'select-material',
    title: 'Select all of this material',
    enabled: count(1),
    run: () => {
      const { walls } = doc().design;
      const first = walls[selectedWalls()[0]!]!;
      select(Object.values(walls).flatMap((wall) => (wall.floorId === first.floorId && wall.materialId === first.materialId ? [wall.id] : [])));
    },
  },
  {
    id: 'select-connected',
    title: 'Select all connected',
    enabled: count(1),
    run: () => select(connectedWalls(doc().design, selectedWalls())),
  },
];
