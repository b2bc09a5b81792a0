import { create } from 'zustand';
import { v7 as uuid } from 'uuid';
import { UpperRoomError } from '@/core/errors';
import type { PointM } from '@/core/geometry/point';
import { addWalk, edit, remove } from '@/core/design/commands';
import { onFloor, projectOf, type Walk } from '@/core/design/design';
import { BANDS, type Band } from '@/core/radio/band';
import type { Sample } from '@/core/survey/receiver';
import { addTurn, cutAt, endMs, straightsOf, withoutLastTurn } from '@/core/survey/walk';
import { sameValue } from '@/core/design/step';
import { browserPool } from '@/engine/browser';
import { floorScene, poseOf } from '@/engine/scene';
import { appendSamples, dropSamplesAfter, useSamples } from '../../state/samplesStore';
import { placeNow } from '../../state/selectors';
import { useDocument } from '../../state/documentStore';
import { useSession } from '../../state/sessionStore';
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
  bands: readonly Band[];
  channels: number;
};

export const useWalker = create<Walker>()(() => ({
  receiver: 'off',
  walkId: null,
  clockMs: 0,
  paused: false,
  speed: 1,
  bands: ['2.4', '5', '6'],
  channels: 0,
}));

const TICK_MS = 400;
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
export function startWalk(): void {
  const place = placeNow();
  if (place === null) return;
  const { design } = useDocument.getState();
  const count = onFloorWalks(design, place).length + 1;
  const walk: Walk = {
    id: uuid(),
    variantId: place.variant.id,
    floorId: place.floor.id,
    name: `Walk ${count}, ${place.floor.name}`,
    startedAt: new Date().toISOString(),
    finished: false,
    legs: [],
  };
  useDocument.getState().run('Start walk', addWalk(walk));
  useWalker.setState({ walkId: walk.id, clockMs: 0, paused: false });
  useSession.getState().set({ walkId: walk.id, tool: 'walk', source: 'predicted' });
  run();
}

/** Goes on with an unfinished walk after a reload: it stands where its last sample was taken, paused. */
export function continueWalk(walk: Walk): void {
  const samples = useSamples.getState().byWalk[walk.id] ?? [];
  const clockMs = Math.min(endMs(walk.legs), (samples.at(-1)?.tMs ?? 0) + 1);
  const legs = cutAt(walk.legs, clockMs);
  useDocument.getState().run('Continue walk', edit(useDocument.getState().design, 'walks', walk.id, { legs }));
  useWalker.setState({ walkId: walk.id, clockMs: endMs(legs), paused: true });
  useSession.getState().set({ walkId: walk.id, tool: 'walk' });
  run();
}

/** A click along the plan: the next turn. After a pause it begins a new leg where it lies; the jump is a gap. */
export function clickTurn(at: PointM): void {
  const walk = walkNow();
  const { paused, receiver } = useWalker.getState();
  if (walk === null || receiver !== 'connected') {
    useDocument
      .getState()
      .setNotice({ text: receiver === 'connected' ? 'Start a walk first.' : 'The receiver is not connected. Connect it in the panel at the right.' });
    return;
  }
  settle();
  const legs = addTurn(walk.legs, at, paused);
  useDocument.getState().run('Walk: turn', edit(useDocument.getState().design, 'walks', walk.id, { legs }));
  useWalker.setState({ paused: false });
}

/** Stops at once: what was not reached is cut off. */
export function pause(): void {
  const walk = walkNow();
  const { clockMs, paused } = useWalker.getState();
  if (walk === null || paused) return;
  useDocument.getState().run('Pause walk', edit(useDocument.getState().design, 'walks', walk.id, { legs: cutAt(walk.legs, clockMs) }));
  useWalker.setState({ paused: true });
}

/** Goes on from the very spot: the next click belongs to the same leg. */
export const resumeHere = (): void => useWalker.setState({ paused: false });

export function undoLastClick(): void {
  const walk = walkNow();
  if (walk === null || walk.legs.length === 0) return;
  useDocument.getState().run('Walk: undo last click', edit(useDocument.getState().design, 'walks', walk.id, { legs: withoutLastTurn(walk.legs) }));
  settle();
}

export function finishWalk(): void {
  const walk = walkNow();
  if (walk === null) return;
  const { clockMs } = useWalker.getState();
  useDocument
    .getState()
    .run('Finish walk', edit(useDocument.getState().design, 'walks', walk.id, { legs: cutAt(walk.legs, clockMs), finished: true }));
  stopWalker();
  useSession.getState().set({ tool: 'select' });
}

export function deleteWalk(walkId: string): void {
  if (useWalker.getState().walkId === walkId) stopWalker();
  useDocument.getState().run('Delete walk', remove(useDocument.getState().design, 'walks', [walkId]));
  useSession.getState().set({ walkId: null, tool: 'select', source: 'predicted' });
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
  dropSamplesAfter(walk.id, end);
  useWalker.setState({ clockMs: end });
  void dispatch({ kind: 'withdraw', projectId, walkId: walk.id, afterMs: end });
  return true;
}

/** Moves the clock on and has the receiver report what it heard on the way. */
async function tick(): Promise<void> {
  const now = performance.now();
  const elapsedMs = now - lastTick;
  lastTick = now;
  const walk = walkNow();
  const { clockMs, speed, paused, receiver, bands } = useWalker.getState();
  const { projectId, dispatch, setNotice } = useDocument.getState();
  if (walk === null || projectId === null || listening) return;
  if (settle()) return;
  const end = endMs(walk.legs);
  if (paused || receiver !== 'connected' || clockMs >= end) return;
  const toMs = Math.min(end, clockMs + elapsedMs * speed);
  listening = true;
  try {
    const samples = await listen(walk, clockMs, toMs, bands);
    // The way may have been changed while the receiver listened (a click undone, a pause): what was heard on another way is not kept.
    const now = walkNow();
    if (now?.id !== walk.id || useWalker.getState().clockMs !== clockMs || !sameValue(cutAt(now.legs, toMs), cutAt(walk.legs, toMs))) return;
    useWalker.setState({ clockMs: toMs });
    if (samples.length === 0) return;
    appendSamples(walk.id, samples);
    void dispatch({ kind: 'samples', projectId, walkId: walk.id, batch: { batchId: uuid(), samples } });
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    setNotice({ text: error.message });
  } finally {
    listening = false;
  }
}

async function listen(walk: Walk, fromMs: number, toMs: number, bands: readonly Band[]): Promise<Sample[]> {
  const { design } = useDocument.getState();
  const floor = design.floors[walk.floorId];
  const site = onFloor(design, 'sites', walk.floorId)[0];
  if (floor === undefined || site === undefined) throw new UpperRoomError('RECORD_UNKNOWN', { table: 'sites', floorId: walk.floorId });
  const { key, panes, grid, exponent, clientHeightM } = floorScene(design, floor);
  const ssid = (projectOf(design)?.name.split(' ')[0] ?? 'ours')
    .toLowerCase()
    .replace(/[^a-z0-9]/g, '')
    .slice(0, 32);
  const aps = Object.values(design.accessPoints)
    .filter((ap) => ap.floorId === walk.floorId && ap.variantId === walk.variantId)
    .map((ap) => ({
      apId: ap.id,
      ssid,
      modelId: ap.modelId,
      pose: poseOf(ap),
      radios: ap.radios
        .filter((radio) => radio.on)
        .map((radio) => ({ channel: { band: radio.band, primary: radio.channel, widthMhz: radio.widthMhz }, txPowerDbm: radio.txPowerDbm })),
    }));
  const heard: Sample[] = [];
  for (const straight of straightsOf(walk.legs)) {
    if (straight.to.tMs <= fromMs || straight.from.tMs >= toMs) continue;
    const result = await browserPool().call('listen', {
      scene: { key, panes, grid, exponent, clientHeightM },
      site,
      aps,
      bands: BANDS.filter((band) => bands.includes(band)),
      straight,
      fromMs: Math.max(fromMs, straight.from.tMs),
      toMs: Math.min(toMs, straight.to.tMs),
    });
    useWalker.setState({ channels: result.scan.length });
    heard.push(...result.samples);
  }
  return heard;
}
