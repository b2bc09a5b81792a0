import type { Band } from './band';
import { channelExists, isPreferredScanning } from './channel';
import { domainName, allowedChannels, type AllowedChannel, type Domain } from './regulation';

/** One 20 MHz channel of a band as the sheet of the spectrum shows it: null where the domain does not allow it. */
export type BandCell = Readonly<{ number: number; allowed: AllowedChannel | null; preferred: boolean }>;
/** A stretch of the band under one rule; `name` is null for channels that are not allowed. */
export type BandGroup = Readonly<{ name: string | null; cells: readonly BandCell[] }>;

/** No band numbers its channels higher. */
const LAST_NUMBER = 233;

/** All 20 MHz channels of a band along frequency, in stretches of one rule. */
export function bandSheet(domain: Domain, band: Band): BandGroup[] {
  const groups: Array<{ name: string | null; cells: BandCell[] }> = [];
  const allowed = new Map(allowedChannels(domain, band, 20).map((one) => [one.channel.primary, one]));
  for (let number = 1; number <= LAST_NUMBER; number++) {
    if (!channelExists({ band, primary: number, widthMhz: 20 })) continue;
    const own = allowed.get(number) ?? null;
    const name = own?.subBand ?? null;
    const cell = { number, allowed: own, preferred: isPreferredScanning({ band, primary: number }) };
    const last = groups.at(-1);
    if (last !== undefined && last.name === name) last.cells.push(cell);
    else groups.push({ name, cells: [cell] });
  }
  return groups;
}

/** What a cell's corner says: W weather radar, D radar detection, P preferred scanning channel, I indoors only. */
export function marksOf({ allowed, preferred }: BandCell): string {
  if (allowed === null) return '';
  return `${allowed.weatherRadar ? 'W' : allowed.dfs ? 'D' : ''}${preferred ? 'P' : ''}${allowed.indoorOnly ? 'I' : ''}`;
}

/** All that a cell shows, in words. */
export function cellWords(cell: BandCell, domain: Domain): string {
  const { allowed, number, preferred } = cell;
  if (allowed === null) return `${number}, not allowed in ${domainName(domain)}`;
  const radar = allowed.weatherRadar ? 'weather radar' : 'radar detection';
  return [
    String(number),
    ...(allowed.checkS === null ? [] : [`${radar}, listens ${allowed.checkS} s before it sends`]),
    ...(preferred ? ['preferred scanning channel'] : []),
    ...(allowed.indoorOnly ? ['indoors only'] : []),
    `${Math.round(allowed.maxEirpDbm * 10) / 10} dBm EIRP at 20 MHz`,
  ].join(', ');
}
