'use client';
import Button from '@mui/material/Button';
import { v7 as uuid } from 'uuid';
import { LIMITS } from '@/core/design/limits';
import { changeModel, changeWidth, duplicateAccessPoints, edit, editRadios, remove } from '@/core/design/commands';
import type { AccessPoint, Project, Radio } from '@/core/design/design';
import type { Change } from '@/core/design/step';
import { BANDS, type Band, type WidthMhz } from '@/core/radio/band';
import { AP_MODELS, modelOf, radioModelOf } from '@/core/radio/catalogue';
import { allowedChannels, allowedWidths, ruleFor } from '@/core/radio/regulation';
import { formatArea } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import { signed } from '../state/format';
import { bandLabel } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { useMap } from '../state/useLens';
import { CheckField, LengthField, NumberField, SelectField, TextField, Value } from './fields';

/** The one value that all have, or null when they differ. */
function common<T, V>(items: readonly T[], pick: (item: T) => V): V | null {
  const first = pick(items[0]!);
  return items.every((item) => pick(item) === first) ? first : null;
}

/** Settings of one access point, or of all that are selected at once. */
export function AccessPointForm({ aps, project, onRetune }: { aps: readonly AccessPoint[]; project: Project; onRetune: () => void }) {
  const { run } = useDocument.getState();
  const ids = aps.map((ap) => ap.id);
  const first = aps[0]!;
  const single = aps.length === 1;
  const what = single ? first.name : `${aps.length} access points`;
  const every = (title: string, fields: Partial<AccessPoint>) =>
    run(`${title} of ${what}`, (design) => ids.flatMap((id): Change[] => edit(design, 'accessPoints', id, fields)));
  const model = modelOf(first.modelId);
  const bands = BANDS.filter((band) => aps.every((ap) => ap.radios.some((radio) => radio.band === band)));
  return (
    <div>
      <h2>{what}</h2>
      <p>
        {common(aps, (ap) => ap.modelId) === null
          ? 'Several models'
          : `${model.name} · ${model.generation} · ${model.radios[0]!.streams}×${model.radios[0]!.streams}`}
      </p>
      {single && <TextField label="name" value={first.name} maxLength={LIMITS.nameLength} onCommit={(name) => every('Rename', { name })} />}
      <SelectField
        label="model"
        value={common(aps, (ap) => ap.modelId)}
        options={AP_MODELS.map(({ id, name }) => ({ value: id, label: name }))}
        onCommit={(modelId) => run(`Change model of ${what}`, (design) => changeModel(design, ids, modelId))}
      />
      <LengthField
        label="height"
        valueM={common(aps, (ap) => ap.heightM)}
        units={project.units}
        minM={0}
        maxM={LIMITS.heightM.max}
        onCommit={(heightM) => every('Height', { heightM })}
      />
      {single && (
        <>
          <LengthField
            label="x"
            valueM={first.xM}
            units={project.units}
            minM={LIMITS.coordinateM.min}
            maxM={LIMITS.coordinateM.max}
            onCommit={(xM) => every('Position', { xM })}
          />
          <LengthField
            label="y"
            valueM={first.yM}
            units={project.units}
            minM={LIMITS.coordinateM.min}
            maxM={LIMITS.coordinateM.max}
            onCommit={(yM) => every('Position', { yM })}
          />
        </>
      )}
      {model.mount !== 'ceiling' && (
        <>
          <NumberField
            label="azimuth"
            value={common(aps, (ap) => ap.azimuthDeg)}
            unit="°"
            min={0}
            max={360}
            digits={0}
            onCommit={(azimuthDeg) => every('Azimuth', { azimuthDeg })}
          />
          <NumberField
            label="tilt"
            value={common(aps, (ap) => ap.tiltDeg)}
            unit="°"
            min={-90}
            max={90}
            digits={0}
            onCommit={(tiltDeg) => every('Tilt', { tiltDeg })}
          />
        </>
      )}
      <CheckField label="locked" checked={aps.every((ap) => ap.locked)} onCommit={(locked) => every(locked ? 'Lock' : 'Unlock', { locked })} />
      {bands.map((band) => (
        <RadioForm key={band} band={band} aps={aps} project={project} title={what} />
      ))}
      {single && <Serves ap={first} project={project} />}
      <div className="row">
        <Button variant="contained" onClick={onRetune}>
          Retune…
        </Button>
        <Button
          variant="outlined"
          color="secondary"
          onClick={() => {
            const newIds = ids.map(() => uuid());
            run(`Duplicate ${what}`, (design) => duplicateAccessPoints(design, ids, newIds));
            useSession.getState().set({ selection: { table: 'accessPoints', ids: newIds } });
          }}
        >
          Duplicate
        </Button>
        <Button
          variant="outlined"
          color="secondary"
          onClick={() => {
            run(`Delete ${what}`, (design) => remove(design, 'accessPoints', ids));
            useSession.getState().set({ selection: null });
          }}
        >
          Delete
        </Button>
      </div>
    </div>
  );
}

function RadioForm({ band, aps, project, title }: { band: Band; aps: readonly AccessPoint[]; project: Project; title: string }) {
  const { run } = useDocument.getState();
  const radios = aps.map((ap) => ap.radios.find((radio) => radio.band === band)!);
  const first = radios[0]!;
  const set = (label: string, fields: Partial<Radio>) =>
    run(`${label} of ${title}, ${band} GHz`, (design) =>
      editRadios(
        design,
        aps.map((ap) => ap.id),
        band,
        fields,
      ),
    );
  const limits = aps.map((ap) => radioModelOf(ap.modelId, band)!);
  const widest = Math.min(...limits.map((limit) => limit.maxWidthMhz));
  const width = common(radios, (radio) => radio.widthMhz);
  const on = radios.every((radio) => radio.on);
  const channel = common(radios, (radio) => radio.channel);
  // Where widths differ, only channels that exist at each of them can be set for all.
  const widths = [...new Set(radios.map((radio) => radio.widthMhz))];
  const channels = allowedChannels(project.domain, band, widths[0]!)
    .filter(({ channel: { primary } }) => widths.every((widthMhz) => ruleFor(project.domain, { band, primary, widthMhz }) !== null))
    .map(({ channel: { primary }, dfs }) => ({ value: primary, label: dfs ? `${primary} · DFS` : String(primary) }));
  const rule = width === null || channel === null ? null : ruleFor(project.domain, { band, primary: channel, widthMhz: width });
  const eirpDbm = first.txPowerDbm + limits[0]!.antenna.peakDbi;
  const toWidth = (widthMhz: WidthMhz) =>
    run(`Width of ${title}, ${band} GHz`, (design) =>
      changeWidth(
        design,
        aps.map((ap) => ap.id),
        band,
        widthMhz,
      ),
    );
  return (
    <fieldset>
      <legend>
        <h3>{bandLabel(band)} radio</h3>
      </legend>
      <CheckField label="on" checked={on} onCommit={(checked) => set(checked ? 'Switch on' : 'Switch off', { on: checked })} />
      {on && (
        <>
          <SelectField label="channel" value={channel} options={channels} onCommit={(value) => set('Channel', { channel: value })} />
          <SelectField
            label="width"
            value={width}
            options={allowedWidths(project.domain, band)
              .filter((w) => w <= widest)
              .map((w) => ({ value: w, label: `${w} MHz` }))}
            onCommit={toWidth}
          />
          <NumberField
            label="power"
            value={common(radios, (radio) => radio.txPowerDbm)}
            unit="dBm"
            min={Math.max(...limits.map((l) => l.minPowerDbm))}
            max={Math.min(...limits.map((l) => l.maxPowerDbm))}
            digits={1}
            onCommit={(txPowerDbm) => set('Power', { txPowerDbm })}
          />
          {aps.length === 1 && (
            <Value label="EIRP">
              {signed(eirpDbm, 1)} dBm{rule !== null && eirpDbm > rule.maxEirpDbm ? ` > ${rule.maxEirpDbm}` : ''}
            </Value>
          )}
          {aps.length === 1 && rule === null && (
            <p role="alert">
              Channel {first.channel} at {first.widthMhz} MHz is not allowed in {project.domain}.
            </p>
          )}
          {aps.length === 1 && rule !== null && eirpDbm > rule.maxEirpDbm && (
            <p role="alert">
              More than the {rule.maxEirpDbm} dBm EIRP that {project.domain} allows here: lower the power.
            </p>
          )}
          <CheckField
            label="radio locked"
            checked={radios.every((radio) => radio.locked)}
            onCommit={(locked) => set(locked ? 'Lock radio' : 'Unlock radio', { locked })}
          />
        </>
      )}
    </fieldset>
  );
}

/** What the access point serves on the map in view. */
function Serves({ ap, project }: { ap: AccessPoint; project: Project }) {
  const map = useMap((s) => s.map);
  const index = map?.radios.findIndex((radio) => radio.ap.id === ap.id) ?? -1;
  const served = index >= 0 ? map?.served[index] : undefined;
  if (map === null || served === undefined) return null;
  return (
    <>
      <h3>What it serves, {bandLabel(map.band)}</h3>
      <Value label="area">{formatArea(served.areaM2, project.units)}</Value>
      <Value label="mean">{Number.isNaN(served.meanDbm) ? '–' : `${signed(served.meanDbm, 1)} dBm`}</Value>
    </>
  );
}
