'use client';
import Button from '@mui/material/Button';
import { v7 as uuid } from 'uuid';
import type { ClientTypeRecord } from '@/core/design/design';
import { addClientType, editClientType, removeClientType } from '@/core/design/equipmentCommands';
import { LIMITS } from '@/core/design/limits';
import { BANDS, WIDTHS_MHZ } from '@/core/radio/band';
import { PREFERENCES, bandRuleWords } from '@/core/radio/bandRule';
import type { ClientType } from '@/core/radio/clientTypes';
import { GENERATIONS } from '@/core/radio/rates';
import { CheckField, NumberField, SelectField, TextField, Value } from '../inspector/fields';
import { useDocument } from '../state/documentStore';
import { signed } from '../state/format';
import { bandLabel } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { saveEquipment } from './files';

/** A kind of client: what it hears and sends with. The catalogue's can be looked at and copied. */
export function ClientTypeForm({ type }: { type: ClientType }) {
  const { run } = useDocument.getState();
  const design = useDocument((s) => s.design);
  const record: ClientTypeRecord | undefined = design.clientTypes[type.id];
  const { equipment, bands, bandRule } = type;
  const select = (id: string | null) => useSession.getState().set({ selection: id === null ? null : { table: 'clientTypes', ids: [id] } });
  const set = (title: string, fields: Parameters<typeof editClientType>[2]) =>
    run(`${title} of ${type.name}`, (d) => editClientType(d, type.id, fields));
  const equip = (title: string, fields: Partial<ClientType['equipment']>) => set(title, { equipment: { ...equipment, ...fields } });
  return (
    <div>
      <h2>{type.name}</h2>
      <p>{record === undefined ? 'A kind of client of the catalogue.' : 'A kind of client of this project.'}</p>
      {record === undefined ? (
        <>
          <Value label="bands">{bands.map(bandLabel).join(', ')}</Value>
          {bands.length > 1 && <Value label="takes">{bandRuleWords(bandRule)}</Value>}
          <Value label="generation">{equipment.generation}</Value>
          <Value label="streams">{equipment.streams}</Value>
          <Value label="width">{`up to ${equipment.maxWidthMhz} MHz`}</Value>
          <Value label="gain">{`${signed(equipment.gainDbi, 1)} dBi`}</Value>
          <Value label="noise figure">{`${signed(equipment.noiseFigureDb, 1)} dB`}</Value>
          <Value label="power">{`${signed(equipment.txPowerDbm, 1)} dBm`}</Value>
        </>
      ) : (
        <>
          <TextField label="name" value={type.name} maxLength={LIMITS.nameLength} onCommit={(name) => set('Name', { name })} />
          {BANDS.map((band) => (
            <CheckField
              key={band}
              label={bandLabel(band)}
              checked={bands.includes(band)}
              disabled={bands.length === 1 && bands.includes(band)}
              onCommit={(on) => set('Bands', { bands: BANDS.filter((one) => (one === band ? on : bands.includes(one))) })}
            />
          ))}
          <SelectField
            label="prefers"
            value={bandRule.prefers}
            options={PREFERENCES.map((value) => ({ value, label: `the ${value} band` }))}
            onCommit={(prefers) => set('Band it prefers', { bandRule: { ...bandRule, prefers } })}
          />
          {bandRule.prefers !== 'loudest' && (
            <NumberField
              label="heard from"
              value={bandRule.fromDbm}
              unit="dBm"
              {...LIMITS.owedDbm}
              digits={0}
              onCommit={(fromDbm) => set('Level from which it takes a band', { bandRule: { ...bandRule, fromDbm } })}
            />
          )}
          <SelectField
            label="generation"
            value={equipment.generation}
            options={GENERATIONS.map((value) => ({ value, label: value }))}
            onCommit={(generation) => equip('Generation', { generation })}
          />
          <NumberField
            label="streams"
            value={equipment.streams}
            unit=""
            {...LIMITS.streams}
            digits={0}
            onCommit={(streams) => equip('Streams', { streams: Math.round(streams) })}
          />
          <SelectField
            label="width up to"
            value={equipment.maxWidthMhz}
            options={WIDTHS_MHZ.map((value) => ({ value, label: `${value} MHz` }))}
            onCommit={(maxWidthMhz) => equip('Width', { maxWidthMhz })}
          />
          <NumberField
            label="gain"
            value={equipment.gainDbi}
            unit="dBi"
            {...LIMITS.clientDbi}
            digits={1}
            onCommit={(gainDbi) => equip('Gain', { gainDbi })}
          />
          <NumberField
            label="noise figure"
            value={equipment.noiseFigureDb}
            unit="dB"
            {...LIMITS.noiseFigureDb}
            digits={1}
            onCommit={(noiseFigureDb) => equip('Noise figure', { noiseFigureDb })}
          />
          <NumberField
            label="power"
            value={equipment.txPowerDbm}
            unit="dBm"
            {...LIMITS.txPowerDbm}
            digits={1}
            onCommit={(txPowerDbm) => equip('Power', { txPowerDbm })}
          />
        </>
      )}
      <p>The gain is what is left after hand, head and body. Design shows the map for this client when it is chosen beside “for”.</p>
      <div className="row">
        <Button
          variant="contained"
          onClick={() => {
            const id = uuid();
            if (run(`New client like ${type.name}`, (d) => addClientType(d, id, type.id))) select(id);
          }}
        >
          Make an own one like it
        </Button>
        {record !== undefined && (
          <>
            <Button variant="outlined" color="secondary" onClick={() => saveEquipment(type.name, { models: [], clientTypes: [record] })}>
              Keep as a file
            </Button>
            <Button
              variant="outlined"
              color="secondary"
              onClick={() => {
                if (run(`Delete ${type.name}`, (d) => removeClientType(d, type.id))) select(null);
              }}
            >
              Delete
            </Button>
          </>
        )}
      </div>
    </div>
  );
}
