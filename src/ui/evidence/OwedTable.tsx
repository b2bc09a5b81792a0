'use client';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { floorsOf, isToScale, serviceLevelOf, type Zone } from '@/core/design/design';
import { serviceZonesOn } from '@/core/design/service';
import { regionAreaM2 } from '@/core/geometry/polygon';
import { formatArea, type UnitSystem } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import { useSessionFields } from '../state/sessionStore';
import { owedText } from '../stages/brief/owed';

/** The service zones of the building, floor by floor: what is owed in each, and to how many. A row opens its zone on its floor. */
export function OwedTable({ units }: { units: UnitSystem }) {
  const design = useDocument((s) => s.design);
  const { selection, set } = useSessionFields('selection');
  const rows = floorsOf(design).flatMap((floor) => serviceZonesOn(design, floor.id).map((zone) => ({ floor, zone })));
  if (rows.length === 0)
    return <p className="empty">No service zone is drawn: service is owed within the outline of every floor, and nothing is said of how much.</p>;
  const open = (zone: Zone) => set({ floorId: zone.floorId, selection: { table: 'zones', ids: [zone.id] } });
  return (
    <Table size="small" stickyHeader aria-label="What is owed">
      <TableHead>
        <TableRow>
          {['zone', 'floor', 'area', 'people', 'service level', 'owed'].map((head) => (
            <TableCell key={head}>{head}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map(({ floor, zone }) => {
          const level = serviceLevelOf(design, zone);
          return (
            <TableRow key={zone.id} hover selected={selection?.table === 'zones' && selection.ids[0] === zone.id} onClick={() => open(zone)}>
              <TableCell>
                <button type="button" className="plain" onClick={() => open(zone)}>
                  {zone.name}
                </button>
              </TableCell>
              <TableCell>{floor.name}</TableCell>
              <TableCell className="mono">{isToScale(design, floor.id) ? formatArea(regionAreaM2(zone), units) : 'not to scale'}</TableCell>
              <TableCell className="mono">{zone.people ?? 'not said'}</TableCell>
              <TableCell>{level?.name ?? 'none yet'}</TableCell>
              <TableCell className="wrapped">{level === null ? '–' : owedText(level)}</TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
  );
}
