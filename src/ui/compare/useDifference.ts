import { useEffect } from 'react';
import { create } from 'zustand';
import { UpperRoomError } from '@/core/errors';
import { lensOf } from '@/core/fields/lenses';
import { browserPool } from '@/engine/browser';
import type { Result } from '@/engine/protocol';
import { useMap, useOtherMap, type MapResult } from '../state/useLens';

type Difference = Result<'difference'> & Readonly<{ now: MapResult; then: MapResult }>;

/** The newest difference, with the two maps it was made of. */
export const useDifference = create<{ difference: Difference | null }>()(() => ({ difference: null }));

/** Whether two maps can be held against each other cell by cell. */
export function alike(now: MapResult | null, then: MapResult | null): boolean {
  if (now === null || then === null || now.lens !== then.lens || now.band !== then.band || now.byClient !== then.byClient) return false;
  const [a, b] = [now.scene.grid, then.scene.grid];
  return a.cols === b.cols && a.rows === b.rows && a.cellM === b.cellM && a.originXM === b.originXM && a.originYM === b.originYM;
}

const kindNames = ({ kinds }: MapResult): string[] => kinds.map(({ label }) => label);

/** Keeps the difference up to date while two maps are in view; an answer for maps that were overtaken is let go. */
export function useDifferenceOf(on: boolean): void {
  const now = useMap((s) => s.map);
  const then = useOtherMap((s) => s.map);
  const [values, others, mask, threshold] = [now?.values, then?.values, now?.scene.mask, now?.threshold];
  useEffect(() => {
    const [a, b] = [useMap.getState().map, useOtherMap.getState().map];
    if (!on || a === null || b === null || !alike(a, b)) return useDifference.setState({ difference: null });
    const overtaken = new AbortController();
    const params = {
      lens: a.lens,
      now: { values: a.values, kinds: kindNames(a) },
      then: { values: b.values, kinds: kindNames(b) },
      mask: a.scene.mask,
      threshold: a.threshold,
    };
    browserPool()
      .call('difference', params, { priority: 'now', signal: overtaken.signal })
      .then(
        (result) => !overtaken.signal.aborted && useDifference.setState({ difference: { ...result, now: a, then: b } }),
        (error: unknown) => {
          if (!(error instanceof UpperRoomError)) console.error(error);
          if (!overtaken.signal.aborted) useDifference.setState({ difference: null });
        },
      );
    return () => overtaken.abort();
  }, [on, values, others, mask, threshold]);
}

/** The difference at a cell in words: what is better is said as such by its sign and unit, and what one side lacks by its side. */
export function differenceWords({ values, now }: Difference, cell: number): string {
  const { unit, show, threshold } = lensOf(now.lens);
  const value = values[cell];
  if (value === undefined || Number.isNaN(value)) return 'nothing claimed';
  if (threshold === null) return value === 1 ? 'another' : 'the same';
  if (value === Infinity) return 'only now';
  if (value === -Infinity) return 'only then';
  return `${signedChange(value, show === 'steps' ? 0 : 1)} ${unit === 'dBm' ? 'dB' : unit}`.trim();
}

/** A change with its sign, and none for what rounds to nothing. */
export function signedChange(value: number, digits: number): string {
  const text = Math.abs(value).toFixed(digits);
  return Number(text) === 0 ? text : `${value > 0 ? '+' : '−'}${text}`;
}
