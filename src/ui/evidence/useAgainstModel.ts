import { useEffect, useState } from 'react';
import { UpperRoomError } from '@/core/errors';
import { BANDS } from '@/core/radio/band';
import type { AgainstModel } from '@/core/survey/againstModel';
import type { Sample } from '@/core/survey/sample';
import { browserPool } from '@/engine/browser';
import { emittersOf, floorScene, sceneOf } from '@/engine/scene';
import { useViewDesign, type Place } from '../state/selectors';

/** Samples come in many batches while somebody walks; they are compared when it is quiet for so long. */
const QUIET_MS = 400;

/** A walk's samples beside the model, by access point and band; null while it is computed for the first time. */
export function useAgainstModel(samples: readonly Sample[], place: Place): ReadonlyMap<string, AgainstModel> | null {
  const design = useViewDesign();
  const [rows, setRows] = useState<ReadonlyMap<string, AgainstModel> | null>(null);
  useEffect(() => {
    const overtaken = new AbortController();
    const timer = setTimeout(() => {
      const radios = emittersOf(design, place.around, BANDS).map(({ of, ...emitter }) => ({ ...emitter, apId: of.id }));
      browserPool()
        .call('againstModel', { scene: sceneOf(floorScene(design, place.floor)), radios, samples }, { signal: overtaken.signal })
        .then(
          (list) => !overtaken.signal.aborted && setRows(new Map(list.map((row) => [`${row.apId}/${row.band}`, row]))),
          (error: unknown) => {
            if (!(error instanceof UpperRoomError && error.code === 'CANCELLED')) console.error(error);
          },
        );
    }, QUIET_MS);
    return () => {
      clearTimeout(timer);
      overtaken.abort();
    };
  }, [samples, design, place]);
  return rows;
}
