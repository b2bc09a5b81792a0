import Papa from 'papaparse';
import { UpperRoomError } from '../errors';
import { BANDS, WIDTHS_MHZ, type Band, type WidthMhz } from '../radio/band';
import { channelExists } from '../radio/channel';
import { storedDbm, type OwnerOf } from '../survey/imported';
import type { Sample } from '../survey/sample';
import { M_PER_FT } from '../units/length';
import type { CsvTable } from './csv';

/** A walk's samples, by the name that the file gives it. */
export type NamedSamples = Readonly<{ walk: string; samples: readonly Sample[] }>;

const HEAD = ['walk', 'leg', 'time [ms]', 'x [m]', 'y [m]', 'AP', 'BSSID', 'SSID', 'band [GHz]', 'channel', 'width [MHz]', 'level [dBm]'] as const;

/** Samples as a table. @param nameOf of an access point; null for one that is gone */
export const samplesTable = (walks: readonly NamedSamples[], nameOf: (apId: string) => string | null): CsvTable => ({
  head: HEAD,
  rows: walks.flatMap(({ walk, samples }) =>
    samples.map((s) => [
      walk,
      s.leg + 1,
      Number(s.tMs.toFixed(3)),
      Number(s.xM.toFixed(3)),
      Number(s.yM.toFixed(3)),
      s.apId === null ? null : nameOf(s.apId),
      s.bssid,
      s.ssid,
      s.band,
      s.channel,
      s.widthMhz,
      s.rssiDbm,
    ]),
  ),
});

/** What columns may be called, in small letters and without their unit; the first is ours. */
const COLUMNS = {
  walk: ['walk', 'survey'],
  leg: ['leg'],
  time: ['time', 't'],
  x: ['x'],
  y: ['y'],
  bssid: ['bssid', 'mac', 'address'],
  ssid: ['ssid', 'network'],
  band: ['band'],
  channel: ['channel', 'primary channel'],
  width: ['width', 'channel width'],
  level: ['level', 'rssi', 'signal'],
} as const;
type Column = keyof typeof COLUMNS;
const NEEDED: readonly Column[] = ['x', 'y', 'bssid', 'channel', 'level'];

/** Units that a column may be in, and what one of them is in ours: m, ms. */
const UNITS: Readonly<Partial<Record<Column, Readonly<Record<string, number>>>>> = {
  x: { m: 1, ft: M_PER_FT },
  y: { m: 1, ft: M_PER_FT },
  time: { ms: 1, s: 1000 },
};

type CsvLimits = Readonly<{ coordinateM: Readonly<{ min: number; max: number }>; legs: number }>;

/** Between samples of a file that does not say when they were taken, in ms. */
const APART_MS = 100;
const MOST_ROWS = 2_000_000;

/**
 * Samples out of a table with a head: places and level, address and channel there must be; when, on which leg and walk, band, width and network may be. In the order of walks.
 * @param limits what places may be, in m, and how many legs a walk may have
 * @throws UpperRoomError CSV_UNREADABLE with what is wrong and in which line
 */
export function readSamplesCsv(text: string, ownerOf: OwnerOf, { coordinateM, legs }: CsvLimits): NamedSamples[] {
  const refuse = (problem: string): never => {
    throw new UpperRoomError('CSV_UNREADABLE', { problem });
  };
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, ''), { skipEmptyLines: 'greedy' });
  const [head, ...rows] = data;
  if (head === undefined) return refuse('it is empty');
  if (rows.length > MOST_ROWS) return refuse(`it has more than ${MOST_ROWS} lines`);
  const columns = new Map<Column, { at: number; factor: number }>();
  head.forEach((cell, at) => {
    const [, name, unit] = /^([^[(]*)(?:[[(]([^\])]*)[\])])?/.exec(cell.trim().toLowerCase())!;
    for (const [column, names] of Object.entries(COLUMNS) as Array<[Column, readonly string[]]>) {
      if (!names.includes(name!.trim()) || columns.has(column)) continue;
      const units = UNITS[column];
      const key = unit?.trim() ?? '';
      const factor = unit === undefined || units === undefined ? 1 : Object.hasOwn(units, key) ? units[key] : undefined;
      if (factor === undefined) return refuse(`the column “${cell.trim()}” is in a unit that is not known; known: ${Object.keys(units!).join(', ')}`);
      columns.set(column, { at, factor });
    }
  });
  const missing = NEEDED.filter((column) => !columns.has(column));
  if (missing.length > 0)
    return refuse(`there is no column ${missing.map((column) => COLUMNS[column][0]).join(', ')}; the first line must name them`);
  const walks = new Map<string, Sample[]>();
  rows.forEach((row, i) => {
    // Lines are told as an editor counts them, the head being the first.
    const line = `line ${i + 2}`;
    const cell = (column: Column): string => (columns.has(column) ? (row[columns.get(column)!.at] ?? '').trim() : '');
    const number = (column: Column, least: number, most: number): number => {
      const value = Number(cell(column).replace('−', '-')) * columns.get(column)!.factor;
      return cell(column) !== '' && value >= least && value <= most
        ? value
        : refuse(`${line}: ${COLUMNS[column][0]} “${cell(column)}” is no number from ${least} to ${most}`);
    };
    const bssid = cell('bssid').toLowerCase().replaceAll('-', ':');
    if (!/^[0-9a-f]{2}(:[0-9a-f]{2}){5}$/.test(bssid)) return refuse(`${line}: “${cell('bssid')}” is no address`);
    const channel = number('channel', 1, 233);
    const said = cell('band').replace(/\s*GHz$/i, '');
    const band = (said === '' ? (channel <= 14 ? '2.4' : '5') : said) as Band;
    if (!BANDS.includes(band)) return refuse(`${line}: “${cell('band')}” is no band; known: ${BANDS.join(', ')}`);
    const widthMhz = (cell('width') === '' ? 20 : number('width', 20, 320)) as WidthMhz;
    if (!WIDTHS_MHZ.includes(widthMhz) || !channelExists({ band, primary: channel, widthMhz }))
      return refuse(`${line}: there is no channel ${channel} of ${widthMhz} MHz at ${band} GHz`);
    const walk = cell('walk') === '' ? '' : cell('walk');
    const own = walks.get(walk) ?? [];
    walks.set(walk, own);
    own.push({
      leg: cell('leg') === '' ? 0 : Math.round(number('leg', 1, legs)) - 1,
      tMs: cell('time') === '' ? own.length * APART_MS : number('time', 0, 1e9),
      xM: number('x', coordinateM.min, coordinateM.max),
      yM: number('y', coordinateM.min, coordinateM.max),
      bssid,
      ssid: cell('ssid').slice(0, 32),
      apId: ownerOf(bssid),
      band,
      channel,
      widthMhz,
      rssiDbm: storedDbm(number('level', -130, 30)),
    });
  });
  if (walks.size === 0) return refuse('there is a head and no samples');
  return [...walks].map(([walk, samples]) => ({ walk, samples }));
}
