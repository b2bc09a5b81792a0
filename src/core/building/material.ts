import { UpperRoomError } from '../errors';
import { BANDS, centreOfBandMhz, type Band } from '../radio/band';
import { SUBSTANCES, type Substance } from './substance';

/** How a wall of this material is drawn. */
export const WALL_PATTERNS = ['heavy', 'double', 'light', 'dashes', 'dots', 'ticks', 'leaf'] as const;
export type WallPattern = (typeof WALL_PATTERNS)[number];

export type Layer = Readonly<{ substanceId: string; thicknessM: number }>;

/**
 * What a wall, an opening's leaf or a slab is made of: layers from one face to the other. A loss that was measured stands in place of the computed one in
 * its band, and in no other.
 */
export type Material = Readonly<{
  id: string;
  name: string;
  pattern: WallPattern;
  layers: readonly Layer[];
  measuredDb: Readonly<Partial<Record<Band, number>>>;
}>;

const row = (
  id: string,
  name: string,
  pattern: WallPattern,
  ...layers: ReadonlyArray<readonly [substanceId: string, thicknessM: number]>
): Material => ({
  id,
  name,
  pattern,
  layers: layers.map(([substanceId, thicknessM]) => ({ substanceId, thicknessM })),
  measuredDb: {},
});

/** The catalogue. Thicknesses are usual ones; any other is a material of the project's own. */
export const MATERIALS: readonly Material[] = [
  row('brick-heavy', 'Brick, 0.5 m', 'heavy', ['brick', 0.5]),
  row('brick', 'Brick, 0.25 m', 'heavy', ['brick', 0.25]),
  row('brick-half', 'Brick, 0.12 m', 'heavy', ['brick', 0.12]),
  row('concrete', 'Concrete, 0.2 m', 'double', ['concrete', 0.2]),
  row('concrete-thick', 'Concrete, 0.3 m', 'double', ['concrete', 0.3]),
  // The sheets and what stands between them as one board: the loss that partitions of this kind are found to have.
  row('plasterboard', 'Plasterboard wall', 'light', ['plasterboard', 0.05]),
  row('plasterboard-sheets', 'Plasterboard, 2 sheets', 'light', ['plasterboard', 0.0125], ['air', 0.075], ['plasterboard', 0.0125]),
  row('glass', 'Glass, 12 mm', 'dashes', ['glass', 0.012]),
  row('glass-double', 'Glass, double pane', 'dashes', ['glass', 0.004], ['air', 0.016], ['glass', 0.004]),
  // A heat-reflecting coat of 10 nm of metal has about 10 ohms a square; it, and not the panes, is what is lost in.
  row('glass-coated', 'Glass, coated double pane', 'dashes', ['glass', 0.004], ['metal', 1e-8], ['air', 0.016], ['glass', 0.004]),
  row('block', 'Hollow block, 0.2 m', 'heavy', ['concrete', 0.04], ['air', 0.12], ['concrete', 0.04]),
  // P.2040 has no stone but marble: it stands for stone that is dense and dry.
  row('stone', 'Stone, 0.4 m, as marble', 'heavy', ['marble', 0.4]),
  row('metal', 'Metal', 'dots', ['metal', 0.002]),
  row('metal-mesh', 'Metal mesh, 10 mm', 'dots', ['mesh', 0.0001]),
  row('people', 'People, one row', 'leaf', ['people', 0.3]),
  row('wood', 'Wood, 45 mm', 'ticks', ['wood', 0.045]),
  row('chipboard', 'Chipboard, 18 mm', 'ticks', ['chipboard', 0.018]),
  row('plywood', 'Plywood, 18 mm', 'ticks', ['plywood', 0.018]),
  row('marble', 'Marble, 30 mm', 'heavy', ['marble', 0.03]),
  row('ceiling-board', 'Ceiling board, 15 mm', 'light', ['ceiling-board', 0.015]),
  row('floorboard', 'Floorboards, 22 mm', 'ticks', ['floorboard', 0.022]),
  row('open', 'Open (no leaf)', 'leaf'),
];

/** The id of the material that is none. */
export const OPEN_ID = 'open';

/** A sheet of metal lets nothing through, but waves pass round it; in a building more than this is never seen across one wall. */
export const MAX_WALL_LOSS_DB = 40;

/** Loss is counted in this unit so that sums are exact integers: what is added is taken away to the bit. */
export const LOSS_UNIT_DB = 0.05;

type Complex = readonly [re: number, im: number];
const plus = ([a, b]: Complex, [c, d]: Complex): Complex => [a + c, b + d];
const times = ([a, b]: Complex, [c, d]: Complex): Complex => [a * c - b * d, a * d + b * c];
const over = ([a, b]: Complex, [c, d]: Complex): Complex => [(a * c + b * d) / (c * c + d * d), (b * c - a * d) / (c * c + d * d)];
const rootOf = ([a, b]: Complex): Complex => {
  const size = Math.hypot(a, b);
  const re = Math.sqrt((size + a) / 2);
  return [re, Math.sign(b || 1) * Math.sqrt(Math.max(0, (size - a) / 2))];
};
const cosOf = ([a, b]: Complex): Complex => [Math.cos(a) * Math.cosh(b), -Math.sin(a) * Math.sinh(b)];
const sinOf = ([a, b]: Complex): Complex => [Math.sin(a) * Math.cosh(b), Math.cos(a) * Math.sinh(b)];
const J: Complex = [0, 1];

/** Beyond this many nepers nothing gets through that a number could hold. */
const OPAQUE_NP = 300;

/** @throws UpperRoomError MATERIAL_UNKNOWN */
function substanceOf(substanceId: string): Substance {
  const substance = SUBSTANCES.find((candidate) => candidate.id === substanceId);
  if (substance === undefined) throw new UpperRoomError('MATERIAL_UNKNOWN', { substanceId });
  return substance;
}

/** Complex relative permittivity at a frequency: eta = eta' - j 17.98 sigma / f, f in GHz (ITU-R P.2040-3, eq. 9b, 28 and 29). */
export function permittivityAt({ a, b, c, d }: Substance, freqMhz: number): Complex {
  const fGhz = freqMhz / 1000;
  return [a * fGhz ** b, (-17.98 * c * fGhz ** d) / fGhz];
}

/**
 * Transmission loss of layers at normal incidence, in dB, air at both sides: the product of the layers' characteristic matrices (Born and Wolf, "Principles of
 * Optics", 1.6), which for one layer is the single-slab formula of ITU-R P.2040-3, 2.2.2.2. Limited to MAX_WALL_LOSS_DB.
 * @throws UpperRoomError MATERIAL_UNKNOWN
 */
export const layersLossDb = (layers: readonly Layer[], freqMhz: number): number =>
  slabsLossDb(
    layers.map(({ substanceId, thicknessM }) => ({ substance: substanceOf(substanceId), thicknessM })),
    freqMhz,
  );

/** As `layersLossDb`, of any substances. */
export function slabsLossDb(slabs: ReadonlyArray<Readonly<{ substance: Substance; thicknessM: number }>>, freqMhz: number): number {
  const k0 = (2 * Math.PI * freqMhz * 1e6) / 299_792_458;
  let [m11, m12, m21, m22]: Complex[] = [[1, 0] as Complex, [0, 0] as Complex, [0, 0] as Complex, [1, 0] as Complex];
  for (const { substance, thicknessM } of slabs) {
    const n = rootOf(permittivityAt(substance, freqMhz));
    const phase = times([k0 * thicknessM, 0], n);
    if (Math.abs(phase[1]) > OPAQUE_NP) return MAX_WALL_LOSS_DB;
    const cos = cosOf(phase);
    const jSin = times(J, sinOf(phase));
    const [a12, a21] = [over(jSin, n), times(jSin, n)];
    [m11, m12, m21, m22] = [
      plus(times(m11!, cos), times(m12!, a21)),
      plus(times(m11!, a12), times(m12!, cos)),
      plus(times(m21!, cos), times(m22!, a21)),
      plus(times(m21!, a12), times(m22!, cos)),
    ];
  }
  const sum = plus(plus(m11!, m12!), plus(m21!, m22!));
  const powerShare = 4 / (sum[0] * sum[0] + sum[1] * sum[1]);
  return Math.min(MAX_WALL_LOSS_DB, powerShare > 0 ? -10 * Math.log10(powerShare) : MAX_WALL_LOSS_DB);
}

/**
 * A wall's loss should not hang on its thickness to the millimetre: the ripple is averaged over thickness +-10 % and frequency +-3 % (mean of the
 * power that gets through).
 */
export function smoothedLossDb(layers: readonly Layer[], freqMhz: number): number {
  let share = 0;
  let count = 0;
  for (let t = -4; t <= 4; t++) {
    const scaled = layers.map((layer) => ({ ...layer, thicknessM: layer.thicknessM * (1 + t * 0.025) }));
    for (let f = -1; f <= 1; f++, count++) share += 10 ** (-layersLossDb(scaled, freqMhz * (1 + f * 0.03)) / 10);
  }
  return -10 * Math.log10(share / count);
}

export const thicknessM = ({ layers }: Material): number => layers.reduce((sum, layer) => sum + layer.thicknessM, 0);

/** A material of the catalogue. @throws UpperRoomError MATERIAL_UNKNOWN */
export function materialOf(materialId: string): Material {
  const material = MATERIALS.find((candidate) => candidate.id === materialId);
  if (material === undefined) throw new UpperRoomError('MATERIAL_UNKNOWN', { materialId });
  return material;
}

/** Finds a material by its id: the catalogue's, or a project's with its own. @throws UpperRoomError MATERIAL_UNKNOWN */
export type MaterialLookup = (materialId: string) => Material;

/** Materials are immutable: what was computed of one holds as long as it is there. */
const unitsOf = new WeakMap<Material, readonly number[]>();

/** Loss per band in whole units of LOSS_UNIT_DB, in the order of BANDS. @throws UpperRoomError MATERIAL_UNKNOWN */
export function lossUnitsOf(material: Material): readonly number[] {
  const known = unitsOf.get(material);
  if (known !== undefined) return known;
  const lossDb = (band: Band): number =>
    material.measuredDb[band] ?? (material.layers.length === 0 ? 0 : smoothedLossDb(material.layers, centreOfBandMhz(band)));
  const units = BANDS.map((band) => Math.round(Math.min(MAX_WALL_LOSS_DB, lossDb(band)) / LOSS_UNIT_DB));
  unitsOf.set(material, units);
  return units;
}

const shiftsOf = new WeakMap<Material, Map<number, number>>();

/**
 * What one crossing costs more at a frequency in a band than at the band's middle, in LOSS_UNIT_DB; 0 for what was measured by band and for what lets nothing through.
 * @throws UpperRoomError MATERIAL_UNKNOWN
 */
export function shiftUnitsAt(material: Material, band: Band, centreMhz: number): number {
  if (material.measuredDb[band] !== undefined || material.layers.length === 0) return 0;
  const known = shiftsOf.get(material) ?? new Map<number, number>();
  shiftsOf.set(material, known);
  const shift =
    known.get(centreMhz) ?? Math.round(smoothedLossDb(material.layers, centreMhz) / LOSS_UNIT_DB) - lossUnitsOf(material)[BANDS.indexOf(band)]!;
  known.set(centreMhz, shift);
  return shift;
}

/** Loss of one crossing, in dB. @throws UpperRoomError MATERIAL_UNKNOWN */
export const lossDbOf = (material: Material, band: Band): number => lossUnitsOf(material)[BANDS.indexOf(band)]! * LOSS_UNIT_DB;

/** Loss of one crossing of a material of the catalogue, in dB. @throws UpperRoomError MATERIAL_UNKNOWN */
export const materialLossDb = (materialId: string, band: Band): number => lossDbOf(materialOf(materialId), band);
