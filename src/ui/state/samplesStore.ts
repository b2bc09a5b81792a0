import { useEffect, useMemo } from 'react';
import { create } from 'zustand';
import { UpperRoomError } from '@/core/errors';
import { useShallow } from 'zustand/react/shallow';
import { v7 as uuid } from 'uuid';
import { MOST_IN_BATCH } from '@/contract/http';
import { batchesOf, countedOf, heardUntil, joined, NOTHING_COUNTED, NOTHING_HEARD, withMore, type Counted, type Heard } from '@/core/survey/heard';
import type { Walk } from '@/core/design/design';
import { linkedAddresses } from '@/core/design/surveyCommands';
import type { NamedSamples } from '@/core/formats/samplesCsv';
import type { Sample } from '@/core/survey/sample';
import { api } from './api';
import { useDocument } from './documentStore';
import type { WalkTime } from './types';

/** What was heard, by walk: loaded from the server, with what is on its way appended at once. */
export const useHeardOf = create<{ byWalk: Readonly<Record<string, Heard>> }>()(() => ({ byWalk: {} }));

export const NO_SAMPLES: readonly Sample[] = [];
const ALL_OF_IT: WalkTime = { fromS: null, toS: null };

const setHeard = (walkId: string, heard: Heard): void => useHeardOf.setState({ byWalk: { ...useHeardOf.getState().byWalk, [walkId]: heard } });
export const heardOf = (walkId: string): Heard => useHeardOf.getState().byWalk[walkId] ?? NOTHING_HEARD;

/** Keeps what was heard on a walk here, and sends it. */
export function keepHeard(projectId: string, walkId: string, heard: Heard): void {
  const batches = batchesOf(heard, MOST_IN_BATCH);
  if (batches.length === 0) return;
  setHeard(walkId, withMore(heardOf(walkId), heard));
  for (const { samples, scans, swept } of batches)
    void useDocument
      .getState()
      .dispatch({ kind: 'samples', projectId, walkId, batch: { batchId: uuid(), samples: [...samples], scans: [...scans], swept: [...swept] } });
}

export function dropHeardAfter(walkId: string, afterMs: number): void {
  setHeard(walkId, heardUntil(heardOf(walkId), afterMs));
}

/** Whose the linked addresses are. */
export const useLinked = (): ReadonlyMap<string, string> => useDocument((s) => linkedAddresses(s.design));

/** What counts of a walk, made once while neither its way nor what it heard changes. */
const countedWalks = new WeakMap<Heard, { walk: Walk; linked: ReadonlyMap<string, string>; counted: Counted }>();
export function countedWalk(walk: Walk, heard: Heard, linked: ReadonlyMap<string, string>): Counted {
  const known = countedWalks.get(heard);
  if (
    known !== undefined &&
    known.linked === linked &&
    known.walk.legs === walk.legs &&
    known.walk.leftOut === walk.leftOut &&
    known.walk.receiver === walk.receiver
  )
    return known.counted;
  const counted = countedOf(walk, heard, linked);
  countedWalks.set(heard, { walk, linked, counted });
  return counted;
}

/** What counts of a walk in a part of its time, in s since it began. */
function within(counted: Counted, { fromS, toS }: WalkTime): Counted {
  if (counted === NOTHING_COUNTED || (fromS === null && toS === null)) return counted;
  const [fromMs, toMs] = [1000 * (fromS ?? 0), 1000 * (toS ?? Infinity)];
  const then = ({ tMs }: { tMs: number }): boolean => tMs >= fromMs && tMs <= toMs;
  return { samples: counted.samples.filter(then), visits: counted.visits.filter(then), looks: counted.looks.filter(then) };
}

/** What counts of some walks that are loaded, walk by walk, each under its name. */
export const samplesByWalk = (walks: readonly Walk[], linked: ReadonlyMap<string, string>, time: WalkTime): NamedSamples[] =>
  walks.map((walk) => ({ walk: walk.name, samples: within(countedWalk(walk, heardOf(walk.id), linked), time).samples }));

/**
 * Keeps what some walks heard loaded, and has what counts of it as one. `liveId` is the walk that this window walks: there the page is ahead of the server.
 * A walk is asked for again when the server says that what it heard changed.
 */
export function useCounted(projectId: string | null, walkIds: readonly string[], liveId: string | null, time: WalkTime | null = null): Counted {
  const asked = useDocument(
    useShallow((s) => walkIds.filter((id) => id !== liveId && id in s.confirmed.walks).map((id) => `${s.samplesVersion[id] ?? 0} ${id}`)),
  );
  useEffect(() => {
    if (projectId === null) return;
    let current = true;
    for (const id of asked.map((one) => one.slice(one.indexOf(' ') + 1)))
      api.getHeard(projectId, id).then(
        (heard) => current && setHeard(id, heard),
        (error: unknown) => {
          if (!(error instanceof UpperRoomError)) throw error;
          if (current) useDocument.getState().setNotice({ code: error.code });
        },
      );
    return () => void (current = false);
  }, [projectId, asked]);
  const own = useHeardOf(useShallow((s) => walkIds.map((id) => s.byWalk[id] ?? NOTHING_HEARD)));
  const walks = useDocument(useShallow((s) => walkIds.map((id) => s.design.walks[id])));
  const linked = useLinked();
  const { fromS, toS } = time ?? ALL_OF_IT;
  return useMemo(() => {
    const all = joined(walks.flatMap((walk, i) => (walk === undefined ? [] : [countedWalk(walk, own[i] ?? NOTHING_HEARD, linked)])));
    return within(all, { fromS, toS });
  }, [own, walks, linked, fromS, toS]);
}
