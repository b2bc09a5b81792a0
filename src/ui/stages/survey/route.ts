import { create } from 'zustand';
import { clientTypesOf, onFloor, openingsOf, type Design, type Floor } from '@/core/design/design';
import { UpperRoomError } from '@/core/errors';
import { passableOf } from '@/core/building/wall';
import type { NextPlace } from '@/core/survey/next';
import type { PlannedRoute, WalkGround } from '@/core/survey/route';
import { browserPool } from '@/engine/browser';
import { floorScene } from '@/engine/scene';
import { useDocument } from '../../state/documentStore';
import { wordsOf } from '../../state/notices';
import type { Place } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { useMap, type MapResult } from '../../state/useLens';

/** A suggested walk and the floor that it is for; what it is to see: all that is owed service, or only where the map is less sure than it ought to be. */
type RouteState = Readonly<{
  of: Readonly<{ projectId: string; floorId: string }> | null;
  everyM: number;
  unsureOnly: boolean;
  done: number | null;
  /** Places to walk to next, where they were asked for. */
  places: readonly NextPlace[] | null;
  route: PlannedRoute | null;
  problem: string | null;
}>;
const NOTHING = { of: null, done: null, places: null, route: null, problem: null };
export const useRoute = create<RouteState>()(() => ({ ...NOTHING, everyM: 5, unsureOnly: false }));

let asking: AbortController | null = null;

/** Takes the route off the plan, and gives up what is being worked out. */
export function forgetRoute(): void {
  asking?.abort();
  asking = null;
  useRoute.setState(NOTHING);
}

const groundOf = (design: Design, floor: Floor): WalkGround => ({
  outline: floor.outline,
  holes: onFloor(design, 'slabOpenings', floor.id),
  ...passableOf(onFloor(design, 'walls', floor.id), openingsOf(design, floor.id)),
});

const sceneOfFloor = (design: Design, floor: Floor) => floorScene(design, floor, clientTypesOf(design)(useSession.getState().clientId));

/** The map of how sure what was measured is, where it is the one in view, of a floor. */
export const trustIn = (map: MapResult | null, floor: Floor): MapResult | null =>
  map !== null && map.lens === 'trust' && map.scene.key === sceneOfFloor(useDocument.getState().design, floor).key ? map : null;

/** Where the map is less sure than its threshold, or says nothing. */
const unsureCells = ({ values, threshold, scene }: MapResult): Uint8Array =>
  Uint8Array.from(values, (sd, i) => (scene.mask[i] === 1 && !(sd <= threshold) ? 1 : 0));

/** What is worked out at a time: it ends when another is asked for, or the project is left. */
async function work<T>(
  floor: Floor,
  ask: (how: { signal: AbortSignal; priority: 'long'; onProgress: (done: number) => void }) => Promise<T>,
  keep: (result: T) => Partial<RouteState>,
): Promise<void> {
  asking?.abort();
  const mine = (asking = new AbortController());
  const { projectId } = useDocument.getState();
  if (projectId === null) return;
  useRoute.setState({ ...NOTHING, of: { projectId, floorId: floor.id }, done: 0 });
  try {
    const result = await ask({ signal: mine.signal, priority: 'long', onProgress: (done) => asking === mine && useRoute.setState({ done }) });
    if (asking === mine) useRoute.setState({ done: null, ...keep(result) });
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    if (asking === mine) useRoute.setState({ done: null, problem: error.code === 'CANCELLED' ? null : wordsOf(error) });
  }
}

/** Places to walk to next, on the map of how sure it is. */
export async function suggestPlaces({ floor }: Place, trust: MapResult, from: Readonly<{ xM: number; yM: number }> | null): Promise<void> {
  const { design } = useDocument.getState();
  const { everyM } = useRoute.getState();
  const { grid } = sceneOfFloor(design, floor);
  await work(
    floor,
    (how) => browserPool().call('nextPlaces', { ground: groundOf(design, floor), grid, unsure: unsureCells(trust), everyM, start: from }, how),
    (places) => ({ places }),
  );
}

/** Works out a walk past all that is to be seen on a floor, from where the walker stands. */
export async function suggestRoute({ floor }: Place, from: Readonly<{ xM: number; yM: number }> | null): Promise<void> {
  const { design } = useDocument.getState();
  const { everyM, unsureOnly } = useRoute.getState();
  const scene = sceneOfFloor(design, floor);
  const map = unsureOnly ? trustIn(useMap.getState().map, floor) : null;
  const toSee = map === null ? scene.mask : unsureCells(map);
  await work(
    floor,
    (how) => browserPool().call('route', { ground: groundOf(design, floor), grid: scene.grid, toSee, everyM, start: from }, how),
    (route) => ({ route }),
  );
}

/** The route of a floor of a project, where there is one. */
export const routeFor = ({ of, route }: Pick<RouteState, 'of' | 'route'>, projectId: string | null, floorId: string): PlannedRoute | null =>
  of !== null && of.projectId === projectId && of.floorId === floorId ? route : null;
