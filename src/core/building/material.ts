import { UpperRoomError } from '../errors';
import { BANDS, centreOfBandMhz, type Band } from '../radio/band';

/** How a wall of this material is drawn. */
export type WallPattern = 'heavy' | 'double' | 'light' | 'dashes' | 'dots' | 'ticks' | 'leaf';

/**
 * A building material as a slab. Electrical properties by ITU-R P.2040-3, Table 3: relative permittivity eta' = a f^b,
 * conductivity sigma = c f^d S/m, f in GHz, stated there for 1 to 100 GHz (plasterboard, glass, wood, chipboard, brick 1 to 40).
 */
export type Material = Readonly<{ id: string; name: string; thicknessM: number; a: number; b: number; c: number; d: number; pattern: WallPattern }>;

export const MATERIALS: readonly Material[] = [
  { id: 'brick-heavy', name: 'Brick, 0.5 m', thicknessM: 0.5, a: 3.91, b: 0, c: 0.0238, d: 0.16, pattern: 'heavy' },
  { id: 'brick', name: 'Brick, 0.25 m', thicknessM: 0.25, a: 3.91, b: 0, c: 0.0238, d: 0.16, pattern: 'heavy' },
  { id: 'concrete', name: 'Concrete, 0.2 m', thicknessM: 0.2, a: 5.24, b: 0, c: 0.0462, d: 0.7822, pattern: 'double' },
  { id: 'plasterboard', name: 'Plasterboard wall', thicknessM: 0.05, a: 2.73, b: 0, c: 0.0085, d: 0.9395, pattern: 'light' },
  { id: 'glass', name: 'Glass, 12 mm', thicknessM: 0.012, a: 6.31, b: 0, c: 0.0036, d: 1.3394, pattern: 'dashes' },
  { id: 'metal', name: 'Metal', thicknessM: 0.002, a: 1, b: 0, c: 1e7, d: 0, pattern: 'dots' },
  { id: 'wood', name: 'Wood, 45 mm', thicknessM: 0.045, a: 1.99, b: 0, c: 0.0047, d: 1.0718, pattern: 'ticks' },
  { id: 'open', name: 'Open (no leaf)', thicknessM: 0, a: 1, b: 0, c: 0, d: 0, pattern: 'leaf' },
];

/** A sheet of metal lets nothing through, but waves pass round it; in a building more than this is never seen across one wall. */
export const MAX_WALL_LOSS_DB = 40;

/** Loss is counted in this unit so that sums are exact integers: what is added is taken away to the bit. */
export const LOSS_UNIT_DB = 0.05;

type Complex = readonly [re: number, im: number];
const times = ([a, b]: Complex, [c, d]: Complex): Complex => [a * c - b * d, a * d + b * c];
const over = ([a, b]: Complex, [c, d]: Complex): Complex => [(a * c + b * d) / (c * c + d * d), (b * c - a * d) / (c * c + d * d)];
const rootOf = ([a, b]: Complex): Complex => {
  const size = Math.hypot(a, b);
  const re = Math.sqrt((size + a) / 2);
  return [re, Math.sign(b || 1) * Math.sqrt(Math.max(0, (size - a) / 2))];
};
const expOf = ([a, b]: Complex): Complex => [Math.exp(a) * Math.cos(b), Math.exp(a) * Math.sin(b)];

/**
 * Transmission loss of a single slab at normal incidence, in dB. Source: ITU-R P.2040-3, 2.2.2.2 (single-layer slab):
 * T = (1 - R^2) e^{-jq} / (1 - R^2 e^{-2jq}), q = (2 pi d / lambda) sqrt(eta), R = (1 - sqrt(eta)) / (1 + sqrt(eta)),
 * eta = eta' - j 17.98 sigma / f. Limited to MAX_WALL_LOSS_DB.
 */
export function slabLossDb(material: Material, freqMhz: number): number {
  if (material.thicknessM === 0) return 0;
  const fGhz = freqMhz / 1000;
  const eta: Complex = [material.a * fGhz ** material.b, (-17.98 * material.c * fGhz ** material.d) / fGhz];
  const root = rootOf(eta);
  const lambdaM = 0.299792458 / fGhz;
  const k = (2 * Math.PI * material.thicknessM) / lambdaM;
  const minusJq: Complex = [k * root[1], -k * root[0]];
  const r = over([1 - root[0], -root[1]], [1 + root[0], root[1]]);
  const r2 = times(r, r);
  const through = times([1 - r2[0], -r2[1]], expOf(minusJq));
  const echo = times(r2, expOf([2 * minusJq[0], 2 * minusJq[1]]));
  const t = over(through, [1 - echo[0], -echo[1]]);
  const powerShare = t[0] * t[0] + t[1] * t[1];
  return Math.min(MAX_WALL_LOSS_DB, powerShare > 0 ? -10 * Math.log10(powerShare) : MAX_WALL_LOSS_DB);
}

/**
 * A wall's loss should not hang on its thickness to the millimetre: the slab's ripple is averaged over thickness +-10 %
 * and frequency +-3 % (mean of the power that gets through).
 */
function smoothedSlabLossDb(material: Material, freqMhz: number): number {
  let share = 0;
  let count = 0;
  for (let t = -4; t <= 4; t++) {
    for (let f = -1; f <= 1; f++, count++)
      share += 10 ** (-slabLossDb({ ...material, thicknessM: material.thicknessM * (1 + t * 0.025) }, freqMhz * (1 + f * 0.03)) / 10);
  }
  return -10 * Math.log10(share / count);
}

const unitsCache = new Map<string, readonly number[]>();

/** @throws UpperRoomError MATERIAL_UNKNOWN */
export function materialOf(materialId: string): Material {
  const material = MATERIALS.find((candidate) => candidate.id === materialId);
  if (material === undefined) throw new UpperRoomError('MATERIAL_UNKNOWN', { materialId });
  return material;
}

/** Loss per band in whole units of LOSS_UNIT_DB, in the order of BANDS. @throws UpperRoomError MATERIAL_UNKNOWN */
export function materialLossUnits(materialId: string): readonly number[] {
  const known = unitsCache.get(materialId);
  if (known !== undefined) return known;
  const material = materialOf(materialId);
  const units = BANDS.map((band) => Math.round((material.thicknessM === 0 ? 0 : smoothedSlabLossDb(material, centreOfBandMhz(band))) / LOSS_UNIT_DB));
  unitsCache.set(materialId, units);
  return units;
}

/** Loss of one crossing, in dB. @throws UpperRoomError MATERIAL_UNKNOWN */
export const materialLossDb = (materialId: string, band: Band): number => materialLossUnits(materialId)[BANDS.indexOf(band)]! * LOSS_UNIT_DB;
