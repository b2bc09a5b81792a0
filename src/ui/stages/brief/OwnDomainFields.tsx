'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import type { Project } from '@/core/design/design';
import { LIMITS } from '@/core/design/limits';
import { BANDS } from '@/core/radio/band';
import { channelsOf, channelsText } from '@/core/radio/channelText';
import type { DomainRule } from '@/core/radio/regulation';
import { CheckField, NumberField, SelectField, TextField } from '../../inspector/fields';
import { setProject } from '../../inspector/ProjectFields';
import { useDocument } from '../../state/documentStore';
import { bandLabel } from '../../state/selectors';

/** How radar is looked for before sending; the times of the European and American rules. */
const RADAR = [
  { value: 'none', label: 'no radar detection', fields: { checkS: null, weatherRadar: false } },
  { value: 'radar', label: 'radar, 60 s', fields: { checkS: 60, weatherRadar: false } },
  { value: 'weather', label: 'weather radar, 10 min', fields: { checkS: 600, weatherRadar: true } },
] as const;
type Radar = (typeof RADAR)[number]['value'] | 'other';

const radarOf = ({ checkS, weatherRadar = false }: DomainRule): Radar =>
  RADAR.find(({ fields }) => fields.checkS === checkS && fields.weatherRadar === weatherRadar)?.value ?? 'other';

/** The law that a project writes down itself: its name, and a rule for each sub-band. */
export function OwnDomainFields({ domain }: { domain: NonNullable<Project['ownDomain']> }) {
  const [open, setOpen] = useState<number | null>(null);
  const { name, rules } = domain;
  const set = (title: string, fields: Partial<typeof domain>) => setProject(title, { ownDomain: { ...domain, ...fields } });
  return (
    <div role="group" aria-label="Own regulatory domain">
      <h3>Own regulatory domain</h3>
      <TextField
        label="name of the domain"
        value={name}
        maxLength={LIMITS.nameLength}
        onCommit={(wish) => set('Name of the domain', { name: wish })}
      />
      <ul className="papers">
        {rules.map((rule, i) => (
          <li key={i}>
            <button type="button" className="quiet-button" aria-expanded={open === i} onClick={() => setOpen(open === i ? null : i)}>
              {`${bandLabel(rule.band)}: ${channelsText(rule.channels, rule.band)}`}
            </button>
            {`${rule.maxEirpDbm} dBm EIRP`}
            {open === i && (
              <RuleFields
                rule={rule}
                onChange={(title, fields) => set(title, { rules: rules.map((one, k) => (k === i ? { ...one, ...fields } : one)) })}
                onDelete={() => {
                  setOpen(null);
                  set('Delete a rule of the domain', { rules: rules.filter((_, k) => k !== i) });
                }}
              />
            )}
          </li>
        ))}
        {rules.length === 0 && <li>No rule yet: no channel is allowed.</li>}
      </ul>
      <div className="row">
        <Button
          size="small"
          variant="outlined"
          color="secondary"
          disabled={rules.length >= LIMITS.domainRules}
          onClick={() => {
            if (set('Add a rule to the domain', { rules: [...rules, FRESH] })) setOpen(rules.length);
          }}
        >
          Add a rule
        </Button>
      </div>
      <p>A channel that two rules name is under the first. A wide channel is under the strictest rule of its parts.</p>
    </div>
  );
}

const FRESH: DomainRule = {
  band: '5',
  subBand: '5150–5250 MHz',
  powerClass: null,
  channels: [36, 40, 44, 48],
  maxEirpDbm: 23,
  maxDensityDbmPerMhz: null,
  checkS: null,
  indoorOnly: true,
};

/** One rule: which channels, how much, and under which conditions. */
function RuleFields({
  rule,
  onChange,
  onDelete,
}: {
  rule: DomainRule;
  onChange: (title: string, fields: Partial<DomainRule>) => void;
  onDelete: () => void;
}) {
  const { band, subBand, channels, maxEirpDbm, maxDensityDbmPerMhz, indoorOnly } = rule;
  const radar = radarOf(rule);
  return (
    <div>
      <SelectField
        label="band"
        value={band}
        options={BANDS.map((value) => ({ value, label: bandLabel(value) }))}
        onCommit={(value) => onChange('Band of a rule', { band: value, channels: [value === '5' ? 36 : 1] })}
      />
      <TextField
        label="sub-band"
        value={subBand}
        maxLength={LIMITS.nameLength}
        onCommit={(value) => onChange('Name of a sub-band', { subBand: value })}
      />
      <TextField
        label="channels"
        value={channelsText(channels, band)}
        placeholder="36–48, 100"
        maxLength={300}
        onCommit={(text) => {
          const found = channelsOf(text, band);
          if (found === null)
            useDocument
              .getState()
              .setNotice({ words: `These are no ${band} GHz channels. Write 20 MHz channels with commas between, or from–to, as 36–48, 100.` });
          else onChange('Channels of a rule', { channels: found });
        }}
      />
      <NumberField
        label="EIRP up to"
        value={maxEirpDbm}
        unit="dBm"
        {...LIMITS.eirpDbm}
        digits={1}
        onCommit={(value) => onChange('Power of a rule', { maxEirpDbm: value })}
      />
      <CheckField
        label="limited per MHz"
        checked={maxDensityDbmPerMhz !== null}
        onCommit={(on) => onChange('Density of a rule', { maxDensityDbmPerMhz: on ? Math.max(LIMITS.eirpDbm.min, maxEirpDbm - 13) : null })}
      />
      {maxDensityDbmPerMhz !== null && (
        <NumberField
          label="density up to"
          value={maxDensityDbmPerMhz}
          unit="dBm/MHz"
          {...LIMITS.eirpDbm}
          digits={1}
          onCommit={(value) => onChange('Density of a rule', { maxDensityDbmPerMhz: value })}
        />
      )}
      <SelectField<Radar>
        label="before sending"
        value={radar}
        options={[...RADAR, ...(radar === 'other' ? [{ value: 'other' as const, label: `radar, ${rule.checkS} s` }] : [])]}
        onCommit={(value) => {
          const chosen = RADAR.find((one) => one.value === value);
          if (chosen !== undefined) onChange('Radar detection of a rule', chosen.fields);
        }}
      />
      <CheckField label="indoors only" checked={indoorOnly} onCommit={(on) => onChange('Place of a rule', { indoorOnly: on })} />
      <div className="row">
        <Button size="small" color="secondary" onClick={onDelete}>
          Delete this rule
        </Button>
      </div>
    </div>
  );
}
