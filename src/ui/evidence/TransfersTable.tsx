'use client';
import IconButton from '@mui/material/IconButton';
import DeleteOutline from '@mui/icons-material/DeleteOutlineOutlined';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { remove } from '@/core/design/commands';
import { testsBySpot, type TransferTest } from '@/core/design/surveyCommands';
import { spreadOf, trimmedMean } from '@/core/survey/transfer';
import { formatLength } from '@/core/units/length';
import { useDocument } from '../state/documentStore';
import { signed } from '../state/format';
import { BAND_MARK, type Place } from '../state/selectors';
import { useSession } from '../state/sessionStore';
import { localMinute } from '../state/time';

const HEADS = ['spot', 'when', 'variant', 'AP', 'channel/MHz', 'level dBm', 'SNR dB', 'runs', 'down Mb/s', 'up Mb/s', 'sent again', 'change'];

/** What a head means, where it does not say it all. */
const TITLES: Readonly<Record<string, string>> = {
  'SNR dB': 'Over the width of the channel, as in the readout',
  'down Mb/s': 'Mean of the runs without the best and the worst, ± their standard deviation',
  'up Mb/s': 'Mean of the runs without the best and the worst, ± their standard deviation',
  'sent again': 'Share of frames that were sent again, mean over the runs',
  change: 'Download against that of the first test at the spot',
};

/** Mean of the runs without the best and the worst, and their spread. */
export function ofRuns(values: readonly number[]): string {
  const spread = spreadOf(values);
  return `${trimmedMean(values).toFixed(0)}${Number.isNaN(spread) ? '' : ` ±${spread.toFixed(0)}`}`;
}

/** How much more or less a test's download is than the first one's at its spot, as a share; null for the first, or where that had none. */
export function againstFirst(test: TransferTest, first: TransferTest): number | null {
  const was = trimmedMean(first.runs.map(({ downMbps }) => downMbps));
  return test === first || was === 0 ? null : trimmedMean(test.runs.map(({ downMbps }) => downMbps)) / was - 1;
}

/** The throughput tests of a floor, spot by spot, each spot's oldest first. */
export function TransfersTable({ place }: { place: Place }) {
  const design = useDocument((s) => s.design);
  const set = useSession((s) => s.set);
  const spots = testsBySpot(design, place.floor.id);
  const { units } = place.project;
  if (spots.length === 0)
    return <p className="empty">No throughput tests on this floor yet: connect the receiver, pin a spot (P), and test at the right.</p>;
  return (
    <Table size="small" stickyHeader aria-label="Throughput tests">
      <TableHead>
        <TableRow>
          {HEADS.map((head) => (
            <TableCell key={head} title={TITLES[head]}>
              {head}
            </TableCell>
          ))}
          <TableCell />
        </TableRow>
      </TableHead>
      <TableBody>
        {spots.flatMap((tests, spot) =>
          tests.map((test) => {
            const { id, at, name, apName, band, channel, widthMhz, rssiDbm, snrDb, runs, xM, yM } = test;
            const more = againstFirst(test, tests[0]!);
            const again = runs.reduce((sum, { retries }) => sum + retries, 0) / runs.length;
            return (
              <TableRow key={id}>
                <TableCell>
                  <button type="button" className="plain" onClick={() => set({ pinned: { xM, yM }, explainedApId: null })}>
                    {`${spot + 1} at ${formatLength(xM, units, 1)}, ${formatLength(yM, units, 1)}`}
                  </button>
                </TableCell>
                <TableCell>{localMinute(at)}</TableCell>
                <TableCell>{name}</TableCell>
                <TableCell sx={{ fontWeight: 600 }}>{apName}</TableCell>
                <TableCell className="mono">{`${BAND_MARK[band]} ${channel}/${widthMhz}`}</TableCell>
                <TableCell className="mono">{signed(rssiDbm)}</TableCell>
                <TableCell className="mono">{signed(snrDb)}</TableCell>
                <TableCell className="mono">{runs.length}</TableCell>
                <TableCell className="mono">{ofRuns(runs.map(({ downMbps }) => downMbps))}</TableCell>
                <TableCell className="mono">{ofRuns(runs.map(({ upMbps }) => upMbps))}</TableCell>
                <TableCell className="mono">{`${(100 * again).toFixed(0)} %`}</TableCell>
                <TableCell className="mono">{more === null ? '–' : `${more > 0 ? '+' : ''}${signed(100 * more, 0)} %`}</TableCell>
                <TableCell padding="none">
                  <IconButton
                    size="small"
                    aria-label={`Delete the test at spot ${spot + 1} of ${localMinute(at)}`}
                    onClick={() => useDocument.getState().run('Delete a throughput test', (d) => remove(d, 'transferTests', [id]))}
                  >
                    <DeleteOutline fontSize="small" />
                  </IconButton>
                </TableCell>
              </TableRow>
            );
          }),
        )}
      </TableBody>
    </Table>
  );
}
