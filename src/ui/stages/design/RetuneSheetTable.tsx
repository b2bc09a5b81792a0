'use client';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useState } from 'react';
import { modelsOf, projectOf } from '@/core/design/design';
import { lawProblem, lawWords, type SetRadio } from '@/core/radio/law';
import type { BandResult, Load, SheetRow } from '@/core/planning/retune';
import { percent, settingText, signed } from '../../state/format';
import { BAND_MARK } from '../../state/selectors';
import { BreachMark } from '../../kit/BreachMark';
import { useDocument } from '../../state/documentStore';
import { useSession, type Session } from '../../state/sessionStore';

const arrow = (load: (of: Load) => number, row: SheetRow) => `${load(row.loadBefore).toFixed(2)} → ${load(row.loadAfter).toFixed(2)}`;

/** The retune sheet: per band what is won and kept, per radio before, after and why. */
export function RetuneSheetTable({ sheet }: { sheet: NonNullable<Session['sheet']> }) {
  // Radios of other floors were counted and not planned: they have no line.
  const aps = useDocument((s) => s.design.accessPoints);
  const rows = sheet.rows.filter(({ apId }) => aps[apId]?.floorId === sheet.floorId);
  const set = useSession((s) => s.set);
  const [details, setDetails] = useState(false);
  const heads = [
    'radio',
    'before',
    'after',
    'sharing airtime, mean radios',
    'why',
    ...(details ? ['width and noise, mean radios', 'networks of others, radios', 'runner-up, extra radios'] : []),
  ];
  return (
    <div className="sheet">
      <div className="mono summary" data-testid="sheet-summary">
        {sheet.stopped && <strong>Stopped: the best so far</strong>}
        {sheet.bands.map((band) => (
          <Summary key={band.band} band={band} details={details} />
        ))}
        <button type="button" className="quiet-button" aria-expanded={details} onClick={() => setDetails(!details)}>
          {details ? 'fewer details' : 'details'}
        </button>
      </div>
      <Table size="small" stickyHeader aria-label="Retune sheet">
        <TableHead>
          <TableRow>
            {heads.map((head) => (
              <TableCell key={head}>{head}</TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((row) => (
            <TableRow key={`${row.apId}/${row.band}`} hover onClick={() => set({ selection: { table: 'accessPoints', ids: [row.apId] } })}>
              <TableCell>{`${row.name} ${BAND_MARK[row.band]} ${row.band}`}</TableCell>
              <TableCell className="mono">
                {settingText(row.before)}
                <Breach apId={row.apId} radio={{ band: row.band, ...row.before }} />
              </TableCell>
              <TableCell className={settingText(row.before) === settingText(row.after) ? 'mono' : 'mono chosen'}>{settingText(row.after)}</TableCell>
              <TableCell className="mono">{arrow((of) => of.contention, row)}</TableCell>
              <TableCell className={row.barredBy === null ? 'wide' : 'wide urgent'}>{row.why}</TableCell>
              {details && (
                <>
                  <TableCell className="mono">{arrow((of) => of.partial, row)}</TableCell>
                  <TableCell className="mono">{arrow((of) => of.others, row)}</TableCell>
                  <TableCell className="mono">
                    {row.runnerUp === null ? '–' : `${row.runnerUp.label} +${row.runnerUp.extraCost.toFixed(3)}`}
                  </TableCell>
                </>
              )}
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </div>
  );
}

/** The mark of a setting that model or law do not allow. */
function Breach({ apId, radio }: { apId: string; radio: SetRadio }) {
  const design = useDocument((s) => s.design);
  const ap = design.accessPoints[apId];
  const domain = projectOf(design)?.domain;
  const problem = ap === undefined || domain === undefined ? null : lawProblem(domain, modelsOf(design)(ap.modelId), radio);
  return problem === null ? null : <BreachMark words={lawWords(problem)} />;
}

/** One band in a line: what the map says before and after; the search's own figures behind the details. */
function Summary({ band, details }: { band: BandResult; details: boolean }) {
  // As the figures are shown: a tenth of a percent.
  const missed = band.coverageAfter < band.requiredShare - 0.0005;
  return (
    <span>
      {`${BAND_MARK[band.band]} ${band.band} GHz · radios sharing airtime, mean: ${band.contentionBefore.toFixed(2)} → `}
      <strong>{band.contentionAfter.toFixed(2)}</strong>
      {` · covered at ${signed(band.thresholdDbm)} dBm: ${percent(band.coverageBefore)} → ${percent(band.coverageAfter)}, to keep ${percent(band.requiredShare)}`}
      {missed && <strong className="urgent"> · missed</strong>}
      {details &&
        ` · cost in radios ${band.costBefore.toFixed(2)} → ${band.costAfter.toFixed(2)}, at least ${band.bound.toFixed(2)} ${band.proven ? '(proven best)' : `(gap ${(band.costAfter - band.bound).toFixed(2)})`}`}
    </span>
  );
}
