import { create } from 'zustand';
import { v7 as uuid } from 'uuid';
import { addTransferTest } from '@/core/design/surveyCommands';
import { UpperRoomError } from '@/core/errors';
import type { PointM } from '@/core/geometry/point';
import { lastSpot } from '@/core/survey/walk';
import { api } from '../../state/api';
import { useDocument } from '../../state/documentStore';
import { wordsOf } from '../../state/notices';
import type { Place } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { useWalker } from './walker';

/** A throughput test under way, and what hindered the last one. */
export const useTransfer = create<{ busy: boolean; problem: string | null }>()(() => ({ busy: false, problem: null }));

/** For another project: what hindered a test in the last one is not said in it. */
export const forgetTransfer = (): void => useTransfer.setState({ busy: false, problem: null });

/** Where a test is made: at the pinned spot, else where the walk under way stands; null for nowhere. */
export function spotOfTest(pinned: PointM | null): PointM | null {
  if (pinned !== null) return pinned;
  const { walkId } = useWalker.getState();
  const walk = walkId === null ? undefined : useDocument.getState().design.walks[walkId];
  return walk === undefined ? null : lastSpot(walk.legs);
}

/** Runs a throughput test with a client of the chosen type and keeps what came out, as one step. */
export async function runTransfer(place: Place, at: PointM, runs: number): Promise<void> {
  const { projectId } = useDocument.getState();
  if (projectId === null) return;
  const [{ setting }, { clientId, set }] = [useWalker.getState(), useSession.getState()];
  useTransfer.setState({ busy: true, problem: null });
  const [floorId, variantId, now] = [place.floor.id, place.variant.id, new Date().toISOString()];
  const [xM, yM] = [at.xM, at.yM].map((m) => Math.round(m * 100) / 100) as [number, number];
  try {
    const receiver = { ...setting, bands: [...setting.bands], channels: [...setting.channels] };
    const answer = await api.transfer(projectId, { floorId, variantId, xM, yM, runs, receiver, clientId, at: now });
    // What came after the project was left is of nobody.
    if (useDocument.getState().projectId !== projectId) return;
    if (answer === null) return useTransfer.setState({ problem: 'Nothing of this variant is heard at the spot: there is nothing to transfer with.' });
    const test = { id: uuid(), variantId, floorId, name: place.variant.name, at: now, xM, yM, ...answer };
    useDocument.getState().run('Throughput test', () => addTransferTest(test));
    set({ evidence: 'transfers', evidenceOpen: true });
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    useTransfer.setState({ problem: wordsOf(error) });
  } finally {
    useTransfer.setState({ busy: false });
  }
}
