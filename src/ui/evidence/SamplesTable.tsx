'use client';
import Table from '@mui/material/Table';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import TableSortLabel from '@mui/material/TableSortLabel';
import { useId, useMemo, useState } from 'react';
import type { AgainstModel } from '@/core/survey/againstModel';
import { HEARD_FOR_CERTAIN_DBM } from '@/core/survey/receiver';
import type { Counted } from '@/core/survey/heard';
import type { Sample } from '@/core/survey/sample';
import { levelOf, samplesAt, spotChecksOf } from '@/core/survey/spotCheck';
import { formatLength } from '@/core/units/length';
import { VirtualBody } from '../kit/VirtualBody';
import { Choice } from '../kit/Choice';
import { useDocument } from '../state/documentStore';
import { countedWalk, useHeardOf, useLinked } from '../state/samplesStore';
import { useSessionFields } from '../state/sessionStore';
import { signed } from '../state/format';
import { BAND_MARK, type Place } from '../state/selectors';
import { locateHeard } from '../stages/survey/locate';
import { useAgainstModel } from './useAgainstModel';

/** What a walk heard, network by network, beside what the model says at the very places: the strongest first, or the one that differs most. */
export function SamplesTable({ heard: counted, place }: { heard: Counted; place: Place }) {
  const { samples: all } = counted;
  const id = useId();
  const { checks, samples, chosen, choose } = useSpotChecks(all);
  const against = useAgainstModel(samples, place);
  const { units } = place.project;
  // On the way levels differ by place; standing still they scatter.
  const standing = chosen >= 0;
  const [byDifference, setByDifference] = useState(false);
  const heard = useMemo(() => {
    const by = new Map<
      string,
      { ssid: string; apId: string | null; band: Sample['band']; channel: number; widthMhz: number; samples: Sample[]; best: number }
    >();
    for (const s of samples) {
      const row = by.get(s.bssid) ?? {
        ssid: s.ssid,
        apId: s.apId,
        band: s.band,
        channel: s.channel,
        widthMhz: s.widthMhz,
        samples: [],
        best: -Infinity,
      };
      row.samples.push(s);
      by.set(s.bssid, { ...row, best: Math.max(row.best, s.rssiDbm) });
    }
    return [...by].map(([bssid, row]) => ({ bssid, ...row, ...levelOf(row.samples) })).sort((a, b) => b.best - a.best);
  }, [samples]);
  const rows = useMemo(() => {
    const beside = heard.map((row) => ({ ...row, model: against?.get(`${row.apId}/${row.band}`) ?? null }));
    const off = (model: AgainstModel | null) => (model === null ? -1 : Math.abs(model.differenceDb));
    return byDifference ? beside.sort((a, b) => off(b.model) - off(a.model)) : beside;
  }, [heard, against, byDifference]);
  if (all.length === 0) return <p className="empty">No samples yet: start a walk, or choose one at the right.</p>;
  return (
    <>
      {checks.length > 0 && (
        <div className="of-walk">
          <label htmlFor={id}>samples heard</label>
          <Choice
            id={id}
            value={chosen}
            options={[
              { value: -1, label: 'on the whole way' },
              ...checks.map(({ xM, yM, fromMs, toMs }, i) => ({
                value: i,
                label: `standing ${((toMs - fromMs) / 1000).toFixed(0)} s at ${formatLength(xM, units, 1)}, ${formatLength(yM, units, 1)}`,
              })),
            ]}
            onChoose={choose}
          />
        </div>
      )}
      <Table size="small" stickyHeader aria-label="Samples by network">
        <TableHead>
          <TableRow>
            {[
              'AP',
              'band',
              'channel/MHz',
              'heard, times',
              'strongest dBm',
              'mean dBm',
              ...(standing ? ['spread dB'] : []),
              'compared, times',
              'predicted there dBm',
            ].map((head) => (
              <TableCell key={head}>{head}</TableCell>
            ))}
            <TableCell
              title={`Measured less predicted, at the places of the samples that are predicted at ${signed(HEARD_FOR_CERTAIN_DBM)} dBm or more`}
            >
              <TableSortLabel active={byDifference} direction="desc" onClick={() => setByDifference(!byDifference)}>
                difference dB
              </TableSortLabel>
            </TableCell>
            <TableCell>scatter dB</TableCell>
            <TableCell>SSID</TableCell>
            <TableCell>BSSID</TableCell>
          </TableRow>
        </TableHead>
        <VirtualBody
          items={rows}
          rowPx={31}
          columns={standing ? 13 : 12}
          row={(row, index, measure) => (
            <TableRow key={row.bssid} data-index={index} ref={measure}>
              <TableCell>
                <button
                  type="button"
                  className="plain"
                  title="Where is it?"
                  onClick={() => void locateHeard(place, counted, { bssid: row.bssid, band: row.band, ssid: row.ssid })}
                >
                  {row.apId === null ? 'not ours' : (place.around.find((ap) => ap.id === row.apId)?.name ?? 'deleted AP')}
                </button>
                {row.apId === null && ` ${row.ssid || 'hidden network'}`}
              </TableCell>
              <TableCell>{`${BAND_MARK[row.band]} ${row.band}`}</TableCell>
              <TableCell className="mono">{`${row.channel}/${row.widthMhz}`}</TableCell>
              <TableCell className="mono">{row.count}</TableCell>
              <TableCell className="mono">{signed(row.best)}</TableCell>
              <TableCell className="mono">{signed(row.meanDbm, 1)}</TableCell>
              {standing && <TableCell className="mono">{Number.isNaN(row.spreadDb) ? '–' : row.spreadDb.toFixed(1)}</TableCell>}
              <TableCell className="mono">{row.model?.count ?? '–'}</TableCell>
              <TableCell className="mono">{row.model === null ? '–' : signed(row.model.predictedDbm, 1)}</TableCell>
              <TableCell className="mono">
                {row.model === null ? '–' : `${row.model.differenceDb > 0 ? '+' : ''}${signed(row.model.differenceDb, 1)}`}
              </TableCell>
              <TableCell className="mono">{row.model === null ? '–' : row.model.sigmaDb.toFixed(1)}</TableCell>
              <TableCell>{row.ssid}</TableCell>
              <TableCell className="mono">{row.bssid}</TableCell>
            </TableRow>
          )}
        />
      </Table>
    </>
  );
}

/** The spots where the walk in view stood, and the samples of the one that is chosen, or all. */
function useSpotChecks(all: readonly Sample[]) {
  const { walkId } = useSessionFields('walkId');
  const walk = useDocument((s) => (walkId === null ? undefined : s.design.walks[walkId]));
  const linked = useLinked();
  const heard = useHeardOf((s) => (walkId === null ? undefined : s.byWalk[walkId]));
  const own = useMemo(
    () => (walk === undefined || heard === undefined ? undefined : countedWalk(walk, heard, linked).samples),
    [walk, heard, linked],
  );
  const legs = walk?.legs;
  const [asked, choose] = useState(-1);
  const checks = useMemo(() => spotChecksOf(legs ?? []), [legs]);
  const check = checks[asked];
  const samples = useMemo(() => (check === undefined ? all : samplesAt(check, own ?? [])), [check, own, all]);
  return { checks, samples, chosen: check === undefined ? -1 : asked, choose };
}
