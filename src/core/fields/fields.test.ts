import { describe, expect, test } from '@jest/globals';
import { panesOf } from '../building/panes';
import { gridOver } from '../geometry/grid';
import { seeded } from '../random';
import { middlePowerDbm, type Channel } from '../radio/channel';
import { modelOf } from '../radio/catalogue';
import { noiseDbm } from '../radio/noise';
import { CCA_DBM } from '../radio/sharing';
import { COMMON_CLIENT } from '../radio/receiver';
import { mediumOf } from '../propagation/medium';
import { lossBetween } from './between';
import { contourLabel, LENSES, LENS_IDS, lensOf, meets } from './lenses';
import { assignTints, colourDistance, touchingOf } from './tints';
import { airtimeLimits, kindsInto, sharersInto, signalInto, snrInto, topThree, type LitRadio } from './combine';
import { contoursOf } from './contour';
import { heardAt } from './heard';
import { lossFields } from './lossField';
import { outlinesOf } from './outlines';
import { coverageCurve, lostWithout, servedBy, shareMeeting, statisticsOf } from './statistics';

const CELLS = 500;
const uniform = seeded(5);
const channel = (primary: number): Channel => ({ band: '5', primary, widthMhz: 20 });
const radios: LitRadio[] = Array.from({ length: 9 }, (_, r) => ({
  key: `r${r}`,
  name: `R-${r}`,
  txPowerDbm: 10 + r,
  channel: channel([36, 40, 36][r % 3]!),
  streams: 2,
  generation: 'Wi-Fi 6',
  lossDb: Float32Array.from({ length: CELLS }, () => 60 + 50 * uniform()),
}));
const top = topThree(radios, CELLS);
const levelsOf = (i: number) =>
  radios
    .map((radio, r) => ({ r, level: Math.fround(Math.fround(middlePowerDbm(radio)) - radio.lossDb[i]!) }))
    .sort((a, b) => b.level - a.level || a.r - b.r);

describe('combining agrees with sorting every cell', () => {
  test('strongest, second, third', () => {
    for (let i = 0; i < CELLS; i++) {
      const sorted = levelsOf(i);
      for (const rank of [0, 1, 2]) {
        expect(top.level[rank * CELLS + i]).toBe(sorted[rank]!.level);
        expect(top.radio[rank * CELLS + i]).toBe(sorted[rank]!.r);
      }
    }
  });
  test('the lenses ignore what is below the level', () => {
    const out = new Float32Array(CELLS);
    signalInto(top, 1, -70, out);
    for (let i = 0; i < CELLS; i++) expect(out[i]).toEqual(levelsOf(i)[1]!.level >= -70 ? levelsOf(i)[1]!.level : NaN);
    snrInto(top, radios, 7, -200, out);
    expect(out[7]).toBeCloseTo(levelsOf(7)[0]!.level - noiseDbm('5', 20), 4);
    kindsInto(
      top,
      radios.map((_, i) => i),
      -200,
      out,
    );
    expect(out[7]).toBe(levelsOf(7)[0]!.r);
  });
  test('contention counts who shares the primary and is heard at either end', () => {
    const n = radios.length;
    const atAntenna = Float32Array.from({ length: n * n }, () => -95 + 25 * uniform());
    const limits = airtimeLimits(radios, atAntenna);
    const out = new Float32Array(CELLS);
    sharersInto(top, radios, limits, -200, out);
    for (let i = 0; i < CELLS; i++) {
      const s = levelsOf(i)[0]!.r;
      const others = radios.filter(
        (other, j) =>
          j !== s &&
          other.channel.primary === radios[s]!.channel.primary &&
          (atAntenna[s * n + j]! >= CCA_DBM.preamble || middlePowerDbm(other) - other.lossDb[i]! >= CCA_DBM.preamble),
      );
      expect(out[i]).toBe(others.length);
    }
  });
  test('no radio at all gives no value anywhere', () => {
    const out = new Float32Array(4);
    signalInto(topThree([], 4), 0, -90, out);
    expect([...out]).toEqual([NaN, NaN, NaN, NaN]);
  });
});

describe('statistics, by hand', () => {
  const values = Float32Array.from([-40, -60, -66, -67, -80, NaN]);
  const mask = Uint8Array.from([1, 1, 1, 1, 1, 1]);
  test('share, histogram and curve', () => {
    expect(shareMeeting(values, mask, -67, 'least')).toBeCloseTo(4 / 6);
    expect(shareMeeting(Float32Array.from([0, 1, 2, NaN]), Uint8Array.from([1, 1, 1, 1]), 1, 'most')).toBeCloseTo(0.5);
    expect(shareMeeting(values, new Uint8Array(6), -67, 'least')).toBe(0);
    const statistics = statisticsOf(values, mask, 0.25, -90, -30, 6);
    expect([...statistics.binM2]).toEqual([0, 0.25, 0.5, 0.25, 0, 0.25]);
    expect(statistics).toMatchObject({ areaM2: 1.5, heardM2: 1.25 });
    expect(coverageCurve(values, mask, [-90, -67, -50, -30]).map((share) => Math.round(share * 6))).toEqual([5, 4, 1, 0]);
  });
  test('what each radio serves', () => {
    const [a, b, c] = servedBy(3, [0, 0, 1, -1, 0, 1], Float32Array.from([-50, -60, -70, -80, -40, NaN]), Uint8Array.from([1, 1, 1, 1, 0, 0]), 2);
    expect(a).toEqual({ areaM2: 4, meanDbm: -55 });
    expect(b).toEqual({ areaM2: 2, meanDbm: -70 });
    expect(c).toEqual({ areaM2: 0, meanDbm: NaN });
  });
});

describe('contours', () => {
  const square = [
    { xM: 0, yM: 0 },
    { xM: 20, yM: 0 },
    { xM: 20, yM: 20 },
    { xM: 0, yM: 20 },
  ];
  const grid = gridOver(square, 0.5);
  const cone = Float32Array.from(
    { length: grid.cols * grid.rows },
    (_, i) => -Math.hypot(grid.originXM + (i % grid.cols) * 0.5 - 10, grid.originYM + Math.floor(i / grid.cols) * 0.5 - 10),
  );
  test('the contour of a cone is a circle of the right radius', () => {
    const [contour] = contoursOf(cone, grid, [-6]);
    expect(contour!.rings).toHaveLength(1);
    const ring = contour!.rings[0]!;
    for (let i = 0; i < ring.length; i += 2) expect(Math.hypot(ring[i]! - 10, ring[i + 1]! - 10)).toBeCloseTo(6, 1);
  });
  test('lines leave out the border and the edge of what has no value', () => {
    const half = cone.map((value, i) => (i % grid.cols < 20 ? NaN : value));
    const [contour] = contoursOf(half, grid, [-6]);
    expect(contour!.rings).toHaveLength(1);
    for (const line of contour!.lines)
      for (let i = 0; i < line.length; i += 2) expect(Math.hypot(line[i]! - 10, line[i + 1]! - 10)).toBeCloseTo(6, 1);
    expect(contoursOf(new Float32Array(grid.cols * grid.rows).fill(5), grid, [0])[0]!.lines).toEqual([]);
  });
});

test("the readout equals the map: a ray to a cell centre gives the cell's value, and the contenders the cell's count", () => {
  const walls = [{ id: 'w', floorId: 'f', axM: 10, ayM: 0, bxM: 10, byM: 12, baseM: 0, topM: 3, materialId: 'brick' }];
  const medium = mediumOf(panesOf(walls, []), { exponent: 2.2 });
  const grid = gridOver(
    [
      { xM: 0, yM: 0 },
      { xM: 20, yM: 0 },
      { xM: 20, yM: 15 },
      { xM: 0, yM: 15 },
    ],
    0.5,
  );
  const antenna = modelOf('dunlin-c2').radios[1]!.antenna;
  const client = { ...COMMON_CLIENT, gainDbi: -2 };
  const poses = [
    [3, 3],
    [16, 4],
    [12, 13],
  ].map(([xM, yM]) => ({ xM: xM!, yM: yM!, zM: 2.8, azimuthDeg: 0, tiltDeg: 0 }));
  const spots = poses.map((pose, i) => ({ of: i, pose, antenna, channel: channel(36), txPowerDbm: 12 + i }));
  const lit: LitRadio[] = spots.map((spot) => ({
    key: String(spot.of),
    name: String(spot.of),
    txPowerDbm: spot.txPowerDbm,
    channel: spot.channel,
    streams: 2,
    generation: 'Wi-Fi 6',
    lossDb: lossFields(outlinesOf(medium), { pose: spot.pose, antennas: [null, antenna, null] }, { grid, zM: 1, gainDbi: client.gainDbi })[1]!,
  }));
  const combined = topThree(lit, grid.cols * grid.rows);
  const between = lossBetween(
    medium,
    poses.map((pose) => ({ pose, antennas: [null, antenna, null] })),
    '5',
  ).lossDb;
  const limits = airtimeLimits(
    lit,
    Float32Array.from({ length: 9 }, (_, k) => middlePowerDbm(lit[k % 3]!) - between[(k % 3) * 3 + Math.floor(k / 3)]!),
  );
  const counts = new Float32Array(grid.cols * grid.rows);
  sharersInto(combined, lit, limits, -90, counts);
  for (const cell of [0, 17, 444, 700, 1100]) {
    const heard = heardAt(
      medium,
      spots,
      { xM: grid.originXM + (cell % grid.cols) * 0.5, yM: grid.originYM + Math.floor(cell / grid.cols) * 0.5, zM: 1 },
      client,
      -90,
    );
    expect(heard[0]!.rssiDbm).toBeCloseTo(combined.level[cell]!, 1);
    expect(heard[0]!.of).toBe(combined.radio[cell]);
    expect(heard.filter((line) => line.takes?.kind === 'airtime')).toHaveLength(counts[cell]!);
  }
});

test('what would be lost without each radio: where it alone is at the threshold, and nowhere else', () => {
  // Cells: lost of 0; held by the next; below the threshold anyway; at it to the bit; of 1, with nobody left; outside; nobody serves.
  const serving = [0, 0, 0, 0, 1, 1, -1];
  const strongest = Float32Array.from([-50, -50, -68, -67, -60, -60, -Infinity]);
  const left = Float32Array.from([-67.5, -67, -70, -80, NaN, NaN, NaN]);
  expect([...lostWithout(3, serving, strongest, left, Uint8Array.from([1, 1, 1, 1, 1, 0, 1]), -67, 0.25)]).toEqual([0.5, 0.25, 0]);
});

describe('the lens registry', () => {
  const radio = (key: string, primary: number): LitRadio => ({
    key,
    name: key.toUpperCase(),
    txPowerDbm: 0,
    channel: { band: '5', primary, widthMhz: 20 },
    streams: 2,
    generation: 'Wi-Fi 6',
    lossDb: new Float32Array(1),
  });
  test('every lens has an id of its own, says what it shows, and fits its own scale', () => {
    expect(new Set(LENS_IDS).size).toBe(LENSES.length);
    for (const lens of LENSES.map(({ id }) => lensOf(id))) {
      expect(lens.help.length).toBeGreaterThan(20);
      expect(lens.kindsOf !== null).toBe(lens.show === 'tints');
      if (lens.threshold === null) continue;
      const { start, least, most, levelOf } = lens.threshold;
      expect(start >= least && start <= most).toBe(true);
      for (const threshold of [least, start, most]) expect(levelOf(threshold) >= lens.scale.from && levelOf(threshold) <= lens.scale.to).toBe(true);
      expect(meets(lens.threshold, start, start)).toBe(true);
      expect(meets(lens.threshold, NaN, start)).toBe(false);
    }
    expect(meets(lensOf('contention').threshold!, 2, 1)).toBe(false);
    expect(meets(lensOf('signal').threshold!, -68, -67)).toBe(false);
    expect(contourLabel(lensOf('contention'), 1.5)).toBe('2');
    expect(contourLabel(lensOf('signal'), -70)).toBe('−70');
  });
  test('Channel gives each cell the kind of its serving radio, one kind to radios on one channel and width', () => {
    const radios = [radio('a', 36), radio('b', 44), radio('c', 36)];
    const top = {
      cells: 4,
      level: Float32Array.of(-50, -60, -70, -95, ...new Array<number>(8).fill(-Infinity)),
      radio: Int16Array.of(2, 1, 0, 1, ...new Array<number>(8).fill(-1)),
    };
    const out = new Float32Array(4);
    const context = {
      top,
      radios,
      receiver: COMMON_CLIENT,
      ignoreBelowDbm: -90,
      rank: 0 as const,
      widthMhz: 20 as const,
      limits: () => new Float64Array(9),
      levelsAtDbm: () => new Float32Array(9),
      direction: 'down' as const,
      owed: [],
      disturbers: [],
      met: null,
      mask: new Uint8Array(4),
    };
    lensOf('channel').kernel(context, out);
    expect([...out]).toEqual([0, 1, 0, NaN]);
    expect(lensOf('channel').kindsOf!(radios)).toEqual([
      { id: '36/20', label: '36/20' },
      { id: '44/20', label: '44/20' },
    ]);
    lensOf('serving').kernel(context, out);
    expect([...out]).toEqual([2, 1, 0, NaN]);
    expect(lensOf('serving').kindsOf!(radios).map(({ label }) => label)).toEqual(['A', 'B', 'C']);
  });
});

describe('tints', () => {
  test('touching counts shared sides, not corners, not round the edge of a row, and nothing at cells without a kind', () => {
    // 0 0 1
    // 2 N 1
    const touching = touchingOf(Float32Array.of(0, 0, 1, 2, NaN, 1), 3, 3);
    expect([...touching]).toEqual([0, 1, 1, 1, 0, 0, 1, 0, 0]);
  });
  test('areas that touch are as far apart as can be; those that do not may be alike; what is kept stays', () => {
    const palette = ['000000', '101010', 'F0F0F0', 'FFFFFF'];
    const chain = touchingOf(Float32Array.of(0, 1, 2, 3), 4, 4);
    const tints = assignTints(chain, 4, palette);
    for (const [a, b] of [
      [0, 1],
      [1, 2],
      [2, 3],
    ] as const)
      expect(colourDistance(palette[tints[a]!]!, palette[tints[b]!]!)).toBeGreaterThan(600);
    expect(assignTints(chain, 4, palette, [3, null, null, null])[0]).toBe(3);
    expect(assignTints(new Float64Array(0), 0, palette)).toEqual([]);
    // While there are tints enough, no two kinds have the same, neighbours or not.
    expect(new Set(assignTints(new Float64Array(16), 4, palette)).size).toBe(4);
    expect(new Set(tints).size).toBe(4);
    // With more kinds than tints, those that touch still differ.
    const ring = touchingOf(Float32Array.of(0, 1, 2, 3, 4, 5), 6, 6);
    const few = assignTints(ring, 6, palette.slice(1, 3));
    for (let i = 1; i < 6; i++) expect(few[i]).not.toBe(few[i - 1]);
  });
  test('the kind with most border chooses first; a kind far from everybody may be like its neighbour’s neighbour', () => {
    // 1 touches 0 and 2, so it takes the first tint; they take the one farthest from it.
    const palette = ['000000', '404040', 'FFFFFF'];
    const touching = touchingOf(Float32Array.of(0, 1, 2, NaN, 3), 5, 4);
    expect(assignTints(touching, 4, palette)).toEqual([2, 0, 2, 1]);
    // A lone row below: the cells above and below touch, those at the ends of rows do not.
    expect([...touchingOf(Float32Array.of(0, 1, 2, 0), 2, 3)]).toEqual(
      [0, 1, 1, 1, 0, 0, 1, 0, 0].map((sides, i) => (i === 1 || i === 3 || i === 2 || i === 6 ? 2 : sides)),
    );
  });
  test('green counts more than blue, and a colour is no way from itself', () => {
    expect(colourDistance('102030', '102030')).toBe(0);
    expect(colourDistance('000000', '001000')).toBeGreaterThan(colourDistance('000000', '000010'));
    expect(colourDistance('FF0000', '000000')).toBeCloseTo(255 * Math.SQRT2, 9);
  });
});
