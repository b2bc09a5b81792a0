import { describe, expect, test } from '@jest/globals';
import { BANDS } from '../radio/band';
import { LOSS_UNIT_DB, MATERIALS, MAX_WALL_LOSS_DB, materialLossDb, materialOf, slabLossDb } from './material';
import { panesOf } from './panes';
import type { Opening, Wall } from './wall';

describe('the slab formula', () => {
  test('a lossless quarter-wave slab loses what its two faces reflect, a half-wave one nothing', () => {
    // eta = 4: sqrt = 2, R = -1/3. Quarter wave inside: T = (1 - R^2) / (1 + R^2) = 0.8, loss -20 log10 0.8 = 1.938 dB.
    const slab = (thicknessM: number) => ({ ...materialOf('glass'), a: 4, b: 0, c: 0, d: 0, thicknessM });
    const lambdaM = 0.299792458 / 5.5;
    expect(slabLossDb(slab(lambdaM / 2 / 4), 5500)).toBeCloseTo(1.938, 3);
    expect(slabLossDb(slab(lambdaM / 2 / 2), 5500)).toBeCloseTo(0, 6);
  });
  test('a thick lossy slab loses its attenuation and both faces', () => {
    // Concrete at 5.5 GHz: eta' = 5.24, sigma = 0.0462 x 5.5^0.7822 = 0.1753 S/m; attenuation 1636 sigma / sqrt(eta') = 125.3 dB/m (P.2040, eq. 22b for small loss).
    const attenuation = (1636 * 0.0462 * 5.5 ** 0.7822) / Math.sqrt(5.24);
    const faces = -20 * Math.log10(1 - ((Math.sqrt(5.24) - 1) / (Math.sqrt(5.24) + 1)) ** 2);
    const loss = slabLossDb({ ...materialOf('concrete'), thicknessM: 0.2 }, 5500);
    expect(loss).toBeGreaterThan(attenuation * 0.2 * 0.97);
    expect(loss).toBeLessThan(attenuation * 0.2 + faces + 0.5);
  });
  test('metal stops at the limit; open loses nothing', () => {
    expect(materialLossDb('metal', '5')).toBeCloseTo(MAX_WALL_LOSS_DB, 6);
    expect(materialLossDb('open', '5')).toBe(0);
  });
  test('losses are whole units, positive, and rise with the band for lossy materials', () => {
    for (const material of MATERIALS) for (const band of BANDS) expect((materialLossDb(material.id, band) / LOSS_UNIT_DB) % 1).toBeCloseTo(0, 6);
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
