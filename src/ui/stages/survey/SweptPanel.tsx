'use client';
import { useMemo } from 'react';
import Button from '@mui/material/Button';
import { edit, remove } from '@/core/design/commands';
import { LIMITS } from '@/core/design/limits';
import { emittersOn, type FoundEmitter } from '@/core/design/surveyCommands';
import { BANDS, bandAt, type Band } from '@/core/radio/band';
import { SIGNAL_KINDS, type SignalKind } from '@/core/spectrum/signal';
import { SWEEP_LIMITS } from '@/core/spectrum/sweep';
import type { PlacedLook } from '@/core/survey/heard';
import { kindsTold } from '@/core/survey/swept';
import type { UnitSystem } from '@/core/units/length';
import { LengthField, NumberField, SelectField, TextField } from '../../inspector/fields';
import { roomAt } from '../../readout/heardHere';
import { useDocument } from '../../state/documentStore';
import { signed } from '../../state/format';
import { bandLabel, type Place } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { SIGNAL_WORDS } from '../../state/signalWords';
import { LocatedSignal } from '../air/LocatedSignal';
import type { HeardAt } from '../air/signals';

/** A kind of signal as looks of a band told it: how often, and each time where and how strong. */
type Told = Readonly<{ band: Band; kind: SignalKind; looks: number; of: number; readings: readonly HeardAt[] }>;

function toldIn(looks: readonly PlacedLook[]): Told[] {
  return BANDS.flatMap((band) => {
    const own = looks.filter((look) => look.band === band);
    return [...kindsTold(own, band)]
      .sort((a, b) => b[1] - a[1])
      .map(([kind, count]) => ({
        band,
        kind,
        looks: count,
        of: own.length,
        readings: own.flatMap(({ xM, yM, signals }) =>
          signals.filter((one) => one.kind === kind).map(({ centreMhz, levelDbm }) => ({ xM, yM, centreMhz, levelDbm })),
        ),
      }));
  });
}

/** What is not Wi-Fi: what the swept receiver told on the walks that count, and what was put on the plan. */
export function SweptPanel({ place, looks }: { place: Place; looks: readonly PlacedLook[] }) {
  const design = useDocument((s) => s.design);
  const set = useSession((s) => s.set);
  const told = useMemo(() => toldIn(looks), [looks]);
  const emitters = emittersOn(design, place.floor.id);
  if (looks.length === 0 && emitters.length === 0) return null;
  return (
    <section aria-label="What is not Wi-Fi">
      <h3>What is not Wi-Fi</h3>
      {looks.length > 0 && told.length === 0 && <p>{`Nothing was told in ${looks.length} looks of the swept receiver.`}</p>}
      <ul className="air-kept">
        {told.map(({ band, kind, looks: count, of, readings }) => {
          const loudest = readings.reduce((best, one) => (one.levelDbm > best.levelDbm ? one : best));
          return (
            <li key={`${band}/${kind}`}>
              <b>{SIGNAL_WORDS[kind].label}</b>
              {`, ${bandLabel(band)}: told in ${count} of ${of} looks, loudest ${signed(loudest.levelDbm)} dBm in ${roomAt(design, place, loudest)}. `}
              <Button
                size="small"
                variant="outlined"
                color="secondary"
                onClick={() => set({ lens: 'interferer', source: 'measured', band, byClient: false, signalKind: kind, onlyKind: null })}
              >
                Map
              </Button>{' '}
              <LocatedSignal place={place} kind={kind} readings={readings} />
            </li>
          );
        })}
      </ul>
      <Emitters emitters={emitters} units={place.project.units} />
    </section>
  );
}

/** Emitters that were put on the plan; the one in hand with its fields. */
function Emitters({ emitters, units }: { emitters: readonly FoundEmitter[]; units: UnitSystem }) {
  const selection = useSession((s) => s.selection);
  const set = useSession((s) => s.set);
  const chosen = selection?.table === 'emitters' ? selection.ids[0] : undefined;
  if (emitters.length === 0) return null;
  return (
    <>
      <p>On the plan; in Design the lenses SNR, Noise and SINR can count them:</p>
      {emitters.map((emitter) => (
        <div key={emitter.id}>
          <button
            type="button"
            className="plain mark-line"
            aria-expanded={emitter.id === chosen}
            onClick={() => set({ selection: emitter.id === chosen ? null : { table: 'emitters', ids: [emitter.id] } })}
          >
            <b>{SIGNAL_WORDS[emitter.signal].label}</b>
            {`, ${emitter.centreMhz} MHz, ${signed(emitter.eirpDbm)} dBm EIRP`}
          </button>
          {emitter.id === chosen && <EmitterForm emitter={emitter} units={units} />}
        </div>
      ))}
    </>
  );
}

function EmitterForm({ emitter, units }: { emitter: FoundEmitter; units: UnitSystem }) {
  const { id, signal, xM, yM, heightM, centreMhz, eirpDbm, note } = emitter;
  const change = (title: string, fields: Partial<FoundEmitter>): unknown => useDocument.getState().run(title, (d) => edit(d, 'emitters', id, fields));
  const { min, max } = LIMITS.coordinateM;
  const { mhz } = SWEEP_LIMITS;
  return (
    <div className="mark-form">
      <SelectField
        label="it is"
        value={signal}
        options={SIGNAL_KINDS.map((kind) => ({ value: kind, label: SIGNAL_WORDS[kind].label }))}
        onCommit={(kind) => change('Kind of an emitter', { signal: kind })}
      />
      <LengthField label="x" valueM={xM} units={units} minM={min} maxM={max} onCommit={(value) => change('Move an emitter', { xM: value })} />
      <LengthField label="y" valueM={yM} units={units} minM={min} maxM={max} onCommit={(value) => change('Move an emitter', { yM: value })} />
      <LengthField
        label="above the floor"
        valueM={heightM}
        units={units}
        minM={LIMITS.heightM.min}
        maxM={LIMITS.heightM.max}
        onCommit={(value) => change('Height of an emitter', { heightM: value })}
      />
      <NumberField
        label="about"
        unit="MHz"
        value={centreMhz}
        min={mhz.min}
        max={mhz.max}
        digits={0}
        onCommit={(value) => change('Frequency of an emitter', { centreMhz: value })}
      />
      <NumberField
        label="while it is on, EIRP"
        unit="dBm"
        value={eirpDbm}
        min={-60}
        max={80}
        digits={0}
        onCommit={(value) => change('Power of an emitter', { eirpDbm: value })}
      />
      <p>{bandLabel(bandAt(centreMhz))}</p>
      <TextField
        label="note"
        value={note}
        maxLength={LIMITS.textLength}
        mayBeEmpty
        lines={2}
        onCommit={(text) => change('Note of an emitter', { note: text })}
      />
      <div className="row">
        <Button
          size="small"
          variant="outlined"
          color="secondary"
          onClick={() => {
            useDocument.getState().run('Delete an emitter', (design) => remove(design, 'emitters', [id]));
            useSession.getState().set({ selection: null });
          }}
        >
          Delete emitter
        </Button>
      </div>
    </div>
  );
}
