'use client';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useMemo } from 'react';
import { OPEN_ID, lossDbOf } from '@/core/building/material';
import { wallLengthM } from '@/core/building/wall';
import { onFloor } from '@/core/design/design';
import { BANDS } from '@/core/radio/band';
import { formatLength } from '@/core/units/length';
import { useViewDesign, type Place } from '../state/selectors';
import { useSessionFields } from '../state/sessionStore';
import { useMaterials } from '../state/useMaterials';

/** Every material, those of the floor's walls first, with what a crossing costs in each band. A row opens it. */
export function MaterialsTable({ place }: { place: Place }) {
  const design = useViewDesign();
  const { all } = useMaterials();
  const { selection, set } = useSessionFields('selection');
  const rows = useMemo(() => {
    const walls = onFloor(design, 'walls', place.floor.id);
    return all
      .filter(({ id }) => id !== OPEN_ID)
      .map((material) => ({ material, own: walls.filter((wall) => wall.materialId === material.id) }))
      .sort((a, b) => Number(b.own.length > 0) - Number(a.own.length > 0));
  }, [all, design, place.floor.id]);
  return (
    <Table size="small" stickyHeader aria-label="Materials">
      <TableHead>
        <TableRow>
          {['material', 'walls here', 'length', 'loss 2.4 GHz', 'loss 5 GHz', 'loss 6 GHz'].map((head) => (
            <TableCell key={head}>{head}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map(({ material, own }) => (
          <TableRow
            key={material.id}
            hover
            selected={selection?.table === 'materials' && selection.ids[0] === material.id}
            onClick={() => set({ selection: { table: 'materials', ids: [material.id] } })}
          >
            <TableCell>
              <button type="button" className="plain" onClick={() => set({ selection: { table: 'materials', ids: [material.id] } })}>
                {material.name}
              </button>
            </TableCell>
            <TableCell className="mono">{own.length === 0 ? '–' : own.length}</TableCell>
            <TableCell className="mono">
              {own.length === 0
                ? '–'
                : formatLength(
                    own.reduce((sum, wall) => sum + wallLengthM(wall), 0),
                    place.project.units,
                    1,
                  )}
            </TableCell>
            {BANDS.map((band) => (
              <TableCell key={band} className="mono">
                {`${lossDbOf(material, band).toFixed(1)} dB${material.measuredDb[band] === undefined ? '' : ' measured'}`}
              </TableCell>
            ))}
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
