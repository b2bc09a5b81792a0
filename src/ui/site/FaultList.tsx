'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { channelExists } from '@/core/radio/channel';
import type { Band, WidthMhz } from '@/core/radio/band';
import type { AccessPoint, Design } from '@/core/design/design';
import { MATERIALS, OPEN_ID } from '@/core/building/material';
import type { Wall } from '@/core/building/wall';
import { LIMITS } from '@/core/design/limits';
import type { SiteFault, SiteParameters } from '@/core/survey/site';
import { formatLength, type UnitSystem } from '@/core/units/length';
import { LengthField, NumberField, SelectField } from '../inspector/fields';
import { ChannelFields } from './ChannelFields';
import { FAULT_LABEL, hiddenWords } from './siteWords';

type Kind = SiteFault['kind'];
type Draft = Readonly<{
  kind: Kind;
  apId: string;
  otherId: string;
  offDb: number;
  offM: number;
  xM: number;
  yM: number;
  bxM: number;
  byM: number;
  materialId: string;
  wallId: string;
  band: Band;
  channel: number;
  widthMhz: WidthMhz;
}>;

/** A draft as a fault; null while something of it is missing. */
function faultOf(draft: Draft): SiteFault | null {
  const { kind, apId, otherId, offDb, offM, xM, yM, bxM, byM, materialId, wallId, band, channel, widthMhz } = draft;
  if (kind === 'obstacle') return xM === bxM && yM === byM ? null : { kind, axM: xM, ayM: yM, bxM, byM, materialId };
  if (kind === 'no-wall') return wallId === '' ? null : { kind, wallId };
  if (apId === '') return null;
  if (kind === 'swapped') return otherId === '' || otherId === apId ? null : { kind, apIds: [apId, otherId] };
  if (kind === 'channel') return channelExists({ band, primary: channel, widthMhz }) ? { kind, apId, band, channel, widthMhz } : null;
  if (kind === 'level') return offDb === 0 ? null : { kind, apId, offDb };
  if (kind === 'height') return offM === 0 ? null : { kind, apId, offM };
  return kind === 'elsewhere' ? { kind, apId, xM, yM } : { kind, apId };
}

/** What is not as drawn on a floor, for surveys to find. */
export function FaultList({
  site,
  design,
  aps,
  walls,
  units,
  onSite,
}: {
  site: SiteParameters;
  design: Design;
  aps: readonly AccessPoint[];
  walls: readonly Wall[];
  units: UnitSystem;
  onSite: (site: SiteParameters) => void;
}) {
  const faults = site.faults ?? [];
  const [draft, setDraft] = useState<Draft>({
    kind: 'level',
    apId: '',
    otherId: '',
    offDb: -10,
    offM: -1,
    xM: 0,
    yM: 0,
    bxM: 0,
    byM: 0,
    materialId: 'concrete',
    wallId: '',
    band: '2.4',
    channel: 6,
    widthMhz: 20,
  });
  const set = (fields: Partial<Draft>) => setDraft({ ...draft, ...fields });
  const made = faultOf(draft);
  const { kind } = draft;
  const apOptions = [{ value: '', label: 'choose' }, ...aps.map(({ id, name }) => ({ value: id, label: name }))];
  const { min, max } = LIMITS.coordinateM;
  const length = (label: string, field: 'xM' | 'yM' | 'bxM' | 'byM') => (
    <LengthField label={label} valueM={draft[field]} units={units} minM={min} maxM={max} onCommit={(value) => set({ [field]: value })} />
  );
  return (
    <section aria-label="What is hidden">
      <h2>What is hidden</h2>
      {faults.length === 0 && <p>Nothing: all hangs and stands as drawn.</p>}
      <ol className="hidden-faults">
        {faults.map((fault, i) => (
          <li key={i}>
            {hiddenWords(fault, design, units)}{' '}
            <button type="button" className="plain" onClick={() => onSite({ ...site, faults: faults.filter((_, other) => other !== i) })}>
              take away
            </button>
          </li>
        ))}
      </ol>
      <div className="add">
        <SelectField
          label="hide"
          value={kind}
          options={(Object.keys(FAULT_LABEL) as Kind[]).map((value) => ({ value, label: FAULT_LABEL[value] }))}
          onCommit={(value) => set({ kind: value })}
        />
        {kind !== 'obstacle' && kind !== 'no-wall' && (
          <SelectField label="access point" value={draft.apId} options={apOptions} onCommit={(apId) => set({ apId })} />
        )}
        {kind === 'swapped' && <SelectField label="and" value={draft.otherId} options={apOptions} onCommit={(otherId) => set({ otherId })} />}
        {kind === 'channel' && <ChannelFields draft={draft} onSet={set} />}
        {kind === 'level' && (
          <NumberField
            label="off by"
            unit="dB"
            value={draft.offDb}
            min={LIMITS.siteFaultOffDb.min}
            max={LIMITS.siteFaultOffDb.max}
            digits={1}
            onCommit={(offDb) => set({ offDb })}
          />
        )}
        {kind === 'height' && (
          <LengthField
            label="higher by"
            valueM={draft.offM}
            units={units}
            minM={LIMITS.siteFaultOffM.min}
            maxM={LIMITS.siteFaultOffM.max}
            onCommit={(offM) => set({ offM })}
          />
        )}
        {kind === 'elsewhere' && (
          <>
            {length('x', 'xM')}
            {length('y', 'yM')}
          </>
        )}
        {kind === 'obstacle' && (
          <>
            {length('from x', 'xM')}
            {length('from y', 'yM')}
            {length('to x', 'bxM')}
            {length('to y', 'byM')}
            <SelectField
              label="of"
              value={draft.materialId}
              options={MATERIALS.filter(({ id }) => id !== OPEN_ID).map(({ id, name }) => ({ value: id, label: name }))}
              onCommit={(materialId) => set({ materialId })}
            />
          </>
        )}
        {kind === 'no-wall' && (
          <SelectField
            label="wall"
            value={draft.wallId}
            options={[
              { value: '', label: 'choose' },
              ...walls.map(({ id, axM, ayM, bxM, byM }) => ({
                value: id,
                label: `${formatLength(axM, units, 1)}, ${formatLength(ayM, units, 1)} to ${formatLength(bxM, units, 1)}, ${formatLength(byM, units, 1)}`,
              })),
            ]}
            onCommit={(wallId) => set({ wallId })}
          />
        )}
        <Button
          variant="outlined"
          color="secondary"
          disabled={made === null || faults.length >= LIMITS.siteFaults}
          onClick={() => made !== null && onSite({ ...site, faults: [...faults, made] })}
        >
          Hide it
        </Button>
      </div>
    </section>
  );
}
