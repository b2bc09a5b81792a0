import { describe, expect, test } from '@jest/globals';
import { BANDS } from '../radio/band';
import {
  LOSS_UNIT_DB,
  MATERIALS,
  MAX_WALL_LOSS_DB,
  layersLossDb,
  lossDbOf,
  materialLossDb,
  materialOf,
  permittivityAt,
  slabsLossDb,
} from './material';
import { leavesOf } from './leaves';
import { panesOf } from './panes';
import { SUBSTANCES } from './substance';
import type { Opening, Wall } from './wall';

/** One slab by the formula as ITU-R P.2040-3, 2.2.2.2 writes it: T = (1 - R^2) e^{-jq} / (1 - R^2 e^{-2jq}), |T|^2 in dB, by plain trigonometry. */
function oneSlabDb(eta: readonly [number, number], thicknessM: number, freqMhz: number): number {
  const size = Math.hypot(...eta);
  const n = [Math.sqrt((size + eta[0]) / 2), -Math.sqrt((size - eta[0]) / 2)] as const;
  const k = (2 * Math.PI * thicknessM * freqMhz * 1e6) / 299_792_458;
  const times = (p: readonly number[], q: readonly number[]) => [p[0]! * q[0]! - p[1]! * q[1]!, p[0]! * q[1]! + p[1]! * q[0]!];
  const inverse = (p: readonly number[]) => [p[0]! / (p[0]! ** 2 + p[1]! ** 2), -p[1]! / (p[0]! ** 2 + p[1]! ** 2)];
  const r = times([1 - n[0], -n[1]], inverse([1 + n[0], n[1]]));
  const r2 = times(r, r);
  const decay = (turns: number) => [
    Math.exp(turns * k * n[1]) * Math.cos(turns * k * n[0]),
    -Math.exp(turns * k * n[1]) * Math.sin(turns * k * n[0]),
  ];
  const t = times(times([1 - r2[0]!, -r2[1]!], decay(1)), inverse([1 - times(r2, decay(2))[0]!, -times(r2, decay(2))[1]!]));
  return -10 * Math.log10(t[0]! ** 2 + t[1]! ** 2);
}

describe('layers', () => {
  const plain = (a: number) => ({ id: 'x', name: 'X', a, b: 0, c: 0, d: 0, ghz: [1, 100] as const });
  const lambdaM = 0.299792458 / 5.5;
  test('a lossless quarter-wave slab loses what its two faces reflect, a half-wave one nothing', () => {
    // eta = 4: sqrt = 2, R = -1/3. Quarter wave inside: T = (1 - R^2) / (1 + R^2) = 0.8, loss -20 log10 0.8 = 1.938 dB.
    const loss = (thicknessM: number) => slabsLossDb([{ substance: plain(4), thicknessM }], 5500);
    expect(loss(lambdaM / 2 / 4)).toBeCloseTo(1.938, 3);
    expect(loss(lambdaM / 2 / 2)).toBeCloseTo(0, 6);
  });
  test('permittivity by the recommendation’s constant: 17.98 sigma / f', () => {
    // Concrete at 1 GHz: sigma = 0.0462 S/m, 17.98 x 0.0462 = 0.83068; e0 = 8.854e-12: sigma / (2 pi f e0) = 0.8304.
    const [re, im] = permittivityAt(
      SUBSTANCES.find(({ id }) => id === 'concrete')!,
      1000,
    );
    expect(re).toBeCloseTo(5.24, 9);
    expect(im).toBeCloseTo(-0.0462 / (2 * Math.PI * 1e9 * 8.8541878e-12), 3);
  });
  test('one layer is the slab formula of the recommendation, for every substance', () => {
    for (const substance of SUBSTANCES.filter(({ id }) => id !== 'metal'))
      for (const freqMhz of [2442, 5500, 6525])
        for (const thicknessM of [0.004, 0.03, 0.2])
          expect(slabsLossDb([{ substance, thicknessM }], freqMhz)).toBeCloseTo(
            Math.min(MAX_WALL_LOSS_DB, oneSlabDb(permittivityAt(substance, freqMhz), thicknessM, freqMhz)),
            6,
          );
  });
  test('two halves are the whole; air between two panes is a layer of its own', () => {
    const glass = (mm: number) => ({ substanceId: 'glass', thicknessM: mm / 1000 });
    const air = (mm: number) => ({ substanceId: 'air', thicknessM: mm / 1000 });
    expect(layersLossDb([glass(5), glass(7)], 5500)).toBeCloseTo(layersLossDb([glass(12)], 5500), 9);
    expect(layersLossDb([air(100)], 5500)).toBeCloseTo(0, 9);
    // Half a wave of air between the panes leaves them as one of their joint thickness.
    const half = (299_792_458 / 5.5e9 / 2) * 1000;
    expect(layersLossDb([glass(4), air(half), glass(4)], 5500)).toBeCloseTo(layersLossDb([glass(8)], 5500), 6);
    expect(layersLossDb([glass(4), air(half / 2), glass(4)], 5500)).not.toBeCloseTo(layersLossDb([glass(8)], 5500), 1);
    // The way in and the way out are the same.
    const wall = [{ substanceId: 'brick', thicknessM: 0.12 }, air(60), { substanceId: 'concrete', thicknessM: 0.1 }];
    expect(layersLossDb(wall, 5500)).toBeCloseTo(layersLossDb([...wall].reverse(), 5500), 9);
  });
  test('a thick lossy slab loses its attenuation and both faces', () => {
    // Concrete at 5.5 GHz: eta' = 5.24, sigma = 0.0462 x 5.5^0.7822 = 0.1753 S/m; attenuation 1636 sigma / sqrt(eta') = 125.3 dB/m (P.2040, eq. 22b for small loss).
    const attenuation = (1636 * 0.0462 * 5.5 ** 0.7822) / Math.sqrt(5.24);
    const faces = -20 * Math.log10(1 - ((Math.sqrt(5.24) - 1) / (Math.sqrt(5.24) + 1)) ** 2);
    const loss = layersLossDb(materialOf('concrete').layers, 5500);
    expect(loss).toBeGreaterThan(attenuation * 0.2 * 0.97);
    expect(loss).toBeLessThan(attenuation * 0.2 + faces + 0.5);
  });
  test('a measured loss stands in its own band only', () => {
    const brick = materialOf('brick');
    const measured = { ...brick, id: 'own', measuredDb: { '5': 9 } };
    expect([lossDbOf(measured, '5'), lossDbOf(measured, '2.4'), lossDbOf(measured, '6')]).toEqual([9, lossDbOf(brick, '2.4'), lossDbOf(brick, '6')]);
  });
  test('12 mm of glass loses less at 5 than at 2.4 GHz: half a wave fits into it', () => {
    expect(materialLossDb('glass', '5')).toBeLessThan(materialLossDb('glass', '2.4'));
    const waves = (0.012 * Math.sqrt(6.31)) / (0.299792458 / 5.5);
    expect(Math.abs(waves - 0.5)).toBeLessThan(0.06);
  });
  test('a coat of metal of 10 nm, 10 ohms a square, costs what a thin sheet does: 20 log10(1 + 376.7 / (2 x 10)) dB; coated panes about as much', () => {
    const sheetDb = 20 * Math.log10(1 + 376.73 / 20);
    for (const mhz of [2442, 5500, 6525]) expect(layersLossDb([{ substanceId: 'metal', thicknessM: 1e-8 }], mhz)).toBeCloseTo(sheetDb, 1);
    for (const band of BANDS) expect(Math.abs(materialLossDb('glass-coated', band) - sheetDb)).toBeLessThan(4);
  });
  test('a mesh is the inductive sheet of thin-wire theory; half as long a wave as loss, and ever less', () => {
    for (const mhz of [2442, 5500]) {
      const perWave = 0.01 * (mhz / 299.792458);
      const reactance = perWave * Math.log(0.01 / (Math.PI * 0.001));
      const sheetDb = 10 * Math.log10(1 + 1 / (4 * reactance ** 2));
      expect(Math.abs(layersLossDb([{ substanceId: 'mesh', thicknessM: 0.0001 }], mhz) - sheetDb)).toBeLessThan(0.15);
    }
    expect(materialLossDb('metal-mesh', '2.4')).toBeCloseTo(14.8, 0);
    expect(materialLossDb('metal-mesh', '6')).toBeLessThan(materialLossDb('metal-mesh', '5'));
  });
  test('a row of people costs 6 to 8 dB, more in higher bands', () => {
    const [low, mid, high] = BANDS.map((band) => materialLossDb('people', band));
    expect(low).toBeGreaterThan(5.8);
    expect(high).toBeLessThan(8);
    expect(low! < mid! && mid! < high!).toBe(true);
  });
  test('metal stops at the limit; open loses nothing', () => {
    expect(materialLossDb('metal', '5')).toBeCloseTo(MAX_WALL_LOSS_DB, 6);
    expect(materialLossDb('open', '5')).toBe(0);
  });
  test('losses are whole units, positive, and rise with the band for lossy materials', () => {
    for (const material of MATERIALS)
      for (const band of BANDS)
        expect(materialLossDb(material.id, band) / LOSS_UNIT_DB).toBeCloseTo(Math.round(materialLossDb(material.id, band) / LOSS_UNIT_DB), 6);
    for (const id of ['brick-heavy', 'concrete', 'plasterboard']) expect(materialLossDb(id, '5')).toBeGreaterThan(materialLossDb(id, '2.4'));
  });
  test('an unknown material is an error with a code', () =>
    expect(() => materialOf('velvet')).toThrow(expect.objectContaining({ code: 'MATERIAL_UNKNOWN' })));
});

describe('panes', () => {
  const wall: Wall = { id: 'w', floorId: 'f', axM: 0, ayM: 0, bxM: 10, byM: 0, baseM: 0, topM: 3, materialId: 'brick' };
  const opening = (fields: Partial<Opening>): Opening => ({
    id: 'o',
    wallId: 'w',
    kind: 'door',
    atM: 4,
    widthM: 1,
    sillM: 0,
    headM: 2,
    materialId: 'wood',
    ...fields,
  });
  test('a wall without openings is one pane', () => expect(panesOf([wall], []).count).toBe(1));
  test('a door leaves wall at both sides and above: four panes whose areas are the wall', () => {
    const panes = panesOf([wall], [opening({})]);
    expect(panes.count).toBe(4);
    let area = 0;
    for (let p = 0; p < panes.count; p++) area += (panes.ends[p * 4 + 2]! - panes.ends[p * 4]!) * (panes.heights[p * 2 + 1]! - panes.heights[p * 2]!);
    expect(area).toBeCloseTo(30, 9);
  });
  test('a passage over the full height is a gap', () => {
    const panes = panesOf([wall], [opening({ kind: 'passage', headM: 9, materialId: 'open' })]);
    expect(panes.count).toBe(2);
    expect([panes.ends[2], panes.ends[4]]).toEqual([4, 5]);
  });
  test('openings beyond the wall are cut off, those outside ignored', () => {
    expect(panesOf([wall], [opening({ atM: 9.5, widthM: 5 })]).ends[2]).toBeCloseTo(9.5);
    expect(panesOf([wall], [opening({ atM: 12 })]).count).toBe(1);
  });
  test('overlapping openings: the first wins on the shared part', () => {
    const panes = panesOf([wall], [opening({ headM: 3, materialId: 'metal' }), opening({ id: 'p', atM: 4.5, headM: 3, materialId: 'glass' })]);
    const lossAt = (x: number) => {
      for (let p = 0; p < panes.count; p++) if (panes.ends[p * 4]! < x && x < panes.ends[p * 4 + 2]!) return panes.lossUnits[p * 3]! * LOSS_UNIT_DB;
      return 0;
    };
    expect(lossAt(4.7)).toBeCloseTo(materialLossDb('metal', '2.4'));
    expect(lossAt(5.2)).toBeCloseTo(materialLossDb('glass', '2.4'));
  });
  test('walls without length or height have no panes', () => {
    expect(
      panesOf(
        [
          { ...wall, bxM: 0 },
          { ...wall, topM: 0 },
        ],
        [],
      ).count,
    ).toBe(0);
  });
});

test('a door hangs where it is said, a wide one at both jambs with leaves that meet', () => {
  expect(leavesOf({ atM: 2, widthM: 0.9, hinge: 'a' })).toEqual([{ atM: 2, way: 1, widthM: 0.9 }]);
  expect(leavesOf({ atM: 2, widthM: 1.4, hinge: 'b' })).toEqual([{ atM: 3.4, way: -1, widthM: 1.4 }]);
  expect(leavesOf({ atM: 2, widthM: 1.8, hinge: 'b' })).toEqual([
    { atM: 2, way: 1, widthM: 0.9 },
    { atM: 3.8, way: -1, widthM: 0.9 },
  ]);
});
