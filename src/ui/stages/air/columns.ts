import { isLocal, makerOf } from '@/core/air/makers';
import { channelOfHeard, levelOf, type HeardNetwork } from '@/core/air/heard';
import { highestMbps } from '@/core/air/radio';
import { BANDS, type Band } from '@/core/radio/band';
import { BEACON_INTERVAL_MS } from '@/core/radio/beacon';
import { channelExists, occupied20 } from '@/core/radio/channel';
import { channelsText } from '@/core/radio/channelText';
import { noiseDbm } from '@/core/radio/noise';
import { BAND_MARK } from '../../state/selectors';
import { signed, wholePercent } from '../../state/format';
import { clock } from './clock';

/** What a row is made of besides the network: the name of our access point, if it is ours. */
export type NetworkRow = Readonly<{ network: HeardNetwork; apName: string | null }>;

/** A column of the table of networks: its head, what it is sorted by, and what stands in it. `gone`: in the second ink where it is not heard now. */
export type Column = Readonly<{
  id: string;
  head: string;
  help?: string;
  mono: boolean;
  by: (row: NetworkRow) => number | string;
  text: (row: NetworkRow) => string;
}>;

const number = (value: number | null, digits = 0): string => (value === null || !Number.isFinite(value) ? '–' : signed(value, digits));
const share = (value: number | null): string => (value === null ? '–' : wholePercent(value));

const OF = (row: NetworkRow) => row.network.newest.network;
const snrOf = ({ network }: NetworkRow): number => levelOf(network) - noiseDbm(network.newest.band, 20);

/** No channel in particular: all of them, or all of the band that is looked at. */
export const NO_CHANNEL = { every: 'every channel', band: 'band' } as const;
/** A primary channel with its band's mark. */
export const channelMark = ({ band, channel }: Readonly<{ band: Band; channel: number }>): string => `${BAND_MARK[band]} ${channel}`;

/** The primary channels on which networks were heard, by band and number; and the one that is chosen, also where nobody is on it any more. */
export function channelsOf(networks: readonly HeardNetwork[], chosen: string): string[] {
  const order = new Map(networks.map(({ newest }) => [channelMark(newest), 1000 * BANDS.indexOf(newest.band) + newest.channel]));
  const heard = [...order].sort((a, b) => a[1] - b[1]).map(([mark]) => mark);
  return !Object.values<string>(NO_CHANNEL).includes(chosen) && !order.has(chosen) ? [...heard, chosen] : heard;
}

/** Every column there is; the first ones are shown until others are chosen. */
export const COLUMNS: readonly Column[] = [
  { id: 'ssid', head: 'SSID', mono: false, by: (row) => OF(row).ssid.toLowerCase(), text: (row) => OF(row).ssid || '(hidden)' },
  { id: 'ap', head: 'ours', mono: false, by: (row) => row.apName ?? '\uffff', text: (row) => row.apName ?? 'no' },
  { id: 'bssid', head: 'BSSID', mono: true, by: (row) => row.network.bssid, text: (row) => row.network.bssid },
  {
    id: 'now',
    head: 'dBm now',
    mono: true,
    by: (row) => -(row.network.nowDbm ?? -200),
    text: (row) => (row.network.nowDbm === null ? 'gone' : number(row.network.nowDbm)),
  },
  { id: 'best', head: 'best dBm', mono: true, by: (row) => -row.network.bestDbm, text: (row) => number(row.network.bestDbm) },
  { id: 'mean', head: 'mean dBm', mono: true, by: (row) => -row.network.meanDbm, text: (row) => number(row.network.meanDbm, 1) },
  {
    id: 'channel',
    head: 'channel/MHz',
    mono: true,
    by: (row) => `${row.network.newest.band} ${String(row.network.newest.channel).padStart(3, '0')}`,
    text: (row) => `${channelMark(row.network.newest)}/${row.network.newest.widthMhz}`,
  },
  { id: 'generation', head: 'generation', mono: false, by: (row) => OF(row).generation, text: (row) => OF(row).generation },
  { id: 'security', head: 'security', mono: false, by: (row) => OF(row).security, text: (row) => OF(row).security },
  {
    id: 'clients',
    head: 'clients',
    help: 'As the beacon announces it',
    mono: true,
    by: (row) => -(row.network.newest.clients ?? -1),
    text: (row) => number(row.network.newest.clients),
  },
  {
    id: 'load',
    head: 'load',
    help: 'Channel utilisation as the beacon announces it',
    mono: true,
    by: (row) => -(row.network.newest.load ?? -1),
    text: (row) => share(row.network.newest.load),
  },
  { id: 'first', head: 'first heard', mono: true, by: (row) => row.network.firstMs, text: (row) => clock(row.network.firstMs) },
  { id: 'last', head: 'last heard', mono: true, by: (row) => -row.network.lastMs, text: (row) => clock(row.network.lastMs) },
  {
    id: 'snr',
    head: 'SNR dB',
    help: 'Level now over the receiver’s own noise in 20 MHz',
    mono: true,
    by: (row) => -snrOf(row),
    text: (row) => number(snrOf(row)),
  },
  {
    id: 'occupied',
    head: 'occupies',
    mono: true,
    by: (row) => row.network.newest.channel,
    text: (row) => {
      const channel = channelOfHeard(row.network);
      return channelExists(channel) ? channelsText(occupied20(channel), channel.band) : '–';
    },
  },
  { id: 'streams', head: 'streams', mono: true, by: (row) => -OF(row).streams, text: (row) => String(OF(row).streams) },
  {
    id: 'rate',
    head: 'highest Mb/s',
    mono: true,
    by: (row) => -(highestMbps(OF(row), channelOfHeard(row.network)) ?? 0),
    text: (row) => number(highestMbps(OF(row), channelOfHeard(row.network))),
  },
  { id: 'basic', head: 'basic Mb/s', mono: true, by: (row) => Math.min(...OF(row).basicMbps), text: (row) => OF(row).basicMbps.join(' ') },
  {
    id: 'maker',
    head: 'maker',
    mono: false,
    by: (row) => makerOf(row.network.bssid) ?? '\uffff',
    text: (row) => makerOf(row.network.bssid) ?? (isLocal(row.network.bssid) ? 'locally administered' : 'not in the registry'),
  },
  { id: 'country', head: 'country', mono: true, by: (row) => OF(row).country ?? '\uffff', text: (row) => OF(row).country ?? '–' },
  { id: 'beacons', head: 'beacons each', mono: true, by: () => 0, text: () => `${BEACON_INTERVAL_MS} ms` },
  { id: 'times', head: 'times', mono: true, by: (row) => -row.network.times, text: (row) => String(row.network.times) },
];
export const FIRST_COLUMNS = ['ssid', 'ap', 'bssid', 'now', 'best', 'channel', 'generation', 'security', 'clients', 'load', 'first'] as const;
export const columnOf = (id: string): Column | undefined => COLUMNS.find((column) => column.id === id);

/** Sorted by one column, then by the next, and so on; of equals the order of addresses, so that nothing jumps. */
export function sorted(rows: readonly NetworkRow[], by: ReadonlyArray<Readonly<{ id: string; down: boolean }>>): NetworkRow[] {
  const orders = by.flatMap(({ id, down }) => {
    const column = columnOf(id);
    return column === undefined ? [] : [{ of: column.by, sign: down ? -1 : 1 }];
  });
  return rows
    .map((row) => ({ row, keys: orders.map(({ of }) => of(row)) }))
    .sort((a, b) => {
      for (const [i, { sign }] of orders.entries()) {
        const [p, q] = [a.keys[i]!, b.keys[i]!];
        if (p !== q) return (p < q ? -1 : 1) * sign;
      }
      return a.row.network.bssid < b.row.network.bssid ? -1 : 1;
    })
    .map(({ row }) => row);
}

/** What rows can be put together by. */
export const GROUPINGS = ['none', 'SSID', 'access point', 'channel', 'width', 'maker'] as const;
export type Grouping = (typeof GROUPINGS)[number];
const groupKey = (row: NetworkRow, by: Grouping): string => {
  switch (by) {
    case 'SSID':
      return OF(row).ssid || '(hidden)';
    case 'access point':
      return row.apName ?? 'not ours';
    case 'channel':
      return `${row.network.newest.band} GHz, channel ${row.network.newest.channel}`;
    case 'width':
      return `${row.network.newest.widthMhz} MHz`;
    case 'maker':
      return columnOf('maker')!.text(row);
    case 'none':
      return '';
  }
};

/** How the table of networks is listed: which of them (`channel` a mark, or one of `NO_CHANNEL`; 0 for any width), put together by what, and sorted by which columns, one after the other. */
export type NetworkList = Readonly<{
  channel: string;
  security: string;
  widthMhz: number;
  group: Grouping;
  by: ReadonlyArray<Readonly<{ id: string; down: boolean }>>;
}>;

/** Rows under a line that sums them up, in the order in which their groups come first. */
export type Grouped = Readonly<{ kind: 'row'; row: NetworkRow }> | Readonly<{ kind: 'sum'; name: string; words: string }>;
export function grouped(rows: readonly NetworkRow[], by: Grouping): Grouped[] {
  if (by === 'none') return rows.map((row) => ({ kind: 'row', row }));
  const groups = new Map<string, NetworkRow[]>();
  for (const row of rows) groups.set(groupKey(row, by), [...(groups.get(groupKey(row, by)) ?? []), row]);
  return [...groups].flatMap(([name, members]): Grouped[] => {
    const best = members.reduce((high, { network }) => Math.max(high, network.bestDbm), -Infinity);
    const channels = new Set(members.map(({ network }) => `${network.newest.band}/${network.newest.channel}`)).size;
    const clients = members.reduce((sum, { network }) => sum + (network.newest.clients ?? 0), 0);
    return [
      {
        kind: 'sum',
        name,
        words: `${members.length} ${members.length === 1 ? 'network' : 'networks'} on ${channels} ${channels === 1 ? 'channel' : 'channels'}, best ${number(best)} dBm, ${clients} clients announced`,
      },
      ...members.map((row) => ({ kind: 'row', row }) as const),
    ];
  });
}
