import type { Pair } from '@/core/geometry/similarity';
import { useSession } from '../../state/sessionStore';

const NO_PAIRS: readonly Pair[] = [];

/** The pairs of common points that were clicked on a floor, how to set them anew, and how to end clicking. */
export function usePairs(floorId: string) {
  const pairs = useSession((s) => (s.pairs?.floorId === floorId ? s.pairs.pairs : NO_PAIRS));
  const { set } = useSession.getState();
  return {
    pairs,
    setPairs: (next: readonly Pair[]) => set({ pairs: { floorId, pairs: next } }),
    end: () => set({ pairs: null, tool: 'select' }),
  };
}
