'use client';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import type { ReactNode } from 'react';
import { allClientTypes, allModels, projectOf, type Project } from '@/core/design/design';
import { usesOfModel } from '@/core/design/equipmentCommands';
import { BANDS } from '@/core/radio/band';
import { bandRuleText } from '@/core/radio/bandRule';
import { radioModelOf } from '@/core/radio/catalogue';
import { formatLength, type UnitSystem } from '@/core/units/length';
import { FileButton } from '../kit/FileButton';
import { useDocument } from '../state/documentStore';
import { signed } from '../state/format';
import { useSessionFields } from '../state/sessionStore';
import { bringInEquipment, saveEquipment } from './files';

type Row = Readonly<{ id: string; name: string; cells: readonly ReactNode[] }>;

/** Equipment of a kind, the catalogue's and the project's own. A row opens it. */
function EquipmentTable({
  label,
  note = '',
  table,
  heads,
  rows,
}: {
  label: string;
  note?: string;
  table: 'apModels' | 'clientTypes';
  heads: readonly string[];
  rows: readonly Row[];
}) {
  const { selection, set } = useSessionFields('selection');
  const design = useDocument((s) => s.design);
  const own = { models: Object.values(design.apModels), clientTypes: Object.values(design.clientTypes) };
  const open = (id: string) => set({ selection: { table, ids: [id] } });
  return (
    <>
      <div className="row table-actions">
        <FileButton label="Equipment file" accept=".json,application/json" onFile={(file) => void bringInEquipment(file)}>
          Bring in from a file…
        </FileButton>
        {own.models.length + own.clientTypes.length > 0 && (
          <Button size="small" variant="outlined" color="secondary" onClick={() => saveEquipment(projectOf(design)?.name ?? 'project', own)}>
            Keep all own equipment as a file
          </Button>
        )}
        {note !== '' && <span className="quiet">{note}</span>}
      </div>
      <Table size="small" stickyHeader aria-label={label}>
        <TableHead>
          <TableRow>
            {heads.map((head) => (
              <TableCell key={head}>{head}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map(({ id, name, cells }) => (
            <TableRow key={id} hover selected={selection?.table === table && selection.ids[0] === id} onClick={() => open(id)}>
              <TableCell>
                <button type="button" className="plain" onClick={() => open(id)}>
                  {name}
                </button>
              </TableCell>
              {cells.map((cell, i) => (
                <TableCell key={i} className="mono">
                  {cell}
                </TableCell>
              ))}
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </>
  );
}

/** Whose a model or type is. */
export const whose = (own: boolean): string => (own ? 'this project' : 'catalogue');

/** All access point models: what they have, and how many hang. */
export function ModelsTable({ units }: { units: UnitSystem }) {
  const design = useDocument((s) => s.design);
  return (
    <EquipmentTable
      label="Access point models"
      note="in each band: highest power in dBm / widest channel in MHz / streams"
      table="apModels"
      heads={['model', 'of', 'hang', 'generation', ...BANDS.map((band) => `${band} GHz`), 'draws', 'hung at']}
      rows={allModels(design).map((model) => ({
        id: model.id,
        name: model.name,
        cells: [
          whose(Object.hasOwn(design.apModels, model.id)),
          usesOfModel(design, model.id) || '–',
          model.generation,
          ...BANDS.map((band) => {
            const radio = radioModelOf(model, band);
            return radio === null ? '–' : `${signed(radio.maxPowerDbm)} / ${radio.maxWidthMhz} / ${radio.streams}`;
          }),
          `${model.poeW} W`,
          formatLength(model.defaultHeightM, units, 1),
        ],
      }))}
    />
  );
}

/** All client types: what they have, and which are expected. */
export function ClientTypesTable({ project }: { project: Project }) {
  const design = useDocument((s) => s.design);
  return (
    <EquipmentTable
      label="Client types"
      table="clientTypes"
      heads={['client', 'of', 'expected', 'bands, GHz', 'takes band', 'generation', 'streams', 'width', 'gain', 'power']}
      rows={allClientTypes(design).map(({ id, name, bands, bandRule, equipment }) => ({
        id,
        name,
        cells: [
          whose(Object.hasOwn(design.clientTypes, id)),
          project.clientTypes.includes(id) ? 'yes' : 'no',
          bands.join(', '),
          bands.length > 1 ? bandRuleText(bandRule) : '–',
          equipment.generation,
          equipment.streams,
          `${equipment.maxWidthMhz} MHz`,
          `${signed(equipment.gainDbi, 1)} dBi`,
          `${signed(equipment.txPowerDbm, 1)} dBm`,
        ],
      }))}
    />
  );
}
