'use client';
import { useEffect, useMemo } from 'react';
import { create } from 'zustand';
import type { Facts } from '@/core/checks/facts';
import { findingsOf, type Finding } from '@/core/checks/finding';
import { RULES } from '@/core/checks/rules';
import { acceptedOf, checkRuleOf } from '@/core/design/checkCommands';
import { floorsOf, onFloor, type Design } from '@/core/design/design';
import type { Sample } from '@/core/survey/sample';
import { UpperRoomError } from '@/core/errors';
import { browserPool } from '@/engine/browser';
import { factsOf } from '@/engine/facts';
import { useDocument } from '../state/documentStore';
import { useCounted } from '../state/samplesStore';
import { wordsOf } from '../state/notices';
import type { Place } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { fieldCache } from '../state/useLens';

/** The newest facts, of which design and variant they are, and whether newer ones are on their way. */
type FactsState = Readonly<{
  of: Readonly<{ design: Design; variantId: string; samples: readonly Sample[] }> | null;
  facts: Facts | null;
  busy: boolean;
  error: string | null;
}>;
const NOTHING: FactsState = { of: null, facts: null, busy: false, error: null };
const useFacts = create<FactsState>()(() => NOTHING);

/** A finding with its number in the list, and why it was accepted, where it was. */
export type Listed = Finding & Readonly<{ number: number; accepted: string | null }>;

/** Whether the checks are looked at: then they are kept up to date. */
export const useChecking = (): boolean => useSession((s) => s.stage === 'design' && s.evidence === 'findings' && s.evidenceOpen);

/** The newest walk of each floor of a variant: what was measured last. */
const newestWalks = (design: Design, variantId: string): string[] =>
  floorsOf(design).flatMap(({ id }) => {
    const own = onFloor(design, 'walks', id).filter((walk) => walk.variantId === variantId);
    return own.length === 0 ? [] : [own.reduce((newest, walk) => (walk.startedAt > newest.startedAt ? walk : newest)).id];
  });

/** Keeps the facts up to date while the checks are looked at. The building is gone through anew after each edit; what is overtaken is given up. */
export function useFactsOf(place: Place): void {
  // What is only being tried out is not checked: it changes with every frame of a drag.
  const design = useDocument((s) => s.design);
  const checking = useChecking();
  const variantId = place.variant.id;
  const projectId = useDocument((s) => s.projectId);
  const walks = useMemo(() => (checking ? newestWalks(design, variantId) : []), [checking, design, variantId]);
  const { samples } = useCounted(projectId, walks, null);
  useEffect(() => {
    if (!checking) return;
    const { of } = useFacts.getState();
    if (of !== null && of.design === design && of.variantId === variantId && of.samples === samples) return;
    const overtaken = new AbortController();
    useFacts.setState({ busy: true, error: null });
    factsOf(design, variantId, browserPool(), fieldCache(), { signal: overtaken.signal, samples }).then(
      (facts) => !overtaken.signal.aborted && useFacts.setState({ of: { design, variantId, samples }, facts, busy: false }),
      (error: unknown) => {
        if (overtaken.signal.aborted) return;
        if (!(error instanceof UpperRoomError)) console.error(error);
        useFacts.setState({ ...NOTHING, error: wordsOf(error instanceof UpperRoomError ? error : new UpperRoomError('WORKER_FAILED')) });
      },
    );
    return () => overtaken.abort();
  }, [checking, design, variantId, samples]);
}

/** The findings of the variant in view: those to be settled first, then the accepted; null until they are there. */
export function useFindings(place: Place): Readonly<{ listed: readonly Listed[] | null; busy: boolean; error: string | null }> {
  const { facts, of, busy, error } = useFacts();
  const design = useDocument((s) => s.design);
  const variantId = place.variant.id;
  const listed = useMemo(() => {
    if (facts === null || of?.variantId !== variantId) return null;
    const found = findingsOf(RULES, facts, (ruleId) => checkRuleOf(design, ruleId)).map((finding) => ({
      ...finding,
      accepted: acceptedOf(design, variantId, finding.key)?.reason ?? null,
    }));
    return [...found.filter(({ accepted }) => accepted === null), ...found.filter(({ accepted }) => accepted !== null)].map((finding, i) => ({
      ...finding,
      number: i + 1,
    }));
  }, [facts, of, variantId, design]);
  return { listed, busy, error };
}
