'use client';
import { useModels } from '../state/useModels';
import Button from '@mui/material/Button';
import { Fragment, memo } from 'react';
import { v7 as uuid } from 'uuid';
import { LIMITS } from '@/core/design/limits';
import { changeModel, changeWidth, duplicateAccessPoints, edit, editRadios, remove, shiftPower } from '@/core/design/commands';
import { domainOf, type AccessPoint, type Project, type Radio } from '@/core/design/design';
import { announce, ssidsOf } from '@/core/design/ssids';
import type { Change } from '@/core/design/step';
import { BANDS, type Band } from '@/core/radio/band';
import { radioModelOf, type ApModel, type RadioModel } from '@/core/radio/catalogue';
import { channelOf, isPreferredScanning } from '@/core/radio/channel';
import { highestPowerDbm, lawProblem, lawWords, lawfulChannels } from '@/core/radio/law';
import { domainName, allowedChannels, allowedWidths, ruleFor, type AllowedChannel, type Domain } from '@/core/radio/regulation';
import { formatArea } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import { signed } from '../state/format';
import { bandLabel } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { useMap } from '../state/useLens';
import { CheckField, common, LengthField, NumberField, SelectField, TextField, Value } from './fields';

/** Settings of one access point, or of all that are selected at once. */
export const AccessPointForm = memo(function AccessPointForm({ aps, project }: { aps: readonly AccessPoint[]; project: Project }) {
  const { run } = useDocument.getState();
  const ids = aps.map((ap) => ap.id);
  const first = aps[0]!;
  const single = aps.length === 1;
  const what = single ? first.name : `${aps.length} access points`;
  const every = (title: string, fields: Partial<AccessPoint>) =>
    run(`${title} of ${what}`, (design) => ids.flatMap((id): Change[] => edit(design, 'accessPoints', id, fields)));
  const { all, models } = useModels();
  const model = models(first.modelId);
  // What a model lacks, because it was changed in another window, is no radio to set.
  const has = (ap: AccessPoint, band: Band) => radioModelOf(models(ap.modelId), band) !== null && ap.radios.some((radio) => radio.band === band);
  const bands = BANDS.filter((band) => aps.some((ap) => has(ap, band)));
  return (
    <div>
      <h2>{what}</h2>
      <p>{common(aps, (ap) => ap.modelId) === null ? 'Several models' : `${model.name} · ${model.generation} · ${streamsText(model)}`}</p>
      {single && <TextField label="name" value={first.name} maxLength={LIMITS.nameLength} onCommit={(name) => every('Rename', { name })} />}
      <SelectField
        label="model"
        value={common(aps, (ap) => ap.modelId)}
        options={all.map(({ id, name }) => ({ value: id, label: name }))}
        onCommit={(modelId) => run(`Change model of ${what}`, (design) => changeModel(design, ids, modelId))}
      />
      {common(aps, (ap) => ap.modelId) !== null && (
        <div className="row">
          <Button
            size="small"
            color="secondary"
            onClick={() => useSession.getState().set({ selection: { table: 'apModels', ids: [first.modelId] } })}
          >
            About this model
          </Button>
        </div>
      )}
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
        <RadioForm key={band} band={band} aps={aps.filter((ap) => has(ap, band))} project={project} of={aps.length} />
      ))}
      <Announced aps={aps} />
      {single && <Serves ap={first} project={project} />}
      <div className="row">
        <Button variant="contained" onClick={() => useSession.getState().set({ retuneOpen: true })}>
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
});

/** Spatial streams by band; said once where all bands have as many. */
function streamsText({ radios }: ApModel): string {
  const counts = [...new Set(radios.map(({ streams }) => streams))];
  if (counts.length === 1) return `${counts[0]}×${counts[0]}`;
  return counts
    .map(
      (n) =>
        `${n}×${n} at ${radios
          .filter(({ streams }) => streams === n)
          .map(({ band }) => band)
          .join(' and ')} GHz`,
    )
    .join(', ');
}

/** One band's radios of the access points that have it; `of` is how many are selected in all. */
function RadioForm({ band, aps, project, of }: { band: Band; aps: readonly AccessPoint[]; project: Project; of: number }) {
  const { run } = useDocument.getState();
  const domain = domainOf(project);
  const { models } = useModels();
  const ids = aps.map((ap) => ap.id);
  const title = aps.length === 1 ? aps[0]!.name : `${aps.length} access points`;
  const radios = aps.map((ap) => ap.radios.find((radio) => radio.band === band)!);
  const set = (label: string, fields: Partial<Radio>) => run(`${label} of ${title}, ${band} GHz`, (design) => editRadios(design, ids, band, fields));
  const limits = aps.map((ap) => radioModelOf(models(ap.modelId), band)!);
  const widest = Math.min(...limits.map((limit) => limit.maxWidthMhz));
  const on = radios.every((radio) => radio.on);
  // Where widths differ, only channels that exist at each of them can be set for all.
  const widths = [...new Set(radios.map((radio) => radio.widthMhz))];
  const channels = allowedChannels(domain, band, widths[0]!).filter(({ channel: { primary } }) =>
    aps.every((ap) =>
      widths.every((widthMhz) => lawfulChannels(domain, models(ap.modelId), band, widthMhz).some(({ channel }) => channel.primary === primary)),
    ),
  );
  const problems = aps.flatMap((ap, i) => {
    const problem = lawProblem(domain, models(ap.modelId), radios[i]!);
    return problem === null ? [] : [aps.length === 1 ? lawWords(problem) : `${ap.name}: ${lawWords(problem)}`];
  });
  const shift = (db: number) => run(`Power of ${title}, ${band} GHz, ${signed(db)} dB`, (design) => shiftPower(design, ids, band, db));
  return (
    <fieldset>
      <legend>
        <h3>{`${bandLabel(band)} radio${aps.length < of ? ` (${aps.length} of ${of})` : ''}`}</h3>
      </legend>
      <CheckField label="on" checked={on} onCommit={(checked) => set(checked ? 'Switch on' : 'Switch off', { on: checked })} />
      {on && (
        <>
          <SelectField
            label="channel"
            value={common(radios, (radio) => radio.channel)}
            options={channels.map((allowed) => ({
              value: allowed.channel.primary,
              label: channelText(allowed),
              group: [allowed.subBand, allowed.powerClass].filter(Boolean).join(', '),
            }))}
            onCommit={(value) => set('Channel', { channel: value })}
          />
          <SelectField
            label="width"
            value={common(radios, (radio) => radio.widthMhz)}
            options={allowedWidths(domain, band)
              .filter((w) => w <= widest)
              .map((w) => ({ value: w, label: `${w} MHz` }))}
            onCommit={(widthMhz) => run(`Width of ${title}, ${band} GHz`, (design) => changeWidth(design, ids, band, widthMhz))}
          />
          <NumberField
            label="power"
            value={common(radios, (radio) => radio.txPowerDbm)}
            unit="dBm"
            min={Math.max(...limits.map((l) => l.minPowerDbm))}
            max={Math.min(...aps.map((ap, i) => highestPowerDbm(domain, models(ap.modelId), radios[i]!)))}
            digits={1}
            onCommit={(txPowerDbm) => set('Power', { txPowerDbm })}
          />
          <div className="row shifts" role="group" aria-label={`Change the power of ${band} GHz`}>
            {[-3, -1, 1, 3].map((db) => (
              <Button key={db} size="small" color="secondary" aria-label={`${band} GHz power ${signed(db)} dB`} onClick={() => shift(db)}>
                {`${db > 0 ? '+' : ''}${signed(db)} dB`}
              </Button>
            ))}
          </div>
          {aps.length === 1 && <Value label="EIRP">{eirpText(domain, limits[0]!, radios[0]!)}</Value>}
          {problems.map((words) => (
            <p key={words} role="alert" className="urgent">
              {words}
            </p>
          ))}
          <TextField
            label="not on"
            value={common(radios, (radio) => radio.forbidden.join(', ')) ?? 'several'}
            placeholder="channels retune may not use"
            maxLength={300}
            mayBeEmpty
            onCommit={(text) => {
              const forbidden = text
                .split(/[\s,;]+/)
                .filter(Boolean)
                .map(Number);
              const unknown = forbidden.filter((primary) => !allowedChannels(domain, band, 20).some(({ channel }) => channel.primary === primary));
              if (unknown.length > 0)
                useDocument.getState().setNotice({
                  words: `${domainName(domain)} has no ${band} GHz channel ${unknown.map((n) => (Number.isNaN(n) ? 'of this name' : n)).join(', ')}. Write numbers with commas between, as 36, 40.`,
                });
              else set('Forbidden channels', { forbidden: [...new Set(forbidden)].sort((a, b) => a - b) });
            }}
          />
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

/** A channel with what is asked of a radio there: radar detection with its waiting time, or that clients look there first. */
function channelText({ channel, checkS, weatherRadar }: AllowedChannel): string {
  const notes = [
    ...(checkS === null ? [] : [`DFS ${checkS >= 120 ? `${checkS / 60} min` : `${checkS} s`}${weatherRadar ? ', weather radar' : ''}`]),
    ...(isPreferredScanning(channel) ? ['preferred scanning'] : []),
  ];
  return [String(channel.primary), ...notes].join(' · ');
}

function eirpText(domain: Domain, { antenna }: RadioModel, radio: Radio): string {
  const rule = ruleFor(domain, channelOf(radio));
  const eirp = `${signed(radio.txPowerDbm + antenna.peakDbi, 1)} dBm`;
  return rule === null ? eirp : `${eirp} of ${signed(rule.maxEirpDbm, 1)} dBm`;
}

/** Which of the project's network names they announce. */
function Announced({ aps }: { aps: readonly AccessPoint[] }) {
  const ssids = useDocument((s) => ssidsOf(s.design));
  if (ssids.length === 0) return null;
  const ids = aps.map(({ id }) => id);
  const what = aps.length === 1 ? aps[0]!.name : `${aps.length} access points`;
  return (
    <fieldset>
      <legend>
        <h3>Network names</h3>
      </legend>
      {ssids.map(({ id, name, bands }) => (
        <CheckField
          key={id}
          label={bands.length === BANDS.length ? name : `${name} (${bands.map(bandLabel).join(', ')})`}
          checked={aps.every(({ withheldSsids }) => !withheldSsids.includes(id))}
          onCommit={(on) =>
            useDocument.getState().run(`${on ? 'Announce' : 'Withhold'} “${name}”, ${what}`, (design) => announce(design, ids, id, on))
          }
        />
      ))}
    </fieldset>
  );
}

/** What the access point serves on the map in view. */
function Serves({ ap, project }: { ap: AccessPoint; project: Project }) {
  const map = useMap((s) => s.map);
  return map?.radios.map((radio, i) => {
    if (radio.ap.id !== ap.id) return null;
    const { areaM2, meanDbm } = map.served[i]!;
    return (
      <Fragment key={radio.band}>
        <h3>What it serves, {bandLabel(radio.band)}</h3>
        <Value label="area">{formatArea(areaM2, project.units)}</Value>
        <Value label="mean">{Number.isNaN(meanDbm) ? '–' : `${signed(meanDbm, 1)} dBm`}</Value>
      </Fragment>
    );
  });
}
