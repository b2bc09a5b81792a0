import { useMemo } from 'react';
import {
  accessPointsAround,
  accessPointsOf,
  floorsOf,
  projectOf,
  variantsOf,
  type AccessPoint,
  type Design,
  type Floor,
  type Project,
  type Variant,
} from '@/core/design/design';
import { applyChanges } from '@/core/design/step';
import type { Band } from '@/core/radio/band';
import type { UnitSystem } from '@/core/units/length';
import { useDocument } from './documentStore';
import { useSession, type Session } from './sessionStore';

let newest: Readonly<{ design: Design; preview: Session['preview']; shown: Design }> | null = null;

/** The same for all who ask of the same: what is remembered by design or by table is found again. */
function viewDesign(design: Design, preview: Session['preview']): Design {
  if (preview === null) return design;
  if (newest === null || newest.design !== design || newest.preview !== preview)
    newest = { design, preview, shown: applyChanges(design, preview.changes) };
  return newest.shown;
}

/** The design with what is being tried out (a drag, a retune) on top: what the plan and all numbers show. */
export const useViewDesign = (): Design =>
  viewDesign(
    useDocument((s) => s.design),
    useSession((s) => s.preview),
  );

/** As `useViewDesign`, without what is being dragged: for what stands round the plan, and need not be drawn again with every move of the hand. */
export const useStillDesign = (): Design =>
  viewDesign(
    useDocument((s) => s.design),
    useSession((s) => (s.preview?.kind === 'drag' ? null : s.preview)),
  );

/** The floor, variant and settings in view; ids that are gone fall back to the first there is. */
export type Place = {
  project: Project;
  floor: Floor;
  variant: Variant;
  /** Access points of this floor. */
  aps: readonly AccessPoint[];
  /** Those of the whole building: all that may be heard here. */
  around: readonly AccessPoint[];
};

export function placeOf(design: Design, floorId: string | null, variantId: string | null): Place | null {
  const project = projectOf(design);
  const floor = (floorId !== null ? design.floors[floorId] : undefined) ?? floorsOf(design)[0];
  const variant = (variantId !== null ? design.variants[variantId] : undefined) ?? variantsOf(design).at(-1);
  if (project === undefined || floor === undefined || variant === undefined) return null;
  return {
    project,
    floor,
    variant,
    aps: accessPointsOf(design, floor.id, variant.id),
    around: accessPointsAround(design, floor.id, variant.id),
  };
}

export const usePlace = (): Place | null => usePlaceIn(useViewDesign());

/** As `usePlace`, without what is being dragged. */
export const useStillPlace = (): Place | null => usePlaceIn(useStillDesign());

function usePlaceIn(design: Design): Place | null {
  const floorId = useSession((s) => s.floorId);
  const variantId = useSession((s) => s.variantId);
  return useMemo(() => placeOf(design, floorId, variantId), [design, floorId, variantId]);
}

/** The place as it is now, for commands and pointer handlers. */
export function placeNow(): Place | null {
  const { floorId, variantId } = useSession.getState();
  return placeOf(useDocument.getState().design, floorId, variantId);
}

export const useUnits = (): UnitSystem => useDocument((s) => projectOf(s.design)?.units ?? 'metric');

/** Bands in which any access point of the place has a radio. */
export function bandsOf(aps: readonly AccessPoint[]): Set<Band> {
  return new Set(aps.flatMap((ap) => ap.radios.map((radio) => radio.band)));
}

/** A band's mark: told by shape and text, never by hue alone. */
export const BAND_MARK: Readonly<Record<Band, string>> = { '2.4': '○', '5': '□', '6': '⬡' };
export const bandLabel = (band: Band): string => `${BAND_MARK[band]} ${band} GHz`;
