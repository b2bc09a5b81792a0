'use client';
import { Fragment } from 'react';
import type { GroupShare } from '@/core/planning/positions/positions';
import { percent } from '../../../state/format';

/** As the figures are shown: a tenth of a percent. */
export const isMet = ({ share, owed }: GroupShare): boolean => share >= owed - 0.0005;
const sameDemand = (a: GroupShare, b: GroupShare): boolean => a.zone === b.zone && a.name === b.name;

/**
 * What is owed, zone by zone, and in which share of the area it is met; with what it was before where that differs. `reach`: whether what no position reaches is said,
 * where the question was of all of them.
 */
export function MetTable({
  groups,
  before = [],
  reach = false,
}: {
  groups: readonly GroupShare[];
  before?: readonly GroupShare[] | undefined;
  reach?: boolean;
}) {
  const zones = [...new Set(groups.map(({ zone }) => zone))];
  return (
    <table className="dense met" aria-label="What is met">
      <tbody>
        {zones.map((zone) => {
          const own = groups.filter((group) => group.zone === zone);
          return (
            <Fragment key={zone}>
              <tr>
                <th scope="rowgroup" colSpan={3}>{`${zone}, in ${percent(own[0]!.owed)} of the area`}</th>
              </tr>
              {own.map((group) => {
                const was = before.find((one) => sameDemand(one, group));
                const [now, then] = [percent(group.share), was === undefined ? null : percent(was.share)];
                return (
                  <tr key={group.name}>
                    <td>{group.name}</td>
                    <td className="mono">{then === null || then === now ? now : `${then.replace(' %', '')} → ${now}`}</td>
                    <td>
                      {isMet(group) ? (
                        'met'
                      ) : (
                        <strong className="urgent">{reach && group.unreachable > 1 - group.owed ? 'out of reach' : 'not met'}</strong>
                      )}
                    </td>
                  </tr>
                );
              })}
            </Fragment>
          );
        })}
      </tbody>
    </table>
  );
}
