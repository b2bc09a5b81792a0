import { lensOf } from '@/core/fields/lenses';
import { create } from 'zustand';
import { v7 as uuid } from 'uuid';
import { UpperRoomError } from '@/core/errors';
import type { PointM } from '@/core/geometry/point';
import { addWalk, edit, remove } from '@/core/design/commands';
import { type Walk } from '@/core/design/design';
import { newWalk } from '@/core/design/kinds/walk';
import { NOTHING_HEARD, withMore, type Heard } from '@/core/survey/heard';
import { DEFAULT_SETTING, type ReceiverSetting } from '@/core/survey/setting';
import { addTurn, clickedAt, standStill, cutAt, endMs, withoutLastTurn } from '@/core/survey/walk';
import { sameValue } from '@/core/design/step';
import { MAX_LISTEN_MS } from '@/contract/http';
import { api } from '../../state/api';
import { isPassing } from '../../state/notices';
import { dropHeardAfter, heardOf, keepHeard } from '../../state/samplesStore';
import { placeNow } from '../../state/selectors';
import { useDocument } from '../../state/documentStore';
import { useSession, type Session } from '../../state/sessionStore';
import { onFloorWalks } from './walks';

export type ReceiverState = 'off' | 'searching' | 'connecting' | 'connected';
export const SPEEDS = [1, 5, 20] as const;

/** The simulated receiver and the walk it is on. The walk itself is in the document; here is only where its clock stands. */
type Walker = {
  receiver: ReceiverState;
  /** The walk under way in this window, and how far its clock is. */
  walkId: string | null;
  clockMs: number;
  paused: boolean;
  /** Walking time against the wall clock: the simulated engineer may hurry, the samples per metre stay. */
  speed: (typeof SPEEDS)[number];
  /** How the next walk listens; one that is under way keeps its own. */
  setting: ReceiverSetting;
  channels: number;
  /** What is left in the receiver's battery, 0 to 1. */
  battery: number;
  /** Whether the site answered when it was last asked. */
  hearing: boolean;
};

export const useWalker = create<Walker>()(() => ({
  receiver: 'off',
  walkId: null,
  clockMs: 0,
  paused: false,
  speed: 1,
  setting: DEFAULT_SETTING,
  channels: 0,
  battery: 1,
  hearing: true,
}));

const TICK_MS = 400;
/** Walking time that a battery lasts, in ms. */
const BATTERY_MS = 4 * 3600_000;
let timer: ReturnType<typeof setInterval> | undefined;
let listening = false;
let lastTick = 0;

const walkNow = (): Walk | null => {
  const { walkId } = useWalker.getState();
  return walkId === null ? null : (useDocument.getState().design.walks[walkId] ?? null);
};

export async function connect(): Promise<void> {
  const phases: ReceiverState[] = ['searching', 'connecting', 'connected'];
  for (const receiver of phases) {
    useWalker.setState({ receiver });
    if (receiver !== 'connected') await new Promise((resolve) => setTimeout(resolve, 500));
  }
}

export function disconnect(): void {
  pause();
  useWalker.setState({ receiver: 'off' });
}

/** Begins a walk on the floor and variant in view. */
export const startWalk = (): void => begin(useWalker.getState().setting);

/** Begins a walk whose clicks alone are kept, with the time by the clock: what was heard comes later from a capture. */
export const walkForCapture = (): void => begin(null);

function begin(receiver: ReceiverSetting | null): void {
  const place = placeNow();
  if (place === null) return;
  const { design } = useDocument.getState();
  const count = onFloorWalks(design, place).length + 1;
  const walk = newWalk({
    id: uuid(),
    variantId: place.variant.id,
    floorId: place.floor.id,
    name: `Walk ${count}, ${place.floor.name}`,
    startedAt: new Date().toISOString(),
    receiver,
  });
  useDocument.getState().run('Start walk', () => addWalk(walk));
  useWalker.setState({ walkId: walk.id, clockMs: 0, paused: false });
  // A walk that has nothing yet hides none that has.
  const { walkId: before, alsoWalkIds, set } = useSession.getState();
  const hasSamples = before !== null && heardOf(before).samples.length > 0;
  set({
    walkId: walk.id,
    alsoWalkIds: hasSamples ? [...alsoWalkIds.filter((id) => id !== before), before] : alsoWalkIds,
    tool: 'walk',
    ...predictedAgain(),
  });
  run();
}

/** Goes on with an unfinished walk after a reload: it stands where its last sample was taken, paused. */
export function continueWalk(walk: Walk): void {
  const { samples } = heardOf(walk.id);
  // Where it stands: at its last sample; of one that is only clicked at its last click.
  const clockMs = walk.receiver === null ? endMs(walk.legs) : Math.min(endMs(walk.legs), (samples.at(-1)?.tMs ?? 0) + 1);
  const legs = cutAt(walk.legs, clockMs);
  useDocument.getState().run('Continue walk', (design) => edit(design, 'walks', walk.id, { legs }));
  useWalker.setState({ walkId: walk.id, clockMs: endMs(legs), paused: true });
  useSession.getState().set({ walkId: walk.id, tool: 'walk' });
  run();
}

/** A click along the plan: the next turn. After a pause it begins a new leg where it lies; the jump is a gap. */
export function clickTurn(at: PointM): void {
  const walk = walkNow();
  const { paused, receiver } = useWalker.getState();
  if (walk !== null && walk.receiver === null) {
    const tMs = Math.max(endMs(walk.legs) + 1, Date.now() - Date.parse(walk.startedAt));
    useDocument.getState().run('Walk: turn', (design) => edit(design, 'walks', walk.id, { legs: clickedAt(walk.legs, at, tMs, paused) }));
    return useWalker.setState({ paused: false, clockMs: tMs });
  }
  if (walk === null || receiver !== 'connected') {
    useDocument.getState().setNotice({
      words: receiver === 'connected' ? 'Start a walk first.' : 'The receiver is not connected. Connect it in the panel at the right.',
    });
    return;
  }
  settle();
  const legs = addTurn(walk.legs, at, paused);
  useDocument.getState().run('Walk: turn', (design) => edit(design, 'walks', walk.id, { legs }));
  useWalker.setState({ paused: false });
}

/** All turns of a suggested route, one after the other: the receiver walks to each. As one step. */
export function walkAlong(turns: readonly PointM[]): void {
  const walk = walkNow();
  if (walk === null || useWalker.getState().receiver !== 'connected' || turns.length === 0) return;
  settle();
  const { paused } = useWalker.getState();
  const legs = turns.reduce((so, at, i) => addTurn(so, at, paused && i === 0), walk.legs);
  useDocument.getState().run('Walk: along the route', (design) => edit(design, 'walks', walk.id, { legs }));
  useWalker.setState({ paused: false });
}

/** A spot check: the walker stands for some seconds where it is, or where it will have come. */
export function standHere(seconds: number): void {
  const walk = walkNow();
  if (walk === null || walk.legs.length === 0) return;
  settle();
  useDocument.getState().run('Walk: stand', (design) => edit(design, 'walks', walk.id, { legs: standStill(walk.legs, seconds) }));
  useWalker.setState({ paused: false });
}

/** Stops at once: what was not reached is cut off. */
export function pause(): void {
  const walk = walkNow();
  const { clockMs, paused } = useWalker.getState();
  if (walk === null || paused) return;
  useDocument.getState().run('Pause walk', (design) => edit(design, 'walks', walk.id, { legs: cutAt(walk.legs, clockMs) }));
  useWalker.setState({ paused: true });
}

/** Goes on from the very spot: the next click belongs to the same leg. */
export const resumeHere = (): void => useWalker.setState({ paused: false });

export function undoLastClick(): void {
  const walk = walkNow();
  if (walk === null || walk.legs.length === 0) return;
  useDocument.getState().run('Walk: undo last click', (design) => edit(design, 'walks', walk.id, { legs: withoutLastTurn(walk.legs) }));
  settle();
}

export function finishWalk(): void {
  const walk = walkNow();
  if (walk === null) return;
  const { clockMs } = useWalker.getState();
  useDocument.getState().run('Finish walk', (design) => edit(design, 'walks', walk.id, { legs: cutAt(walk.legs, clockMs), finished: true }));
  stopWalker();
  useSession.getState().set({ tool: 'select' });
}

/** The map of what is predicted: of a walk that has just begun, or is gone, there is nothing to show. */
function predictedAgain(): Pick<Session, 'source' | 'lens'> {
  const { lens } = useSession.getState();
  return { source: 'predicted', lens: lensOf(lens).measuredOnly ? 'signal' : lens };
}

export function deleteWalk(walkId: string): void {
  if (useWalker.getState().walkId === walkId) stopWalker();
  useDocument.getState().run('Delete walk', (design) => remove(design, 'walks', [walkId]));
  useSession.getState().set({ walkId: null, tool: 'select', ...predictedAgain() });
}

/** Ends the clock; the walk in the document stays as it is. */
export function stopWalker(): void {
  clearInterval(timer);
  timer = undefined;
  useWalker.setState({ walkId: null, paused: false, clockMs: 0 });
}

function run(): void {
  clearInterval(timer);
  lastTick = performance.now();
  timer = setInterval(() => void tick(), TICK_MS);
}

/**
 * When the walk became shorter than its clock (a click was undone), the clock goes back and what was measured beyond is taken back.
 * Done before any further click, so that no sample of an undone way is taken for one of the next. Returns whether it was needed.
 */
function settle(): boolean {
  const walk = walkNow();
  const { projectId, dispatch } = useDocument.getState();
  if (walk === null || projectId === null) return false;
  const end = endMs(walk.legs);
  if (useWalker.getState().clockMs <= end) return false;
  dropHeardAfter(walk.id, end);
  useWalker.setState({ clockMs: end });
  void dispatch({ kind: 'withdraw', projectId, walkId: walk.id, withdrawalId: uuid(), afterMs: end });
  return true;
}

/** Moves the clock on and has the receiver report what it heard on the way. */
async function tick(): Promise<void> {
  const now = performance.now();
  const elapsedMs = now - lastTick;
  lastTick = now;
  const walk = walkNow();
  const { clockMs, speed, paused, receiver, battery } = useWalker.getState();
  const { projectId, setNotice } = useDocument.getState();
  if (walk === null || walk.receiver === null || projectId === null || listening) return;
  if (settle()) return;
  const end = endMs(walk.legs);
  if (paused || receiver !== 'connected' || clockMs >= end) return;
  const toMs = Math.min(end, clockMs + elapsedMs * speed);
  listening = true;
  try {
    const heard = await listen(projectId, walk, clockMs, toMs);
    // The way may have been changed while the receiver listened (a click undone, a pause): what was heard on another way is not kept.
    const now = walkNow();
    if (now?.id !== walk.id || useWalker.getState().clockMs !== clockMs || !sameValue(cutAt(now.legs, toMs), cutAt(walk.legs, toMs))) return;
    const left = Math.max(0, battery - (toMs - clockMs) / BATTERY_MS);
    useWalker.setState({ clockMs: toMs, hearing: true, battery: left });
    keepHeard(projectId, walk.id, heard);
    if (left === 0) {
      disconnect();
      setNotice({ words: 'The receiver’s battery is empty; the walk is paused where it stands. Change the battery, connect, and go on.' });
    }
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    // The clock stands until the site answers: the same stretch is asked again, and nothing of the way is lost.
    if (!isPassing(error.code)) setNotice({ code: error.code, details: error.details });
    else if (useWalker.getState().hearing) setNotice({ code: 'SITE_UNREACHABLE' });
    useWalker.setState({ hearing: false });
  } finally {
    listening = false;
  }
}

/** Asks the receiver, which alone knows the simulated site. A long stretch is asked in parts. */
async function listen(projectId: string, walk: Walk, fromMs: number, toMs: number): Promise<Heard> {
  let heard: Heard = NOTHING_HEARD;
  const { floorId, variantId } = walk;
  const legs = walk.legs.map(({ turns }) => ({ turns: [...turns] }));
  for (let from = fromMs; from < toMs; from += MAX_LISTEN_MS) {
    const answer = await api.listen(projectId, {
      floorId,
      variantId,
      legs,
      receiver: walk.receiver ?? DEFAULT_SETTING,
      fromMs: from,
      toMs: Math.min(toMs, from + MAX_LISTEN_MS),
    });
    useWalker.setState({ channels: answer.channels });
    heard = withMore(heard, answer);
  }
  return heard;
}
