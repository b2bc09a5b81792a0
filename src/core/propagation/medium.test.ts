import { describe, expect, test } from '@jest/globals';
import { materialOf, smoothedLossDb, type Material } from '../building/material';
import { obstaclesOf } from '../building/obstacles';
import { joinPanes, panesOf } from '../building/panes';
import { slabOf } from '../building/slab';
import type { Antenna } from '../radio/antenna';
import { lossBetween, lossFromTo } from '../fields/between';
import { mediumAt, mediumOf } from './medium';
import { sightLine } from './ray';

const wall = { id: 'w', floorId: 'f', axM: 5, ayM: -20, bxM: 5, byM: 20, baseM: 0, topM: 3, materialId: 'concrete' };
const omni: Antenna = { peakDbi: 0, horizontalDb: [0], verticalDb: [0, 0, 0] };
const pose = { xM: 0, yM: 0, zM: 2, azimuthDeg: 0, tiltDeg: 0 };
const end = { xM: 10, yM: 0, zM: 1 };
const through = (materialId: string, centreMhz: number): number =>
  sightLine(mediumOf(panesOf([{ ...wall, materialId }], []), { exponent: 2 }), pose, omni, '6', end, 0, centreMhz).wallLossDb;

describe('walls at the frequency of the channel', () => {
  test('200 mm of concrete: attenuation grows as f^0.78 (ITU-R P.2040), 2 dB over half of the 6 GHz band', () => {
    // In a substance of low loss: 1636 sigma / sqrt(eta') dB/m. What both faces throw back is the same at all of them.
    const perMetreDb = (fGhz: number): number => (1636 * 0.0462 * fGhz ** 0.7822) / Math.sqrt(5.24);
    const [low, middle, high] = [5955, 6525, 7095].map((mhz) => through('concrete', mhz)) as [number, number, number];
    expect(high - low).toBeCloseTo(0.2 * (perMetreDb(7.095) - perMetreDb(5.955)), 0);
    expect(high - middle).toBeGreaterThan(0.6);
    expect(middle - low).toBeGreaterThan(0.6);
    for (const [mhz, lossDb] of [
      [5955, low],
      [7095, high],
    ] as const)
      expect(lossDb).toBeCloseTo(smoothedLossDb(materialOf('concrete').layers, mhz), 1);
  });
  test('what was measured by band, and what lets nothing through, is the same on every channel', () => {
    expect(through('metal', 5955)).toBe(through('metal', 7095));
    const measured: Material = { ...materialOf('concrete'), measuredDb: { '6': 21 } };
    const medium = mediumOf(
      panesOf([wall], [], 0, () => measured),
      { exponent: 2 },
    );
    expect(sightLine(medium, pose, omni, '6', end, 0, 7095).wallLossDb).toBeCloseTo(21, 6);
  });
  test('each pane is met by its own material, also where floors are joined; an opening by its leaf', () => {
    const upper = panesOf([{ ...wall, id: 'u', axM: 7, bxM: 7, materialId: 'brick' }], [], 0);
    const door = { id: 'd', wallId: 'w', kind: 'door' as const, atM: 19, widthM: 2, sillM: 0, headM: 3, materialId: 'glass' };
    const medium = mediumOf(joinPanes([panesOf([wall], [door]), upper]), { exponent: 2 });
    const [inDoor, beside] = [sightLine(medium, pose, omni, '6', end, 0, 7095), sightLine(medium, pose, omni, '6', { ...end, yM: 8 }, 0, 7095)];
    const at = (id: string): number => smoothedLossDb(materialOf(id).layers, 7095);
    expect(inDoor.walls.map(({ lossDb }) => lossDb)).toEqual([expect.closeTo(at('glass'), 1), expect.closeTo(at('brick'), 1)]);
    expect(beside.walls.map(({ lossDb }) => lossDb)).toEqual([expect.closeTo(at('concrete'), 1), expect.closeTo(at('brick'), 1)]);
  });
  test('slabs too, and what comes through a thing that waves go round', () => {
    const ring = [
      { xM: -50, yM: -50 },
      { xM: 50, yM: -50 },
      { xM: 50, yM: 50 },
      { xM: -50, yM: 50 },
    ];
    const medium = mediumOf(panesOf([], []), { exponent: 2 }, [slabOf(materialOf('concrete'), 1.5, ring)]);
    expect(sightLine(medium, pose, omni, '6', end, 0, 7095).slabLossDb).toBeCloseTo(smoothedLossDb(materialOf('concrete').layers, 7095), 1);
    const screen = panesOf([{ ...wall, ayM: -2, byM: 2 }], [], 0, materialOf, 3);
    const throughAt = (mhz: number): number => obstaclesOf(mediumAt(mediumOf(screen, { exponent: 2 }), [null, null, mhz]).panes).list[0]!.through[2]!;
    expect(-10 * Math.log10(throughAt(7095))).toBeCloseTo(smoothedLossDb(materialOf('concrete').layers, 7095), 1);
    expect(throughAt(5955)).toBeGreaterThan(throughAt(7095));
  });
  test('other bands and the plan itself stay as they are; the same is made once', () => {
    const medium = mediumOf(panesOf([wall], []), { exponent: 2 });
    const at = mediumAt(medium, [null, null, 7095]);
    expect(Array.from(at.panes.lossUnits.subarray(0, 2))).toEqual(Array.from(medium.panes.lossUnits.subarray(0, 2)));
    expect(at.panes.lossUnits[2]).toBeGreaterThan(medium.panes.lossUnits[2]!);
    expect(mediumAt(medium, [null, null, 7095])).toBe(at);
    expect(mediumAt(medium, [null, 5500, 6525])).toBe(medium);
  });
  test('between access points: at the frequency of the one that sends, each way its own', () => {
    const medium = mediumOf(panesOf([wall], []), { exponent: 2 });
    const station = (xM: number, centreMhz: number) => ({ pose: { ...pose, xM }, antennas: [null, null, omni], centresMhz: [null, null, centreMhz] });
    const [low, high] = [station(0, 5955), station(10, 7095)];
    const { lossDb } = lossBetween(medium, [low, high], '6');
    expect(lossDb[1]).toBeCloseTo(lossFromTo(medium, low, high, '6'), 4);
    expect(lossDb[2]).toBeCloseTo(lossFromTo(medium, high, low, '6'), 4);
    // The path is at the band's middle in both: they differ by the wall alone.
    expect(lossDb[2]! - lossDb[1]!).toBeCloseTo(through('concrete', 7095) - through('concrete', 5955), 4);
    // One goes to another channel: its own rays are drawn anew, whichever way.
    const known = lossBetween(medium, [low, high], '6');
    const next = lossBetween(medium, [station(0, 7095), high], '6', known).lossDb;
    expect(next[1]).toBeCloseTo(lossDb[2]!, 4);
    expect(next[2]).toBeCloseTo(lossDb[2]!, 4);
  });
});
