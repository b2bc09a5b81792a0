'use client';
import { lensOf } from '@/core/fields/lenses';
import { Choice } from '../kit/Choice';
import { percent } from '../state/format';
import { useViewDesign, type Place } from '../state/selectors';
import { useSessionFields, type Against } from '../state/sessionStore';
import { useMap, useOtherMap } from '../state/useLens';
import { comparable, type Compared } from './compared';
import { alike, signedChange } from './useDifference';

const keyOf = (against: Against): string =>
  against.kind === 'variant' ? `variant ${against.variantId}` : against.kind === 'saved' ? 'saved' : `step ${against.revision}`;

/** What is compared with what, the one number that sums it up, and the difference on request. */
export function CompareBar({ place, compared, against }: { place: Place; compared: Compared; against: Against }) {
  const { preview, showDifference, set } = useSessionFields('preview', 'showDifference');
  const design = useViewDesign();
  const now = useMap((s) => s.map);
  const then = useOtherMap((s) => s.map);
  const offered = comparable(design, place, preview?.kind === 'retune');
  const all = offered.some((one) => keyOf(one) === keyOf(against)) ? offered : [against, ...offered];
  const labelOf = (one: Against): string =>
    keyOf(one) === keyOf(against) ? compared.title : one.kind === 'variant' ? (design.variants[one.variantId]?.name ?? '') : 'as saved';
  const rule = now === null ? null : lensOf(now.lens).threshold;
  return (
    <div className="comparebar" role="toolbar" aria-label="Compare">
      <span>compared with</span>
      <Choice
        label="Compared with"
        className="serif"
        value={keyOf(against)}
        options={all.map((one) => ({ value: keyOf(one), label: labelOf(one) }))}
        onChoose={(key) => set({ against: all.find((one) => keyOf(one) === key) ?? null })}
      />
      <button type="button" className="quiet-button" aria-pressed={showDifference} onClick={() => set({ showDifference: !showDifference })}>
        {showDifference ? 'hide the difference' : 'show the difference'}
      </button>
      {now !== null && then !== null && alike(now, then) && rule !== null && (
        <span role="status" aria-label="Comparison" className="sum">
          {`${lensOf(now.lens).label} ${rule.words(now.threshold)}: `}
          <span className="mono">{`${percent(then.share)} → ${percent(now.share)} (${signedChange((now.share - then.share) * 100, 1)} points)`}</span>
        </span>
      )}
      <button type="button" className="quiet-button end" onClick={() => set({ against: null })}>
        end the comparison
      </button>
    </div>
  );
}
