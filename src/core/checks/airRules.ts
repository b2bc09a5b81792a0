import { channelOf, occupied20 } from '../radio/channel';
import { evenShare } from '../radio/sharing';
import { domainName } from '../radio/regulation';
import { BANDS, type Band } from '../radio/band';
import { BEACON_INTERVAL_MS, BEACON_OCTETS, beaconShare, frameUs } from '../radio/beacon';
import type { Facts, RadioFacts } from './facts';
import type { Rule } from './finding';
import { dbm, lower, number, percent, some } from './words';

/** Where a finding of a whole band is shown: at the radio that shares most. */
function busiest(radios: readonly RadioFacts[], band: Band): RadioFacts | null {
  const here = radios.filter((one) => one.band === band && one.servedM2 > 0);
  return here.reduce<RadioFacts | null>((best, one) => (best === null || one.sharers > best.sharers ? one : best), null);
}

/** What was measured of others on channels that lie idle: a channel that looks free may be loaded by them. */
function measuredOn(others: Facts['others'], band: Band, idle: readonly number[]): string {
  if (others === null) return 'nobody has measured what others do there: walk before it is decided';
  const most = idle.flatMap((number) => {
    const there = others.filter((one) => one.band === band && occupied20(channelOf(one)).includes(number));
    const worst = there.reduce<(typeof there)[number] | null>((high, one) => (high === null || one.share > high.share ? one : high), null);
    return worst === null ? [] : [{ number, ...worst }];
  });
  if (most.length === 0) return 'measured there is nobody';
  most.sort((a, b) => b.share - a.share || a.number - b.number);
  const { number: first, share, levelDbm } = most[0]!;
  return `others were measured on ${some(
    most.map((one) => String(one.number)),
    12,
  )}, most of all on ${first}: in ${percent(share)} of the spots, at ${dbm(Math.round(levelDbm))} on average`;
}

/** Why allowed channels may lie idle, one by one. */
function whyIdle({ lacking, clients, domain, others }: Facts, band: Band, idle: readonly number[], dfs: readonly number[]): string[] {
  const radar = idle.filter((channel) => dfs.includes(channel));
  const cannot = clients.filter(({ bands }) => !bands.includes(band));
  return [
    ...(radar.length > 0
      ? [
          `${radar.length} of them need radar detection in ${domainName(domain)}: some sites have radar in their log, and some clients do not look there`,
        ]
      : []),
    ...(lacking[band].length > 0 ? [`no radio for the band: ${some(lacking[band])}`] : []),
    measuredOn(others, band, idle),
    ...(cannot.length > 0 ? [`clients that do not know the band: ${some(cannot.map(({ name }) => lower(name)))}`] : []),
    'or they are not enabled at the controller',
  ];
}

/** How the air is used. */
export const AIR_RULES: readonly Rule[] = [
  {
    id: 'sharing',
    label: 'Radios sharing a channel',
    help: 'Radios that hear each other on a channel take turns: each other one costs its share of the time.',
    threshold: { words: 'shares with no more than', unit: 'radios', least: 0, most: 10, start: 1 },
    many: 'share their channel with too many',
    find: ({ radios }, most) =>
      radios
        .filter(({ sharers, servedM2 }) => servedM2 > 0 && sharers > most)
        .map((one) => ({
          of: `${one.apId}/${one.band}`,
          place: one.place,
          apIds: [one.apId],
          alike: { band: one.band, name: one.name, weight: one.sharers },
          severity: 'mend' as const,
          title: `${one.name}, ${one.band} GHz: shares channel ${one.channel.primary} with ${number(one.sharers, 1)} others`,
          reason: `Over what it serves, ${number(one.sharers, 2)} other radios take airtime on average: ${some(one.who.map(({ name, share }) => `${name} in ${percent(share)} of it`))}. An even share leaves it ${percent(evenShare(one.sharers))} of the time.`,
          advice: 'Retune the band; where no channel is left, use narrower ones or less power.',
          remedy: null,
        })),
  },
  {
    id: 'beacons',
    label: 'Airtime of beacons',
    help: 'Every network name is announced ten times a second by every radio, at the lowest basic rate, and all radios on a channel share the time.',
    threshold: { words: 'no more than', unit: '% of a channel', least: 1, most: 50, start: 5 },
    many: null,
    find: ({ site, radios }, most) =>
      BANDS.flatMap((band) => {
        const rate = site.basicMbps[band];
        if (rate === null) return [];
        const share = (ssids: number | null): number => beaconShare(ssids ?? 0, rate, band);
        const told = radios.flatMap((one) =>
          one.band !== band || one.ssids === null || one.servedM2 === 0
            ? []
            : [{ one, ssids: one.ssids, all: one.who.reduce((sum, other) => sum + other.share * share(other.ssids), share(one.ssids)) }],
        );
        const worst = told.reduce<(typeof told)[number] | null>((found, next) => (found === null || next.all > found.all ? next : found), null);
        if (worst === null || worst.all * 100 <= most) return [];
        const { one, all, ssids } = worst;
        return [
          {
            of: band,
            place: one.place,
            apIds: [one.apId],
            severity: all > 0.2 ? ('stop' as const) : ('mend' as const),
            title: `${band} GHz: beacons ${all > 1 ? 'ask for' : 'take'} ${percent(all)} of the air at ${one.name}`,
            reason: `${ssids} network name${ssids === 1 ? '' : 's'} at ${rate} Mb/s: a beacon of ${BEACON_OCTETS} octets lasts ${number(frameUs(BEACON_OCTETS, rate, band) / 1000, 2)} ms each ${number(BEACON_INTERVAL_MS, 1)} ms, ${percent(share(ssids))} for this radio; with the ${number(one.sharers, 1)} that share its channel ${percent(all)}.`,
            advice: 'Fewer names (three at most), and a higher lowest basic rate.',
            remedy: null,
          },
        ];
      }),
  },
  {
    id: 'basic-rate',
    label: 'Lowest basic rate',
    help: 'Beacons and what goes to everybody is sent at it, and clients hold on to an access point as long as it carries.',
    threshold: { words: 'at least', unit: 'Mb/s', least: 1, most: 24, start: 12 },
    many: null,
    find: ({ site, radios }, least) =>
      BANDS.flatMap((band) => {
        const rate = site.basicMbps[band];
        if (rate === null || rate >= least || !radios.some((one) => one.band === band)) return [];
        return [
          {
            of: band,
            place: null,
            apIds: [],
            severity: 'mend' as const,
            title: `${band} GHz: lowest basic rate of ${rate} Mb/s`,
            reason: `A beacon of ${BEACON_OCTETS} octets lasts ${number(frameUs(BEACON_OCTETS, rate, band) / 1000, 2)} ms at ${rate} Mb/s and ${number(frameUs(BEACON_OCTETS, 12, band) / 1000, 2)} ms at 12.`,
            advice: 'Make 12 Mb/s the lowest, unless a client that is needed knows only less.',
            remedy: null,
          },
        ];
      }),
  },
  {
    id: 'idle-channels',
    label: 'Allowed channels that lie idle',
    help: 'Where radios share while allowed channels lie idle, there is airtime to be had for nothing.',
    threshold: { words: 'where radios share with more than', unit: 'others on average', least: 0, most: 5, start: 0.3 },
    many: null,
    find: (facts, most) =>
      facts.spectrum.flatMap(({ band, allowed, used, dfs, radios, meanSharers }) => {
        const idle = allowed.filter((channel) => !used.includes(channel));
        const one = busiest(facts.radios, band);
        // At 2.4 GHz what lies between the three that part is no room.
        if (band === '2.4' || radios === 0 || idle.length === 0 || !(meanSharers > most)) return [];
        return [
          {
            of: band,
            place: one?.place ?? null,
            apIds: one === null ? [] : [one.apId],
            severity: 'mend' as const,
            title: `${band} GHz: ${idle.length} of ${allowed.length} allowed channels lie idle`,
            reason: `${radios} radios share with ${number(meanSharers, 2)} others on average, while ${some(idle.map(String), 12)} are used by none. It may be that ${whyIdle(facts, band, idle, dfs).join('; ')}.`,
            advice: 'Ask for each reason whether it holds here, then retune with what is left.',
            remedy: null,
          },
        ];
      }),
  },
  {
    id: 'dfs-only',
    label: 'Only radar channels about',
    help: 'On radar channels clients may not ask: they wait to hear a beacon, and find the next access point late. One neighbour elsewhere is a way out.',
    threshold: null,
    many: 'have radar channels only about them',
    find: ({ radios }) =>
      radios
        .filter(({ band, dfs, touching }) => band === '5' && dfs && touching.length > 0 && touching.every((other) => other.dfs))
        .map((one) => ({
          of: `${one.apId}/${one.band}`,
          place: one.place,
          apIds: [one.apId],
          alike: { band: one.band, name: one.name, weight: one.sharers },
          severity: 'note' as const,
          title: `${one.name}, 5 GHz: it and all its neighbours need radar detection`,
          reason: `Channel ${one.channel.primary}, and ${some(one.touching.map(({ name }) => name))} about it: after a radar event there is nobody to go to, and clients look for these channels only by waiting.`,
          advice: 'Give one in each neighbourhood a channel without radar detection.',
          remedy: null,
        })),
  },
  {
    id: 'steering',
    label: 'Band steering',
    help: 'Steering by refusing answers makes clients slow that know only one band.',
    threshold: null,
    many: null,
    find: ({ site, clients }) => {
      const only = clients.filter(({ bands }) => bands.length === 1);
      if (site.bandSteering !== true || only.length === 0) return [];
      return [
        {
          of: 'site',
          place: null,
          apIds: [],
          severity: 'note' as const,
          title: 'Band steering is on, and some clients know one band only',
          reason: `${some(only.map(({ name, bands }) => `${lower(name)} (${bands[0]} GHz)`))}: their first requests are left unanswered each time.`,
          advice: 'Give them a network name of their own without steering, or switch it off.',
          remedy: null,
        },
      ];
    },
  },
];
