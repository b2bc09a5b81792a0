'use client';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useMemo } from 'react';
import { MATERIALS, materialLossDb } from '@/core/building/material';
import { wallLengthM } from '@/core/building/wall';
import { onFloor } from '@/core/design/design';
import { BANDS } from '@/core/radio/band';
import { formatLength } from '@/core/units/length';
import { useViewDesign, type Place } from '../state/selectors';

/** The floor's walls by material, with what a crossing costs in each band. */
export function MaterialsTable({ place }: { place: Place }) {
  const rows = useWallsByMaterial(place);
  return (
    <Table size="small" stickyHeader aria-label="Walls by material">
      <TableHead>
        <TableRow>
          {['material', 'walls', 'length', 'loss 2.4 GHz', 'loss 5 GHz', 'loss 6 GHz'].map((head) => (
            <TableCell key={head}>{head}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map((row) => (
          <TableRow key={row.name}>
            <TableCell>{row.name}</TableCell>
            <TableCell className="mono">{row.count}</TableCell>
            <TableCell className="mono">{row.length}</TableCell>
            {row.lossDb.map((lossDb, i) => (
              <TableCell key={i} className="mono">
                {lossDb.toFixed(1)} dB
              </TableCell>
            ))}
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}

function useWallsByMaterial(place: Place) {
  const design = useViewDesign();
  return useMemo(() => {
    const walls = onFloor(design, 'walls', place.floor.id);
    return MATERIALS.map((material) => {
      const own = walls.filter((wall) => wall.materialId === material.id);
      return {
        name: material.name,
        count: own.length,
        length: formatLength(
          own.reduce((sum, wall) => sum + wallLengthM(wall), 0),
          place.project.units,
          1,
        ),
        lossDb: BANDS.map((band) => materialLossDb(material.id, band)),
      };
    }).filter((row) => row.count > 0);
  }, [design, place]);
}
