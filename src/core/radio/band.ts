import { UpperRoomError } from '../errors';

/** The bands of IEEE 802.11 that the product plans, named in GHz as the trade does. */
export const BANDS = ['2.4', '5', '6'] as const;
export type Band = (typeof BANDS)[number];

/** Position of a band in arrays that hold one value per band. @throws UpperRoomError BAND_UNKNOWN */
export function bandIndex(band: Band): number {
  const index = BANDS.indexOf(band);
  if (index < 0) throw new UpperRoomError('BAND_UNKNOWN', { band });
  return index;
}

/** Frequency at which losses of a band are computed: the middle of the band's channels, in MHz. */
export const BAND_CENTRE_MHZ: Readonly<Record<Band, number>> = { '2.4': 2442, '5': 5500, '6': 6525 };

export const WIDTHS_MHZ = [20, 40, 80, 160] as const;
export type WidthMhz = (typeof WIDTHS_MHZ)[number];
