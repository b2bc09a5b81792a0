'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { v7 as uuid } from 'uuid';
import { LIMITS } from '@/core/design/limits';
import { SIGNAL_KINDS } from '@/core/spectrum/signal';
import { SWEEP_LIMITS } from '@/core/spectrum/sweep';
import type { Interferer, SiteParameters } from '@/core/survey/site';
import { NumberField, SelectField } from '../inspector/fields';
import { SIGNAL_WORDS } from '../state/signalWords';
import { signed } from '../state/format';
import { hoursText } from './hours';
import { HoursField } from './HoursField';

type Draft = Omit<Interferer, 'id'>;

/** What is on the air of a floor that is not Wi-Fi: interferers and radar. */
export function InterfererList({ site, onSite }: { site: SiteParameters; onSite: (site: SiteParameters) => void }) {
  const interferers = site.interferers ?? [];
  const [draft, setDraft] = useState<Draft>({ kind: 'oven', xM: 0, yM: 0, heightM: 1.2, eirpDbm: 18, centreMhz: 2458, hours: [] });
  const set = (fields: Partial<Draft>) => setDraft({ ...draft, ...fields });
  const { min, max } = LIMITS.coordinateM;
  return (
    <section aria-label="Not Wi-Fi">
      <h2>Not Wi-Fi</h2>
      {interferers.length === 0 && <p>Nothing else is on the air here.</p>}
      <ol className="hidden-faults">
        {interferers.map((one) => (
          <li key={one.id}>
            {`${SIGNAL_WORDS[one.kind].label}, ${one.centreMhz} MHz, ${signed(one.eirpDbm)} dBm EIRP, at ${signed(one.xM, 1)}, ${signed(one.yM, 1)} m, ${signed(one.heightM, 1)} m high, ${hoursText(one.hours) || 'always'}. `}
            <button type="button" className="plain" onClick={() => onSite({ ...site, interferers: interferers.filter((other) => other !== one) })}>
              take away
            </button>
          </li>
        ))}
      </ol>
      <div className="add">
        <SelectField
          label="kind"
          value={draft.kind}
          options={SIGNAL_KINDS.map((value) => ({ value, label: SIGNAL_WORDS[value].label }))}
          onCommit={(kind) => set({ kind, centreMhz: SIGNAL_WORDS[kind].usualMhz })}
        />
        <NumberField
          label="about"
          unit="MHz"
          value={draft.centreMhz}
          min={SWEEP_LIMITS.mhz.min}
          max={SWEEP_LIMITS.mhz.max}
          digits={1}
          onCommit={(centreMhz) => set({ centreMhz })}
        />
        <NumberField
          label="EIRP"
          unit="dBm"
          value={draft.eirpDbm}
          min={LIMITS.interferer.eirpDbm.min}
          max={LIMITS.interferer.eirpDbm.max}
          digits={0}
          onCommit={(eirpDbm) => set({ eirpDbm })}
        />
        <NumberField label="x" unit="m" value={draft.xM} min={min} max={max} digits={1} onCommit={(xM) => set({ xM })} />
        <NumberField label="y" unit="m" value={draft.yM} min={min} max={max} digits={1} onCommit={(yM) => set({ yM })} />
        <NumberField
          label="height"
          unit="m"
          value={draft.heightM}
          min={-LIMITS.heightM.max}
          max={LIMITS.heightM.max}
          digits={1}
          onCommit={(heightM) => set({ heightM })}
        />
        <HoursField hours={draft.hours} onCommit={(hours) => set({ hours })} />
        <Button
          variant="outlined"
          color="secondary"
          disabled={interferers.length >= LIMITS.interferers}
          onClick={() => onSite({ ...site, interferers: [...interferers, { ...draft, id: uuid() }] })}
        >
          Add it
        </Button>
      </div>
    </section>
  );
}
