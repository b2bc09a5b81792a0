import { describe, expect, test } from '@jest/globals';
import { panesOf } from '../building/panes';
import { seeded } from '../random';
import { mediumOf } from '../propagation/medium';
import { sightLine } from '../propagation/ray';
import type { Station } from '../propagation/station';
import type { Antenna } from '../radio/antenna';
import type { Band } from '../radio/band';
import { noiseDbm } from '../radio/noise';
import { lossBetween, lossFromTo } from './between';
import { middlePowerDbm } from '../radio/channel';
import { airtimeLimits, kindsInto, newTopThree, sharersInto, signalInto, snrInto, topThree, widthLimits, type LitRadio } from './combine';
import { contourLevels, lensOf } from './lenses';

const CELLS = 40;

/** Radios with losses in whole dB, so that equal levels come up often. */
function someRadios(count: number, seed: number): LitRadio[] {
  const uniform = seeded(seed);
  return Array.from({ length: count }, (_, r) => ({
    key: `r${r}`,
    name: `R-${r}`,
    txPowerDbm: Math.floor(uniform() * 3),
    channel: { band: '5', primary: [36, 40, 44][Math.floor(uniform() * 3)]!, widthMhz: uniform() < 0.5 ? 20 : 40 },
    streams: 2,
    generation: 'Wi-Fi 6',
    lossDb: Float32Array.from({ length: CELLS }, () => 60 + Math.floor(uniform() * 45)),
  }));
}

/** The strongest first; of equal ones the lower index. */
const ranked = (radios: readonly LitRadio[], cell: number) =>
  radios
    .map((radio, index) => ({ index, level: Math.fround(Math.fround(middlePowerDbm(radio)) - radio.lossDb[cell]!) }))
    .sort((a, b) => b.level - a.level || a.index - b.index);

describe.each([0, 1, 2, 3, 7, 12])('%i radios', (count) => {
  const radios = someRadios(count, 100 + count);
  const top = topThree(radios, CELLS);
  test('the strongest three of every cell, by sorting', () => {
    for (let cell = 0; cell < CELLS; cell++) {
      const expected = ranked(radios, cell);
      for (let rank = 0; rank < 3; rank++) {
        expect(top.level[rank * CELLS + cell]).toBe(expected[rank]?.level ?? -Infinity);
        expect(top.radio[rank * CELLS + cell]).toBe(expected[rank]?.index ?? -1);
      }
    }
  });
  test('a lens claims what is at the limit, and nothing below', () => {
    const out = new Float32Array(CELLS + 1).fill(7);
    for (const rank of [0, 1, 2] as const) {
      signalInto(top, rank, -80, out);
      for (let cell = 0; cell < CELLS; cell++) {
        const level = ranked(radios, cell)[rank]?.level ?? -Infinity;
        expect(out[cell]).toBe(level >= -80 ? level : NaN);
      }
    }
    snrInto(top, radios, 9, -80, out);
    for (let cell = 0; cell < CELLS; cell++) {
      const [first] = ranked(radios, cell);
      const expected = first && first.level >= -80 ? first.level - noiseDbm('5', radios[first.index]!.channel.widthMhz, 9) : NaN;
      if (Number.isNaN(expected)) expect(out[cell]).toBeNaN();
      else expect(out[cell]).toBeCloseTo(expected, 3);
    }
    kindsInto(
      top,
      radios.map((_, i) => 10 + i),
      -80,
      out,
    );
    for (let cell = 0; cell < CELLS; cell++) {
      const [first] = ranked(radios, cell);
      expect(out[cell]).toBe(first && first.level >= -80 ? 10 + first.index : NaN);
    }
    // Not a cell beyond the last.
    expect(out[CELLS]).toBe(7);
  });
  test('contention counts who occupies the primary and is heard by either end, per 20 MHz, at the threshold too', () => {
    const uniform = seeded(7 + count);
    const levels = Float32Array.from({ length: count * count }, () => [-90, -82, -79, -70][Math.floor(uniform() * 4)]!);
    const limits = airtimeLimits(radios, levels);
    const out = new Float32Array(CELLS + 1).fill(7);
    const mask = Uint8Array.from({ length: CELLS }, () => (uniform() < 0.7 ? 1 : 0));
    const met = new Float64Array(count * count);
    sharersInto(top, radios, limits, -100, out, met, mask);
    const expectedMet = new Float64Array(count * count);
    for (let cell = 0; cell < CELLS; cell++) {
      const [first] = ranked(radios, cell);
      if (first === undefined || !(first.level >= -100)) {
        expect(out[cell]).toBeNaN();
        continue;
      }
      const s = first.index;
      // 36 and 40 are one 40 MHz block, and 44 with 48 another; a 40 MHz signal must arrive 3.01 dB louder.
      const others = radios.flatMap((radio, j) => {
        const { primary, widthMhz } = radio.channel;
        const own = radios[s]!.channel.primary;
        const occupies = widthMhz === 20 ? primary === own : primary === 44 ? own === 44 : own === 36 || own === 40;
        const from = -82 + (widthMhz === 40 ? 10 * Math.log10(2) : 0);
        const heard = levels[s * count + j]! >= from || middlePowerDbm(radio) - radio.lossDb[cell]! >= from;
        return j !== s && occupies && heard ? [j] : [];
      });
      expect(out[cell]).toBe(others.length);
      if (mask[cell] === 1) for (const j of others) expectedMet[s * count + j]!++;
    }
    expect([...met]).toEqual([...expectedMet]);
    expect(out[CELLS]).toBe(7);
  });
});

describe('Overlap: the serving radio at another width', () => {
  const at = (primary: number, widthMhz: 20 | 40 | 80, txPowerDbm = 0) => ({
    key: `${primary}`,
    name: `${primary}`,
    txPowerDbm,
    channel: { band: '5' as const, primary, widthMhz },
    streams: 2,
    generation: 'Wi-Fi 6' as const,
    lossDb: Float32Array.of(50, 75, 75),
  });
  // All serve alike but the first, which is 3 dB louder; the others arrive at -50, -75 and -75 dBm.
  const radios = [at(36, 20, 3), at(40, 20), at(48, 20), at(44, 40), at(165, 20)];
  const top = topThree(radios, 3);
  const silent = new Float32Array(25).fill(-120);
  const count = (widthMhz: 20 | 40 | 80, levels = silent) => {
    const out = new Float32Array(3);
    sharersInto(top, radios, widthLimits(radios, levels, widthMhz), -90, out);
    return [...out];
  };
  test('only its own at 20 MHz; the neighbour at 40; all in the block at 80, where they are loud enough for other channels', () => {
    expect(count(20)).toEqual([0, 0, 0]);
    expect(count(40)).toEqual([1, 0, 0]);
    expect(count(80)).toEqual([3, 0, 0]);
  });
  test('an antenna that hears the others counts them everywhere', () => {
    const levels = silent.slice();
    levels[0 * 5 + 1] = -72;
    levels[0 * 5 + 3] = -70;
    expect(count(40, levels)).toEqual([1, 1, 1]);
    // The 40 MHz signal must be heard at -68.99 dBm on other channels.
    expect(count(80, levels)).toEqual([3, 1, 1]);
    levels[0 * 5 + 3] = -68;
    expect(count(80, levels)).toEqual([3, 2, 2]);
  });
  test('where there is no such channel nothing is claimed', () => {
    const alone = [at(132, 20, 9), at(36, 20)];
    const out = new Float32Array(3);
    sharersInto(topThree(alone, 3), alone, widthLimits(alone, new Float32Array(4).fill(-120), 160), -90, out);
    expect([...out]).toEqual([NaN, NaN, NaN]);
  });
});

test('an empty result says nobody', () => {
  const { level, radio } = newTopThree(2);
  expect([...level, ...radio]).toEqual([...new Array<number>(6).fill(-Infinity), ...new Array<number>(6).fill(-1)]);
});

describe('losses between access points', () => {
  const omni: Antenna = { peakDbi: 2, horizontalDb: [0], verticalDb: [0, 0, 0] };
  const station = (xM: number, antennas: Station['antennas'] = [omni, omni, null]): Station => ({
    pose: { xM, yM: 3, zM: 3, azimuthDeg: 0, tiltDeg: 0 },
    antennas,
  });
  const wall = { id: 'w', floorId: 'f', axM: 6, ayM: 0, bxM: 6, byM: 6, baseM: 0, topM: 3.5, materialId: 'brick' };
  const medium = mediumOf(panesOf([wall], []), { exponent: 2.2 });
  const stations = [station(1), station(4), station(10)];

  test('each is its ray’s less both antennas’ gain; nothing to itself, endless where either has no radio', () => {
    for (const band of ['2.4', '5'] as const) {
      const { lossDb } = lossBetween(medium, stations, band);
      for (const [from, to] of [
        [0, 1],
        [0, 2],
        [2, 1],
      ] as const) {
        const line = sightLine(medium, stations[from]!.pose, omni, band, stations[to]!.pose);
        expect(lossDb[from * 3 + to]).toBeCloseTo(line.pathLossDb + line.wallLossDb - 4, 3);
      }
      expect(lossDb[1 * 3 + 1]).toBe(0);
      // Through the brick is more than its distance.
      expect(lossDb[1 * 3 + 2]! - lossDb[1 * 3]!).toBeGreaterThan(10);
    }
    expect(lossBetween(medium, stations, '6').lossDb[1]).toBe(Infinity);
    const mixed = lossBetween(medium, [station(1), station(4, [omni, null, null])], '5').lossDb;
    expect([mixed[1], mixed[2]]).toEqual([Infinity, Infinity]);
  });
  test('by hand, 20 m apart in the open: two antennas of 4.4 dBi are 4.4 dB louder than one', () => {
    const open = mediumOf(panesOf([], []), { exponent: 2 });
    const horizon: Antenna = { peakDbi: 4.4, horizontalDb: [0], verticalDb: [-20, 0, -20] };
    const { lossDb } = lossBetween(open, [station(0, [null, horizon, null]), station(20, [null, horizon, null])], '5');
    expect(lossDb[1]).toBeCloseTo(47.25 + 26.02 - 8.8, 1);
  });
  test('it is the same both ways, also for antennas that look elsewhere and hang at other heights', () => {
    const patch: Antenna = { peakDbi: 9, horizontalDb: [0, -4, -12, -20, -24, -20, -12, -4], verticalDb: [-20, -6, 0, -6, -20] };
    const aimed = (xM: number, yM: number, zM: number, azimuthDeg: number): Station => ({
      pose: { xM, yM, zM, azimuthDeg, tiltDeg: 12 },
      antennas: [null, patch, null],
    });
    const [a, b] = [aimed(2, 1, 4, 80), aimed(11, 7, 1.5, 200)];
    expect(lossFromTo(medium, a, b, '5')).toBeCloseTo(lossFromTo(medium, b, a, '5'), 3);
    const back = { ...b, pose: { ...b.pose, azimuthDeg: 124 } };
    expect(lossFromTo(medium, a, back, '5')).toBeGreaterThan(lossFromTo(medium, a, { ...b, pose: { ...b.pose, azimuthDeg: 304 } }, '5') + 10);
  });
  test('what did not move is taken over, what moved is not; another medium, band or number begins anew', () => {
    const known = lossBetween(medium, stations, '5');
    const marked = { ...known, lossDb: Float32Array.from(known.lossDb, () => 77) };
    const moved = [stations[0]!, stations[1]!, station(11)];
    const next = lossBetween(medium, moved, '5', marked);
    expect([next.lossDb[0 * 3 + 1], next.lossDb[1 * 3 + 0]]).toEqual([77, 77]);
    const afresh = lossBetween(medium, moved, '5');
    for (const pair of [0 * 3 + 2, 2 * 3 + 0, 1 * 3 + 2, 2 * 3 + 1]) expect(next.lossDb[pair]).toBe(afresh.lossDb[pair]);
    const first = (over: readonly Station[], band: Band = '5', through = medium) => lossBetween(through, over, band, marked).lossDb[1];
    expect(first([stations[0]!, station(4, [omni, { ...omni }, null]), stations[2]!])).not.toBe(77);
    expect(first([stations[0]!, station(4, [{ ...omni }, omni, null]), stations[2]!])).toBe(77);
    expect(first(stations, '2.4')).not.toBe(77);
    expect(first(stations, '5', { ...medium })).not.toBe(77);
    expect(first(stations.slice(0, 2))).not.toBe(77);
    for (const pose of [{ yM: 4 }, { zM: 2 }, { azimuthDeg: 90 }, { tiltDeg: 5 }])
      expect(first([{ ...stations[0]!, pose: { ...stations[0]!.pose, ...pose } }, ...stations.slice(1)])).not.toBe(77);
  });
});

test('contour levels: even steps with the threshold’s own among them, those too near it left out', () => {
  const signal = lensOf('signal');
  expect(contourLevels(signal, -67)).toEqual([-90, -80, -70, -67, -60, -50, -40]);
  expect(contourLevels(signal, -69)).toEqual([-90, -80, -69, -60, -50, -40]);
  expect(contourLevels(signal, -72.5)).toEqual([-90, -80, -72.5, -60, -50, -40]);
  expect(contourLevels(signal, -70)).toEqual([-90, -80, -70, -60, -50, -40]);
  expect(contourLevels(lensOf('snr'), 25)).toEqual([0, 10, 20, 25, 30, 40, 50, 60]);
  expect(contourLevels(lensOf('contention'), 2)).toEqual([0.5, 1.5, 2.5, 3.5, 4.5, 5.5, 6.5]);
  expect(contourLevels(lensOf('serving'), 0)).toEqual([]);
  // A count's threshold runs between the last that is good and the first that is not.
  expect(lensOf('contention').threshold!.levelOf(1)).toBe(1.5);
  expect([lensOf('contention').threshold!.flag(1), signal.threshold!.flag(-67)]).toEqual(['≤1', '−67']);
});
