'use client';
import Button from '@mui/material/Button';
import { v7 as uuid } from 'uuid';
import type { Project } from '@/core/design/design';
import { addModel, editModel, removeModel, usesOfModel } from '@/core/design/equipmentCommands';
import { LIMITS } from '@/core/design/limits';
import { BANDS, type Band } from '@/core/radio/band';
import { widthsOf } from '@/core/radio/channel';
import { AP_MODELS, radioModelOf, type ApModel, type RadioModel } from '@/core/radio/catalogue';
import { GENERATIONS } from '@/core/radio/rates';
import { formatLength } from '@/core/units/length';
import { CheckField, LengthField, NumberField, SelectField, TextField, Value } from '../inspector/fields';
import { FileButton } from '../kit/FileButton';
import { useDocument } from '../state/documentStore';
import { signed } from '../state/format';
import { bandLabel } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { AntennaCuts } from './AntennaCuts';
import { bringInAntenna, saveAntenna, saveEquipment } from './files';

const MOUNT_LABEL = { ceiling: 'ceiling', wall: 'wall', pole: 'pole' } as const;

/** An access point model: what it can do in each band, and how its antennas radiate. The catalogue's can be looked at and copied. */
export function ModelForm({ model, project }: { model: ApModel; project: Project }) {
  const { run } = useDocument.getState();
  const design = useDocument((s) => s.design);
  const own = Object.hasOwn(design.apModels, model.id);
  const uses = usesOfModel(design, model.id);
  const select = (id: string | null) => useSession.getState().set({ selection: id === null ? null : { table: 'apModels', ids: [id] } });
  const set = (title: string, fields: Parameters<typeof editModel>[2]) => run(`${title} of ${model.name}`, (d) => editModel(d, model.id, fields));
  return (
    <div>
      <h2>{model.name}</h2>
      <p>{`${own ? 'A model of this project' : 'Of the catalogue'}; ${uses === 0 ? 'none hangs' : uses === 1 ? '1 access point is of it' : `${uses} access points are of it`}, all variants counted.`}</p>
      {own ? (
        <>
          <TextField label="name" value={model.name} maxLength={LIMITS.nameLength} onCommit={(name) => set('Name', { name })} />
          <SelectField
            label="generation"
            value={model.generation}
            options={GENERATIONS.map((value) => ({ value, label: value }))}
            onCommit={(generation) => set('Generation', { generation })}
          />
          <SelectField
            label="mounting"
            value={model.mount}
            options={(['ceiling', 'wall', 'pole'] as const).map((value) => ({ value, label: MOUNT_LABEL[value] }))}
            onCommit={(mount) => set('Mounting', { mount })}
          />
          <LengthField
            label="hung at"
            valueM={model.defaultHeightM}
            units={project.units}
            minM={LIMITS.heightM.min}
            maxM={LIMITS.heightM.max}
            onCommit={(defaultHeightM) => set('Height', { defaultHeightM })}
          />
          <CheckField label="outdoors" checked={model.outdoor} onCommit={(outdoor) => set(outdoor ? 'Outdoors' : 'Indoors', { outdoor })} />
          <NumberField label="draws" value={model.poeW} unit="W" {...LIMITS.poeW} digits={1} onCommit={(poeW) => set('Power draw', { poeW })} />
          <NumberField
            label="clients a radio"
            value={model.clientsPerRadio}
            unit=""
            {...LIMITS.people}
            digits={0}
            onCommit={(count) => set('Clients', { clientsPerRadio: Math.round(count) })}
          />
        </>
      ) : (
        <>
          <Value label="generation">{model.generation}</Value>
          <Value label="mounting">{`${MOUNT_LABEL[model.mount]}, ${model.outdoor ? 'outdoors' : 'indoors'}`}</Value>
          <Value label="hung at">{formatLength(model.defaultHeightM, project.units, 1)}</Value>
          <Value label="draws">{`${model.poeW} W`}</Value>
          <Value label="clients a radio">{model.clientsPerRadio}</Value>
        </>
      )}
      {BANDS.map((band) => (
        <BandFields key={band} band={band} model={model} own={own} onRadios={(title, radios) => set(title, { radios })} />
      ))}
      <p>Cuts are drawn in dB below the peak. Between them the gain is filled in; docs/physics.md says how.</p>
      <div className="row">
        <Button
          variant="contained"
          onClick={() => {
            const id = uuid();
            if (run(`New model like ${model.name}`, (d) => addModel(d, id, model.id))) select(id);
          }}
        >
          Make an own one like it
        </Button>
        {own && (
          <Button variant="outlined" color="secondary" onClick={() => saveEquipment(model.name, { models: [model], clientTypes: [] })}>
            Keep as a file
          </Button>
        )}
        {own && (
          <Button
            variant="outlined"
            color="secondary"
            onClick={() => {
              if (run(`Delete ${model.name}`, (d) => removeModel(d, model.id))) select(null);
            }}
          >
            {uses === 0 ? 'Delete' : `Delete, its access points become ${AP_MODELS[0]!.name}`}
          </Button>
        )}
      </div>
    </div>
  );
}

/** One band of a model. */
function BandFields({
  band,
  model,
  own,
  onRadios,
}: {
  band: Band;
  model: ApModel;
  own: boolean;
  onRadios: (title: string, radios: readonly RadioModel[]) => void;
}) {
  const radio = radioModelOf(model, band);
  const title = bandLabel(band);
  const set = (what: string, fields: Partial<RadioModel>) =>
    onRadios(
      `${what} at ${band} GHz`,
      model.radios.map((one) => (one.band === band ? { ...one, ...fields } : one)),
    );
  if (!own)
    return radio === null ? null : (
      <>
        <h3>{title}</h3>
        <Value label="power">{`${signed(radio.minPowerDbm)} to ${signed(radio.maxPowerDbm)} dBm`}</Value>
        <Value label="width">{`up to ${radio.maxWidthMhz} MHz`}</Value>
        <Value label="streams">{radio.streams}</Value>
        <Value label="peak gain">{`${signed(radio.antenna.peakDbi, 1)} dBi`}</Value>
        <AntennaCuts antenna={radio.antenna} label={`Antenna at ${band} GHz`} />
        <div className="row">
          <Button size="small" color="secondary" onClick={() => saveAntenna(model, band)}>
            {`Keep the ${band} GHz antenna as a file`}
          </Button>
        </div>
      </>
    );
  return (
    <>
      <h3>{title}</h3>
      <CheckField
        label={`has ${band} GHz`}
        checked={radio !== null}
        disabled={radio !== null && model.radios.length === 1}
        onCommit={(on) =>
          onRadios(
            on ? `${band} GHz` : `No ${band} GHz`,
            on
              ? BANDS.flatMap((one) => (one === band ? [freshRadio(band, model)] : (radioModelOf(model, one) ?? [])))
              : model.radios.filter((one) => one.band !== band),
          )
        }
      />
      {radio !== null && (
        <>
          <NumberField
            label="power from"
            value={radio.minPowerDbm}
            unit="dBm"
            min={LIMITS.txPowerDbm.min}
            max={radio.maxPowerDbm}
            digits={1}
            onCommit={(minPowerDbm) => set('Lowest power', { minPowerDbm })}
          />
          <NumberField
            label="power to"
            value={radio.maxPowerDbm}
            unit="dBm"
            min={radio.minPowerDbm}
            max={LIMITS.txPowerDbm.max}
            digits={1}
            onCommit={(maxPowerDbm) => set('Highest power', { maxPowerDbm })}
          />
          <SelectField
            label="width up to"
            value={radio.maxWidthMhz}
            options={widthsOf(band).map((value) => ({ value, label: `${value} MHz` }))}
            onCommit={(maxWidthMhz) => set('Width', { maxWidthMhz })}
          />
          <NumberField
            label="streams"
            value={radio.streams}
            unit=""
            {...LIMITS.streams}
            digits={0}
            onCommit={(streams) => set('Streams', { streams: Math.round(streams) })}
          />
          <NumberField
            label="peak gain"
            value={radio.antenna.peakDbi}
            unit="dBi"
            {...LIMITS.antennaDbi}
            digits={1}
            onCommit={(peakDbi) => set('Gain', { antenna: { ...radio.antenna, peakDbi } })}
          />
          <AntennaCuts antenna={radio.antenna} label={`Antenna at ${band} GHz`} />
          <div className="row">
            <FileButton
              label={`Antenna file for ${band} GHz`}
              accept=".json,application/json"
              onFile={(file) => void bringInAntenna(file, model, band)}
            >
              Antenna from a file…
            </FileButton>
            <Button size="small" color="secondary" onClick={() => saveAntenna(model, band)}>
              {`Keep the ${band} GHz antenna as a file`}
            </Button>
          </div>
        </>
      )}
    </>
  );
}

/** A radio for a band that a model did not have: like the one it has, 20 MHz wide where that is all the band is sure to have. */
function freshRadio(band: Band, { radios }: ApModel): RadioModel {
  const like = radios[0]!;
  return { ...like, band, maxWidthMhz: band === '2.4' ? 20 : 80 };
}
