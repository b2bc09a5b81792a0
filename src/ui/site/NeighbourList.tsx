'use client';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { LIMITS } from '@/core/design/limits';
import { channelExists } from '@/core/radio/channel';
import { hashText } from '@/core/random';
import type { Neighbour, SiteParameters } from '@/core/survey/site';
import { NumberField, TextField } from '../inspector/fields';
import { signed } from '../state/format';
import { ChannelFields } from './ChannelFields';
import { hoursText } from './hours';
import { HoursField } from './HoursField';

type Draft = Omit<Neighbour, 'bssid'>;

/** An address for a new neighbour: made up, locally administered (IEEE 802-2014, 8.2), of its name, band and channel. */
function addressOf({ ssid, band, channel }: Draft, taken: readonly string[]): string {
  for (let n = 0; ; n++) {
    const hash = hashText(`${ssid}/${band}/${channel}/${n}`);
    const octets = [0x02, 0x77, hash & 0xff, (hash >>> 8) & 0xff, (hash >>> 16) & 0xff, (hash >>> 24) & 0xff];
    const address = octets.map((octet) => octet.toString(16).padStart(2, '0')).join(':');
    if (!taken.includes(address)) return address;
  }
}

/** Networks of others that are heard on a floor. */
export function NeighbourList({ site, onSite }: { site: SiteParameters; onSite: (site: SiteParameters) => void }) {
  const { neighbours } = site;
  const [draft, setDraft] = useState<Draft>({
    ssid: '',
    xM: 0,
    yM: 0,
    heightM: 2,
    band: '2.4',
    channel: 6,
    widthMhz: 20,
    txPowerDbm: 18,
    busy: 0.2,
    hours: [],
  });
  const set = (fields: Partial<Draft>) => setDraft({ ...draft, ...fields });
  const exists = channelExists({ band: draft.band, primary: draft.channel, widthMhz: draft.widthMhz });
  const { min, max } = LIMITS.coordinateM;
  return (
    <section aria-label="Neighbours">
      <h2>Neighbours</h2>
      {neighbours.length === 0 && <p>None is heard here.</p>}
      <ol className="hidden-faults">
        {neighbours.map((one) => (
          <li key={one.bssid}>
            {`${one.ssid || 'hidden network'}, ${one.band} GHz channel ${one.channel}/${one.widthMhz}, ${signed(one.txPowerDbm)} dBm, at ${signed(one.xM, 1)}, ${signed(one.yM, 1)} m, ${one.heightM} m high${one.busy === undefined ? '' : `, busy ${Math.round(100 * one.busy)} % at most`}${(one.hours ?? []).length === 0 ? '' : `, ${hoursText(one.hours!)}`}. `}
            <button type="button" className="plain" onClick={() => onSite({ ...site, neighbours: neighbours.filter((other) => other !== one) })}>
              take away
            </button>
          </li>
        ))}
      </ol>
      <div className="add">
        <TextField label="name" value={draft.ssid} maxLength={32} mayBeEmpty onCommit={(ssid) => set({ ssid })} />
        <ChannelFields draft={draft} onSet={set} />
        <NumberField
          label="sends"
          unit="dBm"
          value={draft.txPowerDbm}
          min={LIMITS.txPowerDbm.min}
          max={LIMITS.txPowerDbm.max}
          digits={0}
          onCommit={(txPowerDbm) => set({ txPowerDbm })}
        />
        <NumberField label="x" unit="m" value={draft.xM} min={min} max={max} digits={1} onCommit={(xM) => set({ xM })} />
        <NumberField label="y" unit="m" value={draft.yM} min={min} max={max} digits={1} onCommit={(yM) => set({ yM })} />
        <NumberField
          label="height"
          unit="m"
          value={draft.heightM}
          min={LIMITS.heightM.min}
          max={LIMITS.heightM.max}
          digits={1}
          onCommit={(heightM) => set({ heightM })}
        />
        <NumberField
          label="busy at most"
          unit="%"
          value={100 * (draft.busy ?? 0)}
          min={0}
          max={90}
          digits={0}
          onCommit={(busy) => set({ busy: busy / 100 })}
        />
        <HoursField hours={draft.hours ?? []} onCommit={(hours) => set({ hours })} />
        <Button
          variant="outlined"
          color="secondary"
          disabled={!exists || neighbours.length >= LIMITS.neighbours}
          onClick={() =>
            onSite({
              ...site,
              neighbours: [
                ...neighbours,
                {
                  ...draft,
                  bssid: addressOf(
                    draft,
                    neighbours.map(({ bssid }) => bssid),
                  ),
                },
              ],
            })
          }
        >
          Add neighbour
        </Button>
      </div>
    </section>
  );
}
