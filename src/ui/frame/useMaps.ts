import { useEffect, useMemo } from 'react';
import { NOTHING_COUNTED, type Counted } from '@/core/survey/heard';
import type { Compared } from '../compare/compared';
import { useDifferenceOf } from '../compare/useDifference';
import { counterpart, standingChoice } from '../state/heardFrom';
import { useViewDesign, type Place } from '../state/selectors';
import { hasMap, useSessionFields } from '../state/sessionStore';
import { forgetOtherMap, useLens, useOtherMap, type LensInputs } from '../state/useLens';

/** What of a session a map's values depend on, beside whom it is of. */
const SETTINGS = [
  'lens',
  'band',
  'byClient',
  'rank',
  'widthMhz',
  'direction',
  'clientId',
  'ignoreBelowDbm',
  'thresholds',
  'source',
  'reachM',
  'sweptChannel',
  'signalKind',
  'countEmitters',
  'held',
  'onlyKind',
] as const;

/** Keeps the map in view, the one it is compared with, and their difference up to date. */
export function useMaps(place: Place, heard: Counted, earlier: LensInputs['earlier'], compared: Compared | null): void {
  const design = useViewDesign();
  const { stage, preview, heardFrom } = useSessionFields('stage', 'preview', 'heardFrom');
  // The same object as long as none of them changes.
  const settings = useSessionFields(...SETTINGS);
  const { source } = settings;
  const dragging = preview?.kind === 'drag';
  const moving = dragging && preview.changes.length === 1 ? preview.changes[0]! : null;
  const movingApId = moving?.table === 'accessPoints' ? moving.id : null;
  const measuring = source === 'measured' ? heard : NOTHING_COUNTED;
  const before = source === 'measured' ? earlier : null;
  const shown = hasMap(stage);
  const inputs = useMemo((): LensInputs | null => {
    if (!shown) return null;
    const session = { ...settings, heardFrom: standingChoice(heardFrom, design) };
    return { design, place, session, heard: measuring, earlier: before, dragging, movingApId };
  }, [shown, design, place, settings, heardFrom, measuring, before, dragging, movingApId]);
  useLens(inputs);

  // The same question to the other design.
  const other = compared?.problem === null ? compared : null;
  const otherInputs = useMemo((): LensInputs | null => {
    if (!shown || other === null) return null;
    const session = { ...settings, source: 'predicted' as const, heardFrom: counterpart(heardFrom, design, other.place.around) };
    return { design: other.design, place: other.place, session, heard: NOTHING_COUNTED, earlier: null, dragging: false, movingApId: null };
  }, [shown, other, settings, heardFrom, design]);
  useLens(otherInputs, useOtherMap);
  const comparing = otherInputs !== null;
  useEffect(() => {
    if (!comparing) forgetOtherMap();
  }, [comparing]);
  useDifferenceOf(comparing);
}
