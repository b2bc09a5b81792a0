'use client';
import Button from '@mui/material/Button';
import { SelectField } from '../../inspector/fields';
import { formatArea, formatLength } from '@/core/units/length';
import { distanceM } from '@/core/geometry/point';
import { useDocument } from '../../state/documentStore';
import { useLinked } from '../../state/samplesStore';
import { signed } from '../../state/format';
import type { Place } from '../../state/selectors';
import { forgetLocated, hangThere, linkTo, nameOfSought, ownerOf, useLocated } from './locate';

/** What was found of a transmitter that is looked for: where, how sure, whose; and what may be made of it. */
export function LocatedPanel({ place }: { place: Place }) {
  const { sought, busy, found, problem } = useLocated();
  const projectId = useDocument((s) => s.projectId);
  const linked = useLinked();
  if (sought === null || sought.projectId !== projectId || sought.floorId !== place.floor.id) return null;
  const { units } = place.project;
  const apId = ownerOf(sought, linked, place);
  const ap = place.around.find((one) => one.id === apId);
  return (
    <div className="located" role="status" data-testid="located">
      <p>
        <b>{`${nameOfSought(sought, linked, place)}, ${sought.bssid}, ${sought.band} GHz`}</b>
        {busy && ': looking for where it is …'}
        {problem !== null && `: ${problem}`}
        {found !== null &&
          `: likeliest at ${formatLength(found.xM, units, 1)}, ${formatLength(found.yM, units, 1)}; nine times in ten within the outlined ${formatArea(found.regionM2, units)}, by ${found.readings} readings. It sends about ${signed(found.eirpDbm)} dBm EIRP.`}
        {found !== null && ap !== undefined && ` Designed place of ${ap.name}: ${formatLength(distanceM(ap, found), units, 1)} away.`}
      </p>
      {found !== null && (
        <>
          <SelectField
            label="it is"
            value={apId ?? ''}
            options={[{ value: '', label: 'not ours' }, ...place.aps.map(({ id: value, name }) => ({ value, label: name }))]}
            onCommit={(value) => linkTo(sought, value === '' ? null : value)}
          />
          <div className="row">
            {apId === null && (
              <Button size="small" variant="outlined" color="secondary" onClick={() => hangThere(place, sought, found)}>
                Hang an access point there
              </Button>
            )}
            <Button size="small" color="secondary" onClick={forgetLocated}>
              Close
            </Button>
          </div>
        </>
      )}
      {found === null && (
        <Button size="small" color="secondary" onClick={forgetLocated}>
          {busy ? 'Stop' : 'Close'}
        </Button>
      )}
    </div>
  );
}
