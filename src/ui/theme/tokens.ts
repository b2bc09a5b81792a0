import type { Lens } from '@/core/fields/lenses';
/** The chart's colours: ink on paper by day, the same order by night. Canvas code reads them here; the page gets them as CSS variables. */
export type Tokens = Readonly<{ paper: string; panel: string; rule: string; ink: string; ink2: string; hand: string; onHand: string }>;

export const TOKENS: Readonly<Record<'light' | 'dark', Tokens>> = {
  light: { paper: '#F7F3EA', panel: '#FCFAF4', rule: '#DAD2C1', ink: '#1B2733', ink2: '#5B6570', hand: '#9C1F5E', onHand: '#FFFFFF' },
  dark: { paper: '#10171F', panel: '#17212B', rule: '#2C3945', ink: '#E9E3D4', ink2: '#98A3AD', hand: '#F07CB4', onHand: '#10171F' },
};

export const RAMPS = ['tide', 'slate', 'umber'] as const;
export type RampName = (typeof RAMPS)[number];

/** Ink washes from none to strong: one hue family each, ordered in lightness, so that print and colour-blind eyes read the same order. */
export const RAMP_STOPS: Readonly<Record<RampName, Readonly<Record<'light' | 'dark', readonly string[]>>>> = {
  tide: {
    light: ['F7F3EA', 'E4EAE3', 'C3D8D3', '93BDBE', '5E9AA5', '357A8E', '1E5A78'],
    dark: ['10171F', '15303C', '1B4C59', '2A6E78', '4A9793', '86BFB0', 'CFE3CB'],
  },
  slate: {
    light: ['F7F3EA', 'E6E5E6', 'CACDD6', 'A3AABD', '7A84A0', '566085', '39426A'],
    dark: ['10171F', '1B2638', '2B3A57', '455779', '6E80A0', 'A2B0C8', 'DCE2EC'],
  },
  umber: {
    light: ['F7F3EA', 'EEE3CF', 'DFC9A6', 'C7A678', 'A67F50', '825B33', '5C3B1F'],
    dark: ['10171F', '2A241E', '4A3826', '705231', '9A7444', 'C49F6B', 'EBD6AE'],
  },
};

/**
 * The ramp of a lens: what one wants more of is drawn in the ink chosen, what one wants less of in another, so that dark is never taken
 * for good where it is bad.
 */
export const rampOf = (chosen: RampName, { threshold }: Pick<Lens, 'threshold'>): RampName => (threshold?.sense !== 'most' ? chosen : lessOf(chosen));

const lessOf = (chosen: RampName): RampName => (chosen === 'umber' ? 'slate' : 'umber');

/** Flat tints for kinds (serving access point), of low chroma, differing in lightness too. */
export const KIND_TINTS: Readonly<Record<'light' | 'dark', readonly string[]>> = {
  light: ['B9CFC9', 'E6D3A8', 'C3B4D0', 'D9E3C2', 'A9BBD4', 'E3BFB0', '9DB59A', 'F0E6D2', 'B7A48C', 'CFDDE6', 'D4A9B4', '8FA3A8'],
  dark: ['2F5752', '6A5A34', '4E4363', '4D5C39', '34506F', '6B473A', '3D5F3F', '7A705A', '514634', '5A7484', '6A3F4C', '35474C'],
};

const rgbOf = (hex: string): [number, number, number] => [0, 2, 4].map((i) => parseInt(hex.slice(i, i + 2), 16)) as [number, number, number];

/** Between two maps: what is worse in the ink of what one wants less of, paper where nothing changes, what is better in the ink chosen. */
export function divergingStops(chosen: RampName, mode: 'light' | 'dark'): readonly string[] {
  const good = RAMP_STOPS[chosen][mode];
  const bad = RAMP_STOPS[lessOf(chosen)][mode];
  return [...bad.slice(1).reverse(), ...good];
}

/** A table of 256 RGBA entries (as one Uint32 each, little endian) along a ramp. */
export function rampTable(hexStops: readonly string[]): Uint32Array {
  const stops = hexStops.map(rgbOf);
  const table = new Uint32Array(256);
  for (let i = 0; i < 256; i++) {
    const position = (i / 255) * (stops.length - 1);
    const k = Math.min(stops.length - 2, Math.floor(position));
    const t = position - k;
    const [r, g, b] = [0, 1, 2].map((c) => Math.round(stops[k]![c]! + (stops[k + 1]![c]! - stops[k]![c]!) * t)) as [number, number, number];
    table[i] = (255 << 24) | (b << 16) | (g << 8) | r;
  }
  return table;
}

export const tintTable = (mode: 'light' | 'dark'): Uint32Array =>
  Uint32Array.from(KIND_TINTS[mode], (hex) => {
    const [r, g, b] = rgbOf(hex);
    return (255 << 24) | (b << 16) | (g << 8) | r;
  });
