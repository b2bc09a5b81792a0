import { describe, expect, test } from '@jest/globals';
import { materialOf, layersLossDb } from './building/material';
import { panesOf } from './building/panes';
import { heardAt } from './fields/heard';
import { optionsOf, DEFAULT_RULES, type PlanRadio } from './planning/problem';
import { mediumOf } from './propagation/medium';
import { pathLossDb } from './propagation/pathLoss';
import { gainDbi, type Antenna } from './radio/antenna';
import { modelOf, radioModelOf } from './radio/catalogue';
import { noiseDbm } from './radio/noise';
import { COMMON_CLIENT } from './radio/receiver';
import { allowedChannels, ruleFor } from './radio/regulation';
import { positionAt, samplesBetween, type Straight } from './survey/receiver';
import { DWELL_MS } from './survey/setting';
import { neighbourTransmitters, shadowing, trueLevel, trueMedium, type SiteParameters, type Transmitter } from './survey/site';
import { addTurn, cutAt, endMs, walkerAt, withoutLastTurn } from './survey/walk';

/** Lines that could once be broken without a test seeing it: each is held by numbers worked by hand. */

const omni: Antenna = { peakDbi: 0, horizontalDb: [0], verticalDb: [0, 0, 0] };
const open = (exponent = 2) => mediumOf(panesOf([], []), { exponent });
const pose = (xM: number, yM = 0, zM = 1) => ({ xM, yM, zM, azimuthDeg: 0, tiltDeg: 0 });

describe('noise', () => {
  test.each([
    // -174 + 10 log10(bandwidth) + 7 dB noise figure + man-made: 4 dB at 2.4 GHz, 1 dB at 5 and 6 GHz
    ['2.4', 20, -89.99],
    ['2.4', 40, -86.98],
    ['5', 20, -92.99],
    ['5', 160, -83.96],
    ['6', 80, -86.97],
  ] as const)('%s GHz, %i MHz: %f dBm', (band, widthMhz, expected) => expect(noiseDbm(band, widthMhz)).toBeCloseTo(expected, 2));
  test('a receiver with a worse noise figure has more', () => expect(noiseDbm('5', 20, 10)).toBeCloseTo(-89.99, 2));
});

describe('law', () => {
  test('a bonded channel may use the least power of its parts, needs radar detection for any, stays indoors for any', () => {
    // US: 36..48 may 36 dBm, 52..64 30 dBm with DFS; the 160 MHz block holds both.
    expect(ruleFor('US', { band: '5', primary: 36, widthMhz: 160 })).toMatchObject({ maxEirpDbm: 30, dfs: true, indoorOnly: false });
    expect(ruleFor('US', { band: '5', primary: 36, widthMhz: 80 })).toMatchObject({ maxEirpDbm: 36, dfs: false });
    expect(allowedChannels('US', '5', 160).every(({ maxEirpDbm }) => maxEirpDbm === 30)).toBe(true);
  });
  test('headroom is kept below the least of model, law and rules', () => {
    const [model] = [modelOf('dunlin-c2'), modelOf('kittiwake-t6')].flatMap(({ id }) => (radioModelOf(modelOf(id), '5') ? [id] : []));
    const { antenna, maxPowerDbm } = radioModelOf(modelOf(model!), '5')!;
    const radio: PlanRadio = {
      apId: 'a',
      name: 'A',
      model: modelOf(model!),
      band: '5',
      locked: false,
      forbidden: [],
      before: { on: true, channel: 36, widthMhz: 20, txPowerDbm: 10 },
      lossDb: new Float32Array(1),
      cellLossDb: new Float32Array(1),
      lossToRadioDb: new Float32Array(1),
    };
    const capAt = (headroomDb: number, channel: number, maxRule = 36) =>
      optionsOf(radio, { ...DEFAULT_RULES, domain: 'EU', maxPowerDbm: maxRule, headroomDb, dfs: 'use' }).options.find(
        (option) => option.channel.primary === channel,
      )!.maxPowerDbm;
    const byLaw = Math.floor(Math.min(maxPowerDbm, 23 - antenna.peakDbi));
    expect(capAt(0, 36)).toBe(byLaw);
    expect(capAt(3, 36)).toBe(byLaw - 3);
    expect(capAt(1, 36, 5)).toBe(5);
    expect(capAt(0, 100)).toBe(Math.floor(Math.min(maxPowerDbm, 30 - antenna.peakDbi)));
  });
});

describe('who hears whom', () => {
  const channel = { band: '5' as const, primary: 36, widthMhz: 20 as const };
  const at = (distanceM: number, txPowerDbm: number) => txPowerDbm - pathLossDb(5180, distanceM, 2);
  // 120 m apart in the open: the loud one arrives at the quiet one's antenna above -82 dBm, the quiet one at the loud one's below.
  const [loud, quiet] = [20, -2];
  const radios = [
    { of: 'quiet', pose: pose(0), antenna: omni, channel, txPowerDbm: quiet },
    { of: 'loud', pose: pose(120), antenna: omni, channel, txPowerDbm: loud },
  ];
  test('the serving antenna hears by the other’s power, not by its own', () => {
    expect([at(120, loud) >= -82, at(120, quiet) >= -82]).toEqual([true, false]);
    const near = heardAt(open(), radios, { xM: 2, yM: 0, zM: 1 }, COMMON_CLIENT, -110);
    expect(near.map(({ of, takes }) => [of, takes?.kind ?? 'serves', takes?.heardBy ?? null])).toEqual([
      ['quiet', 'serves', null],
      ['loud', 'airtime', 'AP'],
    ]);
    const far = heardAt(open(), radios, { xM: 118, yM: 0, zM: 1 }, COMMON_CLIENT, -120);
    expect(far.map(({ of, takes }) => [of, takes?.kind ?? 'serves', takes?.heardBy ?? null])).toEqual([
      ['loud', 'serves', null],
      ['quiet', 'noise', null],
    ]);
    expect(near[0]!.rssiDbm).toBeCloseTo(at(2, quiet), 3);
    expect(near[0]!.snrDb).toBeCloseTo(near[0]!.rssiDbm - noiseDbm('5', 20), 3);
  });
});

test('P.2040: a thicker slab loses what the waves lose on the way through it', () => {
  // Attenuation in a lossy dielectric, 1636 sigma / sqrt(eta') dB/m (P.2040, low-loss form), for concrete at 5.5 GHz.
  const concrete = materialOf('concrete');
  const sigma = 0.0462 * 5.5 ** 0.7822;
  const perMetre = (1636 * sigma) / Math.sqrt(5.24);
  const loss = (thicknessM: number) => layersLossDb([{ ...concrete.layers[0]!, thicknessM }], 5500);
  expect((loss(0.25) - loss(0.15)) / 0.1 / perMetre).toBeCloseTo(1, 1.7);
  expect(Math.abs((loss(0.25) - loss(0.15)) / 0.1 / perMetre - 1)).toBeLessThan(0.02);
});

describe('where the receiver is', () => {
  const straight: Straight = { leg: 2, from: { xM: 1, yM: 8, tMs: 1000 }, to: { xM: 5, yM: 2, tMs: 3000 } };
  test.each([
    [0, 1, 8],
    [1000, 1, 8],
    [1500, 2, 6.5],
    [3000, 5, 2],
    [9000, 5, 2],
  ])('at %i ms: %f, %f', (tMs, xM, yM) => expect(positionAt(straight, tMs)).toEqual({ xM, yM }));
  test('a piece that takes no time is at its beginning', () =>
    expect(positionAt({ ...straight, to: { ...straight.to, tMs: 1000 } }, 1000)).toEqual({ xM: 1, yM: 8 }));
  test('a walk: who stands where when, at turns, on the way, in a gap and after the end', () => {
    let legs = addTurn([], { xM: 0, yM: 0 }, false);
    expect([endMs(legs), endMs([])]).toEqual([0, 0]);
    legs = addTurn(legs, { xM: 4, yM: 0 }, false);
    legs = addTurn(legs, { xM: 9, yM: 9 }, true);
    legs = addTurn(legs, { xM: 9, yM: 7 }, false);
    expect(legs.map(({ turns }) => turns.map(({ tMs }) => tMs))).toEqual([
      [0, 4000],
      [4000, 6000],
    ]);
    expect([0, 1000, 4500, 6000, 60_000].map((tMs) => walkerAt(legs, tMs))).toEqual([
      expect.objectContaining({ xM: 0, yM: 0 }),
      expect.objectContaining({ xM: 1, yM: 0 }),
      expect.objectContaining({ xM: 9, yM: 8.5 }),
      expect.objectContaining({ xM: 9, yM: 7 }),
      expect.objectContaining({ xM: 9, yM: 7 }),
    ]);
    expect(cutAt(legs, 5000)).toEqual([legs[0], { turns: [legs[1]!.turns[0], { xM: 9, yM: 8, tMs: 5000 }] }]);
    expect(cutAt(legs, 4000)[0]).toEqual(legs[0]);
    expect(cutAt(legs, 3000)).toEqual([{ turns: [legs[0]!.turns[0], { xM: 3, yM: 0, tMs: 3000 }] }]);
    expect(cutAt(legs, 6000)).toEqual(legs);
    expect(cutAt(legs, 99_000)).toEqual(legs);
    expect(withoutLastTurn(legs)).toEqual([legs[0], { turns: [legs[1]!.turns[0]] }]);
    expect(withoutLastTurn(withoutLastTurn(legs))).toEqual([legs[0]]);
    expect(withoutLastTurn([])).toEqual([]);
  });
});

describe('the simulated site', () => {
  const at = (xM: number, zM = 1) => ({ xM, yM: 0, zM });
  const site: SiteParameters = {
    seed: 5,
    exponentOffset: 0.3,
    wallSigmaDb: 3,
    shadowSigmaDb: 0,
    correlationM: 5,
    receiverOffsetDb: 0,
    neighbours: [],
  };
  const transmitter: Transmitter = {
    bssid: '02:00:00:00:00:01',
    ssid: 'a',
    apId: null,
    channel: { band: '5', primary: 36, widthMhz: 80 },
    txPowerDbm: 10,
    pose: pose(0),
    antenna: omni,
  };
  test('a greater exponent makes it quieter, by 10 times the difference per decade', () => {
    const level = trueLevel(trueMedium(open(), site), site);
    expect(level(transmitter, at(10))).toBeCloseTo(10 - pathLossDb(5210, 10, 2.3), 3);
    expect(level(transmitter, at(100)) - level(transmitter, at(10))).toBeCloseTo(-23, 3);
  });
  test('a neighbour’s access point is heard like any other, and is none of ours', () => {
    const neighbour = {
      bssid: '02:00:00:00:00:09',
      ssid: 'kiosk',
      xM: 20,
      yM: 0,
      heightM: 1,
      band: '5' as const,
      channel: 44,
      widthMhz: 40 as const,
      txPowerDbm: 17,
    };
    const [sent] = neighbourTransmitters([neighbour], 4);
    expect(sent).toMatchObject({
      bssid: neighbour.bssid,
      ssid: 'kiosk',
      apId: null,
      channel: { band: '5', primary: 44, widthMhz: 40 },
      pose: { xM: 20, yM: 0, zM: 5 },
    });
    // 2 dBi along the horizon, 6 dB less straight up and down.
    const level = trueLevel(open(), site);
    expect(level(sent!, at(10, 5))).toBeCloseTo(17 + 2 - pathLossDb(5230, 10, 2), 3);
    expect(level(sent!, at(20, 15)) - level(sent!, at(10, 5))).toBeCloseTo(-6, 1);
    expect(level(sent!, at(20, -5)) - level(sent!, at(10, 5))).toBeCloseTo(-6, 1);
  });
  test('walls are off by amounts of their own, both ways, and never gain', () => {
    const walls = Array.from({ length: 60 }, (_, i) => ({
      id: `w${i}`,
      floorId: 'f',
      axM: i,
      ayM: 0,
      bxM: i,
      byM: 5,
      baseM: 0,
      topM: 3,
      materialId: i === 0 ? 'plasterboard' : 'brick',
    }));
    const medium = mediumOf(panesOf(walls, []), { exponent: 2 });
    const drawn = medium.panes;
    const real = trueMedium(medium, site).panes;
    const off = Array.from(real.lossUnits, (units, i) => units - drawn.lossUnits[i]!);
    expect(off.some((units) => units > 0) && off.some((units) => units < 0)).toBe(true);
    expect(Math.min(...real.lossUnits)).toBeGreaterThanOrEqual(0);
    const meanSquare = off.reduce((sum, units) => sum + (units * 0.05) ** 2, 0) / off.length;
    expect(Math.sqrt(meanSquare)).toBeGreaterThan(2);
    expect(Math.sqrt(meanSquare)).toBeLessThan(4);
    expect(trueMedium(medium, { ...site, wallSigmaDb: 0 }).panes.lossUnits).toEqual(drawn.lossUnits);
  });
  test('shadowing has its spread, and forgets with distance as exp(-d / dCorr)', () => {
    const values: number[] = [];
    const products = [0, 0];
    let count = 0;
    for (let seed = 1; seed <= 300; seed++) {
      const shadow = shadowing(seed, 4, 5);
      const here = shadow(10, 10);
      values.push(here);
      products[0]! += here * shadow(15, 10);
      products[1]! += here * shadow(30, 10);
      count++;
    }
    const variance = values.reduce((sum, value) => sum + value * value, 0) / count;
    expect(Math.sqrt(variance)).toBeGreaterThan(3.4);
    expect(Math.sqrt(variance)).toBeLessThan(4.6);
    expect(products[0]! / count / variance).toBeGreaterThan(0.2);
    expect(products[0]! / count / variance).toBeLessThan(0.55);
    expect(Math.abs(products[1]! / count / variance)).toBeLessThan(0.2);
  });
  test('beacons are decoded in 20 MHz whatever the width: half of them at 3 dB SNR there', () => {
    const standing: Straight = { leg: 0, from: { xM: 0, yM: 0, tMs: 0 }, to: { xM: 0, yM: 0, tMs: DWELL_MS * 2000 } };
    const share = (snrDb: number) =>
      samplesBetween(standing, 0, DWELL_MS * 2000, [{ band: '5', channel: 36 }], [transmitter], () => noiseDbm('5', 20) + snrDb, {
        seed: 1,
        offsetDb: 0,
      }).length / 2000;
    expect(Math.abs(share(3) - 0.5)).toBeLessThan(0.05);
    expect(share(9)).toBeGreaterThan(0.95);
    expect(share(-4)).toBeLessThan(0.05);
  });
});

test('a flat horizontal cut of any number of values is an omni for map and readout alike, tilted or not', () => {
  const cut = [-9, -4, -1, 0, -1, -4, -9];
  const one: Antenna = { peakDbi: 3, horizontalDb: [0], verticalDb: cut };
  const four: Antenna = { ...one, horizontalDb: [0, 0, 0, 0] };
  for (const [east, south, up] of [
    [3, 0, -2],
    [-5, 1, -2],
    [0, 9, 2],
  ] as const)
    expect(gainDbi(four, 40, 12, east, south, up)).toBe(gainDbi(one, 40, 12, east, south, up));
});
