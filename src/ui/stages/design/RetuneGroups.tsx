'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { inOrder } from '@/core/design/names';
import { LIMITS } from '@/core/design/limits';
import type { PlanRules, RuleGroup } from '@/core/planning/problem';
import type { Band } from '@/core/radio/band';
import type { Domain } from '@/core/radio/regulation';
import { CheckField, NumberField, SelectField, TextField } from '../../inspector/fields';
import type { Place } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { BandRules, DFS_OPTIONS } from './RetuneRules';
import { selectedHere } from './useRetune';

/** A group begins with nothing of its own. */
const freshGroup = (name: string, apIds: readonly string[]): RuleGroup => ({
  name,
  apIds,
  channels: null,
  widthsMhz: null,
  dfs: null,
  minPowerDbm: null,
  maxPowerDbm: null,
  maySwitchOff24: null,
});

/** Access points that keep rules of their own in a retune. */
export function RetuneGroups({
  rules,
  bands,
  domain,
  place,
  onChange,
}: {
  rules: PlanRules;
  bands: readonly Band[];
  domain: Domain;
  place: Place;
  onChange: (groups: readonly RuleGroup[]) => void;
}) {
  const [open, setOpen] = useState<number | null>(null);
  useSession((s) => s.selection);
  const selected = selectedHere(place);
  const { groups } = rules;
  /** An access point is in one group: it leaves the others. */
  const withMembers = (at: number, ids: readonly string[]) =>
    groups.map((group, g) => ({
      ...group,
      apIds: g === at ? [...new Set([...group.apIds, ...ids])] : group.apIds.filter((id) => !ids.includes(id)),
    }));
  const begin = () => {
    const ids = selected ?? [];
    onChange([
      ...groups.map((group) => ({ ...group, apIds: group.apIds.filter((id) => !ids.includes(id)) })),
      freshGroup(`Group ${groups.length + 1}`, ids),
    ]);
    setOpen(groups.length);
  };
  return (
    <>
      <h3>Groups with rules of their own</h3>
      {groups.length === 0 && selected === null && <p>Select access points on the plan to give them channels, widths or powers of their own.</p>}
      {groups.map((group, g) => (
        <div key={g} className="rule-group" role="group" aria-label={group.name}>
          <button type="button" className="quiet-button" aria-expanded={open === g} onClick={() => setOpen(open === g ? null : g)}>
            {`${group.name}: ${membersWords(group, place)}`}
          </button>
          {open === g && (
            <GroupRules
              group={group}
              rules={rules}
              bands={bands}
              domain={domain}
              place={place}
              onChange={(fields) => onChange(groups.map((one, k) => (k === g ? { ...one, ...fields } : one)))}
            />
          )}
          {open === g && (
            <div className="row">
              <Button variant="outlined" color="secondary" disabled={selected === null} onClick={() => onChange(withMembers(g, selected ?? []))}>
                Add the selected
              </Button>
              <Button
                variant="outlined"
                color="secondary"
                disabled={!group.apIds.some((id) => selected?.includes(id))}
                onClick={() =>
                  onChange(groups.map((one, k) => (k === g ? { ...one, apIds: one.apIds.filter((id) => !selected?.includes(id)) } : one)))
                }
              >
                Take out the selected
              </Button>
              <Button color="secondary" onClick={() => onChange(groups.filter((_, k) => k !== g))}>
                Dissolve
              </Button>
            </div>
          )}
        </div>
      ))}
      <div className="row">
        <Button variant="outlined" color="secondary" disabled={selected === null || groups.length >= LIMITS.ruleGroups} onClick={begin}>
          {selected === null ? 'New group' : `New group of the ${selected.length} selected`}
        </Button>
      </div>
    </>
  );
}

const NAMED = 6;

/** Who is in a group; those that are gone are not named. */
function membersWords({ apIds }: RuleGroup, place: Place): string {
  const names = place.around
    .filter(({ id }) => apIds.includes(id))
    .map(({ name }) => name)
    .sort(inOrder);
  if (names.length === 0) return 'nobody';
  return names.length > NAMED ? `${names.slice(0, NAMED).join(', ')} and ${names.length - NAMED} more` : names.join(', ');
}

function GroupRules({
  group,
  rules,
  bands,
  domain,
  place,
  onChange,
}: {
  group: RuleGroup;
  rules: PlanRules;
  bands: readonly Band[];
  domain: Domain;
  place: Place;
  onChange: (fields: Partial<RuleGroup>) => void;
}) {
  const members = place.around.filter(({ id }) => group.apIds.includes(id));
  const { channels, widthsMhz, dfs, minPowerDbm, maxPowerDbm } = group;
  const ownChannels = channels !== null && widthsMhz !== null;
  const ownPowers = minPowerDbm !== null && maxPowerDbm !== null;
  return (
    <>
      <TextField label="name" value={group.name} maxLength={LIMITS.nameLength} onCommit={(name) => onChange({ name })} />
      <CheckField
        label="own channels and widths"
        checked={ownChannels}
        onCommit={(own) => onChange(own ? { channels: rules.channels, widthsMhz: rules.widthsMhz } : { channels: null, widthsMhz: null })}
      />
      {ownChannels &&
        bands.map((band) => (
          <BandRules
            key={band}
            domain={domain}
            band={band}
            aps={members}
            channels={channels[band]}
            widthsMhz={widthsMhz[band]}
            onChannels={(list) => onChange({ channels: { ...channels, [band]: list } })}
            onWidths={(list) => onChange({ widthsMhz: { ...widthsMhz, [band]: list } })}
          />
        ))}
      {bands.includes('5') && (
        <SelectField
          label="channels with DFS"
          value={dfs ?? 'all'}
          options={[{ value: 'all' as const, label: 'as for all' }, ...DFS_OPTIONS]}
          onCommit={(use) => onChange({ dfs: use === 'all' ? null : use })}
        />
      )}
      {bands.includes('2.4') && (
        <SelectField
          label="2.4 GHz radios"
          value={group.maySwitchOff24 === null ? 'all' : group.maySwitchOff24 ? 'may' : 'stay'}
          options={[
            { value: 'all', label: 'as for all' },
            { value: 'may', label: 'may be switched off' },
            { value: 'stay', label: 'stay on' },
          ]}
          onCommit={(what) => onChange({ maySwitchOff24: what === 'all' ? null : what === 'may' })}
        />
      )}
      <CheckField
        label="own powers"
        checked={ownPowers}
        onCommit={(own) =>
          onChange(own ? { minPowerDbm: rules.minPowerDbm, maxPowerDbm: rules.maxPowerDbm } : { minPowerDbm: null, maxPowerDbm: null })
        }
      />
      {ownPowers && (
        <>
          <NumberField
            label="minimum power"
            value={minPowerDbm}
            unit="dBm"
            min={LIMITS.txPowerDbm.min}
            max={maxPowerDbm}
            digits={1}
            onCommit={(dbm) => onChange({ minPowerDbm: dbm })}
          />
          <NumberField
            label="maximum power"
            value={maxPowerDbm}
            unit="dBm"
            min={minPowerDbm}
            max={LIMITS.txPowerDbm.max}
            digits={1}
            onCommit={(dbm) => onChange({ maxPowerDbm: dbm })}
          />
        </>
      )}
    </>
  );
}
