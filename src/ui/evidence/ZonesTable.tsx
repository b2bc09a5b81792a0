'use client';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { onFloor, type Design, type ServiceLevel, type Zone } from '@/core/design/design';
import { lensOf } from '@/core/fields/lenses';
import { OWED } from '@/core/fields/owed';
import { formatArea } from '@/core/units/length';
import { owedText } from '../stages/brief/owed';
import { useDocument } from '../state/documentStore';
import type { Place } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { useMap, type MapResult } from '../state/useLens';

const percent = (share: number): string => `${(share * 100).toFixed(1)} %`;
const levelOf = ({ serviceLevels }: Design, { serviceLevelId }: Zone): ServiceLevel | undefined =>
  serviceLevelId === null ? undefined : serviceLevels[serviceLevelId];

/** The service zones of the floor: how much of each meets the threshold, or, through Service level, what is owed there. */
export function ZonesTable({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const map = useMap((s) => s.map);
  const lens = useSession((s) => s.lens);
  const zones = onFloor(design, 'zones', place.floor.id).filter(({ kind }) => kind === 'service');
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
            <TableCell key={i}>{head === 'share of it' ? `${label}: ${threshold!.words(map.threshold)}` : head}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {zones.map((zone) => (
          <ZoneRow key={zone.id} zone={zone} level={levelOf(design, zone)} place={place} map={map} asked={asked} />
        ))}
      </TableBody>
    </Table>
  );
}

function ZoneRow({ zone, level, place, map, asked }: { zone: Zone; level: ServiceLevel | undefined; place: Place; map: MapResult; asked: boolean }) {
  const of = map.zones.find(({ zoneId }) => zoneId === zone.id);
  const cells = map.scene.zones.find((one) => one.zone.id === zone.id);
  const areaM2 = cells === undefined ? null : cells.mask.reduce((sum, inside) => sum + inside, 0) * map.scene.grid.cellM ** 2;
  const area = <TableCell className="mono">{areaM2 === null ? '–' : formatArea(areaM2, place.project.units)}</TableCell>;
  if (!asked)
    return (
      <TableRow>
        <TableCell>{zone.name}</TableCell>
        {area}
        <TableCell className="mono">{of?.share === null || of === undefined ? '–' : percent(of.share)}</TableCell>
        <TableCell>{level?.name ?? 'none yet'}</TableCell>
        <TableCell className="wrapped">{level === undefined ? '–' : owedText(level)}</TableCell>
      </TableRow>
    );
  const owed = of?.owed ?? null;
  const met = owed !== null && level !== undefined && owed.all >= level.share;
  return (
    <TableRow>
      <TableCell>{zone.name}</TableCell>
      {area}
      <TableCell>{level?.name ?? 'none yet'}</TableCell>
      {OWED.map((name, i) => (
        <TableCell key={name} className="mono">
          {owed === null || level === undefined ? '–' : isAsked(level, i) ? percent(owed.each[i]!) : 'not asked'}
        </TableCell>
      ))}
      <TableCell className="mono">{owed === null ? '–' : percent(owed.all)}</TableCell>
      <TableCell className="mono">{level === undefined ? '–' : percent(level.share)}</TableCell>
      <TableCell>{owed === null ? '–' : met ? 'met' : <strong className="urgent">not met</strong>}</TableCell>
    </TableRow>
  );
}

/** Whether a level asks for a requirement, by its place in OWED. */
const isAsked = ({ secondDbm, snrDb, rateMbps, sharersMost }: ServiceLevel, i: number): boolean =>
  [true, secondDbm !== null, snrDb !== null, rateMbps !== null, sharersMost !== null][i]!;
