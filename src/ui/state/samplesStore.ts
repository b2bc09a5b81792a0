import { useEffect } from 'react';
import { create } from 'zustand';
import { UpperRoomError } from '@/core/errors';
import type { Sample } from '@/core/survey/sample';
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

/** Keeps the samples of a walk loaded. `live` is true in the window that walks it: there the page is ahead of the server. */
export function useWalkSamples(projectId: string | null, walkId: string | null, live: boolean): readonly Sample[] {
  const version = useDocument((s) => (walkId === null ? 0 : (s.samplesVersion[walkId] ?? 0)));
  const exists = useDocument((s) => walkId !== null && walkId in s.confirmed.walks);
  useEffect(() => {
    if (projectId === null || walkId === null || live || !exists) return;
    let current = true;
    api.getSamples(projectId, walkId).then(
      (samples) => current && useSamples.setState({ byWalk: { ...useSamples.getState().byWalk, [walkId]: samples } }),
      (error: unknown) => {
        if (!(error instanceof UpperRoomError)) throw error;
        if (current) useDocument.getState().setNotice({ code: error.code });
      },
    );
    return () => void (current = false);
  }, [projectId, walkId, version, live, exists]);
  return useSamples((s) => (walkId === null ? NO_SAMPLES : (s.byWalk[walkId] ?? NO_SAMPLES)));
}
