'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { SelectField } from '../../../inspector/fields';
import { percent, signed } from '../../../state/format';
import { bandLabel, type Place } from '../../../state/selectors';
import { useDocument } from '../../../state/documentStore';
import { useSession } from '../../../state/sessionStore';
import { useModels } from '../../../state/useModels';
import { TABLE_DBM, TABLE_SHARE, countHowMany, isFor, useProposal, type HowMany } from './proposal';

/** How many access points of a model a bare floor needs, by level and band. */
export function HowManyTab({ place }: { place: Place }) {
  const { all } = useModels();
  const [wished, setModelId] = useState(useSession.getState().modelId);
  const model = all.find(({ id }) => id === wished) ?? all[0]!;
  const proposal = useProposal();
  const projectId = useDocument((s) => s.projectId);
  const { counting, howMany, problem, phase } = proposal;
  const busy = counting || phase === 'running' || phase === 'planning';
  return (
    <>
      <p>{`How many ${place.floor.name} needs when it is bare, at the usual power, for a level in ${percent(TABLE_SHARE)} of it.`}</p>
      <SelectField label="model" value={model.id} options={all.map(({ id, name }) => ({ value: id, label: name }))} onCommit={setModelId} />
      <div className="row">
        <Button variant="outlined" color="secondary" disabled={busy} onClick={() => void countHowMany([model.id])}>
          {counting ? 'Counting …' : 'Count'}
        </Button>
      </div>
      {problem !== null && <p role="alert">{problem}</p>}
      {isFor(proposal, projectId, place.floor.id, place.variant.id) && howMany.length > 0 && <HowManyTable cells={howMany} />}
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
            {bands.map((band) => (
              <HowManyCell key={band} found={cells.find((cell) => cell.band === band && cell.levelDbm === levelDbm)?.found ?? null} />
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** A count with what was proved, and the share that it reaches. */
function HowManyCell({ found }: { found: HowMany['found'] }) {
  if (found === null) return <td className="mono">…</td>;
  const { count, bound, groups } = found;
  if (count === null) return <td className="mono">out of reach</td>;
  return (
    <td className="mono" title={`${percent(groups[0]!.share)} of the floor; at least ${bound}`}>
      {count === bound ? String(count) : `${count} (≥ ${bound})`}
    </td>
  );
}
