'use client';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { isToScale, serviceLevelOf, type ServiceLevel, type Zone } from '@/core/design/design';
import { serviceZonesOn } from '@/core/design/service';
import { lensOf } from '@/core/fields/lenses';
import { OWED, isAskedFor } from '@/core/fields/owed';
import { regionAreaM2 } from '@/core/geometry/polygon';
import { formatArea } from '@/core/units/length';
import { owedText } from '../stages/brief/owed';
import { percent } from '../state/format';
import { useDocument } from '../state/documentStore';
import type { Place } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { useMap, type MapResult } from '../state/useLens';

/** The service zones of the floor: how much of each meets the threshold, or, through Service level, what is owed there. */
export function ZonesTable({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const map = useMap((s) => s.map);
  const lens = useSession((s) => s.lens);
  const zones = serviceZonesOn(design, place.floor.id);
  if (zones.length === 0) return <p className="empty">No service zone is drawn on this floor. Draw one in Building, with the tool Area.</p>;
  if (map === null || map.lens !== lens) return <p className="empty">The map is on its way.</p>;
  const { label, threshold } = lensOf(lens);
  const asked = lens === 'service';
  if (!asked && threshold === null)
    return <p className="empty">{`${label} tells areas apart and has no threshold; choose Service level or a lens with a scale.`}</p>;
  const heads = asked
    ? ['zone', 'area', 'service level', ...OWED, 'all of it', 'owed', '']
    : ['zone', 'area', 'share of it', 'service level', 'owed'];
  return (
    <Table size="small" stickyHeader aria-label="Zones">
      <TableHead>
        <TableRow>
          {heads.map((head, i) => (
            <TableCell key={i}>
              {head === 'share of it' ? `${label}: ${threshold!.words(map.threshold)}${map.measured ? ', of what is measured' : ''}` : head}
            </TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {zones.map((zone) => (
          <ZoneRow
            key={zone.id}
            zone={zone}
            level={serviceLevelOf(design, zone)}
            toScale={isToScale(design, place.floor.id)}
            place={place}
            map={map}
            asked={asked}
          />
        ))}
      </TableBody>
    </Table>
  );
}

function ZoneRow({
  zone,
  level,
  toScale,
  place,
  map,
  asked,
}: {
  zone: Zone;
  level: ServiceLevel | null;
  toScale: boolean;
  place: Place;
  map: MapResult;
  asked: boolean;
}) {
  const of = map.zones.find(({ zoneId }) => zoneId === zone.id);
  const { units } = place.project;
  const exemptM2 = map.scene.zones.find((one) => one.zone.id === zone.id)?.exemptM2 ?? 0;
  const less = exemptM2 === 0 ? '' : `, of it ${formatArea(exemptM2, units)} where none is owed`;
  const area = <TableCell className="mono">{toScale ? `${formatArea(regionAreaM2(zone), units)}${less}` : 'not to scale'}</TableCell>;
  if (!asked)
    return (
      <TableRow>
        <TableCell>{zone.name}</TableCell>
        {area}
        <TableCell className="mono">{of?.share === null || of === undefined ? '–' : percent(of.share)}</TableCell>
        <TableCell>{level?.name ?? 'none yet'}</TableCell>
        <TableCell className="wrapped">{level === null ? '–' : owedText(level)}</TableCell>
      </TableRow>
    );
  const owed = of?.owed ?? null;
  const met = owed !== null && level !== null && owed.all >= level.share;
  return (
    <TableRow>
      <TableCell>{zone.name}</TableCell>
      {area}
      <TableCell>{level?.name ?? 'none yet'}</TableCell>
      {OWED.map((name, i) => (
        <TableCell key={name} className="mono">
          {owed === null || level === null ? '–' : isAskedFor(level)[i] ? percent(owed.each[i]!) : 'not asked'}
        </TableCell>
      ))}
      <TableCell className="mono">{owed === null ? '–' : percent(owed.all)}</TableCell>
      <TableCell className="mono">{level === null ? '–' : percent(level.share)}</TableCell>
      <TableCell>{owed === null ? '–' : met ? 'met' : <strong className="urgent">not met</strong>}</TableCell>
    </TableRow>
  );
}
