import { expect, test } from '@jest/globals';
import { clutterOf } from '../building/clutter';
import { materialLossDb, materialOf } from '../building/material';
import { slabOf } from '../building/slab';
import { panesOf } from '../building/panes';
import { gridOver } from '../geometry/grid';
import { mediumOf } from '../propagation/medium';
import type { Pose } from '../propagation/crossing';
import { sightLine } from '../propagation/ray';
import { BANDS, centreOfBandMhz } from '../radio/band';
import { offMiddleAtDb } from '../radio/channel';
import { AP_MODELS } from '../radio/catalogue';
import { compiledKernel } from './kernel/kernel';
import { lossFields } from './lossField';
import { outlinesOf } from './outlines';

const walls = [
  { id: 'a', floorId: 'f', axM: 0, ayM: 8, bxM: 30, byM: 8, baseM: 0, topM: 4, materialId: 'brick' },
  { id: 'b', floorId: 'f', axM: 12, ayM: 0, bxM: 12, byM: 20, baseM: 0, topM: 2.2, materialId: 'glass' },
  { id: 'c', floorId: 'f', axM: 3, ayM: 15, bxM: 22, byM: 19, baseM: 0, topM: 4, materialId: 'plasterboard' },
];
const slab = slabOf(materialOf('wood'), 2.5, [
  { xM: 0, yM: 0 },
  { xM: 9, yM: 0 },
  { xM: 9, yM: 20 },
]);
const shelves = clutterOf(
  'z',
  {
    polygon: [
      { xM: 16, yM: 2 },
      { xM: 24, yM: 2 },
      { xM: 24, yM: 12 },
      { xM: 16, yM: 12 },
    ],
    holes: [
      [
        { xM: 18, yM: 4 },
        { xM: 22, yM: 4 },
        { xM: 20, yM: 9 },
      ],
    ],
  },
  { topM: 2, dbPerM: { '2.4': 0.7, '5': 1.3, '6': 1.6 } },
  0,
);
const medium = mediumOf(panesOf(walls, []), { exponent: 2.2 }, [slab], [shelves]);
const grid = gridOver(
  [
    { xM: 0, yM: 0 },
    { xM: 30, yM: 0 },
    { xM: 30, yM: 20 },
    { xM: 0, yM: 20 },
  ],
  0.5,
);

// The promise: within 0.05 dB of the double-precision budget everywhere and 0.002 dB on average, for every antenna of the catalogue.
const kernels = [
  { code: 'compiled', kernel: compiledKernel()! },
  { code: 'TypeScript', kernel: null },
];
test.each(AP_MODELS.flatMap((model) => [3, 1.05, 0.2].flatMap((heightM) => kernels.map((by) => ({ model, heightM, name: model.id, ...by })))))(
  '$name at $heightM m keeps to the link budget, $code',
  ({ model, heightM, kernel }) => {
    const pose: Pose = { xM: 14.37, yM: 9.21, zM: heightM, azimuthDeg: 205, tiltDeg: model.outdoor ? 12 : 0 };
    const antennas = BANDS.map((band) => model.radios.find((radio) => radio.band === band)?.antenna ?? null);
    // Walls at the channels' frequencies, the path at the band's middle.
    const centresMhz = [2472, heightM > 1 ? 5180 : null, 7095];
    const fields = lossFields(outlinesOf(medium), { pose, antennas, centresMhz }, { grid, zM: 1, gainDbi: -1.5 }, kernel);
    BANDS.forEach((band, lane) => {
      const antenna = antennas[lane];
      if (!antenna) return expect(fields[lane]!.every(Number.isNaN)).toBe(true);
      let worst = 0;
      let sum = 0;
      for (let row = 0, i = 0; row < grid.rows; row++) {
        for (let col = 0; col < grid.cols; col++, i++) {
          const end = { xM: grid.originXM + col * grid.cellM, yM: grid.originYM + row * grid.cellM, zM: 1 };
          const centreMhz = centresMhz[lane] ?? centreOfBandMhz(band);
          const exact = sightLine(medium, pose, antenna, band, end, -1.5, centreMhz).lossDb - offMiddleAtDb(band, centreMhz);
          const error = Math.abs(fields[lane]![i]! - exact);
          worst = Math.max(worst, error);
          sum += error;
        }
      }
      expect(worst).toBeLessThan(0.05);
      expect(sum / (grid.cols * grid.rows)).toBeLessThan(0.002);
    });
  },
);

// From all sides, from above, from within and from its hole: only cells in its shadow are looked at.
test.each([
  [2, 7],
  [29, 7],
  [20, 0.5],
  [20, 19.5],
  [17, 3],
  [20, 5],
  [1, 1],
  [28, 18],
  [16, 2],
])('clutter from %d, %d is as on every ray', (xM, yM) => {
  const antenna = AP_MODELS[0]!.radios[1]!.antenna;
  const only = mediumOf(panesOf([], []), { exponent: 2 }, [], [shelves]);
  const pose: Pose = { xM, yM, zM: 2.6, azimuthDeg: 0, tiltDeg: 0 };
  const field = lossFields(outlinesOf(only), { pose, antennas: [null, antenna, null] }, { grid, zM: 1, gainDbi: 0 })[1]!;
  let [worst, met] = [0, 0];
  for (let i = 0; i < field.length; i++) {
    const end = { xM: grid.originXM + (i % grid.cols) * grid.cellM, yM: grid.originYM + Math.floor(i / grid.cols) * grid.cellM, zM: 1 };
    const line = sightLine(only, pose, antenna, '5', end);
    worst = Math.max(worst, Math.abs(field[i]! - line.lossDb));
    if (line.clutterLossDb > 0) met++;
  }
  expect(met).toBeGreaterThan(20);
  expect(worst).toBeLessThan(0.01);
});

test('clutter in a sight line: as much as of it is passed below its top, and where', () => {
  const antenna = AP_MODELS[0]!.radios[1]!.antenna;
  // At y = 3, above the hole, from x = 10 at 3 m high to x = 30 at 1 m: below 2 m from x = 20 on, out at 24.
  const line = sightLine(medium, { xM: 10, yM: 3, zM: 3, azimuthDeg: 0, tiltDeg: 0 }, antenna, '5', { xM: 30, yM: 3, zM: 1 });
  const lengthM = (4 / 20) * Math.hypot(20, 2);
  expect(line.clutter).toEqual([
    {
      zoneId: 'z',
      lengthM: expect.closeTo(lengthM, 4),
      share: expect.closeTo(0.6, 4),
      zM: expect.closeTo(1.8, 4),
      lossDb: expect.closeTo(lengthM * 1.3, 4),
    },
  ]);
  expect(line.pathLossDb + line.wallLossDb + line.slabLossDb + lengthM * 1.3 - line.antennaGainDbi).toBeCloseTo(line.lossDb, 4);
});

test('a sight line sums to its own total and names the walls in order', () => {
  const model = AP_MODELS[0]!;
  const antenna = model.radios[1]!.antenna;
  const line = sightLine(medium, { xM: 5, yM: 2, zM: 3, azimuthDeg: 0, tiltDeg: 0 }, antenna, '5', { xM: 20, yM: 19, zM: 1 }, 2);
  // The glass partition ends at 2.2 m and is met at share 0.47, where the ray is at 2.07 m: charged.
  expect(line.walls.map((charge) => charge.wallId)).toEqual(['a', 'b', 'c']);
  expect(
    line.pathLossDb + line.walls.reduce((sum, charge) => sum + charge.lossDb, 0) + line.slabLossDb + line.clutterLossDb - line.antennaGainDbi - 2,
  ).toBeCloseTo(line.lossDb, 9);
  expect(line.slabLossDb).toBeCloseTo(materialLossDb('wood', '5'), 9);
});
