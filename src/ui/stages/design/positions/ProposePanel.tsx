'use client';
import { domainOf } from '@/core/design/design';
import { useModels } from '../../../state/useModels';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import { useState } from 'react';
import { defaultRadios } from '@/core/design/commands';
import { zonesWithLevel } from '@/core/design/service';
import type { Positions } from '@/core/planning/positions/positions';
import type { Band } from '@/core/radio/band';
import { radioModelOf } from '@/core/radio/catalogue';
import { highestPowerDbm } from '@/core/radio/law';
import { CheckField, NumberField, SelectField } from '../../../inspector/fields';
import { percent, signed } from '../../../state/format';
import { useDocument } from '../../../state/documentStore';
import { bandLabel, type Place } from '../../../state/selectors';
import { useSession } from '../../../state/sessionStore';
import {
  TABLE_DBM,
  TABLE_SHARE,
  countHowMany,
  forgetProposal,
  hangProposed,
  isFor,
  propose,
  stopProposal,
  useProposal,
  usualPowerDbm,
  type HowMany,
} from './proposal';

/** Where access points should hang: what is asked, how far it has come, and how good it is. */
export function ProposePanel({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const domain = domainOf(place.project);
  const [wishedModel, setModelId] = useState(useSession.getState().modelId);
  const { all } = useModels();
  // One that went meanwhile is not hung.
  const model = all.find(({ id }) => id === wishedModel) ?? all[0]!;
  const modelId = model.id;
  const bands = model.radios.map(({ band }) => band);
  const [wishedBand, setBand] = useState<Band>(useSession.getState().band);
  const band = bands.includes(wishedBand) ? wishedBand : bands.at(-1)!;
  const [power, setPower] = useState<Readonly<{ of: string; dbm: number }> | null>(null);
  const [keep, setKeep] = useState(false);
  const proposal = useProposal();
  const { phase, best, levelsDone, standing, problem, howMany, counting } = proposal;
  const zones = zonesWithLevel(design, place.floor.id);
  const radio = defaultRadios(model, domain).find((one) => one.band === band)!;
  const of = `${modelId}/${band}`;
  const txPowerDbm = power?.of === of ? power.dbm : usualPowerDbm(domain, model, band);
  const asked = { modelId, band, txPowerDbm, keep };
  const projectId = useDocument((s) => s.projectId);
  const here = isFor(proposal, projectId, place.floor.id, place.variant.id);
  const leave = () => {
    forgetProposal();
    useSession.getState().set({ proposing: false });
  };
  const fresh = best?.chosen?.length ?? 0;
  return (
    <div role="region" aria-label="Propose positions">
      <h2>Propose positions</h2>
      <p>{`The fewest access points for ${place.floor.name}, in ${place.variant.name}: on a lattice off walls and out of keep-out zones.`}</p>
      <SelectField label="model" value={modelId} options={all.map(({ id, name }) => ({ value: id, label: name }))} onCommit={setModelId} />
      <SelectField label="judged by" value={band} options={bands.map((one) => ({ value: one, label: bandLabel(one) }))} onCommit={setBand} />
      <NumberField
        label="power"
        value={txPowerDbm}
        unit="dBm"
        min={radioModelOf(model, band)!.minPowerDbm}
        max={highestPowerDbm(domain, model, radio)}
        digits={1}
        onCommit={(dbm) => setPower({ of, dbm })}
      />
      <CheckField label={`what hangs here counts and stays (${place.aps.length})`} checked={keep} onCommit={setKeep} />
      <h3>What is owed here</h3>
      {zones.length === 0 ? (
        <p>
          No zone of this floor has a service level: draw a service zone in Building and give it a level in Brief. The table below asks for the whole
          floor.
        </p>
      ) : (
        <ul className="papers">
          {zones.map(({ zone, level }) => (
            <li key={zone.id}>
              {`${zone.name}: signal ${signed(level.signalDbm)} dBm${level.secondDbm === null ? '' : `, second ${signed(level.secondDbm)} dBm`}, in ${percent(level.share)}`}
            </li>
          ))}
        </ul>
      )}
      <div className="row">
        {phase === 'running' ? (
          <>
            <Button variant="contained" disabled={best === null} onClick={stopProposal}>
              Stop and keep the best
            </Button>
            <Button color="secondary" onClick={forgetProposal}>
              Cancel
            </Button>
          </>
        ) : (
          <>
            <Button variant="contained" disabled={zones.length === 0 || counting} onClick={() => void propose(asked)}>
              Propose
            </Button>
            <Button color="secondary" onClick={leave}>
              Close
            </Button>
          </>
        )}
      </div>
      {phase === 'failed' && <p role="alert">{problem}</p>}
      {phase === 'running' && best === null && (
        <>
          <p role="status">{`Levels from ${proposal.spots.length} positions …`}</p>
          <LinearProgress variant="determinate" value={levelsDone * 100} aria-label="Share of levels computed" />
        </>
      )}
      {here && best !== null && <Found best={best} standing={standing} running={phase === 'running'} positions={proposal.spots.length} />}
      {here && phase === 'done' && fresh > 0 && (
        <div className="row">
          <Button variant="contained" onClick={hangProposed}>
            {`Hang ${fresh} access ${fresh === 1 ? 'point' : 'points'}`}
          </Button>
          <Button color="secondary" onClick={forgetProposal}>
            Discard
          </Button>
        </div>
      )}
      <h3>How many?</h3>
      <p>{`On the bare floor, at the usual power, for a level in ${percent(TABLE_SHARE)} of it.`}</p>
      <div className="row">
        <Button variant="outlined" color="secondary" disabled={counting || phase === 'running'} onClick={() => void countHowMany(asked)}>
          {counting ? 'Counting …' : 'Count'}
        </Button>
      </div>
      {howMany.length > 0 && <HowManyTable cells={howMany} />}
    </div>
  );
}

/** What was found and what was proved, in words that claim no more. */
function Found({ best, standing, running, positions }: { best: Positions; standing: number; running: boolean; positions: number }) {
  const { chosen, count, bound, groups } = best;
  const besides = standing > 0 ? `, ${standing} of them hanging already` : '';
  const words =
    chosen === null || count === null
      ? 'It cannot be met from these positions with this model and power: look at what is out of reach below, raise the power, or take another model.'
      : chosen.length === 0
        ? 'What hangs here meets it already: no access point is needed.'
        : count === bound
          ? `${count} access points${besides}. No plan on these ${positions} positions needs fewer.`
          : `At least ${bound}; ${count} proposed${besides}. No choice among these ${positions} positions with this model and power meets it at the points looked at with fewer than ${bound}; what lies between may be a gap of the proof.`;
  return (
    <>
      <p role="status">{`${running ? 'Best so far: ' : ''}${words}`}</p>
      <table className="dense" aria-label="What is met">
        <tbody>
          {groups.map(({ name, share, owed, unreachable }) => (
            <tr key={name}>
              <td className="wide">{name}</td>
              <td className="mono">{percent(share)}</td>
              <td>
                {share >= owed - 1e-9 ? (
                  'met'
                ) : (
                  <strong className="urgent">{unreachable > 1 - owed ? `${percent(unreachable)} out of reach` : 'not met'}</strong>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

function HowManyTable({ cells }: { cells: readonly HowMany[] }) {
  const bands = [...new Set(cells.map(({ band }) => band))];
  return (
    <table className="dense" aria-label="How many">
      <thead>
        <tr>
          <th scope="col">level</th>
          {bands.map((band) => (
            <th key={band} scope="col">
              {bandLabel(band)}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {TABLE_DBM.map((levelDbm) => (
          <tr key={levelDbm}>
            <td className="mono">{`${signed(levelDbm)} dBm`}</td>
            {bands.map((band) => {
              const found = cells.find((cell) => cell.band === band && cell.levelDbm === levelDbm)?.found ?? null;
              return (
                <td
                  key={band}
                  className="mono"
                  title={
                    found === null || found.count === null ? undefined : `${percent(found.groups[0]!.share)} of the floor; at least ${found.bound}`
                  }
                >
                  {found === null
                    ? '…'
                    : found.count === null
                      ? 'out of reach'
                      : found.count === found.bound
                        ? String(found.count)
                        : `${found.count} (≥ ${found.bound})`}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
