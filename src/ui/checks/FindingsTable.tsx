'use client';
import { memo } from 'react';
import { RULES, ruleOf } from '@/core/checks/rules';
import { setCheckRule } from '@/core/design/checkCommands';
import { useDocument } from '../state/documentStore';
import type { Place } from '../state/selectors';
import { useSession, useSessionFields } from '../state/sessionStore';
import { SEVERITY_WORDS, SeverityMark } from './SeverityMark';
import { useFindings, type Listed } from './useFindings';

/** Metres that are seen about a place which the plan goes to. */
const AROUND_M = 24;

/** Shows a finding: its numbers in the inspector, and the plan where it is. */
export function showFinding({ key, place, apIds }: Listed): void {
  const { set, floorId, view } = useSession.getState();
  set({
    finding: key,
    panelOpen: true,
    retuneOpen: false,
    selection: apIds.length > 0 ? { table: 'accessPoints', ids: apIds } : null,
    ...(place === null ? {} : { floorId: place.floorId, pinned: null }),
  });
  if (place === null) return;
  const box = document.querySelector('.plan')?.getBoundingClientRect();
  if (box === undefined) return;
  // A view that shows the place is left as it is.
  const seen =
    view !== null &&
    floorId === place.floorId &&
    place.xM > view.leftM &&
    place.yM > view.topM &&
    place.xM < view.leftM + box.width / view.pxPerM &&
    place.yM < view.topM + box.height / view.pxPerM;
  if (seen) return;
  if (view === null) return set({ view: null });
  const pxPerM = Math.min(view.pxPerM, Math.min(box.width, box.height) / AROUND_M);
  set({ view: { pxPerM, leftM: place.xM - box.width / 2 / pxPerM, topM: place.yM - box.height / 2 / pxPerM } });
}

const Row = memo(function Row({ finding, floor, chosen }: { finding: Listed; floor: string; chosen: boolean }) {
  const { number, severity, title, ruleId, accepted } = finding;
  return (
    <tr aria-current={chosen ? 'true' : undefined} onClick={() => showFinding(finding)} className={accepted === null ? undefined : 'settled'}>
      <td>
        <SeverityMark severity={severity} number={number} chosen={chosen} faint={accepted !== null} />
      </td>
      <td>{SEVERITY_WORDS[severity]}</td>
      <td className="wide">
        <button type="button" className="plain" onClick={() => showFinding(finding)}>
          {title}
        </button>
      </td>
      <td>{floor}</td>
      <td>{ruleOf(ruleId)?.label}</td>
      <td className="wide">{accepted === null ? '' : `accepted: ${accepted}`}</td>
    </tr>
  );
});

/** What the checks find in the variant, the gravest first; rules that are off are told below. */
export function FindingsTable({ place }: { place: Place }) {
  const { listed, busy, error } = useFindings(place);
  const { finding: chosen } = useSessionFields('finding');
  const floors = useDocument((s) => s.design.floors);
  const rules = useDocument((s) => s.design.checkRules);
  const off = RULES.filter(({ id }) => rules[id]?.on === false);
  if (error !== null) return <p role="alert">{error}</p>;
  if (listed === null) return <p role="status">Going through the building …</p>;
  const open = listed.filter(({ accepted }) => accepted === null);
  const count = (severity: Listed['severity']) => open.filter((one) => one.severity === severity).length;
  return (
    <>
      <p role="status" className="summary">
        {`${place.variant.name}, all floors: ${count('stop')} to stop at, ${count('mend')} to mend, ${count('note')} to note; ${listed.length - open.length} accepted.`}
        {busy && ' Going through the building again …'}
      </p>
      {listed.length > 0 && (
        <table className="dense" aria-label="Findings">
          <thead>
            <tr>
              {['no.', 'severity', 'finding', 'floor', 'rule', ''].map((head, i) => (
                <th key={i} scope="col">
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {listed.map((finding) => (
              <Row
                key={finding.key}
                finding={finding}
                chosen={finding.key === chosen}
                floor={finding.place === null ? '' : (floors[finding.place.floorId]?.name ?? '')}
              />
            ))}
          </tbody>
        </table>
      )}
      {off.map(({ id, label }) => (
        <p key={id} className="summary">
          {`Not looked for: ${label.toLowerCase()}, because: ${rules[id]?.note || 'no reason given'}. `}
          <button
            type="button"
            className="quiet-button"
            onClick={() => useDocument.getState().run(`Look for it again: ${label}`, (design) => setCheckRule(design, id, { on: true, note: '' }))}
          >
            Look for it again
          </button>
        </p>
      ))}
    </>
  );
}
