import { UpperRoomError } from '../errors';

/** The bands of IEEE 802.11 that the product plans, named in GHz as the trade does. */
export const BANDS = ['2.4', '5', '6'] as const;
export type Band = (typeof BANDS)[number];

export const WIDTHS_MHZ = [20, 40, 80, 160, 320] as const;
export type WidthMhz = (typeof WIDTHS_MHZ)[number];

/** How a band's 20 MHz channels are numbered. Frequencies in MHz: channel number n has its centre at `zeroMhz + 5 n`. */
type Numbering =
  /** Numbers one apart, channels that overlap; two of them bond when they are four numbers apart. */
  | Readonly<{ kind: 'overlapping'; zeroMhz: number; last: number; bondsUpTo: number; apart: Readonly<Record<number, number>> }>
  /** Numbers four apart, in runs whose channels bond into blocks of two, four, eight from each run's start. */
  | Readonly<{ kind: 'blocks'; zeroMhz: number; runs: ReadonlyArray<Readonly<{ first: number; count: number }>> }>;

/**
 * All that is particular to a band. `centreMhz`: where losses of the band are computed, the middle of its channels. `manMadeDb`: noise above
 * thermal in a city interior, after the falling trend of ITU-R P.372, clause 6; a working value, not a reading. Numbering: IEEE 802.11-2020,
 * 15.4.4.3 (2.4 GHz; channel 14 stands apart), 21.3.14 (5 GHz); IEEE 802.11ax-2021, 27.3.23.2 (6 GHz).
 */
const BAND_DATA: Readonly<Record<Band, Readonly<{ centreMhz: number; manMadeDb: number; numbering: Numbering }>>> = {
  '2.4': {
    centreMhz: 2442,
    manMadeDb: 4,
    numbering: { kind: 'overlapping', zeroMhz: 2407, last: 13, bondsUpTo: 7, apart: { 14: 2484 } },
  },
  '5': {
    centreMhz: 5500,
    manMadeDb: 1,
    numbering: {
      kind: 'blocks',
      zeroMhz: 5000,
      runs: [
        { first: 36, count: 8 },
        { first: 100, count: 12 },
        { first: 149, count: 8 },
      ],
    },
  },
  '6': { centreMhz: 6525, manMadeDb: 1, numbering: { kind: 'blocks', zeroMhz: 5950, runs: [{ first: 1, count: 59 }] } },
};

/** Position of a band in arrays that hold one value per band. @throws UpperRoomError BAND_UNKNOWN */
export function bandIndex(band: Band): number {
  const index = BANDS.indexOf(band);
  if (index < 0) throw new UpperRoomError('BAND_UNKNOWN', { band });
  return index;
}

/** One value per band, in the order of BANDS. */
export const perBand = <T>(of: (band: Band) => T): T[] => BANDS.map(of);

/** Frequency at which losses of a band are computed, in MHz. */
export const centreOfBandMhz = (band: Band): number => BAND_DATA[band].centreMhz;

/** Man-made noise above thermal, in dB. */
export const manMadeDb = (band: Band): number => BAND_DATA[band].manMadeDb;

export const numberingOf = (band: Band): Numbering => BAND_DATA[band].numbering;

/** The band whose middle is nearest to a frequency. */
export const bandAt = (mhz: number): Band =>
  BANDS.reduce((best, band) => (Math.abs(centreOfBandMhz(band) - mhz) < Math.abs(centreOfBandMhz(best) - mhz) ? band : best));
