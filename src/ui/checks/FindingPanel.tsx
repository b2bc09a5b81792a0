'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { v7 as uuid } from 'uuid';
import { ruleOf } from '@/core/checks/rules';
import { acceptFinding, acceptedOf, applyRemedy, checkRuleOf, setCheckRule } from '@/core/design/checkCommands';
import { remove } from '@/core/design/commands';
import { LIMITS } from '@/core/design/limits';
import { NumberField, TextField } from '../inspector/fields';
import { useDocument } from '../state/documentStore';
import type { Place } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { SEVERITY_WORDS, SeverityMark } from './SeverityMark';
import type { Listed } from './useFindings';

/** One finding: its reason in numbers, what to do, and how to settle it. */
export function FindingPanel({ finding, place }: { finding: Listed; place: Place }) {
  const { run } = useDocument.getState();
  const design = useDocument((s) => s.design);
  const [reason, setReason] = useState(finding.accepted ?? '');
  const [why, setWhy] = useState('');
  const { key, ruleId, severity, number, title, reason: numbers, advice, remedy, accepted } = finding;
  const rule = ruleOf(ruleId)!;
  const { threshold } = rule;
  const setting = checkRuleOf(design, ruleId);
  const close = () => useSession.getState().set({ finding: null });
  const accept = () =>
    run('Accept a finding', (d) => acceptFinding(d, { id: uuid(), variantId: place.variant.id, finding: key, reason: reason.trim() }));
  return (
    <div role="region" aria-label="Finding">
      <div className="row">
        <SeverityMark severity={severity} number={number} chosen />
        <span>{SEVERITY_WORDS[severity]}</span>
        <Button size="small" color="secondary" sx={{ ml: 'auto' }} onClick={close}>
          Close
        </Button>
      </div>
      <h2>{title}</h2>
      <p>{numbers}</p>
      <p>{advice}</p>
      {remedy !== null && accepted === null && (
        <div className="row">
          <Button variant="contained" onClick={() => run(remedy.label, (d) => applyRemedy(d, remedy.radios))}>
            {remedy.label}
          </Button>
        </div>
      )}
      <h3>{accepted === null ? 'Accept it as it is' : 'Accepted'}</h3>
      <TextField
        label="reason"
        value={reason}
        maxLength={LIMITS.textLength}
        mayBeEmpty
        lines={2}
        placeholder="why it may stay"
        onCommit={setReason}
      />
      <div className="row">
        <Button size="small" variant="outlined" color="secondary" disabled={reason.trim() === '' || reason === accepted} onClick={accept}>
          {accepted === null ? 'Accept' : 'Change the reason'}
        </Button>
        {accepted !== null && (
          <Button
            size="small"
            color="secondary"
            onClick={() => {
              const record = acceptedOf(design, place.variant.id, key);
              if (record !== null) run('Take an acceptance back', (d) => remove(d, 'acceptedFindings', [record.id]));
              setReason('');
            }}
          >
            Take it back
          </Button>
        )}
      </div>
      <h3>{`The rule: ${rule.label.toLowerCase()}`}</h3>
      <p>{rule.help}</p>
      {threshold !== null && (
        <NumberField
          label={threshold.words}
          value={setting?.threshold ?? threshold.start}
          unit={threshold.unit}
          min={threshold.least}
          max={threshold.most}
          digits={1}
          onCommit={(value) => run(`Rule: ${rule.label}`, (d) => setCheckRule(d, ruleId, { threshold: value === threshold.start ? null : value }))}
        />
      )}
      <TextField
        label="not here, because"
        value={why}
        maxLength={LIMITS.textLength}
        mayBeEmpty
        placeholder="why this building needs no such rule"
        onCommit={setWhy}
      />
      <div className="row">
        <Button
          size="small"
          variant="outlined"
          color="secondary"
          disabled={why.trim() === ''}
          onClick={() => {
            if (run(`Do not look for: ${rule.label}`, (d) => setCheckRule(d, ruleId, { on: false, note: why.trim() }))) close();
          }}
        >
          Do not look for it
        </Button>
      </div>
    </div>
  );
}
