import { create } from 'zustand';
import type { Score } from '@/contract/site';
import { edit } from '@/core/design/commands';
import { UpperRoomError } from '@/core/errors';
import type { Band } from '@/core/radio/band';
import { api } from '../../state/api';
import { useDocument } from '../../state/documentStore';
import { wordsOf } from '../../state/notices';
import type { Place } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';

type Scored = Readonly<{ projectId: string; key: string }>;
/** How a survey compares with the truth, and which survey that is. */
export const useScore = create<Readonly<{ of: Scored | null; busy: boolean; score: Score | null; problem: string | null }>>()(() => ({
  of: null,
  busy: false,
  score: null,
  problem: null,
}));

/** The walks that count now, in one band: what a score is of. */
export const scoredKey = (place: Place, walkIds: readonly string[], band: Band): string =>
  [place.floor.id, place.variant.id, band, ...walkIds].join();

/** Asks for the truth. From then on the walks say that it was looked at. */
export async function askScore(place: Place, walkIds: readonly string[], band: Band): Promise<void> {
  const { projectId, run } = useDocument.getState();
  if (projectId === null || walkIds.length === 0) return;
  const of = { projectId, key: scoredKey(place, walkIds, band) };
  useScore.setState({ of, busy: true, score: null, problem: null });
  const mine = () => useScore.getState().of === of;
  const scoredAt = new Date().toISOString();
  run('Look at the truth', (design) => walkIds.flatMap((id) => edit(design, 'walks', id, { scoredAt })));
  try {
    const { reachM } = useSession.getState();
    const score = await api.score(projectId, { floorId: place.floor.id, variantId: place.variant.id, walkIds: [...walkIds], band, reachM });
    if (mine()) useScore.setState({ busy: false, score });
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    if (mine()) useScore.setState({ busy: false, problem: wordsOf(error) });
  }
}
