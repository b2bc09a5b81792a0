'use client';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import type { Setting } from '@/core/planning/problem';
import type { RetuneSheet } from '@/core/planning/retune';
import { signed } from '../../state/format';
import { BAND_MARK } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';

const settingText = (setting: Setting) => (setting.on ? `${setting.channel}/${setting.widthMhz} ${signed(setting.txPowerDbm)} dBm` : 'off');

/** The retune sheet: per radio before, after and why; per band the cost with its bound. */
export function RetuneSheetTable({ sheet }: { sheet: RetuneSheet }) {
  const set = useSession((s) => s.set);
  return (
    <div className="sheet">
      <div className="mono summary" data-testid="sheet-summary">
        {sheet.stopped && <strong>Stopped: the best so far</strong>}
        {sheet.bands.map((band) => (
          <span key={band.band}>
            {`${BAND_MARK[band.band]} ${band.band} GHz · cost ${band.costBefore.toFixed(2)} → `}
            <strong>{band.costAfter.toFixed(2)}</strong>
            {` radios per spot · bound ${band.bound.toFixed(2)}${band.proven ? ', proven' : `, gap ${(band.costAfter - band.bound).toFixed(2)}`} · coverage ${(band.coverageBefore * 100).toFixed(1)} → ${(band.coverageAfter * 100).toFixed(1)} %`}
          </span>
        ))}
      </div>
      <Table size="small" stickyHeader aria-label="Retune sheet">
        <TableHead>
          <TableRow>
            {['radio', 'before', 'after', 'shares with, before', 'after', 'why', 'runner-up, extra cost in radios'].map((head, i) => (
              <TableCell key={i}>{head}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {sheet.rows.map((row) => (
            <TableRow key={`${row.apId}/${row.band}`} hover onClick={() => set({ selection: { table: 'accessPoints', ids: [row.apId] } })}>
              <TableCell>{`${row.name} ${BAND_MARK[row.band]} ${row.band}`}</TableCell>
              <TableCell className="mono">{settingText(row.before)}</TableCell>
              <TableCell className="mono" sx={{ fontWeight: settingText(row.before) === settingText(row.after) ? 400 : 700 }}>
                {settingText(row.after)}
              </TableCell>
              <TableCell className="mono">{row.contentionBefore.toFixed(2)} radios</TableCell>
              <TableCell className="mono">{row.contentionAfter.toFixed(2)} radios</TableCell>
              <TableCell sx={{ whiteSpace: 'normal !important', minWidth: 260 }}>{row.why}</TableCell>
              <TableCell className="mono">{row.runnerUp === null ? '–' : `${row.runnerUp.label} +${row.runnerUp.extraCost.toFixed(3)}`}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </div>
  );
}
