import type { WidthMhz } from '../radio/band';
import type { Receiver } from '../radio/receiver';
import { kindsInto, type LitRadio, type TopThree } from './combine';
import type { Disturber } from './disturber';
import type { OwedZone } from './owed';
import type { Direction } from './quality';
import { coverageCurve } from './statistics';

/** What a lens computes from: the strongest three of every cell, and the radios they belong to. `limits` is computed when asked for: from which level each radio shares with each other (`airtimeLimits`, or `widthLimits` of a width). */
export type LensContext = Readonly<{
  top: TopThree;
  radios: readonly LitRadio[];
  receiver: Receiver;
  ignoreBelowDbm: number;
  rank: 0 | 1 | 2;
  widthMhz: WidthMhz;
  limits: (widthMhz: WidthMhz | null) => Float64Array;
  /** Level of radio j at the antenna of radio s, in dBm, at [s * n + j]; computed when asked for. */
  levelsAtDbm: () => Float32Array;
  direction: Direction;
  /** What is not Wi-Fi and counts as noise: for the lenses that say so, and where it is asked for. */
  disturbers: readonly Disturber[];
  /** Where something is owed, and what. */
  owed: readonly OwedZone[];
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

export const LENS_GROUPS = ['level', 'air', 'data', 'areas', 'walked'] as const;
export type LensGroup = (typeof LENS_GROUPS)[number];

/**
 * A lens: what the map can show, in one object. Engine, map, scale, readout, evidence, actions and help read it; to add one is to write one.
 * - `wash`: a level in ink; `steps`: whole numbers in ink; `tints`: kinds of area, which have no order.
 */
/**
 * What of samples may be shown: the level, how sure that is, what it is more than the model says, how many are heard, what it is more than on an earlier walk, whether it surely passes.
 */
export const MEASURED = ['level', 'sure', 'off', 'count', 'since', 'verdict'] as const;
export type Measured = (typeof MEASURED)[number];

/** What may be shown of a swept receiver that was carried: the energy or the noise in a channel, or how strong a kind of signal is. */
export const SWEPT = ['energy', 'noise', 'signal'] as const;
export type SweptWhat = (typeof SWEPT)[number];

export type Lens = Readonly<{
  id: string;
  label: string;
  unit: string;
  /** Under which heading it is listed. */
  group: LensGroup;
  /** The key that chooses it; null for those that have none. */
  key: string | null;
  /** What it shows, and by which formula. */
  help: string;
  show: 'wash' | 'steps' | 'tints';
  /** What else it is asked: for the n-th strongest radio, one kind of area, a channel width, a direction, a channel, a kind of signal. */
  asks: 'rank' | 'kind' | 'width' | 'direction' | 'channel' | 'signal' | null;
  /** Whether the last step of `steps` holds all above it too. */
  openEnded: boolean;
  /** What of samples can be shown through it; null for nothing. */
  measured: Measured | null;
  /** Whether what was found that is not Wi-Fi can count in it. */
  disturbed: boolean;
  /** What of a swept receiver it shows; null for nothing. */
  swept: SweptWhat | null;
  /** Whether it shows samples and nothing else. */
  measuredOnly: boolean;
  scale: Readonly<{ from: number; to: number; bins: number; tickStep: number; firstTick: number; contourStep: number; firstContour: number }>;
  curve: Readonly<{ from: number; to: number; step: number }> | null;
  threshold: ThresholdRule | null;
  /** Whether it counts, beside each cell, who shares with whom. */
  counts: boolean;
  /** Whether it shows what is left without the radio that serves: the table then says what each would cost. */
  without: boolean;
  /** Fills a value per cell; NaN where nothing is claimed. For `tints` the index of the cell's kind. */
  kernel: (context: LensContext, out: Float32Array) => void;
  /** The kinds of area that these radios make, in the order of the kernel's indices; null for lenses without kinds. */
  kindsOf: ((radios: readonly LitRadio[]) => Kind[]) | null;
}>;

/** A number with a true minus. */
export const minus = (value: number): string => String(value).replace('-', '−');

/** A threshold that values of a level are judged by: at or above it, or at or below. */
const judged = (start: number, least: number, most: number, unit: string, sense: 'least' | 'most'): ThresholdRule => ({
  start,
  least,
  most,
  sense,
  levelOf: (threshold) => threshold,
  flag: minus,
  words: (threshold) => `at ${minus(threshold)} ${unit} or ${sense === 'least' ? 'more' : 'less'}`,
});

/** What is particular to a lens of a kind; the rest follows from the kind. */
type Own<I extends string> = Pick<Lens, 'label' | 'help' | 'group' | 'key'> & { readonly id: I };

/** A lens that shows a level in ink. `step`: between ticks and contours. */
export const washed = <const I extends string>(
  own: Own<I> &
    Readonly<{
      unit: string;
      from: number;
      to: number;
      step?: number;
      start: number;
      sense?: 'least' | 'most';
      asks?: Lens['asks'];
      measured?: Lens['measured'];
      measuredOnly?: boolean;
      disturbed?: boolean;
      swept?: Lens['swept'];
      without?: boolean;
      bins?: number;
      kernel: Lens['kernel'];
    }>,
): Lens & { readonly id: I } => {
  const {
    from,
    to,
    step = 10,
    start,
    sense = 'least',
    asks = null,
    measured = null,
    measuredOnly = false,
    disturbed = false,
    swept = null,
    without = false,
    bins = 27,
    ...rest
  } = own;
  return {
    ...rest,
    show: 'wash',
    asks,
    openEnded: false,
    counts: false,
    without,
    measured,
    measuredOnly,
    disturbed,
    swept,
    scale: { from, to, bins, tickStep: step, firstTick: from, contourStep: step, firstContour: from },
    curve: { from, to, step: step / 10 },
    threshold: judged(start, from, to, own.unit, sense),
    kindsOf: null,
  };
};

/** A lens of whole numbers in ink, from 0 to `last`. */
export const stepped = <const I extends string>(
  own: Own<I> &
    Readonly<{
      unit: string;
      last: number;
      start: number;
      sense: 'least' | 'most';
      openEnded: boolean;
      /** After "the share of area". */
      words: (threshold: number) => string;
      counts?: boolean;
      asks?: Lens['asks'];
      measured?: Lens['measured'];
      kernel: Lens['kernel'];
    }>,
): Lens & { readonly id: I } => {
  const { last, start, sense, words, counts = false, asks = null, measured = null, ...rest } = own;
  return {
    ...rest,
    show: 'steps',
    asks,
    counts,
    without: false,
    measured,
    measuredOnly: false,
    disturbed: false,
    swept: null,
    scale: { from: -0.5, to: last + 0.5, bins: last + 1, tickStep: 1, firstTick: 0, contourStep: 1, firstContour: 0.5 },
    curve: { from: 0, to: last, step: 1 },
    threshold: {
      start,
      least: 0,
      most: last,
      sense,
      levelOf: (threshold) => threshold + (sense === 'most' ? 0.5 : -0.5),
      flag: (threshold) => `${sense === 'most' ? '≤' : '≥'}${threshold}`,
      words,
    },
    kindsOf: null,
  };
};

/** Kinds have no scale; this one keeps the numbers defined. */
const NO_SCALE = { from: 0, to: 1, bins: 1, tickStep: 1, firstTick: 0, contourStep: 1, firstContour: 0 };

/** A lens that tints areas by their kind. */
export const kinded = <const I extends string>(
  own: Own<I> & Readonly<{ kindsOf: NonNullable<Lens['kindsOf']>; kernel: Lens['kernel']; measured?: Lens['measured']; measuredOnly?: boolean }>,
): Lens & { readonly id: I } => ({
  unit: '',
  show: 'tints',
  asks: 'kind',
  openEnded: false,
  counts: false,
  without: false,
  measured: null,
  measuredOnly: false,
  disturbed: false,
  swept: null,
  scale: NO_SCALE,
  curve: null,
  threshold: null,
  ...own,
});

/** A lens that tints each area by the kind of the radio that serves there. */
export const tinted = <const I extends string>({
  kindOf,
  ...own
}: Own<I> & Readonly<{ kindOf: (radio: LitRadio) => Kind }>): Lens & { readonly id: I } =>
  kinded({
    ...own,
    kindsOf: (radios) => distinct(radios, kindOf),
    kernel: ({ top, radios, ignoreBelowDbm }, out) => {
      const ids = distinct(radios, kindOf).map(({ id }) => id);
      kindsInto(
        top,
        Int16Array.from(radios, (radio) => ids.indexOf(kindOf(radio).id)),
        ignoreBelowDbm,
        out,
      );
    },
  });

/** The distinct kinds of some radios, in the order in which they first come. */
const distinct = (radios: readonly LitRadio[], kindOf: (radio: LitRadio) => Kind): Kind[] => [
  ...new Map(radios.map(kindOf).map((kind) => [kind.id, kind])).values(),
];

/** The curve of a lens: the share of area that is as good as each level or better. */
export function lensCurve({ curve, threshold, show }: Lens, values: Float32Array, mask: Uint8Array): number[] {
  if (curve === null || threshold === null) return [];
  const levels: number[] = [];
  for (let level = curve.from; level <= curve.to; level += curve.step) levels.push(level);
  if (threshold.sense === 'least') return coverageCurve(values, mask, levels);
  // At or below a level: what has a value, less what lies above. Between whole numbers there is nothing, above a level of ink what is just above: nearer than single precision tells apart.
  const justAbove = show === 'steps' ? 0.5 : 1e-9;
  const [any, ...above] = coverageCurve(values, mask, [-Infinity, ...levels.map((level) => level + justAbove)]);
  return above.map((share) => any! - share);
}
