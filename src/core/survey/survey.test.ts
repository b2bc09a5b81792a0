import { describe, expect, test } from '@jest/globals';
import { panesOf } from '../building/panes';
import { materialLossDb, materialOf } from '../building/material';
import { sightLine } from '../propagation/ray';
import { mediumOf } from '../propagation/medium';
import type { Channel } from '../radio/channel';
import { samplesBetween, scanListOf, type Straight } from './receiver';
import { DEFAULT_SETTING, DWELL_MS } from './setting';
import {
  bssidOf,
  builtMedium,
  shadowing,
  trueLevel,
  trueMedium,
  trueTransmitters,
  type Transmitter,
  difficultyOf,
  ofDifficulty,
  plainSite,
} from './site';
import { SAME_SPOT_M, addTurn, cutAt, endMs, lengthM, straightsOf, walkerAt, withoutLastTurn, type Leg, movedTurn, withoutTurn } from './walk';

describe('a walk', () => {
  const p = (xM: number, yM: number) => ({ xM, yM });
  const straight = addTurn(addTurn([], p(0, 0), false), p(10, 0), false);
  test('turns are reached at walking pace', () => {
    expect(straight).toEqual([
      {
        turns: [
          { xM: 0, yM: 0, tMs: 0 },
          { xM: 10, yM: 0, tMs: 10_000 },
        ],
      },
    ]);
    expect(walkerAt(straight, 2500)).toEqual({ xM: 2.5, yM: 0 });
    expect(walkerAt([], 0)).toBeNull();
  });
  test('a resume elsewhere begins a leg; the jump takes no time and has no straight', () => {
    const jumped = addTurn(addTurn(straight, p(30, 5), true), p(30, 9), false);
    expect(jumped).toHaveLength(2);
    expect(jumped[1]!.turns[0]!.tMs).toBe(10_000);
    expect(straightsOf(jumped).map((s) => s.leg)).toEqual([0, 1]);
    expect(lengthM(jumped)).toBe(14);
  });
  test('a resume at the same spot goes on with the leg', () => expect(addTurn(straight, p(10, SAME_SPOT_M / 2), true)).toHaveLength(1));
  test('undoing the last click takes its turn, and a leg of one turn whole', () => {
    expect(withoutLastTurn(straight)[0]!.turns).toHaveLength(1);
    expect(withoutLastTurn(addTurn(straight, p(30, 5), true))).toEqual(straight);
    expect(withoutLastTurn([])).toEqual([]);
  });
  test('a pause cuts what was not reached', () => {
    const cut = cutAt(addTurn(straight, p(10, 10), false), 4000);
    expect(cut).toEqual([
      {
        turns: [
          { xM: 0, yM: 0, tMs: 0 },
          { xM: 4, yM: 0, tMs: 4000 },
        ],
      },
    ]);
    expect(endMs(cut)).toBe(4000);
    expect(cutAt(straight, 10_000)).toEqual(straight);
  });
});

const antenna = { peakDbi: 3, horizontalDb: [0], verticalDb: [0, 0] };
const on = (primary: number): Channel => ({ band: '5', primary, widthMhz: 20 });
const transmitter = (fields: Partial<Transmitter>): Transmitter => ({
  bssid: '02:00:00:00:00:01',
  ssid: 'a',
  apId: 'a',
  channel: on(36),
  txPowerDbm: 15,
  pose: { xM: 0, yM: 0, zM: 3, azimuthDeg: 0, tiltDeg: 0 },
  antenna,
  ...fields,
});
const site = { seed: 3, exponentOffset: 0.1, wallSigmaDb: 2, shadowSigmaDb: 4, correlationM: 5, receiverOffsetDb: -1, neighbours: [] };

describe('the simulated site', () => {
  test('shadowing has the asked deviation and falls off as exp(-d / correlation)', () => {
    // Over 400 seeds at two spots a distance apart: the ensemble is what the model is about.
    const [at0, at5, at10]: number[][] = [[], [], []];
    for (let seed = 1; seed <= 400; seed++) {
      const shadow = shadowing(seed * 7919, 4, 5);
      at0!.push(shadow(10, 10));
      at5!.push(shadow(13, 14));
      at10!.push(shadow(16, 18));
    }
    const mean = (list: number[]) => list.reduce((s, v) => s + v, 0) / list.length;
    const covariance = (a: number[], b: number[]) => mean(a.map((v, i) => v * b[i]!)) - mean(a) * mean(b);
    const sigma = Math.sqrt(covariance(at0!, at0!));
    expect(sigma).toBeGreaterThan(3.6);
    expect(sigma).toBeLessThan(4.4);
    expect(covariance(at0!, at5!) / sigma ** 2).toBeCloseTo(Math.exp(-1), 0);
    expect(Math.abs(covariance(at0!, at5!) / sigma ** 2 - Math.exp(-1))).toBeLessThan(0.15);
    expect(Math.abs(covariance(at0!, at10!) / sigma ** 2 - Math.exp(-2))).toBeLessThan(0.15);
  });
  test('walls deviate by seed, each the same way each time, never below nothing', () => {
    const medium = mediumOf(
      panesOf(
        Array.from({ length: 60 }, (_, i) => ({
          id: `w${i}`,
          floorId: 'f',
          axM: i,
          ayM: 0,
          bxM: i,
          byM: 5,
          baseM: 0,
          topM: 3,
          materialId: 'plasterboard',
        })),
        [],
      ),
      { exponent: 2 },
    );
    const lossUnits = (parameters: typeof site) => trueMedium(medium, parameters).panes.lossUnits;
    const a = lossUnits(site);
    expect([...lossUnits(site)]).toEqual([...a]);
    expect([...lossUnits({ ...site, seed: 4 })]).not.toEqual([...a]);
    expect(a.every((units) => units >= 0)).toBe(true);
    expect(a.filter((units, i) => units !== medium.panes.lossUnits[i]).length).toBeGreaterThan(120);
  });
  test('addresses are locally administered, unicast and differ by band', () => {
    expect(bssidOf('ap-1', '5')).toMatch(/^02(:[0-9a-f]{2}){5}$/);
    expect(new Set((['2.4', '5', '6'] as const).map((band) => bssidOf('ap-1', band))).size).toBe(3);
  });
});

describe('the receiver', () => {
  const straight: Straight = { leg: 0, from: { xM: 1, yM: 0, tMs: 0 }, to: { xM: 21, yM: 0, tMs: 20_000 } };
  const transmitters = [
    transmitter({}),
    transmitter({ bssid: '02:00:00:00:00:02', channel: on(44), pose: { xM: 20, yM: 3, zM: 3, azimuthDeg: 0, tiltDeg: 0 } }),
    transmitter({ bssid: '02:00:00:00:00:03', txPowerDbm: -60 }),
  ];
  const level = trueLevel(trueMedium(mediumOf(panesOf([], []), { exponent: 2.2 }), site), site);
  const levelAt = (t: Transmitter, xM: number, yM: number) => level(t, { xM, yM, zM: 1 });
  const scan = scanListOf(transmitters, { ...DEFAULT_SETTING, bands: ['5'] });
  const listen = (fromMs: number, toMs: number, list = scan) =>
    samplesBetween(straight, fromMs, toMs, list, transmitters, levelAt, { seed: 3, offsetDb: -1 });

  test('two halves give what the whole gives', () => {
    const whole = listen(0, 20_000);
    expect([...listen(0, 7777), ...listen(7777, 20_000)]).toEqual(whole);
    expect(whole.length).toBeGreaterThan(100);
  });
  test('it scans channel after channel, whole dBm, on the way', () => {
    expect(scan).toEqual([
      { band: '5', channel: 36 },
      { band: '5', channel: 44 },
    ]);
    for (const sample of listen(0, 20_000)) {
      expect(Number.isInteger(sample.rssiDbm)).toBe(true);
      expect(sample.channel).toBe([36, 44][Math.round(sample.tMs / DWELL_MS) % 2]);
      expect(sample.xM).toBeCloseTo(1 + sample.tMs / 1000, 2);
    }
  });
  test('what is too weak is not heard; fewer channels give more samples of each', () => {
    const whole = listen(0, 20_000);
    expect(whole.filter((sample) => sample.bssid.endsWith('03')).length).toBe(0);
    const only36 = listen(0, 20_000, [{ band: '5', channel: 36 }]);
    expect(only36.length).toBeGreaterThan(1.6 * whole.filter((sample) => sample.channel === 36).length);
  });
  test("the mean of many samples is the true level with the receiver's offset", () => {
    const still: Straight = { leg: 0, from: { xM: 5, yM: 0, tMs: 0 }, to: { xM: 5, yM: 0, tMs: 120_000 } };
    const samples = samplesBetween(still, 0, 120_000, [{ band: '5', channel: 36 }], [transmitters[0]!], levelAt, {
      seed: 3,
      offsetDb: -1,
    });
    const mean = samples.reduce((s, sample) => s + sample.rssiDbm, 0) / samples.length;
    expect(Math.abs(mean - (levelAt(transmitters[0]!, 5, 0) - 1))).toBeLessThan(0.35);
  });
});

test('legs survive as plain data', () => {
  const legs: Leg[] = addTurn([], { xM: 1, yM: 2 }, false);
  expect(JSON.parse(JSON.stringify(legs))).toEqual(legs);
});

describe('what is not as drawn on a simulated site', () => {
  const at = (xM: number) => ({ xM, yM: 0, zM: 3, azimuthDeg: 0, tiltDeg: 0 });
  const ours = [
    transmitter({ apId: 'a', bssid: '1' }),
    transmitter({ apId: 'b', bssid: '2', pose: at(9) }),
    transmitter({ apId: null, bssid: '3', pose: at(5) }),
  ];
  test('one sends less, one hangs elsewhere, two hang in each other’s place; what is of nobody stays', () => {
    const faults = [
      { kind: 'level', apId: 'a', offDb: -9 },
      { kind: 'elsewhere', apId: 'b', xM: 4, yM: 2 },
      { kind: 'level', apId: 'gone', offDb: 50 },
    ] as const;
    expect(trueTransmitters(ours, faults).map(({ txPowerDbm, pose: { xM, yM } }) => [txPowerDbm, xM, yM])).toEqual([
      [6, 0, 0],
      [15, 4, 2],
      [15, 5, 0],
    ]);
    expect(trueTransmitters(ours, [{ kind: 'swapped', apIds: ['a', 'b'] }]).map(({ pose }) => pose.xM)).toEqual([9, 0, 5]);
    // Where one of the two is not heard here the other stays.
    expect(trueTransmitters(ours, [{ kind: 'swapped', apIds: ['a', 'gone'] }]).map(({ pose }) => pose.xM)).toEqual([0, 9, 5]);
  });
  test('one hangs lower, one is not plugged in', () => {
    const faults = [
      { kind: 'height', apId: 'a', offM: -1.5 },
      { kind: 'unplugged', apId: 'b' },
    ] as const;
    expect(trueTransmitters(ours, faults).map(({ bssid, pose }) => [bssid, pose.zM])).toEqual([
      ['1', 1.5],
      ['3', 3],
    ]);
  });
  test('a difficulty sets how much differs and nothing else; what is changed by hand is of its own', () => {
    const own = { ...plainSite(7), faults: [{ kind: 'unplugged' as const, apId: 'a' }] };
    expect([own.seed, difficultyOf(own)]).toEqual([7, 'usual']);
    const hard = ofDifficulty(own, 'hard');
    expect([difficultyOf(hard), hard.seed, hard.faults]).toEqual(['hard', 7, own.faults]);
    expect(hard.shadowSigmaDb).toBeGreaterThan(own.shadowSigmaDb);
    expect(difficultyOf({ ...hard, wallSigmaDb: 3.9 })).toBeNull();
    expect(Object.keys(hard)).not.toContain('label');
  });
  test('a wall that nobody drew costs what its material costs, on its storey; one that is not there nothing', () => {
    const wall = { id: 'w', floorId: 'f', axM: 3, ayM: -5, bxM: 3, byM: 5, baseM: 0, topM: 3, materialId: 'brick' };
    const drawn = mediumOf(panesOf([wall], [], 0, materialOf, 3), { exponent: 2 });
    const lossDb = (medium: typeof drawn, zM = 1) => sightLine(medium, { ...at(0), zM }, antenna, '5', { xM: 9, yM: 0.1, zM }).wallLossDb;
    const hidden = { kind: 'obstacle', axM: 6, ayM: -5, bxM: 6, byM: 5, materialId: 'concrete' } as const;
    const built = builtMedium(drawn, [hidden], 0, 3);
    expect(lossDb(built) - lossDb(drawn)).toBeCloseTo(materialLossDb('concrete', '5'), 6);
    expect(lossDb(built, 4)).toBe(0);
    const upstairs = builtMedium(drawn, [hidden], 4, 7);
    expect(lossDb(upstairs, 5)).toBeCloseTo(materialLossDb('concrete', '5'), 6);
    expect(lossDb(upstairs)).toBeCloseTo(lossDb(drawn), 6);
    expect(lossDb(builtMedium(drawn, [{ kind: 'no-wall', wallId: 'w' }], 0, 3))).toBe(0);
    expect(builtMedium(drawn, [], 0, 3)).toBe(drawn);
  });
});

describe('turns of a walk that are moved or taken away', () => {
  const turn = (xM: number, tMs: number) => ({ xM, yM: 0, tMs });
  const legs: Leg[] = [{ turns: [turn(0, 0), turn(5, 5000), turn(5, 9000), turn(9, 13_000)] }, { turns: [turn(1, 13_000), turn(2, 14_000)] }];
  test('a turn goes elsewhere at its time; where it stood still it stands there, and other legs stay', () => {
    const moved = movedTurn(legs, 0, 1, { xM: 6, yM: 3 });
    expect(moved[0]!.turns.map(({ xM, yM, tMs }) => [xM, yM, tMs])).toEqual([
      [0, 0, 0],
      [6, 3, 5000],
      [6, 3, 9000],
      [9, 0, 13_000],
    ]);
    expect(moved[1]).toBe(legs[1]);
    expect(movedTurn(legs, 0, 3, { xM: 5, yM: 0 })[0]!.turns.map(({ xM }) => xM)).toEqual([0, 5, 5, 5]);
  });
  test('without a turn the way goes straight on; a leg keeps its last two', () => {
    expect(withoutTurn(legs, 0, 0)[0]!.turns.map(({ tMs }) => tMs)).toEqual([5000, 9000, 13_000]);
    expect(withoutTurn(legs, 1, 1)).toBe(legs);
  });
});
