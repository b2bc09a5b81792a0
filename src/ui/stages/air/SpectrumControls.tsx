'use client';
import { useState } from 'react';
import { domainOf } from '@/core/design/design';
import { UpperRoomError } from '@/core/errors';
import { BANDS, type Band } from '@/core/radio/band';
import { centreMhz } from '@/core/radio/channel';
import { bandSheet } from '@/core/radio/bandSheet';
import { TRIGGER_LIMITS } from '@/core/spectrum/trigger';
import { checkSweep, floorDbm, leastSweepMs, SWEEP_LIMITS, type SweepSetting } from '@/core/spectrum/sweep';
import { CheckField, NumberField, SelectField } from '../../inspector/fields';
import { bandLabel, type Place } from '../../state/selectors';
import { signed } from '../../state/format';
import { setAir, useAir } from './airStore';
import { partsOf } from './outlines';
import { Recordings } from './Recordings';
import { changeSetting, changeTrigger, clearSweeps, PRESET, setSweeps, settingFor, TRACE_LABEL, TRACES, useSweeps } from './sweepStore';

const TRIGGER_FIELDS = [
  { key: 'levelDbm', label: 'level', unit: 'dBm' },
  { key: 'delayMs', label: 'delay', unit: 'ms' },
  { key: 'goesOnMs', label: 'goes on for', unit: 'ms' },
] as const;
const RBWS = [10, 30, 100, 300, 1000, 3000] as const;

/** How the spectrum is swept, what is shown of it, and what is kept. */
export function SpectrumControls({ place, per, onPer }: { place: Place; per: number; onPer: (per: number) => void }) {
  const state = useSweeps();
  const { setting } = state;
  const [problem, setProblem] = useState<string | null>(null);
  /** A setting that does not go is said, and the one before stays. A sweep that is too fast for a finer filter is made as slow as it must be. */
  const apply = (fields: Partial<SweepSetting>) => {
    const next = { ...setting, ...fields };
    const slowed =
      'rbwKhz' in fields || 'startMhz' in fields || 'stopMhz' in fields
        ? { ...next, sweepMs: Math.max(next.sweepMs, Math.ceil(leastSweepMs(next))) }
        : next;
    try {
      checkSweep(slowed);
      changeSetting(slowed);
      setProblem(null);
    } catch (error) {
      if (!(error instanceof UpperRoomError)) throw error;
      setProblem(`Not set: ${String(error.details.why)}.`);
    }
  };
  const band = useAir((s) => s.band);
  const parts = partsOf(band, bandSheet(domainOf(place.project), band));
  const presets = [
    ...BANDS.map((one) => ({ value: `band ${one}`, label: bandLabel(one), span: PRESET[one], group: 'bands' })),
    ...parts.slice(1).map(({ id, label, startMhz, stopMhz }) => ({ value: id, label, span: { startMhz, stopMhz }, group: `parts of ${band} GHz` })),
    ...bandSheet(domainOf(place.project), band).flatMap(({ cells }) =>
      cells.flatMap(({ number, allowed }) =>
        allowed === null ? [] : [{ value: `channel ${number}`, label: `channel ${number}`, span: channelSpan(band, number), group: 'channels' }],
      ),
    ),
  ];
  const here = presets.find(({ span }) => span.startMhz === setting.startMhz && span.stopMhz === setting.stopMhz);
  return (
    <div className="air-controls">
      <fieldset>
        <legend>Span</legend>
        <SelectField
          label="preset"
          value={here?.value ?? ''}
          options={[
            ...(here === undefined ? [{ value: '', label: 'of its own' }] : []),
            ...presets.map(({ value, label, group }) => ({ value, label, group })),
          ]}
          onCommit={(value) => {
            const preset = presets.find((one) => one.value === value);
            if (preset === undefined) return;
            const of = BANDS.find((one) => value === `band ${one}`);
            if (of !== undefined) setAir({ band: of });
            changeSetting(settingFor(preset.span, setting));
            setProblem(null);
          }}
        />
        <NumberField
          label="start"
          unit="MHz"
          value={setting.startMhz}
          {...SWEEP_LIMITS.mhz}
          digits={1}
          onCommit={(startMhz) => apply({ startMhz })}
        />
        <NumberField label="stop" unit="MHz" value={setting.stopMhz} {...SWEEP_LIMITS.mhz} digits={1} onCommit={(stopMhz) => apply({ stopMhz })} />
        <NumberField
          label="centre"
          unit="MHz"
          value={(setting.startMhz + setting.stopMhz) / 2}
          {...SWEEP_LIMITS.mhz}
          digits={1}
          onCommit={(centre) => {
            const half = (setting.stopMhz - setting.startMhz) / 2;
            apply({ startMhz: centre - half, stopMhz: centre + half });
          }}
        />
        <NumberField
          label="span"
          unit="MHz"
          value={setting.stopMhz - setting.startMhz}
          {...SWEEP_LIMITS.spanMhz}
          digits={1}
          onCommit={(span) => {
            const centre = (setting.startMhz + setting.stopMhz) / 2;
            apply({ startMhz: centre - span / 2, stopMhz: centre + span / 2 });
          }}
        />
      </fieldset>
      <fieldset>
        <legend>Receiver</legend>
        <SelectField
          label="RBW"
          value={setting.rbwKhz}
          options={[...new Set([...RBWS, setting.rbwKhz])].sort((a, b) => a - b).map((value) => ({ value, label: `${value} kHz` }))}
          onCommit={(rbwKhz) => apply({ rbwKhz })}
        />
        <NumberField
          label="sweep"
          unit="ms"
          value={setting.sweepMs}
          {...SWEEP_LIMITS.sweepMs}
          digits={0}
          onCommit={(sweepMs) => apply({ sweepMs })}
        />
        <NumberField
          label="bins"
          unit=""
          value={setting.bins}
          {...SWEEP_LIMITS.bins}
          digits={0}
          onCommit={(bins) => apply({ bins: Math.round(bins) })}
        />
        <SelectField
          label="detector"
          value={setting.detector}
          options={[
            { value: 'peak', label: 'peak' },
            { value: 'mean', label: 'mean' },
          ]}
          onCommit={(detector) => apply({ detector })}
        />
        <p className="second">{`At this RBW ${leastSweepMs(setting) < 0.95 ? 'a sweep may be as short as 1 ms' : `a sweep takes ${Math.ceil(leastSweepMs(setting))} ms or more`}; a bin is seen for ${((setting.sweepMs * 1000) / setting.bins).toFixed(0)} µs of each; noise ${signed(floorDbm(setting.rbwKhz))} dBm.`}</p>
        {problem !== null && <p role="alert">{problem}</p>}
      </fieldset>
      <fieldset>
        <legend>Shown</legend>
        {TRACES.map((id) => (
          <CheckField
            key={id}
            label={TRACE_LABEL[id]}
            checked={state.shown.includes(id)}
            onCommit={(on) => setSweeps({ shown: TRACES.filter((one) => (one === id ? on : state.shown.includes(one))) })}
          />
        ))}
        <NumberField
          label="average of"
          unit=""
          value={state.averageOver}
          min={1}
          max={1000}
          digits={0}
          onCommit={(n) => setSweeps({ averageOver: Math.round(n) })}
        />
        <NumberField
          label="smooth over"
          unit="bins"
          value={state.smoothOver}
          min={1}
          max={101}
          digits={0}
          onCommit={(n) => setSweeps({ smoothOver: Math.round(n) })}
        />
        <button type="button" className="quiet-button" onClick={clearSweeps}>
          clear traces
        </button>
      </fieldset>
      <fieldset>
        <legend>Scale and below</legend>
        <NumberField label="reference" unit="dBm" value={state.refDbm} min={-80} max={30} digits={0} onCommit={(refDbm) => setSweeps({ refDbm })} />
        <NumberField
          label="a division"
          unit="dB"
          value={state.dbPerDiv}
          min={1}
          max={20}
          digits={0}
          onCommit={(dbPerDiv) => setSweeps({ dbPerDiv })}
        />
        <SelectField
          label="below"
          value={state.lower}
          options={[
            { value: 'waterfall', label: 'waterfall' },
            { value: 'density', label: 'density' },
            { value: 'duty', label: 'duty cycle' },
          ]}
          onCommit={(lower) => setSweeps({ lower })}
        />
        <SelectField
          label="a line of"
          value={per}
          options={[
            { value: 1, label: '1 sweep' },
            { value: 6, label: '6 sweeps' },
            { value: 20, label: '20 sweeps' },
          ]}
          onCommit={onPer}
        />
        <NumberField
          label="threshold"
          unit="dBm"
          value={state.thresholdDbm}
          min={-130}
          max={0}
          digits={0}
          onCommit={(thresholdDbm) => (setSweeps({ thresholdDbm }), clearSweeps())}
        />
      </fieldset>
      <fieldset>
        <legend>Trigger</legend>
        <CheckField label="at a level" checked={state.triggered} onCommit={(on) => changeTrigger({}, on)} />
        {state.triggered &&
          TRIGGER_FIELDS.map(({ key, label, unit }) => (
            <NumberField
              key={key}
              label={label}
              unit={unit}
              value={state.trigger[key]}
              {...TRIGGER_LIMITS[key]}
              digits={0}
              onCommit={(value) => changeTrigger({ [key]: value })}
            />
          ))}
        <CheckField label="hold" checked={state.hold} onCommit={(hold) => setSweeps({ hold })} />
        <Recordings place={place} />
      </fieldset>
    </div>
  );
}

const channelSpan = (band: Band, primary: number) => {
  const mhz = centreMhz({ band, primary, widthMhz: 20 });
  return { startMhz: mhz - 15, stopMhz: mhz + 15 };
};
