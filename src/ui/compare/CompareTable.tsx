'use client';
import { useMemo } from 'react';
import { VirtualBody } from '../kit/VirtualBody';
import { useViewDesign, type Place } from '../state/selectors';
import { useMap, useOtherMap } from '../state/useLens';
import { useCompared, type Compared } from './compared';
import { compareRows, type CompareRow } from './rows';
import { alike, useDifference } from './useDifference';

/** The lines of the comparison that is on; null while there is none, or a map is on its way. */
export function useCompareRows(place: Place, compared: Compared | null): readonly CompareRow[] | null {
  const design = useViewDesign();
  const now = useMap((s) => s.map);
  const then = useOtherMap((s) => s.map);
  const difference = useDifference((s) => s.difference);
  return useMemo(() => {
    if (
      compared === null ||
      compared.problem !== null ||
      now === null ||
      then === null ||
      now.lens !== then.lens ||
      now.band !== then.band ||
      now.byClient !== then.byClient
    )
      return null;
    const statistics =
      difference !== null && difference.now.values === now.values && difference.then.values === then.values ? difference.statistics : null;
    const other = { design: compared.design, place: compared.place, map: then };
    return compareRows({ design, place, map: now }, other, alike(now, then) ? statistics : null, place.project.units);
  }, [compared, design, place, now, then, difference]);
}

/** The two designs side by side: the map's numbers, the zones, the radios. */
export function CompareTable({ place }: { place: Place }) {
  const compared = useCompared(place);
  const rows = useCompareRows(place, compared);
  if (compared === null) return <p className="empty">Nothing is compared. Choose Compare in Design, or a step in History.</p>;
  if (compared.problem !== null) return <p className="empty">{compared.problem}</p>;
  if (rows === null) return <p className="empty">The maps are on their way.</p>;
  return (
    <table className="dense" aria-label="Comparison">
      <thead>
        <tr>
          {['', compared.title, `${place.variant.name}, now`, 'change'].map((head, i) => (
            <th key={i} scope="col">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <VirtualBody
        items={rows}
        rowPx={27}
        columns={4}
        row={({ id, what, then: was, now: is, change }, i, measure) => (
          <tr key={id} ref={measure} data-index={i}>
            <td>{what}</td>
            <td className="mono">{was}</td>
            <td className="mono">{is}</td>
            <td className="mono">{change}</td>
          </tr>
        )}
      />
    </table>
  );
}
