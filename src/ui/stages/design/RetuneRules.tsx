'use client';
import type { AccessPoint } from '@/core/design/design';
import { LIMITS } from '@/core/design/limits';
import type { PlanRules } from '@/core/planning/problem';
import { WIDTHS_MHZ, type Band, type WidthMhz } from '@/core/radio/band';
import { DFS_USES, allowedWidths, type DfsUse, type Domain } from '@/core/radio/regulation';
import { CheckField, NumberField, SelectField } from '../../inspector/fields';
import { bandLabel } from '../../state/selectors';
import { BandSheet } from './BandSheet';

export const DFS_WORDS: Readonly<Record<DfsUse, string>> = { never: 'never', 'if equal': 'only if as good', use: 'like others' };
export const DFS_OPTIONS = DFS_USES.map((value) => ({ value, label: DFS_WORDS[value] }));

/** Channels and widths of a band that may be used. `aps`: whose radios stand on them now. */
export function BandRules({
  domain,
  band,
  aps,
  channels,
  widthsMhz,
  onChannels,
  onWidths,
}: {
  domain: Domain;
  band: Band;
  aps: readonly AccessPoint[];
  channels: readonly number[];
  widthsMhz: readonly WidthMhz[];
  onChannels: (channels: readonly number[]) => void;
  onWidths: (widthsMhz: readonly WidthMhz[]) => void;
}) {
  const ours = new Map<number, number>();
  for (const { radios } of aps)
    for (const radio of radios) if (radio.band === band && radio.on) ours.set(radio.channel, (ours.get(radio.channel) ?? 0) + 1);
  return (
    <div>
      <h3>{bandLabel(band)}</h3>
      <BandSheet domain={domain} band={band} channels={channels} ours={ours} onChange={onChannels} />
      {allowedWidths(domain, band).map((w) => (
        <CheckField
          key={w}
          label={`${w} MHz`}
          checked={widthsMhz.includes(w)}
          onCommit={(on) => onWidths(WIDTHS_MHZ.filter((width) => (width === w ? on : widthsMhz.includes(width))))}
        />
      ))}
    </div>
  );
}

/** What holds for all radios. */
export function LimitRules({ rules, bands, onChange }: { rules: PlanRules; bands: readonly Band[]; onChange: (fields: Partial<PlanRules>) => void }) {
  return (
    <>
      <h3>Limits</h3>
      {bands.includes('5') && <SelectField label="channels with DFS" value={rules.dfs} options={DFS_OPTIONS} onCommit={(dfs) => onChange({ dfs })} />}
      <CheckField label="plan power" checked={rules.planPower} onCommit={(planPower) => onChange({ planPower })} />
      {bands.includes('2.4') && (
        <CheckField
          label="may switch off 2.4 GHz radios"
          checked={rules.maySwitchOff24}
          onCommit={(maySwitchOff24) => onChange({ maySwitchOff24 })}
        />
      )}
      <NumberField
        label="minimum power"
        value={rules.minPowerDbm}
        unit="dBm"
        min={LIMITS.txPowerDbm.min}
        max={rules.maxPowerDbm}
        digits={1}
        onCommit={(minPowerDbm) => onChange({ minPowerDbm })}
      />
      <NumberField
        label="maximum power"
        value={rules.maxPowerDbm}
        unit="dBm"
        min={rules.minPowerDbm}
        max={LIMITS.txPowerDbm.max}
        digits={1}
        onCommit={(maxPowerDbm) => onChange({ maxPowerDbm })}
      />
      <NumberField
        label="headroom"
        value={rules.headroomDb}
        unit="dB"
        {...LIMITS.headroomDb}
        digits={1}
        onCommit={(headroomDb) => onChange({ headroomDb })}
      />
      {rules.planPower && (
        <NumberField
          label="power spread"
          value={rules.powerSpreadDb}
          unit="dB"
          {...LIMITS.powerSpreadDb}
          digits={1}
          onCommit={(powerSpreadDb) => onChange({ powerSpreadDb })}
        />
      )}
      <NumberField
        label="coverage to keep"
        value={rules.coverageShare * 100}
        unit="%"
        min={0}
        max={100}
        digits={1}
        onCommit={(percent) => onChange({ coverageShare: percent / 100 })}
      />
      <NumberField
        label="at this level"
        value={rules.thresholdDbm}
        unit="dBm"
        min={-90}
        max={-40}
        digits={0}
        onCommit={(thresholdDbm) => onChange({ thresholdDbm })}
      />
      <NumberField
        label="change penalty"
        value={rules.changePenalty}
        unit="radios"
        {...LIMITS.changePenalty}
        digits={3}
        onCommit={(changePenalty) => onChange({ changePenalty })}
      />
      <CheckField
        label="limit how many change"
        checked={rules.mostChanges !== null}
        onCommit={(limited) => onChange({ mostChanges: limited ? 10 : null })}
      />
      {rules.mostChanges !== null && (
        <NumberField
          label="most changes"
          value={rules.mostChanges}
          unit="radios"
          {...LIMITS.mostChanges}
          digits={0}
          onCommit={(mostChanges) => onChange({ mostChanges })}
        />
      )}
    </>
  );
}
