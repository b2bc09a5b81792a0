import { WIDTHS_MHZ, type Band, type WidthMhz } from './band';
import { channelExists, occupied20, type Channel } from './channel';

export const DOMAINS = ['US', 'EU', 'UK'] as const;
export type Domain = (typeof DOMAINS)[number];

/** One block of 20 MHz channels under one rule. `maxEirpDbm` is for indoor access points; DFS channels need radar detection. */
type Rule = Readonly<{ band: Band; channels: readonly number[]; maxEirpDbm: number; dfs: boolean; indoorOnly: boolean }>;

const run = (first: number, last: number, step = 4): number[] =>
  Array.from({ length: Math.floor((last - first) / step) + 1 }, (_, i) => first + i * step);

/**
 * What each regulatory domain allows an indoor access point.
 * US: 47 CFR 15.247 (2.4 GHz, 36 dBm EIRP), 15.407 (U-NII-1 36, U-NII-2A/2C 30 with DFS, U-NII-3 36, 6 GHz low-power indoor 30 at full width).
 * EU: EN 300 328 (20 dBm), EN 301 893 (36..48 23 dBm indoor; 52..64 23 with DFS; 100..140 30 with DFS), Decision (EU) 2021/1067 (6 GHz LPI 23 dBm, 5945..6425 MHz).
 * UK: IR 2030 (as EU, with 6 GHz 5925..6425 MHz at 24 dBm = 250 mW, and 5725..5850 MHz at 23 dBm indoors).
 * The documents cannot be opened from the workshop: docs/physics.md marks these values as to be checked against the texts in force.
 */
const RULES: Readonly<Record<Domain, readonly Rule[]>> = {
  US: [
    { band: '2.4', channels: run(1, 11, 1), maxEirpDbm: 36, dfs: false, indoorOnly: false },
    { band: '5', channels: run(36, 48), maxEirpDbm: 36, dfs: false, indoorOnly: false },
    { band: '5', channels: run(52, 64), maxEirpDbm: 30, dfs: true, indoorOnly: false },
    { band: '5', channels: run(100, 144), maxEirpDbm: 30, dfs: true, indoorOnly: false },
    { band: '5', channels: run(149, 165), maxEirpDbm: 36, dfs: false, indoorOnly: false },
    { band: '6', channels: run(1, 233), maxEirpDbm: 30, dfs: false, indoorOnly: true },
  ],
  EU: [
    { band: '2.4', channels: run(1, 13, 1), maxEirpDbm: 20, dfs: false, indoorOnly: false },
    { band: '5', channels: run(36, 48), maxEirpDbm: 23, dfs: false, indoorOnly: true },
    { band: '5', channels: run(52, 64), maxEirpDbm: 23, dfs: true, indoorOnly: true },
    { band: '5', channels: run(100, 140), maxEirpDbm: 30, dfs: true, indoorOnly: false },
    { band: '6', channels: run(1, 93), maxEirpDbm: 23, dfs: false, indoorOnly: true },
  ],
  UK: [
    { band: '2.4', channels: run(1, 13, 1), maxEirpDbm: 20, dfs: false, indoorOnly: false },
    { band: '5', channels: run(36, 48), maxEirpDbm: 23, dfs: false, indoorOnly: true },
    { band: '5', channels: run(52, 64), maxEirpDbm: 23, dfs: true, indoorOnly: true },
    { band: '5', channels: run(100, 140), maxEirpDbm: 30, dfs: true, indoorOnly: false },
    { band: '5', channels: run(149, 165), maxEirpDbm: 23, dfs: false, indoorOnly: true },
    { band: '6', channels: run(1, 93), maxEirpDbm: 24, dfs: false, indoorOnly: true },
  ],
};

export type AllowedChannel = Readonly<{ channel: Channel; maxEirpDbm: number; dfs: boolean; indoorOnly: boolean }>;

const cache = new Map<string, readonly AllowedChannel[]>();

/** Every channel of a band and width that the domain allows, in order of primary. A bonded channel takes the strictest rule of its parts. */
export function allowedChannels(domain: Domain, band: Band, widthMhz: WidthMhz): readonly AllowedChannel[] {
  const key = `${domain}/${band}/${widthMhz}`;
  const known = cache.get(key);
  if (known !== undefined) return known;
  const rules = RULES[domain].filter((rule) => rule.band === band);
  const ruleOf = (number: number) => rules.find((rule) => rule.channels.includes(number));
  const allowed: AllowedChannel[] = [];
  for (const primary of rules.flatMap((rule) => rule.channels)) {
    const channel: Channel = { band, primary, widthMhz };
    if (!channelExists(channel)) continue;
    const parts = occupied20(channel).map(ruleOf);
    if (parts.some((rule) => rule === undefined)) continue;
    allowed.push({
      channel,
      maxEirpDbm: Math.min(...parts.map((rule) => rule!.maxEirpDbm)),
      dfs: parts.some((rule) => rule!.dfs),
      indoorOnly: parts.some((rule) => rule!.indoorOnly),
    });
  }
  cache.set(key, allowed);
  return allowed;
}

/** The rule for one channel, or `null` when the domain does not allow it. */
export function ruleFor(domain: Domain, channel: Channel): AllowedChannel | null {
  return allowedChannels(domain, channel.band, channel.widthMhz).find((allowed) => allowed.channel.primary === channel.primary) ?? null;
}

/** Widths for which the band has at least one allowed channel. */
export function allowedWidths(domain: Domain, band: Band): WidthMhz[] {
  return WIDTHS_MHZ.filter((widthMhz) => allowedChannels(domain, band, widthMhz).length > 0);
}
