'use client';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useMemo } from 'react';
import type { Sample } from '@/core/survey/sample';
import { signed } from '../state/format';
import { BAND_MARK, type Place } from '../state/selectors';

/** What a walk heard, network by network, the strongest first. */
export function SamplesTable({ samples, place }: { samples: readonly Sample[]; place: Place }) {
  const rows = useMemo(() => {
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
  if (rows.length === 0) return <p className="empty">No samples yet: start a walk, or choose one at the right.</p>;
  return (
    <Table size="small" stickyHeader aria-label="Samples by network">
      <TableHead>
        <TableRow>
          {['AP', 'BSSID', 'SSID', 'band', 'channel/MHz', 'heard, times', 'strongest dBm', 'mean dBm'].map((head) => (
            <TableCell key={head}>{head}</TableCell>
          ))}
        </TableRow>
      </TableHead>
      <TableBody>
        {rows.map(([bssid, row]) => (
          <TableRow key={bssid}>
            <TableCell sx={{ fontWeight: 600 }}>
              {row.apId === null ? 'not ours' : (place.around.find((ap) => ap.id === row.apId)?.name ?? 'deleted AP')}
            </TableCell>
            <TableCell className="mono">{bssid}</TableCell>
            <TableCell>{row.ssid}</TableCell>
            <TableCell>{`${BAND_MARK[row.band]} ${row.band}`}</TableCell>
            <TableCell className="mono">{`${row.channel}/${row.widthMhz}`}</TableCell>
            <TableCell className="mono">{row.count}</TableCell>
            <TableCell className="mono">{signed(row.best)}</TableCell>
            <TableCell className="mono">{signed(row.sum / row.count, 1)}</TableCell>
          </TableRow>
        ))}
      </TableBody>
    </Table>
  );
}
