import { OWED } from '../fields/owed';
import type { Rule } from './finding';
import type { ApFacts, ZoneFacts } from './facts';
import { metres, number, percent } from './words';

const about = ({ apId, place }: ApFacts) => ({ of: apId, place, apIds: [apId], remedy: null });

/** What fails most of what is asked, in words. */
function failing({ shares, asked }: ZoneFacts['bands'][number]): string {
  const each = OWED.flatMap((owed, i) => (asked[i] ? [{ owed, share: shares.each[i]! }] : []));
  return each
    .filter(({ share }) => share < 1)
    .sort((p, q) => p.share - q.share)
    .map(({ owed, share }) => `${owed} in ${percent(share)}`)
    .join(', ');
}

/** Where things hang, and what is owed. */
export const PLACE_RULES: readonly Rule[] = [
  {
    id: 'level',
    label: 'Service levels',
    help: 'What was promised to the customer, zone by zone, on the band that does best.',
    threshold: null,
    many: null,
    find: ({ zones }) =>
      zones.flatMap(({ zoneId, name, levelName, owedShare, bands }) => {
        const best = bands.reduce<ZoneFacts['bands'][number] | null>(
          (most, band) => (most === null || band.shares.all > most.shares.all ? band : most),
          null,
        );
        if (best === null || best.shares.all >= owedShare) return [];
        return [
          {
            of: zoneId,
            place: best.worst,
            apIds: [],
            severity: 'stop' as const,
            title: `${name}: “${levelName}” is not met`,
            reason: `All of it is met in ${percent(best.shares.all)} of the zone at ${best.band} GHz, the best band; ${percent(owedShare)} is owed. Met there: ${failing(best)}.`,
            advice: 'The place shown is where it is weakest. Look through the lens Service level at what fails first.',
            remedy: null,
          },
        ];
      }),
  },
  {
    id: 'second',
    label: 'Second access point',
    help: 'Where only one access point is heard well, its failure is everybody’s, and clients roam late.',
    threshold: { words: 'a second one at −75 dBm in at least', unit: '% of the area', least: 0, most: 100, start: 80 },
    many: null,
    find: ({ heard }, least) =>
      heard
        // Clients roam within 5 and 6 GHz; 2.4 GHz carries further than it should as it is.
        .filter(({ band, radios, secondShare }) => band === '5' && radios > 1 && secondShare * 100 < least)
        .map(({ floorId, floorName, band, secondShare }) => ({
          of: `${floorId}/${band}`,
          place: null,
          apIds: [],
          severity: 'note' as const,
          title: `${floorName}: a second access point in ${percent(secondShare)} of the area`,
          reason: `At ${band} GHz a second radio is heard at −75 dBm or more in ${percent(secondShare)} of the area where service is owed.`,
          advice: 'Look through the lens Heard count; voice wants a second one nearly everywhere.',
          remedy: null,
        })),
  },
  {
    id: 'crowd',
    label: 'Too many heard',
    help: 'Many radios heard at a spot are many that wait for each other, and many that a client holds on to.',
    threshold: { words: 'heard at −82 dBm, no more than', unit: 'on average', least: 2, most: 30, start: 8 },
    many: null,
    find: ({ heard }, most) =>
      heard
        .filter(({ meanHeard }) => meanHeard > most)
        .map(({ floorId, floorName, band, meanHeard, most: place }) => ({
          of: `${floorId}/${band}`,
          place,
          apIds: [],
          severity: 'note' as const,
          title: `${floorName}: ${number(meanHeard, 1)} radios of ${band} GHz heard on average`,
          reason: `At −82 dBm or more, over the area where service is owed; the place shown hears most.`,
          advice: 'Switch some off, or lower their power: a retune tells which.',
          remedy: null,
        })),
  },
  {
    id: 'keep-out',
    label: 'Keep-out zones',
    help: 'Where the customer or the conservators want no access point.',
    threshold: null,
    many: null,
    find: ({ aps }) =>
      aps
        .filter(({ keepOut }) => keepOut !== null)
        .map((ap) => ({
          ...about(ap),
          severity: 'stop' as const,
          title: `${ap.name} hangs in a keep-out zone`,
          reason: `It hangs in “${ap.keepOut}”.`,
          advice: 'Move it out, or have the zone lifted by who asked for it.',
        })),
  },
  {
    id: 'clutter',
    label: 'Hidden by clutter',
    help: 'An access point among shelves or cases lights the nearest of them.',
    threshold: null,
    many: null,
    find: ({ aps }) =>
      aps
        .filter(({ clutter }) => clutter !== null)
        .map((ap) => ({
          ...about(ap),
          severity: 'mend' as const,
          title: `${ap.name} hangs among “${ap.clutter!.name}”`,
          reason: `It hangs at ${metres(ap.heightM)}; what stands there reaches to ${metres(ap.clutter!.topM)}.`,
          advice: 'Hang it above the tops, or at the end of an aisle.',
        })),
  },
  {
    id: 'metal',
    label: 'Next to metal',
    help: 'Metal beside an antenna bends its pattern and shades half of the room.',
    threshold: { words: 'from metal at least', unit: 'm', least: 0.1, most: 5, start: 1 },
    many: null,
    find: ({ aps }, least) =>
      aps
        .filter(({ nearestMetal }) => nearestMetal !== null && nearestMetal.awayM < least)
        .map((ap) => ({
          ...about(ap),
          severity: 'mend' as const,
          title: `${ap.name} hangs ${metres(ap.nearestMetal!.awayM)} from metal`,
          reason: `${ap.nearestMetal!.material} stands ${metres(ap.nearestMetal!.awayM)} away; at least ${metres(least)} keeps the pattern as it was measured.`,
          advice: 'Move it into the open, where those who use it can see it.',
        })),
  },
  {
    id: 'electronics',
    label: 'Next to electronics',
    help: 'Ovens, racks, screens and motors radiate where clients and access points listen, and some take it ill when one sends beside them.',
    threshold: { words: 'from electronics at least', unit: 'm', least: 0.1, most: 10, start: 2 },
    many: null,
    find: ({ aps }, least) =>
      aps
        .filter(({ nearestElectronics }) => nearestElectronics !== null && nearestElectronics.awayM < least)
        .map((ap) => ({
          ...about(ap),
          severity: 'mend' as const,
          title:
            ap.nearestElectronics!.awayM === 0
              ? `${ap.name} hangs among “${ap.nearestElectronics!.name}”`
              : `${ap.name} hangs ${metres(ap.nearestElectronics!.awayM)} from electronics`,
          reason: `“${ap.nearestElectronics!.name}” ${ap.nearestElectronics!.awayM === 0 ? 'is where it hangs' : `is ${metres(ap.nearestElectronics!.awayM)} away`}; at least ${metres(least)} keeps their noise out of its receiver.`,
          advice: 'Move it away, or keep its channels clear of what these send.',
        })),
  },
  {
    id: 'wall',
    label: 'Too near a wall',
    help: 'A ceiling unit close to a wall loses the half of its pattern that it was bought for.',
    threshold: { words: 'from walls at least', unit: 'm', least: 0.1, most: 3, start: 0.5 },
    many: null,
    find: ({ aps }, least) =>
      aps
        .filter(({ wallMounted, nearestWallM }) => !wallMounted && nearestWallM !== null && nearestWallM < least)
        .map((ap) => ({
          ...about(ap),
          severity: 'note' as const,
          title: `${ap.name} hangs ${metres(ap.nearestWallM!)} from a wall`,
          reason: `${ap.modelName} is made for the open ceiling; a wall stands ${metres(ap.nearestWallM!)} away.`,
          advice: `Hang it at least ${metres(least)} off, or use a model for walls.`,
        })),
  },
  {
    id: 'low',
    label: 'Too low',
    help: 'On the floor everything that stands there is in the way, and so are legs.',
    threshold: { words: 'hung at least', unit: 'm high', least: 0, most: 3, start: 1 },
    many: null,
    find: ({ aps }, least) =>
      aps
        .filter(({ heightM }) => heightM < least)
        .map((ap) => ({
          ...about(ap),
          severity: 'mend' as const,
          title: `${ap.name} hangs ${metres(ap.heightM)} above the floor`,
          reason: `Furniture and people stand higher than ${metres(ap.heightM)}.`,
          advice: 'Hang it above heads.',
        })),
  },
  {
    id: 'people',
    label: 'People a radio',
    help: 'A radio associates with far more clients than it can serve well: they share its airtime. People are those said in the service zones, one client each.',
    threshold: { words: 'more than', unit: 'people a radio', least: 5, most: 500, start: 50 },
    many: null,
    find: ({ aps }, most) =>
      aps.flatMap((ap) => {
        const each = ap.radiosOn === 0 ? 0 : ap.people / ap.radiosOn;
        const over = each > ap.clientsPerRadio;
        if (!over && !(each > most)) return [];
        return [
          {
            ...about(ap),
            severity: over ? ('stop' as const) : ('mend' as const),
            title: `${ap.name}: about ${number(each, 0)} people a radio`,
            reason: `About ${number(ap.people, 0)} of the people expected stand where it serves, for ${ap.radiosOn === 1 ? 'its one radio' : `its ${ap.radiosOn} radios that are on`}${over ? `; ${ap.modelName} takes ${ap.clientsPerRadio} clients a radio` : ''}.`,
            advice: 'Hang another beside it, switch another band on, or count again who brings what.',
          },
        ];
      }),
  },
  {
    id: 'poe',
    label: 'Power over the cable',
    help: 'A port that gives less than the model draws starts it with radios off or low, and nobody is told.',
    threshold: null,
    many: null,
    find: ({ aps, site }) =>
      aps
        .filter(({ poeW }) => site.poeW !== null && poeW > site.poeW)
        .map((ap) => ({
          ...about(ap),
          severity: 'stop' as const,
          title: `${ap.name}: its port gives too little power`,
          reason: `${ap.modelName} draws ${number(ap.poeW, 1)} W; the switches give ${number(site.poeW!, 1)} W at a port.`,
          advice: 'Plan a switch or an injector of the next class (IEEE 802.3af, at, bt).',
        })),
  },
];
