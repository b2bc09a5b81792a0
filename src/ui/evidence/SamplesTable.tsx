'use client';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TableSortLabel from '@mui/material/TableSortLabel';
import { useMemo, useState } from 'react';
import { COMPARED_FROM_DBM, type AgainstModel } from '@/core/survey/againstModel';
import type { Sample } from '@/core/survey/sample';
import { signed } from '../state/format';
import { BAND_MARK, type Place } from '../state/selectors';
import { useAgainstModel } from './useAgainstModel';

/** What a walk heard, network by network, beside what the model says at the very places: the strongest first, or the one that differs most. */
export function SamplesTable({ samples, place }: { samples: readonly Sample[]; place: Place }) {
  const against = useAgainstModel(samples, place);
  const [byDifference, setByDifference] = useState(false);
  const heard = useMemo(() => {
    const by = new Map<
      string,
      { ssid: string; apId: string | null; band: Sample['band']; channel: number; widthMhz: number; count: number; sum: number; best: number }
    >();
    for (const s of samples) {
      const row = by.get(s.bssid) ?? {
        ssid: s.ssid,
        apId: s.apId,
        band: s.band,
        channel: s.channel,
        widthMhz: s.widthMhz,
        count: 0,
        sum: 0,
        best: -Infinity,
      };
      by.set(s.bssid, { ...row, count: row.count + 1, sum: row.sum + s.rssiDbm, best: Math.max(row.best, s.rssiDbm) });
    }
    return [...by].sort(([, a], [, b]) => b.best - a.best);
  }, [samples]);
  const rows = useMemo(() => {
    const all = heard.map(([bssid, row]) => ({ bssid, ...row, model: against?.get(`${row.apId}/${row.band}`) ?? null }));
    const off = (model: AgainstModel | null) => (model === null ? -1 : Math.abs(model.differenceDb));
    return byDifference ? all.sort((a, b) => off(b.model) - off(a.model)) : all;
  }, [heard, against, byDifference]);
  if (rows.length === 0) return <p className="empty">No samples yet: start a walk, or choose one at the right.</p>;
  return (
    <Table size="small" stickyHeader aria-label="Samples by network">
      <TableHead>
        <TableRow>
          {['AP', 'band', 'channel/MHz', 'heard, times', 'strongest dBm', 'mean dBm', 'compared, times', 'predicted there dBm'].map((head) => (
            <TableCell key={head}>{head}</TableCell>
          ))}
          <TableCell title={`Measured less predicted, at the places of the samples that are predicted at ${signed(COMPARED_FROM_DBM)} dBm or more`}>
            <TableSortLabel active={byDifference} direction="desc" onClick={() => setByDifference(!byDifference)}>
              difference dB
            </TableSortLabel>
          </TableCell>
          <TableCell>scatter dB</TableCell>
          <TableCell>SSID</TableCell>
          <TableCell>BSSID</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map((row) => (
          <TableRow key={row.bssid}>
            <TableCell sx={{ fontWeight: 600 }}>
              {row.apId === null ? 'not ours' : (place.around.find((ap) => ap.id === row.apId)?.name ?? 'deleted AP')}
            </TableCell>
            <TableCell>{`${BAND_MARK[row.band]} ${row.band}`}</TableCell>
            <TableCell className="mono">{`${row.channel}/${row.widthMhz}`}</TableCell>
            <TableCell className="mono">{row.count}</TableCell>
            <TableCell className="mono">{signed(row.best)}</TableCell>
            <TableCell className="mono">{signed(row.sum / row.count, 1)}</TableCell>
            <TableCell className="mono">{row.model?.count ?? '–'}</TableCell>
            <TableCell className="mono">{row.model === null ? '–' : signed(row.model.predictedDbm, 1)}</TableCell>
            <TableCell className="mono">
              {row.model === null ? '–' : `${row.model.differenceDb > 0 ? '+' : ''}${signed(row.model.differenceDb, 1)}`}
            </TableCell>
            <TableCell className="mono">{row.model === null ? '–' : row.model.sigmaDb.toFixed(1)}</TableCell>
            <TableCell>{row.ssid}</TableCell>
            <TableCell className="mono">{row.bssid}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
