import { channelLabel } from '../radio/channel';
import { sharersInto, signalInto, snrInto } from './combine';
import { noiseInto, severityInto, sinrInto, strongestOtherInto } from './interference';
import { kinded, minus, stepped, tinted, washed, type Lens, type LensContext, type ThresholdRule } from './lens';
import { OWED, owedInto, type OwedValues } from './owed';
import { balanceInto, heardCountInto, ratesInto } from './quality';

export type { Kind, Lens, LensContext, LensGroup, ThresholdRule } from './lens';

/** What requirements are judged by: as the lenses SNR, Rate (down) and Contention show it. */
export function owedValues({
  top,
  radios,
  receiver,
  ignoreBelowDbm,
  limits,
}: Pick<LensContext, 'top' | 'radios' | 'receiver' | 'ignoreBelowDbm' | 'limits'>): OwedValues {
  const values = { snrDb: new Float32Array(top.cells), rateMbps: new Float32Array(top.cells), sharers: new Float32Array(top.cells) };
  snrInto(top, radios, receiver.noiseFigureDb, ignoreBelowDbm, values.snrDb);
  ratesInto(top, radios, receiver, 'down', 'mbps', ignoreBelowDbm, values.rateMbps);
  sharersInto(top, radios, limits(null), ignoreBelowDbm, values.sharers);
  return values;
}

/** What an area is called in which all is met, or the first requirement that fails. */
const OWED_KINDS = [
  { id: 'met', label: 'met' },
  ...OWED.map((owed) => ({ id: owed, label: owed === 'radios sharing' ? 'too many share' : `${owed} fails` })),
];

/** What an area is called in which the measured Signal passes, fails, or may do either; in the order of the verdict's numbers. */
const VERDICTS = [
  { id: 'passes', label: 'surely met' },
  { id: 'fails', label: 'surely not met' },
  { id: 'open', label: 'not sure' },
] as const;

/** The one registry of lenses, in the order in which they are listed. */
export const LENSES = [
  washed({
    id: 'signal',
    label: 'Signal',
    unit: 'dBm',
    group: 'level',
    key: '1',
    help: 'Level of the strongest, second or third strongest radio: power + antenna gain − path loss − walls.',
    asks: 'rank',
    measured: 'level',
    from: -90,
    to: -35,
    start: -67,
    kernel: ({ top, rank, ignoreBelowDbm }, out) => signalInto(top, rank, ignoreBelowDbm, out),
  }),
  washed({
    id: 'snr',
    label: 'SNR',
    unit: 'dB',
    group: 'level',
    key: '2',
    help: 'Level of the strongest radio less the noise in its own width: −174 + 10 log10(bandwidth in Hz) + noise figure + man-made noise.',
    from: 0,
    to: 60,
    bins: 30,
    start: 25,
    disturbed: true,
    kernel: ({ top, radios, receiver, ignoreBelowDbm, disturbers }, out) =>
      snrInto(top, radios, receiver.noiseFigureDb, ignoreBelowDbm, out, disturbers),
  }),
  washed({
    id: 'resilience',
    label: 'Resilience',
    unit: 'dBm',
    group: 'level',
    key: null,
    help: 'What is left when the access point that serves here fails: the level of the next one. No other loss is worse at the spot; the readout says which two they are.',
    from: -90,
    to: -35,
    start: -67,
    without: true,
    kernel: ({ top, ignoreBelowDbm }, out) => signalInto(top, 1, ignoreBelowDbm, out),
  }),
  stepped({
    id: 'heard',
    label: 'Heard count',
    unit: 'radios',
    group: 'level',
    key: null,
    help: 'How many radios of the band are heard at the level of “ignore below” or more.',
    last: 6,
    start: 2,
    sense: 'least',
    openEnded: true,
    measured: 'count',
    words: (threshold) => `with ${threshold} or more heard`,
    kernel: ({ radios, ignoreBelowDbm }, out) => heardCountInto(radios, ignoreBelowDbm, out),
  }),
  washed({
    id: 'balance',
    label: 'Uplink balance',
    unit: 'dB',
    group: 'level',
    key: null,
    help: 'How much louder the client arrives at its access point than the access point at it: their powers differ, the way is the same. Below 0 the client is the weaker end.',
    from: -20,
    to: 20,
    start: -6,
    kernel: ({ top, radios, receiver, ignoreBelowDbm }, out) => balanceInto(top, radios, receiver, ignoreBelowDbm, out),
  }),
  stepped({
    id: 'contention',
    label: 'Contention',
    unit: 'radios',
    group: 'air',
    key: '3',
    help: 'How many other radios take airtime from the one that serves here: they occupy its primary channel, and it or its client hears them at −82 dBm per 20 MHz or more. With n of them an even share leaves 1 / (1 + n) of the airtime.',
    ...others(),
    kernel: ({ top, radios, limits, ignoreBelowDbm, met, mask }, out) => sharersInto(top, radios, limits(null), ignoreBelowDbm, out, met, mask),
  }),
  stepped({
    id: 'overlap',
    label: 'Overlap',
    unit: 'radios',
    group: 'air',
    key: '4',
    help: 'How many other radios would be met in a channel of the chosen width around the serving radio’s primary: heard on the primary at −82 dBm per 20 MHz or more, or on the other channels of that width at −72.',
    asks: 'width',
    ...others(),
    kernel: ({ top, radios, limits, widthMhz, ignoreBelowDbm, met, mask }, out) =>
      sharersInto(top, radios, limits(widthMhz), ignoreBelowDbm, out, met, mask),
  }),
  washed({
    id: 'interference',
    label: 'Interference',
    unit: 'dBm',
    group: 'air',
    key: '7',
    help: 'Level of the strongest other radio inside the serving radio’s channel, waited for or not: its level by the share of its spectrum mask that falls in.',
    from: -110,
    to: -40,
    start: -82,
    sense: 'most',
    kernel: ({ top, radios, ignoreBelowDbm }, out) => strongestOtherInto(top, radios, ignoreBelowDbm, out),
  }),
  washed({
    id: 'severity',
    label: 'Severity',
    unit: '%',
    group: 'air',
    key: null,
    help: 'What the strongest other radio in the serving radio’s channel takes of the SNR while it sends: 100 × (SNR − SINR) / SNR, in dB, with that one radio and the noise in SINR. 0 %: nothing; 100 %: all of it.',
    from: 0,
    to: 100,
    step: 20,
    start: 50,
    sense: 'most',
    kernel: ({ top, radios, receiver, ignoreBelowDbm }, out) => severityInto(top, radios, receiver.noiseFigureDb, ignoreBelowDbm, out),
  }),
  washed({
    id: 'noise',
    label: 'Noise',
    unit: 'dBm',
    group: 'air',
    key: null,
    help: 'Noise in the serving radio’s width, and with it the power of all radios in its channel for which nobody waits, all sending at once.',
    from: -100,
    to: -60,
    start: -90,
    sense: 'most',
    disturbed: true,
    kernel: ({ top, radios, levelsAtDbm, receiver, ignoreBelowDbm, disturbers }, out) =>
      noiseInto(top, radios, levelsAtDbm(), receiver.noiseFigureDb, ignoreBelowDbm, out, disturbers),
  }),
  washed({
    id: 'sinr',
    label: 'SINR',
    unit: 'dB',
    group: 'air',
    key: null,
    help: 'Level of the strongest radio less the noise and the power of all radios in its channel for which nobody waits, all sending at once. Radios that are waited for cost airtime instead: see Contention.',
    from: -10,
    to: 60,
    start: 20,
    disturbed: true,
    kernel: ({ top, radios, levelsAtDbm, receiver, ignoreBelowDbm, disturbers }, out) =>
      sinrInto(top, radios, levelsAtDbm(), receiver.noiseFigureDb, ignoreBelowDbm, out, disturbers),
  }),
  washed({
    id: 'rate',
    label: 'Rate',
    unit: 'Mb/s',
    group: 'data',
    key: '8',
    help: 'The best data rate that the SNR allows between access point and client: streams, MCS and width that both have, by IEEE 802.11, shortest guard interval; without interference, and before airtime is shared.',
    asks: 'direction',
    from: 0,
    to: 1200,
    bins: 24,
    step: 200,
    start: 100,
    kernel: ({ top, radios, receiver, direction, ignoreBelowDbm }, out) => ratesInto(top, radios, receiver, direction, 'mbps', ignoreBelowDbm, out),
  }),
  stepped({
    id: 'mcs',
    label: 'MCS',
    unit: '',
    group: 'data',
    key: null,
    help: 'Modulation and coding of that best rate: 0 to 7 in HT, to 9 in VHT, 11 in HE, 13 in EHT. A higher one on fewer streams may be slower than a lower one on more.',
    asks: 'direction',
    last: 13,
    start: 4,
    sense: 'least',
    openEnded: false,
    words: (threshold) => `with MCS ${threshold} or more`,
    kernel: ({ top, radios, receiver, direction, ignoreBelowDbm }, out) => ratesInto(top, radios, receiver, direction, 'mcs', ignoreBelowDbm, out),
  }),
  kinded({
    id: 'service',
    label: 'Service level',
    group: 'data',
    key: '9',
    help: 'In zones that have a service level: whether all of it is met at the spot, else what fails first. Signal and second signal as in Signal, SNR, Rate (down) and Contention as in their lenses.',
    kindsOf: () => OWED_KINDS,
    kernel: (context, out) => owedInto(context.owed, context.top, owedValues(context), out),
  }),
  tinted({
    id: 'serving',
    label: 'Serving AP',
    group: 'areas',
    key: '5',
    help: 'Which access point is the strongest here.',
    kindOf: ({ key, name }) => ({ id: key, label: name }),
  }),
  tinted({
    id: 'channel',
    label: 'Channel',
    group: 'areas',
    key: '6',
    help: 'Primary channel and width of the radio that serves here; colours are far apart where areas touch.',
    kindOf: ({ channel }) => ({ id: channelLabel(channel), label: channelLabel(channel) }),
  }),
  tinted({
    id: 'band',
    label: 'Band',
    group: 'areas',
    key: null,
    help: 'Band of the radio that serves here: for the map of the band that the client takes by itself.',
    kindOf: ({ channel: { band } }) => ({ id: band, label: `${band} GHz` }),
  }),
  tinted({
    id: 'width',
    label: 'Width',
    group: 'areas',
    key: null,
    help: 'Channel width of the radio that serves here.',
    kindOf: ({ channel: { widthMhz } }) => ({ id: String(widthMhz), label: `${widthMhz} MHz` }),
  }),
  tinted({
    id: 'generation',
    label: 'Generation',
    group: 'areas',
    key: null,
    help: 'Generation of the radio that serves here.',
    kindOf: ({ generation }) => ({ id: generation, label: generation }),
  }),
  washed({
    id: 'trust',
    label: 'Trust',
    unit: 'dB',
    group: 'walked',
    key: null,
    help: 'How sure the measured Signal is: standard deviation of what is said at each spot, by how far the next readings are, how shadows reach, and what the walk leaves open.',
    asks: 'rank',
    measured: 'sure',
    measuredOnly: true,
    from: 0,
    to: 10,
    step: 2,
    bins: 20,
    start: 4,
    sense: 'most',
    kernel: (_, out) => void out.fill(NaN),
  }),
  kinded({
    id: 'verdict',
    label: 'Pass or fail',
    group: 'walked',
    key: null,
    help: 'Where the measured Signal surely meets the threshold of Signal, or surely does not: nine times in ten. The rest is to be walked.',
    kindsOf: () => [...VERDICTS],
    measured: 'verdict',
    measuredOnly: true,
    kernel: (_, out) => void out.fill(NaN),
  }),
  washed({
    id: 'off-model',
    label: 'Off the model',
    unit: 'dB',
    group: 'walked',
    key: null,
    help: 'Measured less predicted: measured Signal less what the model says of the same radio there, for a receiver without antenna gain. Below 0 it is weaker than drawn.',
    asks: 'rank',
    measured: 'off',
    measuredOnly: true,
    from: -20,
    to: 20,
    step: 5,
    bins: 20,
    start: -5,
    kernel: (_, out) => void out.fill(NaN),
  }),
  washed({
    id: 'since-walk',
    label: 'Since earlier',
    unit: 'dB',
    group: 'walked',
    key: null,
    help: 'What was measured now less what was measured on the earlier walk that is chosen in Survey: each time the strongest radio there. Below 0 it has become weaker.',
    asks: 'rank',
    measured: 'since',
    measuredOnly: true,
    from: -20,
    to: 20,
    step: 5,
    bins: 20,
    start: 0,
    kernel: (_, out) => void out.fill(NaN),
  }),
  washed({
    id: 'channel-power',
    label: 'Channel power',
    unit: 'dBm',
    group: 'walked',
    key: null,
    help: 'Mean energy in 20 MHz, whoever sends it, as a swept receiver found it that was carried on the walk: in the channel chosen, or in whichever has most. Of a busy channel more, for it is a mean over time.',
    asks: 'channel',
    swept: 'energy',
    measuredOnly: true,
    from: -100,
    to: -20,
    start: -60,
    sense: 'most',
    kernel: (_, out) => void out.fill(NaN),
  }),
  washed({
    id: 'measured-noise',
    label: 'Measured noise',
    unit: 'dBm',
    group: 'walked',
    key: null,
    help: 'Mean energy in 20 MHz without frames of Wi-Fi, as a swept receiver found it on the walk: its own noise, and whatever is on the air that is not Wi-Fi. In the channel chosen, or in whichever has most.',
    asks: 'channel',
    swept: 'noise',
    measuredOnly: true,
    from: -100,
    to: -60,
    start: -85,
    sense: 'most',
    kernel: (_, out) => void out.fill(NaN),
  }),
  washed({
    id: 'interferer',
    label: 'Interferer',
    unit: 'dBm',
    group: 'walked',
    key: null,
    help: 'How strong a kind of signal that is not Wi-Fi is while it is on, over all of its spectrum, as it was told on the walk. Nothing is claimed where it was not told: there it may be weak, off, or hidden behind frames.',
    asks: 'signal',
    swept: 'signal',
    measuredOnly: true,
    from: -90,
    to: -30,
    start: -75,
    sense: 'most',
    kernel: (_, out) => void out.fill(NaN),
  }),
] as const satisfies readonly Lens[];

/** Lenses that count other radios: fewer is better, and who they are is counted too. */
function others() {
  return {
    last: 6,
    start: 1,
    sense: 'most',
    openEnded: true,
    counts: true,
    words: (threshold: number) => `with ${threshold} or fewer others`,
  } as const;
}

export type LensId = (typeof LENSES)[number]['id'];
export const LENS_IDS = LENSES.map(({ id }) => id) as unknown as readonly [LensId, ...LensId[]];

const BY_ID = new Map<string, Lens>(LENSES.map((lens) => [lens.id, lens]));
export const lensOf = (id: LensId): Lens => BY_ID.get(id)!;

/** Whether a value meets the threshold; what has no value meets none. */
export const meets = (rule: ThresholdRule, value: number, threshold: number): boolean =>
  rule.sense === 'least' ? value >= threshold : value <= threshold;

/** Contour levels of a lens: even steps over its scale, and the threshold's own, with those too near to it left out. */
export function contourLevels({ scale, threshold: rule }: Lens, threshold: number): number[] {
  if (rule === null) return [];
  const levels: number[] = [];
  for (let level = scale.firstContour; level <= scale.to; level += scale.contourStep) levels.push(level);
  const own = rule.levelOf(threshold);
  return levels.includes(own) ? levels : [...levels.filter((level) => Math.abs(level - own) > scale.contourStep * 0.25), own].sort((a, b) => a - b);
}

/** What a tick of the scale is called: the last step of an open scale holds all above it too. */
export const tickLabel = ({ openEnded, scale }: Lens, value: number): string => (openEnded && value + 1 > scale.to ? `${value}+` : minus(value));

/** What a contour is called on the plan: for counts the number above it. */
export const contourLabel = ({ show }: Lens, level: number): string => (show === 'steps' ? String(Math.ceil(level)) : minus(level));
