import { useEffect, useMemo } from 'react';
import type { Sample } from '@/core/survey/sample';
import type { Compared } from '../compare/compared';
import { useDifferenceOf } from '../compare/useDifference';
import { counterpart, standingChoice } from '../state/heardFrom';
import { useViewDesign, type Place } from '../state/selectors';
import { hasMap, useSessionFields } from '../state/sessionStore';
import { forgetOtherMap, useLens, useOtherMap, type LensInputs } from '../state/useLens';

const MAP_FIELDS = [
  'stage',
  'lens',
  'band',
  'byClient',
  'rank',
  'widthMhz',
  'direction',
  'clientId',
  'heardFrom',
  'ignoreBelowDbm',
  'thresholds',
  'source',
  'reachM',
  'held',
  'onlyKind',
  'preview',
] as const;

const EMPTY: readonly never[] = [];

/** Keeps the map in view, the one it is compared with, and their difference up to date. */
export function useMaps(place: Place, samples: readonly Sample[], compared: Compared | null): void {
  const design = useViewDesign();
  const {
    stage,
    preview,
    heardFrom,
    lens,
    band,
    byClient,
    rank,
    widthMhz,
    direction,
    clientId,
    ignoreBelowDbm,
    thresholds,
    source,
    reachM,
    held,
    onlyKind,
  } = useSessionFields(...MAP_FIELDS);
  const dragging = preview?.kind === 'drag';
  const moving = dragging && preview.changes.length === 1 ? preview.changes[0]! : null;
  const movingApId = moving?.table === 'accessPoints' ? moving.id : null;
  const measuring = source === 'measured' ? samples : EMPTY;
  const settings = useMemo(
    () => ({ lens, band, byClient, rank, widthMhz, direction, clientId, ignoreBelowDbm, thresholds, source, reachM, held, onlyKind }),
    [lens, band, byClient, rank, widthMhz, direction, clientId, ignoreBelowDbm, thresholds, source, reachM, held, onlyKind],
  );
  const shown = hasMap(stage);
  const inputs = useMemo((): LensInputs | null => {
    if (!shown) return null;
    return { design, place, session: { ...settings, heardFrom: standingChoice(heardFrom, design) }, samples: measuring, dragging, movingApId };
  }, [shown, design, place, settings, heardFrom, measuring, dragging, movingApId]);
  useLens(inputs);

  // The same question to the other design.
  const other = compared?.problem === null ? compared : null;
  const otherInputs = useMemo((): LensInputs | null => {
    if (!shown || other === null) return null;
    const session = { ...settings, source: 'predicted' as const, heardFrom: counterpart(heardFrom, design, other.place.around) };
    return { design: other.design, place: other.place, session, samples: EMPTY, dragging: false, movingApId: null };
  }, [shown, other, settings, heardFrom, design]);
  useLens(otherInputs, useOtherMap);
  const comparing = otherInputs !== null;
  useEffect(() => {
    if (!comparing) forgetOtherMap();
  }, [comparing]);
  useDifferenceOf(comparing);
}
