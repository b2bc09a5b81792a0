'use client';
import { inOrder } from '@/core/design/names';
import Checkbox from '@mui/material/Checkbox';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TableSortLabel from '@mui/material/TableSortLabel';
import { useMemo, useState } from 'react';
import { domainOf, modelsOf, projectOf } from '@/core/design/design';
import { lawProblem, lawWords, type SetRadio } from '@/core/radio/law';
import type { BandResult, FloorResult, Load, SharingPair, SheetRow } from '@/core/planning/retune';
import { BreachMark } from '../../kit/BreachMark';
import { Choice } from '../../kit/Choice';
import { percent, settingText, signed } from '../../state/format';
import { BAND_MARK } from '../../state/selectors';
import { useDocument } from '../../state/documentStore';
import { useSession, type ShownSheet } from '../../state/sessionStore';
import { rowKey, tickRows } from './useRetune';

const arrow = (load: (of: Load) => number, row: Pick<SheetRow, 'loadBefore' | 'loadAfter'>) =>
  `${load(row.loadBefore).toFixed(2)} → ${load(row.loadAfter).toFixed(2)}`;

const changed = ({ before, after }: SheetRow): boolean => settingText(before) !== settingText(after);

/** Which rows are listed. */
const SHOWN = {
  all: { label: 'all radios', of: () => true },
  changed: { label: 'those that change', of: changed },
  same: { label: 'those that stay', of: (row: SheetRow) => !changed(row) },
  barred: { label: 'those without a channel', of: ({ barredBy }: SheetRow) => barredBy !== null },
} as const;
type Shown = keyof typeof SHOWN;

/** How rows may be ordered, the first way as they come. */
const ORDERS = {
  radio: (a: SheetRow, b: SheetRow) => inOrder(a.name, b.name),
  after: (a: SheetRow, b: SheetRow) => Number(changed(b)) - Number(changed(a)) || a.after.channel - b.after.channel,
  before: (a: SheetRow, b: SheetRow) => a.before.channel - b.before.channel,
  sharing: (a: SheetRow, b: SheetRow) => b.loadAfter.contention - a.loadAfter.contention || b.loadBefore.contention - a.loadBefore.contention,
} as const;
type Order = keyof typeof ORDERS;

/** The retune sheet: per band what is won and kept, per radio before, after and why. Rows that are not ticked are not applied. */
export function RetuneSheetTable({ sheet }: { sheet: ShownSheet }) {
  const [details, setDetails] = useState(false);
  const [shown, setShown] = useState<Shown>('all');
  const [order, setOrder] = useState<Order | null>(null);
  const rows = useMemo(() => {
    const listed = sheet.rows.filter(SHOWN[shown].of);
    return order === null ? listed : [...listed].sort(ORDERS[order]);
  }, [sheet.rows, shown, order]);
  const restOf = useMemo(() => new Map(sheet.rest?.rows.map((row) => [rowKey(row), row])), [sheet.rest]);
  const heads: ReadonlyArray<Readonly<{ words: string; by?: Order }>> = [
    { words: 'radio', by: 'radio' },
    { words: 'before', by: 'before' },
    { words: 'after', by: 'after' },
    { words: 'sharing airtime, mean radios', by: 'sharing' },
    { words: 'why' },
    ...(details ? [{ words: 'width and noise, mean radios' }, { words: 'networks of others, radios' }, { words: 'runner-up, extra radios' }] : []),
  ];
  const keys = rows.map(rowKey);
  const ticked = keys.filter((key) => !sheet.left.includes(key)).length;
  return (
    <div className="sheet">
      <div className="mono summary" data-testid="sheet-summary">
        {sheet.applied && <strong>Applied: the sheet as it was taken</strong>}
        {sheet.stopped && <strong>Stopped: the best so far</strong>}
        {(sheet.rest ?? sheet).bands.map((band) => (
          <Summary key={band.band} band={band} details={details} />
        ))}
        {(sheet.rest ?? sheet).bands.map(
          ({ band, stillSharing }) =>
            stillSharing.some(isWorthSaying) && (
              <span key={`still ${band}`}>{`${BAND_MARK[band]} still sharing airtime, mean radios: ${stillWords(stillSharing)}`}</span>
            ),
        )}
        {sheet.left.length > 0 && (
          <span role="status">
            {sheet.rest === null
              ? 'working out what is ticked …'
              : `with the ${sheet.rows.length - sheet.left.length} of ${sheet.rows.length} radios that are ticked`}
          </span>
        )}
        <Choice
          label="Rows to show"
          value={shown}
          options={(Object.keys(SHOWN) as Shown[]).map((value) => ({
            value,
            label: `${SHOWN[value].label} (${sheet.rows.filter(SHOWN[value].of).length})`,
          }))}
          onChoose={setShown}
        />
        <button type="button" className="quiet-button" aria-expanded={details} onClick={() => setDetails(!details)}>
          {details ? 'fewer details' : 'details'}
        </button>
      </div>
      <Table size="small" stickyHeader aria-label="Retune sheet">
        <TableHead>
          <TableRow>
            <TableCell padding="checkbox">
              <Checkbox
                size="small"
                disabled={sheet.applied}
                slotProps={{ input: { 'aria-label': 'Take all that are shown' } }}
                checked={rows.length > 0 && ticked === rows.length}
                indeterminate={ticked > 0 && ticked < rows.length}
                onChange={(event) => tickRows(keys, event.target.checked)}
              />
            </TableCell>
            {heads.map(({ words, by }) => (
              <TableCell key={words}>
                {by === undefined ? (
                  words
                ) : (
                  <TableSortLabel active={order === by} direction="desc" onClick={() => setOrder(order === by ? null : by)}>
                    {words}
                  </TableSortLabel>
                )}
              </TableCell>
            ))}
          </TableRow>
        </TableHead>
        <TableBody>
          {rows.map((row) => (
            <Row
              key={rowKey(row)}
              row={row}
              loads={restOf.get(rowKey(row)) ?? row}
              taken={!sheet.left.includes(rowKey(row))}
              fixed={sheet.applied}
              details={details}
            />
          ))}
        </TableBody>
      </Table>
    </div>
  );
}

/** Less than this is nothing on the sheet. */
const isWorthSaying = ({ radios }: SharingPair): boolean => radios >= 0.005;
const NAMED_PAIRS = 4;

/** The pairs that go on sharing, the most first, with their part of the mean. */
function stillWords(pairs: readonly SharingPair[]): string {
  const said = pairs.filter(isWorthSaying);
  const named = said.slice(0, NAMED_PAIRS).map(({ one, other, radios }) => `${one} with ${other} ${radios.toFixed(2)}`);
  return `${named.join(', ')}${said.length > NAMED_PAIRS ? ` and ${said.length - NAMED_PAIRS} pairs more` : ''}`;
}

/** One radio. `loads`: what it has to bear with what is ticked. */
function Row({
  row,
  loads,
  taken,
  fixed,
  details,
}: {
  row: SheetRow;
  loads: Pick<SheetRow, 'loadBefore' | 'loadAfter'>;
  taken: boolean;
  fixed: boolean;
  details: boolean;
}) {
  const set = useSession((s) => s.set);
  return (
    <TableRow hover className={taken ? '' : 'left-out'} onClick={() => set({ selection: { table: 'accessPoints', ids: [row.apId] } })}>
      <TableCell padding="checkbox" onClick={(event) => event.stopPropagation()}>
        <Checkbox
          size="small"
          disabled={fixed}
          slotProps={{ input: { 'aria-label': `Take ${row.name}, ${row.band} GHz` } }}
          checked={taken}
          onChange={(event) => tickRows([rowKey(row)], event.target.checked)}
        />
      </TableCell>
      <TableCell>{`${row.name} ${BAND_MARK[row.band]} ${row.band}`}</TableCell>
      <TableCell className="mono">
        {settingText(row.before)}
        <Breach apId={row.apId} radio={{ band: row.band, ...row.before }} />
      </TableCell>
      <TableCell className={changed(row) ? 'mono chosen' : 'mono'}>{settingText(row.after)}</TableCell>
      <TableCell className="mono">{arrow((of) => of.contention, loads)}</TableCell>
      <TableCell className={row.barredBy === null ? 'wide' : 'wide urgent'}>{taken ? row.why : 'Left out: stays as it is.'}</TableCell>
      {details && (
        <>
          <TableCell className="mono">{arrow((of) => of.partial, loads)}</TableCell>
          <TableCell className="mono">{arrow((of) => of.others, loads)}</TableCell>
          <TableCell className="mono">{row.runnerUp === null ? '–' : `${row.runnerUp.label} +${row.runnerUp.extraCost.toFixed(3)}`}</TableCell>
        </>
      )}
    </TableRow>
  );
}

/** The mark of a setting that model or law do not allow. */
function Breach({ apId, radio }: { apId: string; radio: SetRadio }) {
  const design = useDocument((s) => s.design);
  const ap = design.accessPoints[apId];
  const project = projectOf(design);
  const problem = ap === undefined || project === undefined ? null : lawProblem(domainOf(project), modelsOf(design)(ap.modelId), radio);
  return problem === null ? null : <BreachMark words={lawWords(problem)} />;
}

/** One band in a line: what the map says before and after; the search's own figures behind the details. */
function Summary({ band, details }: { band: BandResult; details: boolean }) {
  const missed = isMissed(band);
  return (
    <span>
      {`${BAND_MARK[band.band]} ${band.band} GHz · radios sharing airtime, mean: ${band.contentionBefore.toFixed(2)} → `}
      <strong>{band.contentionAfter.toFixed(2)}</strong>
      {` · covered at ${signed(band.thresholdDbm)} dBm: ${percent(band.coverageBefore)} → ${percent(band.coverageAfter)}, to keep ${percent(band.requiredShare)}`}
      {missed && <strong className="urgent"> · missed</strong>}
      {details &&
        ` · cost in radios ${band.costBefore.toFixed(2)} → ${band.costAfter.toFixed(2)}, at least ${band.bound.toFixed(2)} ${band.proven ? '(proven best)' : `(gap ${(band.costAfter - band.bound).toFixed(2)})`}`}
      {band.floors.length > 1 && ` · ${band.floors.map(floorWords).join('; ')}`}
      {band.floors.some(isMissed) && missedFloors(band)}
    </span>
  );
}

/** As the figures are shown: a tenth of a percent. */
const isMissed = ({ coverageAfter, requiredShare }: Pick<FloorResult, 'coverageAfter' | 'requiredShare'>): boolean =>
  coverageAfter < requiredShare - 0.0005;

const floorWords = ({ name, contentionBefore, contentionAfter, coverageBefore, coverageAfter }: FloorResult): string =>
  `${name} ${contentionBefore.toFixed(2)} → ${contentionAfter.toFixed(2)} radios, ${percent(coverageBefore)} → ${percent(coverageAfter)} covered`;

/** Floors that do not keep their coverage, where there are several. */
function missedFloors({ floors }: BandResult) {
  return (
    floors.length > 1 && (
      <strong className="urgent">{` · missed on ${floors
        .filter(isMissed)
        .map(({ name }) => name)
        .join(', ')}`}</strong>
    )
  );
}
