'use client';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { useState } from 'react';
import type { LoadSummary } from '@/core/air/advice';
import type { HeardNetwork } from '@/core/air/heard';
import { domainOf } from '@/core/design/design';
import { allowedChannels } from '@/core/radio/regulation';
import { channelLabel } from '@/core/radio/channel';
import { Choice } from '../../kit/Choice';
import type { Place } from '../../state/selectors';
import { signed } from '../../state/format';
import { useDocument } from '../../state/documentStore';
import { measureLoad, spotKeyNow, stopMeasuring, useAir } from './airStore';
import { takenBy } from './adviceWords';
import { clock } from './clock';
import { takeOption } from './takeOption';
import { networksOn, useAdvice, useLoads } from './useLoad';

const LENGTHS = [10, 30, 60, 300] as const;
const percent = (share: number): string => (100 * share).toFixed(1);

/** Airtime in three hatchings: ours, other Wi-Fi, not Wi-Fi. */
function Bar({ load }: { load: LoadSummary }) {
  const parts = [
    ['ours', load.ours],
    ['others', load.others],
    ['not-wifi', load.notWifi],
  ] as const;
  return (
    <span className="air-load-bar" aria-hidden="true">
      {parts.map(([kind, share]) => (
        <i key={kind} className={kind} style={{ width: `${100 * share}%` }} />
      ))}
    </span>
  );
}

/** How busy each channel is where the receiver stands: measured by dwelling on it. */
export function LoadTab({ place, networks, apId }: { place: Place; networks: readonly HeardNetwork[]; apId: string | null }) {
  const band = useAir((s) => s.band);
  const busy = useAir((s) => s.busy);
  const run = useAir((s) => s.load[band]);
  const [forS, setForS] = useState<number>(30);
  const [list, setList] = useState<'channels' | 'options'>('channels');
  const { now, before } = useLoads(band);
  const advice = useAdvice(place, networks, apId, band);
  const accessPoints = useDocument((s) => s.design.accessPoints);
  const channels = allowedChannels(domainOf(place.project), band, 20).map(({ channel }) => channel.primary);
  const count = networksOn(networks);
  const stale = run !== undefined && run.done && run.spotKey !== spotKeyNow();
  const perChannel = run === undefined || now.length === 0 ? 0 : run.loads.length / now.length;
  return (
    <>
      <div className="air-filters">
        {busy === 'load' ? (
          <Button size="small" variant="outlined" color="secondary" onClick={stopMeasuring}>
            Stop
          </Button>
        ) : (
          <Button size="small" variant="contained" disabled={busy !== null || channels.length === 0} onClick={() => void measureLoad(channels, forS)}>
            {run === undefined ? 'Measure' : 'Measure again'}
          </Button>
        )}
        <Choice
          label="Measured for"
          value={forS}
          options={LENGTHS.map((value) => ({ value: value as number, label: `for ${value} s` }))}
          onChoose={setForS}
        />
        <Choice
          label="Listed"
          value={list}
          options={[
            { value: 'channels', label: 'channel by channel' },
            { value: 'options', label: advice === null ? 'what can be taken' : `what ${advice.ap.name} can take` },
          ]}
          onChoose={setList}
        />
        <span role="status" aria-label="Measurement">
          {run === undefined
            ? `${channels.length} channels are allowed here: nothing is measured yet.`
            : `${busy === 'load' ? 'Measuring' : 'Measured'} from ${clock(run.atMs)} at ${run.spotName}, ${Math.round(perChannel)} looks of 0.2 s at each of ${now.length} channels${before.length > 0 ? '; beside it the measurement before' : ''}.`}
          {stale && ' The receiver stands elsewhere now.'}
        </span>
      </div>
      {now.length === 0 ? (
        <p className="empty">Measure dwells on each allowed channel in turn, and says who takes how much of its time. The clock goes on meanwhile.</p>
      ) : list === 'channels' ? (
        <Table size="small" stickyHeader aria-label="Channel load">
          <TableHead>
            <TableRow>
              {[
                'channel',
                'airtime',
                'busy %',
                '±',
                'ours %',
                'other Wi-Fi %',
                'not Wi-Fi %',
                'energy, noise dBm',
                ...(before.length > 0 ? ['busy before %'] : []),
                'radios',
                'most of it',
              ].map((head) => (
                <TableCell key={head}>{head}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {now.map((load) => {
              const was = before.find(({ channel }) => channel === load.channel);
              const first = load.takers[0];
              return (
                <TableRow key={load.channel}>
                  <TableCell className="mono">{load.channel}</TableCell>
                  <TableCell>
                    <Bar load={load} />
                  </TableCell>
                  <TableCell className="mono">{percent(load.busy)}</TableCell>
                  <TableCell className="mono">{load.spread === null ? '–' : percent(load.spread)}</TableCell>
                  <TableCell className="mono">{percent(load.ours)}</TableCell>
                  <TableCell className="mono">{percent(load.others)}</TableCell>
                  <TableCell className="mono">{percent(load.notWifi)}</TableCell>
                  <TableCell className="mono" title="Mean energy, and what of it is no frame of Wi-Fi">
                    {`${signed(load.energyDbm)}, ${signed(load.noiseDbm)}`}
                  </TableCell>
                  {before.length > 0 && <TableCell className="mono">{was === undefined ? '–' : percent(was.busy)}</TableCell>}
                  <TableCell className="mono second">{count({ band, primary: load.channel, widthMhz: 20 })}</TableCell>
                  <TableCell>
                    {first === undefined
                      ? '–'
                      : `${first.apId === null ? first.ssid || 'a hidden network' : (accessPoints[first.apId]?.name ?? 'deleted AP')} ${percent(first.share)} %`}
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      ) : advice === null ? (
        <p className="empty">Choose one of our access points with a radio on this band: at the right, or on the small plan.</p>
      ) : (
        <Table size="small" stickyHeader aria-label={`What ${advice.ap.name} can take`}>
          <TableHead>
            <TableRow>
              {['channel/MHz', 'airtime left %', 'energy dBm', 'radios', 'radar detection', 'taken by', ''].map((head) => (
                <TableCell key={head}>{head}</TableCell>
              ))}
            </TableRow>
          </TableHead>
          <TableBody>
            {advice.options.map((option) => (
              <TableRow key={channelLabel(option.channel)} selected={option === advice.present}>
                <TableCell className="mono">{channelLabel(option.channel)}</TableCell>
                <TableCell className="mono">{percent(option.left)}</TableCell>
                <TableCell className="mono">{signed(option.energyDbm)}</TableCell>
                <TableCell className="mono second">{option.networks}</TableCell>
                <TableCell>{option.allowed.weatherRadar ? 'weather radar' : option.allowed.dfs ? 'yes' : 'no'}</TableCell>
                <TableCell>{takenBy(option, (id) => accessPoints[id]?.name ?? 'deleted AP') || 'nobody'}</TableCell>
                <TableCell>
                  {option === advice.present ? (
                    'is set'
                  ) : (
                    <button type="button" className="plain" onClick={() => takeOption(advice, option)}>
                      take it
                    </button>
                  )}
                </TableCell>
              </TableRow>
            ))}
          </TableBody>
        </Table>
      )}
    </>
  );
}
