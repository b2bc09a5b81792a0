import type { WidthMhz } from '../radio/band';
import { channelLabel } from '../radio/channel';
import type { Receiver } from '../radio/receiver';
import { kindsInto, sharersInto, signalInto, snrInto, type LitRadio, type TopThree } from './combine';

/** What a lens computes from: the strongest three of every cell, and the radios they belong to. `limits` is computed when asked for: from which level each radio shares with each other (`airtimeLimits`, or `widthLimits` of a width). */
export type LensContext = Readonly<{
  top: TopThree;
  radios: readonly LitRadio[];
  receiver: Receiver;
  ignoreBelowDbm: number;
  rank: 0 | 1 | 2;
  widthMhz: WidthMhz;
  limits: (widthMhz: WidthMhz | null) => Float64Array;
  /** Where given, n x n: who shares with whom, in cells of `mask`. */
  met: Float64Array | null;
  mask: Uint8Array;
}>;

/** How a threshold is judged and shown. */
export type ThresholdRule = Readonly<{
  start: number;
  least: number;
  most: number;
  /** `least`: at or above it is good; `most`: at or below. */
  sense: 'least' | 'most';
  /** Where its contour runs and its flag stands: for counts between two whole numbers. */
  levelOf: (threshold: number) => number;
  /** On its flag, and in a sentence after "the share of area". */
  flag: (threshold: number) => string;
  words: (threshold: number) => string;
}>;

/** A kind of area, for lenses that tell kinds apart: its identity and what is written in the area. */
export type Kind = Readonly<{ id: string; label: string }>;

/**
 * A lens: what the map can show, in one object. Engine, map, scale, readout, evidence, actions and help read it; to add one is to write one.
 * - `wash`: a level in ink; `steps`: whole numbers in ink; `tints`: kinds of area, which have no order.
 */
export type Lens = Readonly<{
  id: string;
  label: string;
  unit: string;
  /** What it shows, and by which formula. */
  help: string;
  show: 'wash' | 'steps' | 'tints';
  /** What else it is asked: for the n-th strongest radio, for one kind of area, for a channel width. */
  asks: 'rank' | 'kind' | 'width' | null;
  /** Whether samples can be shown through it. */
  measurable: boolean;
  scale: Readonly<{ from: number; to: number; bins: number; tickStep: number; firstTick: number; contourStep: number; firstContour: number }>;
  curve: Readonly<{ from: number; to: number; step: number }> | null;
  threshold: ThresholdRule | null;
  /** Whether it counts, beside each cell, who shares with whom. */
  counts: boolean;
  /** Fills a value per cell; NaN where nothing is claimed. For `tints` the index of the serving radio's kind. */
  kernel: (context: LensContext, out: Float32Array) => void;
  kindOf: ((radio: LitRadio) => Kind) | null;
}>;

const minus = (value: number): string => String(value).replace('-', '−');
const atLeast = (start: number, from: number, to: number, unit: string): ThresholdRule => ({
  start,
  least: from,
  most: to,
  sense: 'least',
  levelOf: (threshold) => threshold,
  flag: minus,
  words: (threshold) => `at ${minus(threshold)} ${unit} or more`,
});
const wash = (from: number, to: number, bins: number) => ({ from, to, bins, tickStep: 10, firstTick: from, contourStep: 10, firstContour: from });

/** Kinds have no scale; this one keeps the numbers defined. */
const NO_SCALE = { from: 0, to: 1, bins: 1, tickStep: 1, firstTick: 0, contourStep: 1, firstContour: 0 };

/** A lens that counts radios: whole numbers in ink, fewer is better. */
const counted = <I extends string>(id: I, label: string, help: string, asks: 'width' | null, kernel: Lens['kernel']): Lens & { readonly id: I } => ({
  id,
  label,
  unit: 'radios',
  help,
  show: 'steps',
  asks,
  counts: true,
  measurable: false,
  scale: { from: -0.5, to: 6.5, bins: 7, tickStep: 1, firstTick: 0, contourStep: 1, firstContour: 0.5 },
  curve: { from: 0, to: 6, step: 1 },
  threshold: {
    start: 1,
    least: 0,
    most: 6,
    sense: 'most',
    levelOf: (threshold) => threshold + 0.5,
    flag: (threshold) => `≤${threshold}`,
    words: (threshold) => `with ${threshold} or fewer others`,
  },
  kernel,
  kindOf: null,
});

/** A lens that tints each area by the kind of the radio that serves there. */
const tinted = <I extends string>(id: I, label: string, help: string, kindOf: (radio: LitRadio) => Kind): Lens & { readonly id: I } => ({
  id,
  label,
  unit: '',
  help,
  show: 'tints',
  asks: 'kind',
  counts: false,
  measurable: false,
  scale: NO_SCALE,
  curve: null,
  threshold: null,
  kernel: ({ top, radios, ignoreBelowDbm }, out) => kindsInto(top, kindIndices(radios, kindOf), ignoreBelowDbm, out),
  kindOf,
});

/** The distinct kinds of some radios, in the order in which they first come. */
export function kindsOf(radios: readonly LitRadio[], kindOf: (radio: LitRadio) => Kind): Kind[] {
  return [...new Map(radios.map(kindOf).map((kind) => [kind.id, kind])).values()];
}

function kindIndices(radios: readonly LitRadio[], kindOf: (radio: LitRadio) => Kind): Int16Array {
  const ids = kindsOf(radios, kindOf).map(({ id }) => id);
  return Int16Array.from(radios, (radio) => ids.indexOf(kindOf(radio).id));
}

/** The one registry of lenses, in the order of their keys. */
export const LENSES = [
  {
    id: 'signal',
    label: 'Signal',
    unit: 'dBm',
    help: 'Level of the strongest, second or third strongest radio: power + antenna gain − path loss − walls.',
    show: 'wash',
    asks: 'rank',
    counts: false,
    measurable: true,
    scale: wash(-90, -35, 27),
    curve: { from: -95, to: -30, step: 1 },
    threshold: atLeast(-67, -90, -35, 'dBm'),
    kernel: ({ top, rank, ignoreBelowDbm }, out) => signalInto(top, rank, ignoreBelowDbm, out),
    kindOf: null,
  },
  {
    id: 'snr',
    label: 'SNR',
    unit: 'dB',
    help: 'Level of the strongest radio less the noise in its own width: −174 + 10 log10(bandwidth in Hz) + noise figure + man-made noise.',
    show: 'wash',
    asks: null,
    counts: false,
    measurable: false,
    scale: wash(0, 60, 30),
    curve: { from: 0, to: 60, step: 1 },
    threshold: atLeast(25, 0, 60, 'dB'),
    kernel: ({ top, radios, receiver, ignoreBelowDbm }, out) => snrInto(top, radios, receiver.noiseFigureDb, ignoreBelowDbm, out),
    kindOf: null,
  },
  counted(
    'contention',
    'Contention',
    'How many other radios take airtime from the one that serves here: they occupy its primary channel, and it or its client hears them at −82 dBm per 20 MHz or more.',
    null,
    ({ top, radios, limits, ignoreBelowDbm, met, mask }, out) => sharersInto(top, radios, limits(null), ignoreBelowDbm, out, met, mask),
  ),
  counted(
    'overlap',
    'Overlap',
    'How many other radios would be met in a channel of the chosen width around the serving radio’s primary: heard on the primary at −82 dBm per 20 MHz or more, or on the other channels of that width at −72.',
    'width',
    ({ top, radios, limits, widthMhz, ignoreBelowDbm, met, mask }, out) => sharersInto(top, radios, limits(widthMhz), ignoreBelowDbm, out, met, mask),
  ),
  tinted('serving', 'Serving AP', 'Which access point is the strongest here.', ({ key, name }) => ({ id: key, label: name })),
  tinted(
    'channel',
    'Channel',
    'Primary channel and width of the radio that serves here; colours are far apart where areas touch.',
    ({ channel }) => ({
      id: channelLabel(channel),
      label: channelLabel(channel),
    }),
  ),
] as const satisfies readonly Lens[];

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

/** What a tick of the scale is called: the last step of a count holds all above it too. */
export const tickLabel = ({ show, scale }: Lens, value: number): string => (show === 'steps' && value + 1 > scale.to ? `${value}+` : minus(value));

/** What a contour is called on the plan: for counts the number above it. */
export const contourLabel = ({ show }: Lens, level: number): string => (show === 'steps' ? String(Math.ceil(level)) : minus(level));
