import { WIDTHS_MHZ, type Band, type WidthMhz } from './band';
import { channelExists, occupied20, type Channel } from './channel';

/** Channels with radar detection: not at all, only where no other is as good, or like the others. */
export const DFS_USES = ['never', 'if equal', 'use'] as const;
export type DfsUse = (typeof DFS_USES)[number];

export const DOMAINS = ['US', 'EU', 'UK', 'CA', 'AU', 'JP'] as const;
export type DomainId = (typeof DOMAINS)[number];

/** How long a radio must listen for radar before it may send, in s: in general, and where weather radar is (5600 to 5650 MHz). */
const CHECK_S = 60;
const WEATHER_CHECK_S = 600;

/**
 * One sub-band under one rule, for indoor access points. Power is limited as EIRP, and as EIRP per MHz, so that a narrow channel may send less
 * than a wide one. `checkS`: availability check before sending where radar detection (DFS) is required, else null.
 */
export type DomainRule = Readonly<{
  band: Band;
  subBand: string;
  /** The class of access point that the limits are those of, where the law knows several. */
  powerClass: string | null;
  channels: readonly number[];
  maxEirpDbm: number;
  maxDensityDbmPerMhz: number | null;
  checkS: number | null;
  weatherRadar?: boolean | undefined;
  indoorOnly: boolean;
}>;

/** The law of a place that is not in the list, as a project writes it down. */
export type OwnDomain = Readonly<{ name: string; rules: readonly DomainRule[] }>;
export type Domain = DomainId | OwnDomain;

/** What a domain is called. */
export const domainName = (domain: Domain): string => (typeof domain === 'string' ? domain : domain.name);

const run = (first: number, last: number, step = 4): number[] =>
  Array.from({ length: Math.floor((last - first) / step) + 1 }, (_, i) => first + i * step);

const ism = (last: number, maxEirpDbm: number, maxDensityDbmPerMhz: number | null): DomainRule => ({
  band: '2.4',
  subBand: '2.4 GHz',
  powerClass: null,
  channels: run(1, last, 1),
  maxEirpDbm,
  maxDensityDbmPerMhz,
  checkS: null,
  indoorOnly: false,
});
const five = (
  subBand: string,
  first: number,
  last: number,
  maxEirpDbm: number,
  maxDensityDbmPerMhz: number | null,
  rest: Partial<Pick<DomainRule, 'checkS' | 'weatherRadar' | 'indoorOnly'>> = {},
): DomainRule => ({
  band: '5',
  subBand,
  powerClass: null,
  channels: run(first, last),
  maxEirpDbm,
  maxDensityDbmPerMhz,
  checkS: null,
  indoorOnly: false,
  ...rest,
});
const lowPowerIndoor = (subBand: string, first: number, last: number, maxEirpDbm: number, maxDensityDbmPerMhz: number): DomainRule => ({
  band: '6',
  subBand,
  powerClass: 'low-power indoor',
  channels: run(first, last),
  maxEirpDbm,
  maxDensityDbmPerMhz,
  checkS: null,
  indoorOnly: true,
});

const radar = { checkS: CHECK_S };
const weather = { checkS: WEATHER_CHECK_S, weatherRadar: true } as const;
const european = { ...radar, indoorOnly: true };

/**
 * What each regulatory domain allows an indoor access point; 6 GHz in the low-power indoor class.
 * US: 47 CFR 15.247 (2.4 GHz, 36 dBm EIRP), 15.407 (U-NII-1 and U-NII-3 36 dBm; U-NII-2A and 2C 30 dBm and 17 dBm/MHz with DFS; 6 GHz low-power
 * indoor 30 dBm and 5 dBm/MHz).
 * EU: EN 300 328 (20 dBm, 10 dBm/MHz), EN 301 893 (5150 to 5350 MHz 23 dBm, 10 dBm/MHz, indoors; 5470 to 5725 MHz 30 dBm, 17 dBm/MHz; weather radar
 * 10 min), Decision (EU) 2021/1067 (6 GHz LPI 23 dBm, 10 dBm/MHz, 5945 to 6425 MHz).
 * UK: IR 2030 (as EU, with 6 GHz 5925 to 6425 MHz at 24 dBm = 250 mW, and 5725 to 5850 MHz at 23 dBm indoors).
 * CA: RSS-247 (5150 to 5250 MHz 23 dBm indoors; 5600 to 5650 MHz closed) and RSS-248 (6 GHz LPI 30 dBm, 5 dBm/MHz).
 * AU: the class licence for low interference potential devices (2.4 GHz and 5725 to 5850 MHz 36 dBm; 5600 to 5650 MHz closed; 6 GHz LPI 24 dBm to 6585 MHz).
 * JP: Article 49.20 of the ordinance regulating radio equipment (2.4 GHz 10 mW/MHz with an antenna of 2.14 dBi; 5.3 and 5.6 GHz with radar detection; 6 GHz LPI
 * 23 dBm); channel 14, for DSSS alone, is left out.
 * CA, AU and JP were entered from memory. The documents cannot be opened from the workshop: docs/physics.md marks these values as to be checked against the texts in force.
 */
const RULES: Readonly<Record<DomainId, readonly DomainRule[]>> = {
  US: [
    ism(11, 36, null),
    five('U-NII-1', 36, 48, 36, 23),
    five('U-NII-2A', 52, 64, 30, 17, radar),
    five('U-NII-2C', 100, 144, 30, 17, radar),
    five('U-NII-3', 149, 165, 36, null),
    lowPowerIndoor('U-NII-5', 1, 93, 30, 5),
    lowPowerIndoor('U-NII-6', 97, 113, 30, 5),
    lowPowerIndoor('U-NII-7', 117, 185, 30, 5),
    lowPowerIndoor('U-NII-8', 189, 233, 30, 5),
  ],
  EU: [
    ism(13, 20, 10),
    five('5150–5250 MHz', 36, 48, 23, 10, { indoorOnly: true }),
    five('5250–5350 MHz', 52, 64, 23, 10, european),
    five('5470–5725 MHz', 100, 116, 30, 17, radar),
    five('5600–5650 MHz', 120, 128, 30, 17, weather),
    five('5650–5725 MHz', 132, 140, 30, 17, radar),
    lowPowerIndoor('5945–6425 MHz', 1, 93, 23, 10),
  ],
  UK: [
    ism(13, 20, 10),
    five('5150–5250 MHz', 36, 48, 23, 10, { indoorOnly: true }),
    five('5250–5350 MHz', 52, 64, 23, 10, european),
    five('5470–5725 MHz', 100, 116, 30, 17, radar),
    five('5600–5650 MHz', 120, 128, 30, 17, weather),
    five('5650–5725 MHz', 132, 140, 30, 17, radar),
    five('5725–5850 MHz', 149, 165, 23, 10, { indoorOnly: true }),
    lowPowerIndoor('5925–6425 MHz', 1, 93, 24, 11),
  ],
  CA: [
    ism(11, 36, null),
    five('5150–5250 MHz', 36, 48, 23, 10, { indoorOnly: true }),
    five('5250–5350 MHz', 52, 64, 30, 17, radar),
    five('5470–5600 MHz', 100, 116, 30, 17, radar),
    five('5650–5725 MHz', 132, 144, 30, 17, radar),
    five('5725–5850 MHz', 149, 165, 36, null),
    lowPowerIndoor('5925–7125 MHz', 1, 233, 30, 5),
  ],
  AU: [
    ism(13, 36, null),
    five('5150–5250 MHz', 36, 48, 23, 10, { indoorOnly: true }),
    five('5250–5350 MHz', 52, 64, 23, 10, european),
    five('5470–5600 MHz', 100, 116, 30, 17, radar),
    five('5650–5725 MHz', 132, 140, 30, 17, radar),
    five('5725–5850 MHz', 149, 165, 36, null),
    lowPowerIndoor('5925–6585 MHz', 1, 125, 24, 11),
  ],
  JP: [
    ism(13, 25, 12),
    five('5150–5250 MHz', 36, 48, 23, 10, { indoorOnly: true }),
    five('5250–5350 MHz', 52, 64, 23, 10, european),
    five('5470–5730 MHz', 100, 144, 30, 17, radar),
    lowPowerIndoor('5925–6425 MHz', 1, 93, 23, 10),
  ],
};

/** A channel with what the domain asks of it. `maxEirpDbm` holds for this width. */
export type AllowedChannel = Readonly<{
  channel: Channel;
  subBand: string;
  powerClass: string | null;
  maxEirpDbm: number;
  dfs: boolean;
  /** Availability check before sending, in s; null without radar detection. */
  checkS: number | null;
  weatherRadar: boolean;
  indoorOnly: boolean;
}>;

/** The sub-bands of a domain, each with its rule. */
export const rulesOf = (domain: Domain): readonly DomainRule[] => (typeof domain === 'string' ? RULES[domain] : domain.rules);

/** What was worked out of a domain: those of the list by id, a project's own by itself, for it is immutable. */
const listed = new Map<DomainId, Map<string, readonly AllowedChannel[]>>();
const own = new WeakMap<OwnDomain, Map<string, readonly AllowedChannel[]>>();
function cacheOf(domain: Domain): Map<string, readonly AllowedChannel[]> {
  const known = typeof domain === 'string' ? listed.get(domain) : own.get(domain);
  if (known !== undefined) return known;
  const fresh = new Map<string, readonly AllowedChannel[]>();
  if (typeof domain === 'string') listed.set(domain, fresh);
  else own.set(domain, fresh);
  return fresh;
}

/** Every channel of a band and width that the domain allows, in order of primary. A bonded channel takes the strictest rule of its parts. */
export function allowedChannels(domain: Domain, band: Band, widthMhz: WidthMhz): readonly AllowedChannel[] {
  const cache = cacheOf(domain);
  const key = `${band}/${widthMhz}`;
  const known = cache.get(key);
  if (known !== undefined) return known;
  const rules = rulesOf(domain).filter((rule) => rule.band === band);
  const ruleOf = (number: number) => rules.find((rule) => rule.channels.includes(number));
  const limitOf = ({ maxEirpDbm, maxDensityDbmPerMhz }: DomainRule) =>
    maxDensityDbmPerMhz === null ? maxEirpDbm : Math.min(maxEirpDbm, maxDensityDbmPerMhz + 10 * Math.log10(widthMhz));
  const allowed: AllowedChannel[] = [];
  for (const rule of rules) {
    for (const primary of rule.channels) {
      const channel: Channel = { band, primary, widthMhz };
      if (!channelExists(channel)) continue;
      const parts = occupied20(channel).map(ruleOf);
      if (!parts.every((part) => part !== undefined)) continue;
      const checks = parts.flatMap(({ checkS }) => (checkS === null ? [] : [checkS]));
      allowed.push({
        channel,
        subBand: rule.subBand,
        powerClass: rule.powerClass,
        maxEirpDbm: Math.min(...parts.map(limitOf)),
        dfs: checks.length > 0,
        checkS: checks.length > 0 ? Math.max(...checks) : null,
        weatherRadar: parts.some(({ weatherRadar }) => weatherRadar === true),
        indoorOnly: parts.some(({ indoorOnly }) => indoorOnly),
      });
    }
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
