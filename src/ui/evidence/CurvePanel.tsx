'use client';
import { useId, useMemo } from 'react';
import { LENSES, lensOf } from '@/core/fields/lenses';
import { useCompared } from '../compare/compared';
import { Choice } from '../kit/Choice';
import type { Place } from '../state/selectors';
import { useSessionFields } from '../state/sessionStore';
import { curveIn, useMap, useOtherMap } from '../state/useLens';
import { CurveChart } from './CurveChart';

/** The share of area that is as good as each level or better: of all where service is owed, or of one zone. */
export function CurvePanel({ place }: { place: Place }) {
  const id = useId();
  const map = useMap((s) => s.map);
  const then = useOtherMap((s) => s.map);
  const compared = useCompared(place);
  const { lens, curveZoneId, set } = useSessionFields('lens', 'curveZoneId');
  const zones = map?.scene.zones ?? [];
  const chosen = zones.some(({ zone }) => zone.id === curveZoneId) ? curveZoneId : null;
  const shares = useMemo(() => (map === null ? null : chosen === null ? map.curve : curveIn(map, chosen)), [map, chosen]);
  const others = useMemo(() => (then === null ? null : chosen === null ? then.curve : curveIn(then, chosen)), [then, chosen]);
  const { label, unit, curve, threshold, show } = lensOf(lens);
  if (curve === null || threshold === null) {
    const ordered = LENSES.filter((other) => other.curve !== null).map((other) => other.label);
    return <p className="empty">{`${label} has no order and so no curve; choose ${ordered.join(', ')}.`}</p>;
  }
  if (map === null || shares === null || map.lens !== lens) return <p className="empty">The map is on its way.</p>;
  return (
    <div className="curve">
      {zones.length > 1 && (
        <span className="chip">
          <span>
            <label htmlFor={id}>curve of</label>
          </span>
          <Choice
            id={id}
            value={chosen ?? ''}
            options={[{ value: '', label: 'all of it' }, ...zones.map(({ zone }) => ({ value: zone.id, label: zone.name }))]}
            onChoose={(zoneId) => set({ curveZoneId: zoneId === '' ? null : zoneId })}
          />
        </span>
      )}
      <CurveChart
        from={curve.from}
        step={curve.step}
        shares={shares}
        threshold={map.threshold}
        unit={unit}
        other={compared === null || then === null || others === null || then.lens !== lens ? null : { shares: others, name: compared.title }}
        better={threshold.sense === 'least' ? 'or more' : show === 'steps' ? 'or fewer' : 'or less'}
      />
    </div>
  );
}
