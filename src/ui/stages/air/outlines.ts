import { channelOfHeard, levelOf, type HeardNetwork } from '@/core/air/heard';
import type { Band } from '@/core/radio/band';
import { centreMhz, channelExists, type Channel } from '@/core/radio/channel';
import { maskPoints } from '@/core/radio/overlap';
import { PRESET } from './sweepStore';

/** What is drawn below the lowest level of the drawing, and above its highest, in dBm. */
export const DRAWN_DBM = { min: -100, max: -20 } as const;

/** One radio as it is drawn: its names, its channel, the level of its loudest name. */
export type DrawnRadio = Readonly<{
  key: string;
  bssids: readonly string[];
  names: readonly string[];
  apId: string | null;
  channel: Channel;
  dbm: number;
  picked: boolean;
  gone: boolean;
}>;

/** Names of one radio differ in the first octet alone. */
export const radioKey = (bssid: string, channel: Channel): string => `${bssid.slice(2)}/${channel.band}/${channel.primary}/${channel.widthMhz}`;

/** Networks as radios, the loudest last, so that it lies on top; those that are picked above all. */
export function radiosOf(
  networks: readonly HeardNetwork[],
  band: Band,
  ownerOf: (bssid: string) => string | null,
  nameOf: (apId: string) => string | null,
  picked: ReadonlySet<string>,
): DrawnRadio[] {
  const radios = new Map<string, DrawnRadio>();
  for (const network of networks) {
    const channel = channelOfHeard(network);
    if (channel.band !== band || !channelExists(channel)) continue;
    const key = radioKey(network.bssid, channel);
    const before = radios.get(key);
    const owner = ownerOf(network.bssid);
    const name = (owner === null ? null : nameOf(owner)) ?? (network.newest.network.ssid || '(hidden)');
    const dbm = levelOf(network);
    radios.set(key, {
      key,
      bssids: [...(before?.bssids ?? []), network.bssid],
      names: [...(before?.names ?? []), name],
      apId: owner,
      channel,
      dbm: Math.max(before?.dbm ?? -Infinity, dbm),
      picked: (before?.picked ?? false) || picked.has(network.bssid),
      gone: (before?.gone ?? true) && network.nowDbm === null,
    });
  }
  return [...radios.values()].sort((a, b) => Number(a.picked) - Number(b.picked) || a.dbm - b.dbm);
}

/** The part of the spectrum that is drawn. */
export type Frame = Readonly<{ startMhz: number; stopMhz: number; left: number; right: number; top: number; bottom: number }>;
export const xOf = ({ startMhz, stopMhz, left, right }: Frame, mhz: number): number =>
  left + ((mhz - startMhz) / (stopMhz - startMhz)) * (right - left);
export const yOf = ({ top, bottom }: Frame, dbm: number): number =>
  top + ((DRAWN_DBM.max - Math.min(DRAWN_DBM.max, Math.max(DRAWN_DBM.min, dbm))) / (DRAWN_DBM.max - DRAWN_DBM.min)) * (bottom - top);

/** The corners of a radio's transmit mask at its level, from left to right, in px: the level over its flat part is its level. */
export function outlineOf({ channel, dbm }: Pick<DrawnRadio, 'channel' | 'dbm'>, frame: Frame): ReadonlyArray<readonly [number, number]> {
  const centre = centreMhz(channel);
  const half = maskPoints(channel.widthMhz).map(([offset, dbr]) => [offset, dbm + dbr] as const);
  const all = [
    ...half
      .slice(1)
      .reverse()
      .map(([offset, level]) => [-offset, level] as const),
    ...half.slice(1),
  ];
  return all.map(([offset, level]) => [xOf(frame, centre + offset), yOf(frame, level)] as const);
}

export type Label = Readonly<{ key: string; text: string; x: number; y: number; picked: boolean; ours: boolean }>;

/** Width of a letter, in px, as labels are set. */
const LETTER_PX = 6.1;
const LINE_PX = 13;

/**
 * Names over the outlines' tops, none over another: the loudest, and those picked, first; one that has no room above its outline goes higher or aside, and is left out where there is none.
 */
export function labelsOf(radios: readonly DrawnRadio[], frame: Frame): Label[] {
  const taken: Array<readonly [number, number, number, number]> = [];
  const labels: Label[] = [];
  for (const radio of [...radios].reverse()) {
    const more = new Set(radio.names).size - 1;
    const text = `${radio.names[0]!}${more > 0 ? ` +${more}` : ''} ${Math.round(radio.dbm).toString().replace('-', '−')}`;
    const width = text.length * LETTER_PX;
    const middle = xOf(frame, centreMhz(radio.channel));
    const top = yOf(frame, radio.dbm) - 4;
    const tries = [0, -LINE_PX, -2 * LINE_PX, -3 * LINE_PX].flatMap((dy) =>
      [0, -0.3 * width, 0.3 * width, -0.6 * width, 0.6 * width].map((dx) => [dx, dy] as const),
    );
    for (const [dx, dy] of tries) {
      const x = Math.min(frame.right - width / 2, Math.max(frame.left + width / 2, middle + dx));
      const y = top + dy;
      const box = [x - width / 2 - 3, y - LINE_PX + 1, x + width / 2 + 3, y + 2] as const;
      if (box[1] < frame.top - LINE_PX || taken.some(([l, t, r, b]) => box[0] < r && box[2] > l && box[1] < b && box[3] > t)) continue;
      taken.push(box);
      labels.push({ key: radio.key, text, x, y, picked: radio.picked, ours: radio.apId !== null });
      break;
    }
  }
  return labels;
}

/** How far each label is moved so that none lies over another: from the highest down, in px. */
export function labelShifts(levelsDbm: readonly number[], pxPerDb: number): number[] {
  const order = levelsDbm.map((_, i) => i).sort((a, b) => levelsDbm[b]! - levelsDbm[a]!);
  const shifts = levelsDbm.map(() => 0);
  let last = -Infinity;
  for (const i of order) {
    const y = -levelsDbm[i]! * pxPerDb;
    const to = Math.max(y, last + LINE_PX);
    shifts[i] = to - y;
    last = to;
  }
  return shifts;
}

/** Parts of a band that can be looked at by themselves: all of it, and its sub-bands by their first and last channel. */
export function partsOf(
  band: Band,
  groups: ReadonlyArray<Readonly<{ name: string | null; cells: ReadonlyArray<Readonly<{ number: number }>> }>>,
): ReadonlyArray<Readonly<{ id: string; label: string; startMhz: number; stopMhz: number }>> {
  const all = { id: 'all', label: 'all of it', ...PRESET[band] };
  if (groups.filter(({ name }) => name !== null).length < 2) return [all];
  const named = groups.flatMap(({ name, cells }) => {
    if (name === null) return [];
    const mhz = (number: number) => centreMhz({ band, primary: number, widthMhz: 20 });
    return [{ id: `${name} ${cells[0]!.number}`, label: name, startMhz: mhz(cells[0]!.number) - 20, stopMhz: mhz(cells.at(-1)!.number) + 20 }];
  });
  return [all, ...named];
}
