'use client';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useState } from 'react';
import { defaultRadio } from '@/core/design/commands';
import { domainOf, floorsOf, onFloor } from '@/core/design/design';
import { LIMITS } from '@/core/design/limits';
import { zonesWithLevel } from '@/core/design/service';
import type { Positions, Stage } from '@/core/planning/positions/proposed';
import { DEFAULT_RULES } from '@/core/planning/problem';
import type { Band, WidthMhz } from '@/core/radio/band';
import { radioModelOf } from '@/core/radio/catalogue';
import { highestPowerDbm } from '@/core/radio/law';
import { allowedWidths } from '@/core/radio/regulation';
import { CheckField, NumberField, SelectField } from '../../../inspector/fields';
import { useDocument } from '../../../state/documentStore';
import { percent } from '../../../state/format';
import { bandLabel, type Place } from '../../../state/selectors';
import { useSession } from '../../../state/sessionStore';
import { useModels } from '../../../state/useModels';
import { owedText } from '../../brief/owed';
import { MetTable, isMet } from './MetTable';
import type { GroupShare } from '@/core/planning/positions/positions';
import { forgetProposal, hangProposed, isFor, propose, stopProposal, useProposal, type Asked, type CrowdWish } from './proposal';

/** What people want where nobody has said: one device each with a stream of video now and then, in half of a radio's airtime. */
const USUAL_CROWD: CrowdWish = { devicesEach: 1, mbpsEach: 1, airtimeShare: 0.5 };

/** New access points: what is asked, how far the search has come, and how good it is. */
export function ProposeTab({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const domain = domainOf(place.project);
  const { all } = useModels();
  const [wishedModel, setModelId] = useState(useSession.getState().modelId);
  const [also, setAlso] = useState<string | null>(null);
  // One that went meanwhile is not hung.
  const model = all.find(({ id }) => id === wishedModel) ?? all[0]!;
  const bands = model.radios.map(({ band }) => band);
  const [wishedBand, setBand] = useState<Band>(useSession.getState().band);
  const band = bands.includes(wishedBand) ? wishedBand : bands.at(-1)!;
  const others = all.filter(({ id, radios }) => id !== model.id && radios.some((radio) => radio.band === band));
  const second = others.find(({ id }) => id === also) ?? null;
  const widths = allowedWidths(domain, band).filter((w) => w <= radioModelOf(model, band)!.maxWidthMhz);
  const [wishedWidth, setWidth] = useState<Partial<Record<Band, WidthMhz>>>({});
  const usualWidth = DEFAULT_RULES.widthsMhz[band].find((w) => widths.includes(w)) ?? widths[0] ?? 20;
  const widthMhz = widths.find((w) => w === wishedWidth[band]) ?? usualWidth;
  const [power, setPower] = useState<Readonly<{ of: string; dbm: number }> | null>(null);
  const [keep, setKeep] = useState(false);
  const [building, setBuilding] = useState(false);
  const [crowd, setCrowd] = useState<CrowdWish | null>(null);
  const [plan, setPlan] = useState(false);
  const proposal = useProposal();
  const { phase, best, levelsDone, standing, problem, counting, planned } = proposal;
  const radio = defaultRadio(model, domain, band, widthMhz);
  const of = `${model.id}/${band}`;
  const txPowerDbm = power?.of === of ? power.dbm : radio.txPowerDbm;
  const floors = building ? floorsOf(design) : [place.floor];
  const zones = floors.flatMap((floor) => zonesWithLevel(design, floor.id).map((owed) => ({ ...owed, floor })));
  const people = floors.reduce((sum, { id }) => sum + onFloor(design, 'zones', id).reduce((more, zone) => more + (zone.people ?? 0), 0), 0);
  const hanging = place.around.filter(({ floorId }) => floors.some(({ id }) => id === floorId));
  const locked = hanging.filter((ap) => ap.locked).length;
  // Of the floors that were asked, which may be others than the form says by now.
  const replaced = place.around.filter((ap) => !ap.locked && proposal.of?.floorIds.includes(ap.floorId) === true).length;
  const asked: Asked = {
    modelIds: [model.id, ...(second === null ? [] : [second.id])],
    band,
    widthMhz,
    txPowerDbm,
    keep,
    building: building && floorsOf(design).length > 1,
    crowd: people > 0 ? crowd : null,
    plan,
  };
  const projectId = useDocument((s) => s.projectId);
  const here = isFor(proposal, projectId, place.floor.id, place.variant.id);
  const busy = phase === 'running' || phase === 'planning';
  const fresh = best?.chosen?.length ?? 0;
  const wish = (fields: Partial<CrowdWish>) => setCrowd((was) => ({ ...(was ?? USUAL_CROWD), ...fields }));
  return (
    <>
      <p>{`The fewest access points for ${place.variant.name}: on a lattice off walls and out of keep-out zones.`}</p>
      {floorsOf(design).length > 1 && (
        <SelectField
          label="floors"
          value={building ? 'building' : 'floor'}
          options={[
            { value: 'floor', label: place.floor.name },
            { value: 'building', label: `all ${floorsOf(design).length} floors together` },
          ]}
          onCommit={(what) => setBuilding(what === 'building')}
        />
      )}
      <SelectField label="model" value={model.id} options={all.map(({ id, name }) => ({ value: id, label: name }))} onCommit={setModelId} />
      <SelectField
        label="second model"
        value={second?.id ?? ''}
        options={[{ value: '', label: 'none' }, ...others.map(({ id, name }) => ({ value: id, label: name }))]}
        onCommit={(id) => setAlso(id === '' ? null : id)}
      />
      <SelectField label="judged by" value={band} options={bands.map((one) => ({ value: one, label: bandLabel(one) }))} onCommit={setBand} />
      <SelectField
        label="channel width"
        value={widthMhz}
        options={widths.map((w) => ({ value: w, label: `${w} MHz` }))}
        onCommit={(w) => setWidth((was) => ({ ...was, [band]: w }))}
      />
      <NumberField
        label="power"
        value={txPowerDbm}
        unit="dBm"
        min={radioModelOf(model, band)!.minPowerDbm}
        max={highestPowerDbm(domain, model, radio)}
        digits={1}
        onCommit={(dbm) => setPower({ of, dbm })}
      />
      <CheckField label={`what hangs here counts and stays (${hanging.length})`} checked={keep} onCommit={setKeep} />
      {!keep && locked > 0 && <p>{`${locked === 1 ? 'One is' : `${locked} are`} locked: what is locked counts and stays in any case.`}</p>}
      {people > 0 && (
        <CheckField
          label={`enough for the people (${people})`}
          checked={crowd !== null}
          onCommit={(counted) => setCrowd(counted ? USUAL_CROWD : null)}
        />
      )}
      {people > 0 && crowd !== null && (
        <>
          <NumberField
            label="each has"
            value={crowd.devicesEach}
            unit="devices"
            {...LIMITS.devicesEach}
            digits={1}
            onCommit={(devicesEach) => wish({ devicesEach })}
          />
          <NumberField
            label="each device wants"
            value={crowd.mbpsEach}
            unit="Mb/s"
            {...LIMITS.mbpsEach}
            digits={2}
            onCommit={(mbpsEach) => wish({ mbpsEach })}
          />
          <NumberField
            label="of a radio's airtime"
            value={crowd.airtimeShare * 100}
            unit="%"
            min={LIMITS.airtimeShare.min * 100}
            max={LIMITS.airtimeShare.max * 100}
            digits={0}
            onCommit={(share) => wish({ airtimeShare: share / 100 })}
          />
        </>
      )}
      <CheckField label="then plan channels and powers" checked={plan} onCommit={setPlan} />
      <h3>What is owed</h3>
      {zones.length === 0 ? (
        <p>
          {floors.length > 1 ? 'No zone of the building' : 'No zone of this floor'} has a service level: draw a service zone in Building and give it a
          level in Brief. The tab How many asks for the whole floor.
        </p>
      ) : (
        <ul className="papers">
          {zones.map(({ zone, level, floor }) => (
            <li key={zone.id}>{`${floors.length > 1 ? `${floor.name}, ` : ''}${zone.name}: ${owedText(level)}`}</li>
          ))}
        </ul>
      )}
      {zones.some(({ level }) => level.sharersMost !== null) && (
        <p>How many share airtime is for channels to settle: it is not asked of positions.</p>
      )}
      <div className="row">
        {busy ? (
          <>
            <Button variant="contained" disabled={best === null} onClick={stopProposal}>
              Stop and keep the best
            </Button>
            <Button color="secondary" onClick={forgetProposal}>
              Cancel
            </Button>
          </>
        ) : (
          <Button variant="contained" disabled={zones.length === 0 || counting} onClick={() => void propose(asked)}>
            Propose
          </Button>
        )}
      </div>
      {phase === 'failed' && <p role="alert">{problem}</p>}
      {phase === 'running' && best === null && (
        <>
          <p role="status">{`Levels from ${proposal.spots.length} positions …`}</p>
          <LinearProgress variant="determinate" value={levelsDone * 100} aria-label="Share of levels computed" />
        </>
      )}
      {here && best !== null && (
        <Found best={best} standing={standing} phase={phase} positions={proposal.spots.length} crowd={proposal.asked?.crowd ?? null} />
      )}
      {here &&
        proposal.others.map(({ band: other, groups }) => (
          <details key={other} className="other-band">
            <summary>{`By ${bandLabel(other)}: ${metWords(groups)}`}</summary>
            <MetTable groups={groups} />
          </details>
        ))}
      {here && planned !== null && (
        <p>
          {`Channels ${planned.powersKept ? 'planned, powers as proposed: lower ones would fall short of what is owed' : 'and powers planned'}. Radios sharing airtime, mean: `}
          {planned.sheet.bands.map(({ band: one, contentionAfter }) => `${bandLabel(one)} ${contentionAfter.toFixed(2)}`).join(', ')}.
        </p>
      )}
      {here && phase === 'done' && fresh > 0 && (
        <div className="row">
          <Button variant="contained" onClick={() => hangProposed(false)}>
            {`Hang ${fresh} access ${fresh === 1 ? 'point' : 'points'}`}
          </Button>
          {proposal.asked?.keep === false && replaced > 0 && (
            <Button variant="outlined" onClick={() => hangProposed(true)}>
              {`Hang ${fresh} instead of the ${replaced}`}
            </Button>
          )}
          <Button color="secondary" onClick={forgetProposal}>
            Discard
          </Button>
        </div>
      )}
    </>
  );
}

/** How much of what is owed another band meets. */
function metWords(groups: readonly GroupShare[]): string {
  const met = groups.filter(isMet).length;
  return met === groups.length ? 'all of it is met' : met === 0 ? 'nothing of it is met' : `${met} of ${groups.length} are met`;
}

const STAGE_WORDS: Readonly<Record<Stage, string>> = { cover: 'Best so far', people: 'More for the people', tidy: 'Hung in line' };

/** What was found and what was proved, in words that claim no more. */
function Found({
  best,
  standing,
  phase,
  positions,
  crowd,
}: {
  best: Positions;
  standing: number;
  phase: string;
  positions: number;
  crowd: CrowdWish | null;
}) {
  const { chosen, count, bound, groups, load, borne, inLine } = best;
  const besides = standing > 0 ? `, ${standing} of them hanging already` : '';
  const words =
    phase === 'running' && chosen === null
      ? 'no choice yet that meets all of it.'
      : chosen === null || count === null
        ? 'It cannot be met from these positions with these models and this power: look at what is out of reach below, raise the power, or take another model.'
        : chosen.length === 0
          ? 'What hangs here meets it already: no access point is needed.'
          : count === bound
            ? `${count} access points${besides}. No plan on these ${positions} positions needs fewer.`
            : `At least ${bound}; ${count} proposed${besides}. No choice among these ${positions} positions with this power meets it at the points looked at with fewer than ${bound}; what lies between may be a gap of the proof.`;
  return (
    <>
      <p role="status">{`${phase === 'running' ? `${STAGE_WORDS[best.stage]}: ` : phase === 'planning' ? 'What follows is being worked out. ' : ''}${words}`}</p>
      {load !== null && crowd !== null && (
        <p className={borne ? undefined : 'urgent'}>
          {borne ? '' : 'More people than these positions bear: allow more airtime, a wider channel, or expect less. '}
          {`The busiest radio spends ${percent(load.busiest)} of its airtime on them, the mean ${percent(load.mean)}, if all of it goes by this band and no other radio shares its channel.`}
          {load.unserved > 0 ? ` ${percent(load.unserved)} of what they want is out of reach of any rate.` : ''}
        </p>
      )}
      {chosen !== null && chosen.length > 1 && best.stage === 'tidy' && <p>{`${inLine} of ${count} hang in line with another.`}</p>}
      <MetTable groups={groups} reach />
    </>
  );
}
