import type { Band, WidthMhz } from './band';

/** Physical layers, oldest first: IEEE 802.11-2020, 19 (HT) and 21 (VHT), IEEE 802.11ax-2021, 27 (HE), IEEE 802.11be-2024, 36 (EHT). */
export const PHYS = ['HT', 'VHT', 'HE', 'EHT'] as const;
export type Phy = (typeof PHYS)[number];

export const GENERATIONS = ['Wi-Fi 4', 'Wi-Fi 5', 'Wi-Fi 6', 'Wi-Fi 6E', 'Wi-Fi 7'] as const;
export type Generation = (typeof GENERATIONS)[number];

const PHY_OF: Readonly<Record<Generation, Phy>> = { 'Wi-Fi 4': 'HT', 'Wi-Fi 5': 'VHT', 'Wi-Fi 6': 'HE', 'Wi-Fi 6E': 'HE', 'Wi-Fi 7': 'EHT' };

/** The physical layer in which two ends speak: the older one's. VHT is not defined at 2.4 GHz (IEEE 802.11-2020, 21.1.1): there it is HT. */
export function phyBetween(a: Generation, b: Generation, band: Band): Phy {
  const phy = PHYS[Math.min(PHYS.indexOf(PHY_OF[a]), PHYS.indexOf(PHY_OF[b]))]!;
  return phy === 'VHT' && band === '2.4' ? 'HT' : phy;
}

/** Widest channel of a physical layer, in MHz. */
export const WIDEST_MHZ: Readonly<Record<Phy, WidthMhz>> = { HT: 40, VHT: 160, HE: 160, EHT: 320 };

/** Bits per subcarrier and code rate by MCS. HT ends at 7 (per stream), VHT at 9, HE at 11, EHT at 13. IEEE 802.11be-2024, 36.5. */
const MODULATION: ReadonlyArray<Readonly<{ bits: number; coding: number }>> = [
  { bits: 1, coding: 1 / 2 },
  { bits: 2, coding: 1 / 2 },
  { bits: 2, coding: 3 / 4 },
  { bits: 4, coding: 1 / 2 },
  { bits: 4, coding: 3 / 4 },
  { bits: 6, coding: 2 / 3 },
  { bits: 6, coding: 3 / 4 },
  { bits: 6, coding: 5 / 6 },
  { bits: 8, coding: 3 / 4 },
  { bits: 8, coding: 5 / 6 },
  { bits: 10, coding: 3 / 4 },
  { bits: 10, coding: 5 / 6 },
  { bits: 12, coding: 3 / 4 },
  { bits: 12, coding: 5 / 6 },
];
export const HIGHEST_MCS: Readonly<Record<Phy, number>> = { HT: 7, VHT: 9, HE: 11, EHT: 13 };

/** Data subcarriers over a whole width: IEEE 802.11-2020, 19.3.6 and 21.3.6; IEEE 802.11ax-2021, 27.5; IEEE 802.11be-2024, 36.5. */
const DATA_SUBCARRIERS: Readonly<Record<Phy, Readonly<Partial<Record<WidthMhz, number>>>>> = {
  HT: { 20: 52, 40: 108 },
  VHT: { 20: 52, 40: 108, 80: 234, 160: 468 },
  HE: { 20: 234, 40: 468, 80: 980, 160: 1960 },
  EHT: { 20: 234, 40: 468, 80: 980, 160: 1960, 320: 3920 },
};

/** Data subcarriers of a resource unit, by its size in tones: IEEE 802.11ax-2021, 27.5.2 to 27.5.8. */
export const RESOURCE_UNIT_SUBCARRIERS = { 26: 24, 52: 48, 106: 102, 242: 234, 484: 468, 996: 980, 1992: 1960 } as const;
export type ResourceUnit = keyof typeof RESOURCE_UNIT_SUBCARRIERS;

/** Guard intervals, shortest first, in microseconds. */
export const GUARD_US: Readonly<Record<Phy, readonly number[]>> = { HT: [0.4, 0.8], VHT: [0.4, 0.8], HE: [0.8, 1.6, 3.2], EHT: [0.8, 1.6, 3.2] };
const SYMBOL_US: Readonly<Record<Phy, number>> = { HT: 3.2, VHT: 3.2, HE: 12.8, EHT: 12.8 };

/** VHT combinations that would need a broken number of bits per encoder: IEEE 802.11-2020, 21.5, tables 21-29 to 21-60, up to four streams. */
const VHT_WITHOUT: ReadonlySet<string> = new Set(['20/9/1', '20/9/2', '20/9/4', '80/6/3', '160/9/3']);

/**
 * Data rate in Mb/s: data subcarriers x bits x coding x streams over the symbol with its guard interval (the shortest, unless one is given); null where
 * the standard has none.
 * @param unit a resource unit instead of the whole width, for HE and EHT
 */
export function rateMbps(
  phy: Phy,
  widthMhz: WidthMhz,
  mcs: number,
  streams: number,
  guardUs: number = GUARD_US[phy][0]!,
  unit: ResourceUnit | null = null,
): number | null {
  const subcarriers = unit === null ? DATA_SUBCARRIERS[phy][widthMhz] : phy === 'HE' || phy === 'EHT' ? RESOURCE_UNIT_SUBCARRIERS[unit] : undefined;
  const modulation = MODULATION[mcs];
  if (subcarriers === undefined || modulation === undefined || mcs > HIGHEST_MCS[phy] || !GUARD_US[phy].includes(guardUs)) return null;
  if (phy === 'VHT' && VHT_WITHOUT.has(`${widthMhz}/${mcs}/${streams}`)) return null;
  return (subcarriers * modulation.bits * modulation.coding * streams) / (SYMBOL_US[phy] + guardUs);
}

/**
 * Minimum input level at 20 MHz by MCS, in dBm: IEEE 802.11ax-2021, 27.3.20.2, table 27-51, whose first ten are those of VHT (IEEE 802.11-2020, table 21-25)
 * and whose first eight those of HT; IEEE 802.11be-2024, 36.3.21.2 for 12 and 13.
 */
const SENSITIVITY_DBM = [-82, -79, -77, -74, -70, -66, -65, -64, -59, -57, -54, -52, -49, -46] as const;
/** What those levels assume of a receiver, in dB: its noise figure and its implementation margin (IEEE 802.11-2020, 21.3.18.1). */
const ASSUMED = { noiseFigureDb: 10, marginDb: 5 } as const;
const THERMAL_20_DBM = -174 + 10 * Math.log10(20e6);

/** SNR that a MCS needs on one stream, in dB: the standard's sensitivity over the noise that it assumes. */
export const neededSnrDb = (mcs: number): number => SENSITIVITY_DBM[mcs]! - (THERMAL_20_DBM + ASSUMED.noiseFigureDb + ASSUMED.marginDb);

/** From `snrDb` on this rate is reached. */
export type RateStep = Readonly<{ snrDb: number; mbps: number; mcs: number; streams: number }>;

/**
 * The best rate for every SNR, as steps that rise in both. More streams share the power: each costs 10 log10(streams).
 */
export function rateSteps(phy: Phy, widthMhz: WidthMhz, mostStreams: number): RateStep[] {
  const all: RateStep[] = [];
  for (let streams = 1; streams <= mostStreams; streams++) {
    for (let mcs = 0; mcs <= HIGHEST_MCS[phy]; mcs++) {
      const mbps = rateMbps(phy, widthMhz, mcs, streams);
      if (mbps !== null) all.push({ snrDb: neededSnrDb(mcs) + 10 * Math.log10(streams), mbps, mcs, streams });
    }
  }
  all.sort((p, q) => p.snrDb - q.snrDb || q.mbps - p.mbps);
  let best = 0;
  return all.filter(({ mbps }) => mbps > best && ((best = mbps), true));
}

/** The step reached at an SNR; null below the first. `steps` as `rateSteps` gives them. */
export function stepAt(steps: readonly RateStep[], snrDb: number): RateStep | null {
  let reached: RateStep | null = null;
  for (const step of steps) {
    if (!(snrDb >= step.snrDb)) break;
    reached = step;
  }
  return reached;
}
