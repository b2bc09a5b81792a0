'use client';
import Button from '@mui/material/Button';
import { edit, remove } from '@/core/design/commands';
import type { ServiceLevel } from '@/core/design/design';
import { LIMITS } from '@/core/design/limits';
import { CheckField, NumberField, TextField } from '../../inspector/fields';
import { useDocument } from '../../state/documentStore';
import { newLevel, openLevel } from './levels';

/** What may be asked for besides signal: its words, unit, limits, and what it begins with. */
const OPTIONAL = [
  { field: 'secondDbm', label: 'second signal', bound: 'at least', unit: 'dBm', limits: LIMITS.owedDbm, start: -67, digits: 0 },
  { field: 'snrDb', label: 'SNR', bound: 'at least', unit: 'dB', limits: LIMITS.owedSnrDb, start: 20, digits: 0 },
  { field: 'rateMbps', label: 'rate', bound: 'at least', unit: 'Mb/s', limits: LIMITS.owedMbps, start: 24, digits: 0 },
  { field: 'sharersMost', label: 'radios sharing', bound: 'at most', unit: 'radios', limits: LIMITS.owedSharers, start: 1, digits: 1 },
] as const;

/** A service level: what is owed where it is, and in how much of the area. */
export function LevelForm({ level }: { level: ServiceLevel }) {
  const { run } = useDocument.getState();
  const zones = useDocument((s) => Object.values(s.design.zones).filter(({ serviceLevelId }) => serviceLevelId === level.id).length);
  const set = (title: string, fields: Partial<ServiceLevel>) => run(`${title} of ${level.name}`, (d) => edit(d, 'serviceLevels', level.id, fields));
  return (
    <div>
      <h2>{`Service level “${level.name}”`}</h2>
      <p>{zones === 0 ? 'Owed in no zone yet.' : `Owed in ${zones} ${zones === 1 ? 'zone' : 'zones'}.`}</p>
      <TextField label="name" value={level.name} maxLength={LIMITS.nameLength} onCommit={(name) => set('Name', { name })} />
      <NumberField
        label="signal, at least"
        value={level.signalDbm}
        unit="dBm"
        {...LIMITS.owedDbm}
        digits={0}
        onCommit={(signalDbm) => set('Signal', { signalDbm })}
      />
      {OPTIONAL.map(({ field, label, bound, unit, limits, start, digits }) => {
        const value = level[field];
        return (
          <div key={field}>
            <CheckField label={label} checked={value !== null} onCommit={(on) => set(label, { [field]: on ? start : null })} />
            {value !== null && (
              <NumberField label={bound} value={value} unit={unit} {...limits} digits={digits} onCommit={(next) => set(label, { [field]: next })} />
            )}
          </div>
        );
      })}
      <NumberField
        label="share of the area"
        value={Number((level.share * 100).toFixed(1))}
        unit="%"
        min={LIMITS.owedShare.min * 100}
        max={LIMITS.owedShare.max * 100}
        digits={1}
        onCommit={(percent) => set('Share', { share: percent / 100 })}
      />
      <div className="row">
        <Button size="small" variant="outlined" color="secondary" onClick={() => newLevel(`Copy ${level.name}`, level)}>
          Make one like it
        </Button>
        <Button
          size="small"
          variant="outlined"
          color="secondary"
          onClick={() => run(`Delete service level ${level.name}`, (d) => remove(d, 'serviceLevels', [level.id])) && openLevel(null)}
        >
          Delete
        </Button>
        <Button size="small" color="secondary" onClick={() => openLevel(null)}>
          To the brief
        </Button>
      </div>
    </div>
  );
}
