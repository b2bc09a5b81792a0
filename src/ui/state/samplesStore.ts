import { useEffect, useMemo } from 'react';
import { create } from 'zustand';
import { UpperRoomError } from '@/core/errors';
import { useShallow } from 'zustand/react/shallow';
import { joinedSamples, type Sample } from '@/core/survey/sample';
import { api } from './api';
import { useDocument } from './documentStore';

/** Samples by walk: loaded from the server, with those on their way appended at once. */
export const useSamples = create<{ byWalk: Readonly<Record<string, readonly Sample[]>> }>()(() => ({ byWalk: {} }));

export const NO_SAMPLES: readonly Sample[] = [];

export function appendSamples(walkId: string, samples: readonly Sample[]): void {
  const { byWalk } = useSamples.getState();
  useSamples.setState({ byWalk: { ...byWalk, [walkId]: [...(byWalk[walkId] ?? []), ...samples] } });
}

export function dropSamplesAfter(walkId: string, afterMs: number): void {
  const { byWalk } = useSamples.getState();
  useSamples.setState({ byWalk: { ...byWalk, [walkId]: (byWalk[walkId] ?? []).filter((sample) => sample.tMs <= afterMs) } });
}

/**
 * Keeps the samples of some walks loaded, and has them as one. `liveId` is the walk that this window walks: there the page is ahead of the server.
 * A walk's samples are asked for again when the server says that they changed.
 */
export function useWalkSamples(projectId: string | null, walkIds: readonly string[], liveId: string | null): readonly Sample[] {
  const asked = useDocument(
    useShallow((s) => walkIds.filter((id) => id !== liveId && id in s.confirmed.walks).map((id) => `${s.samplesVersion[id] ?? 0} ${id}`)),
  );
  useEffect(() => {
    if (projectId === null) return;
    let current = true;
    for (const id of asked.map((one) => one.slice(one.indexOf(' ') + 1)))
      api.getSamples(projectId, id).then(
        (samples) => current && useSamples.setState({ byWalk: { ...useSamples.getState().byWalk, [id]: samples } }),
        (error: unknown) => {
          if (!(error instanceof UpperRoomError)) throw error;
          if (current) useDocument.getState().setNotice({ code: error.code });
        },
      );
    return () => void (current = false);
  }, [projectId, asked]);
  const own = useSamples(useShallow((s) => walkIds.map((id) => s.byWalk[id] ?? NO_SAMPLES)));
  return useMemo(() => (own.length === 0 ? NO_SAMPLES : joinedSamples(own)), [own]);
}
