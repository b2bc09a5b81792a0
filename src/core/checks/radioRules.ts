import type { Band } from '../radio/band';
import { APART_24, channelLabel } from '../radio/channel';
import { lawWords } from '../radio/law';
import type { Facts, RadioFacts } from './facts';
import type { Rule } from './finding';
import { db, dbm, number, percent, some } from './words';

const of = ({ apId, band }: RadioFacts): string => `${apId}/${band}`;
const about = (radio: RadioFacts, weight: number) => ({
  of: of(radio),
  place: radio.place,
  apIds: [radio.apId],
  alike: { band: radio.band, name: radio.name, weight },
});
const radio = ({ name, band }: RadioFacts): string => `${name}, ${band} GHz`;
const halves = (value: number): number => Math.floor(value * 2 + 1e-9) / 2;

/** The least power among the clients that are expected in a band, with its name; null where nobody has said which. */
function weakestClient({ clients }: Facts, band: Band): Facts['clients'][number] | null {
  const here = clients.filter(({ bands }) => bands.includes(band));
  return here.reduce<Facts['clients'][number] | null>(
    (least, client) => (least === null || client.txPowerDbm < least.txPowerDbm ? client : least),
    null,
  );
}

/** How radios are set. */
export const RADIO_RULES: readonly Rule[] = [
  {
    id: 'law',
    label: 'Model and law',
    help: 'What the model cannot do or the regulatory domain does not allow may not be sent.',
    threshold: null,
    many: 'are set as model or law do not allow',
    find: ({ radios }) =>
      radios.flatMap((one) =>
        one.problem === null
          ? []
          : [
              {
                ...about(one, one.txPowerDbm),
                severity: 'stop' as const,
                title: `${radio(one)}: not allowed`,
                reason: lawWords(one.problem),
                advice: 'A survey of this setting would prove nothing, and an inspector may end it.',
                remedy:
                  one.problem.kind === 'eirp' || one.problem.kind === 'power'
                    ? {
                        label: `Set ${dbm(one.highestPowerDbm)}`,
                        radios: [{ apId: one.apId, band: one.band, fields: { txPowerDbm: one.highestPowerDbm } }],
                      }
                    : null,
              },
            ],
      ),
  },
  {
    id: 'width-24',
    label: '2.4 GHz in 20 MHz',
    help: 'The band has room for three channels of 20 MHz; one of 40 takes two thirds of it.',
    threshold: null,
    many: 'are 40 MHz wide',
    find: ({ radios }) =>
      radios
        .filter(({ band, channel }) => band === '2.4' && channel.widthMhz > 20)
        .map((one) => ({
          ...about(one, one.sharers),
          severity: 'mend' as const,
          title: `${radio(one)}: ${one.channel.widthMhz} MHz wide`,
          reason: `${channelLabel(one.channel)} takes two of the three channels that part in this band${one.overlap === null ? '' : `; it meets ${number(one.overlap.own, 1)} other radios on average, ${number(one.overlap.half, 1)} at 20 MHz`}.`,
          advice: 'Use 20 MHz at 2.4 GHz, wherever more than one access point is heard.',
          remedy: { label: 'Set 20 MHz', radios: [{ apId: one.apId, band: one.band, fields: { widthMhz: 20 as const } }] },
        })),
  },
  {
    id: 'apart-24',
    label: '2.4 GHz channels that part',
    help: 'Channels less than five numbers apart overlap: what is heard then is noise instead of a turn to wait for.',
    threshold: null,
    many: 'stand on channels that overlap',
    find: ({ radios }) =>
      radios
        .filter(({ band, channel }) => band === '2.4' && channel.widthMhz === 20 && !APART_24.some((apart) => apart === channel.primary))
        .map((one) => {
          const nearest = APART_24.reduce((best, next) =>
            Math.abs(next - one.channel.primary) < Math.abs(best - one.channel.primary) ? next : best,
          );
          return {
            ...about(one, one.sharers),
            severity: 'mend' as const,
            title: `${radio(one)}: channel ${one.channel.primary} overlaps two others`,
            reason: `Channel ${one.channel.primary} lies ${Math.abs(nearest - one.channel.primary)} from ${nearest}: the masks of 20 MHz part at five numbers and more, as 1, 6 and 11 do.`,
            advice: 'Keep to 1, 6 and 11 on all access points, or retune the band with just these allowed.',
            remedy: { label: `Set channel ${nearest}`, radios: [{ apId: one.apId, band: one.band, fields: { channel: nearest } }] },
          };
        }),
  },
  {
    id: 'headroom',
    label: 'Headroom of power',
    help: 'A radio at its highest power cannot grow when a neighbour fails or a wall comes, and its clients seldom answer as loud.',
    threshold: { words: 'headroom of at least', unit: 'dB', least: 0, most: 10, start: 1 },
    many: 'have no headroom of power',
    find: ({ radios }, headroomDb) =>
      radios
        .filter(({ txPowerDbm, highestPowerDbm, problem }) => problem === null && highestPowerDbm - txPowerDbm < headroomDb)
        .map((one) => ({
          ...about(one, one.txPowerDbm),
          severity: 'note' as const,
          title: `${radio(one)}: no headroom`,
          reason: `It sends ${dbm(one.txPowerDbm)}; model and law leave ${dbm(one.highestPowerDbm)} on ${channelLabel(one.channel)}.`,
          advice: 'Plan with some decibels in hand: lower the power where the service level allows, or hang another access point.',
          remedy: null,
        })),
  },
  {
    id: 'uplink',
    label: 'Uplink balance',
    help: 'A client that is much weaker than its access point hears it and is not heard: it stays where it should have left.',
    threshold: { words: 'client weaker by no more than', unit: 'dB', least: 0, most: 20, start: 6 },
    many: 'are louder than their clients',
    find: (facts, mostDb) =>
      facts.radios.flatMap((one) => {
        const client = weakestClient(facts, one.band);
        if (client === null || one.txPowerDbm - client.txPowerDbm <= mostDb) return [];
        const lower = Math.max(one.minPowerDbm, halves(client.txPowerDbm + mostDb));
        return [
          {
            ...about(one, one.txPowerDbm),
            severity: 'mend' as const,
            title: `${radio(one)}: louder than its clients by ${db(one.txPowerDbm - client.txPowerDbm)}`,
            reason: `It sends ${dbm(one.txPowerDbm)}, the weakest client expected (${client.name}) ${dbm(client.txPowerDbm)}: the way is the same both ways, so the uplink is as much weaker.`,
            advice: 'Lower the power, and hang more access points where the level then fails.',
            remedy:
              lower < one.txPowerDbm
                ? { label: `Set ${dbm(lower)}`, radios: [{ apId: one.apId, band: one.band, fields: { txPowerDbm: lower } }] }
                : null,
          },
        ];
      }),
  },
  {
    id: 'spread',
    label: 'Power of neighbours',
    help: 'Clients move to who is loudest: where powers differ much, the loud cell takes what is nearer to the quiet one.',
    threshold: { words: 'difference of no more than', unit: 'dB', least: 1, most: 20, start: 6 },
    many: 'are louder than their neighbours',
    find: ({ radios }, mostDb) =>
      radios.flatMap((one) => {
        // Told once of a pair: by the louder.
        const quieter = one.touching.filter(({ txPowerDbm }) => one.txPowerDbm - txPowerDbm > mostDb);
        if (quieter.length === 0) return [];
        const least = quieter.reduce((best, next) => (next.txPowerDbm < best.txPowerDbm ? next : best));
        return [
          {
            ...about(one, one.txPowerDbm - least.txPowerDbm),
            severity: 'mend' as const,
            title: `${radio(one)}: ${db(one.txPowerDbm - least.txPowerDbm)} louder than ${least.name}`,
            reason: `Its area touches ${quieter.length === 1 ? 'that of' : 'those of'} ${some(quieter.map(({ name, txPowerDbm }) => `${name} at ${dbm(txPowerDbm)}`))}; it sends ${dbm(one.txPowerDbm)}.`,
            advice: 'Bring neighbours within a few decibels, so that the nearer one is the louder one.',
            remedy: null,
          },
        ];
      }),
  },
  {
    id: 'wide',
    label: 'Width that pays',
    help: 'Twice the width is twice the rate, but every other radio in it takes a share of the time.',
    threshold: { words: 'lost to a narrower width, at least', unit: '%', least: 0, most: 80, start: 10 },
    many: 'are wider than pays',
    find: ({ radios }, leastPercent) =>
      radios.flatMap((one) => {
        // Width-24 says it already of 2.4 GHz.
        if (one.overlap === null || one.band === '2.4' || !(one.servedM2 > 0)) return [];
        const { own, half, halfMhz } = one.overlap;
        const worth = (1 / (1 + own) / (1 / (1 + half))) * (one.channel.widthMhz / halfMhz);
        if (!((1 - worth) * 100 >= leastPercent)) return [];
        return [
          {
            ...about(one, 1 - worth),
            severity: 'mend' as const,
            title: `${radio(one)}: ${one.channel.widthMhz} MHz costs more than it gives`,
            reason: `Around its primary it meets ${number(own, 2)} other radios on average in ${one.channel.widthMhz} MHz, ${number(half, 2)} in ${halfMhz}. Rate by width, shared evenly: ${percent(1 - worth)} less than at ${halfMhz} MHz.`,
            advice: 'Use the narrower width here, or find the wide one a channel of its own by a retune.',
            remedy: { label: `Set ${halfMhz} MHz`, radios: [{ apId: one.apId, band: one.band, fields: { widthMhz: halfMhz } }] },
          },
        ];
      }),
  },
];
