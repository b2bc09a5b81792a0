import { useMemo } from 'react';
import { variantsOf, type Design } from '@/core/design/design';
import { useDocument } from '../state/documentStore';
import { placeNow, placeOf, useViewDesign, type Place } from '../state/selectors';
import { useSession, useSessionFields, type Against } from '../state/sessionStore';

/** What the map is held against: a design, the place in it, and what it is called; or why there is none. */
export type Compared = Readonly<
  { title: string } & ({ problem: null; design: Design; place: Place } | { problem: string; design: null; place: null })
>;

/** What is compared with, if anything is. */
export function useCompared(place: Place): Compared | null {
  const { against, stage } = useSessionFields('against', 'stage');
  const shown = useViewDesign();
  const saved = useDocument((s) => s.design);
  return useMemo(
    () => (against === null || stage !== 'design' ? null : comparedWith(against, place, shown, saved)),
    [against, stage, place, shown, saved],
  );
}

function comparedWith(against: Against, { floor, variant }: Place, shown: Design, saved: Design): Compared {
  const design = against.kind === 'variant' ? shown : against.kind === 'saved' ? saved : against.design;
  const variantId = against.kind === 'variant' ? against.variantId : variant.id;
  const name = design.variants[variantId]?.name;
  const title =
    against.kind === 'variant'
      ? (name ?? 'a variant that is gone')
      : against.kind === 'saved'
        ? `${variant.name}, as saved`
        : `${variant.name}, after “${against.title}”`;
  const none = (problem: string): Compared => ({ title, problem, design: null, place: null });
  if (name === undefined) return none(against.kind === 'variant' ? 'This variant is gone. Choose another.' : 'This variant was not there yet.');
  const place = Object.hasOwn(design.floors, floor.id) ? placeOf(design, floor.id, variantId) : null;
  return place === null ? none('This floor was not there yet.') : { title, problem: null, design, place };
}

/** What there is to compare with: other variants, and the saved design while something is tried out. */
export function comparable(design: Design, place: Place, trying: boolean): Against[] {
  return [
    ...(trying ? [{ kind: 'saved' } as const] : []),
    ...variantsOf(design)
      .filter(({ id }) => id !== place.variant.id)
      .map(({ id }) => ({ kind: 'variant', variantId: id }) as const),
  ];
}

/** Shows another variant. What it is compared with stays, but nothing is compared with itself: then the two change places. */
export function showVariant({ variant }: Place, variantId: string): void {
  const { against, set } = useSession.getState();
  const swapped =
    against?.kind === 'variant' && against.variantId === variantId ? { against: { kind: 'variant', variantId: variant.id } as const } : {};
  set({ variantId, selection: null, sheet: null, preview: null, ...swapped });
}

/** Begins a comparison with what is nearest: what is saved while something is tried out, else another variant. Ends one that is on. */
export function toggleCompare(): void {
  const { against, preview, set } = useSession.getState();
  const place = placeNow();
  if (place === null) return;
  if (against !== null) return set({ against: null });
  const { design, setNotice } = useDocument.getState();
  const first = comparable(design, place, preview?.kind === 'retune').at(0);
  if (first === undefined)
    return setNotice({
      words: 'There is only one variant. Duplicate it, change the copy, and compare the two; or compare with an earlier step in History.',
    });
  set({ against: first, stage: 'design', evidence: 'compare', evidenceOpen: true });
}

/** Compares with the design as it stood after a step. */
export async function compareWithStep(line: { revision: number; title: string }): Promise<void> {
  const { projectId } = useDocument.getState();
  const design = await useDocument.getState().designAt(line);
  // Another project may be open by now.
  if (design === null || useDocument.getState().projectId !== projectId) return;
  useSession.getState().set({
    against: { kind: 'step', revision: line.revision, title: line.title, design },
    stage: 'design',
    tool: 'select',
    evidence: 'compare',
    evidenceOpen: true,
  });
}
