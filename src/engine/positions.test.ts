import { describe, expect, test } from '@jest/globals';
import { modelOf } from '@/core/radio/catalogue';
import { noiseDbm } from '@/core/radio/noise';
import { linkOf } from '@/core/fields/quality';
import { accessPointsOf, floorsOf, variantsOf } from '@/core/design/design';
import { IDLE_ROUNDS } from '@/core/planning/positions/positions';
import { BANDS } from '@/core/radio/band';
import { asideOf, candidatesOn, coarseScene, demandsOn, peopleOn, placedAt, standingIn } from './candidates';
import { enginePoolHere } from './here';
import { HANDLERS } from './handlers';
import { design } from './museum.testing';
import type { Demand, HungRadio, Result } from './protocol';
import { floorScene, poseOf } from './scene';

const floors = floorsOf(design);
const upper = floors[2]!;
const scene = coarseScene(upper, floorScene(design, upper));
const variantId = variantsOf(design).at(-1)!.id;
const aps = accessPointsOf(design, upper.id, variantId);
const dunlin = { model: modelOf('dunlin-c2'), txPowerDbm: 14, widthMhz: 20 as const };
const hung: HungRadio[] = standingIn(design, aps, '5', [upper]).map(({ ap: _ap, ...radio }) => ({ ...radio, lossDb: [null] }));
const question = { scenes: [scene], band: '5' as const, demands: demandsOn(design, upper, scene) };
const ask = (fields: object) =>
  enginePoolHere.call('positions', { ...question, candidates: [], standing: [], crowd: null, seed: 1, idleRounds: IDLE_ROUNDS.quick, ...fields });

describe('what is asked of a spot', () => {
  const demand = (of: Demand['ask']): Demand => ({ ...question.demands[0]!, name: 'asked', ask: of, share: 0.9 });
  const shareOf = async (of: Demand['ask'], widthMhz: 20 | 40 | 80 = 20): Promise<number> => {
    const one = hung.slice(0, 1).map((radio) => ({ ...radio, widthMhz }));
    return (await enginePoolHere.call('met', { ...question, demands: [demand(of)], hung: one })).groups[0]!.share;
  };
  test('an SNR is a level over the noise of the channel, a rate the level of the link that both ends have', async () => {
    const { receiver } = scene;
    const level = async (dbm: number) => shareOf({ what: 'level', dbm });
    expect(await shareOf({ what: 'snr', db: 30 })).toBe(await level(noiseDbm('5', 20, receiver.noiseFigureDb) + 30));
    expect(await shareOf({ what: 'snr', db: 30 }, 80)).toBe(await level(noiseDbm('5', 80, receiver.noiseFigureDb) + 30));
    expect(await shareOf({ what: 'snr', db: 30 }, 80)).toBeLessThan(await shareOf({ what: 'snr', db: 30 }));
    const { model } = hung[0]!;
    const { steps, noiseDownDbm } = linkOf({ channel: { band: '5', widthMhz: 40 }, streams: 4, generation: model.generation }, receiver);
    const from = noiseDownDbm + steps.find(({ mbps }) => mbps >= 300)!.snrDb;
    expect(await shareOf({ what: 'rate', mbps: 300 }, 40)).toBe(await level(from));
    expect(await shareOf({ what: 'rate', mbps: 300 }, 40)).toBeGreaterThan(0);
    expect(await shareOf({ what: 'rate', mbps: 1e6 })).toBe(0);
  });
  test('losses that somebody has are those that would be computed', async () => {
    const known = hung.map((radio) => ({
      ...radio,
      lossDb: [
        (HANDLERS.lossField({ scene, model: radio.model, pose: radio.pose, channels: [] }) as Result<'lossField'>).lossDb[BANDS.indexOf('5')]!,
      ],
    }));
    expect(await enginePoolHere.call('met', { ...question, hung: known })).toEqual(await enginePoolHere.call('met', { ...question, hung }));
  });
});

describe('floors together', () => {
  test('what hangs on one is counted on another, through the slab; a candidate belongs to its floor', async () => {
    const gallery = floors[1]!;
    const scenes = [coarseScene(gallery, floorScene(design, gallery)), scene];
    const demands = [...demandsOn(design, gallery, scenes[0]!, 0, true), ...demandsOn(design, upper, scene, 1, true)];
    expect(demands.map(({ zone }) => zone)).toContain('Gallery level, Galleries');
    const both = await enginePoolHere.call('met', {
      scenes,
      band: '5',
      demands,
      hung: hung.map((radio) => ({ ...radio, lossDb: [null, null], scene: 1 })),
    });
    const alone = await enginePoolHere.call('met', { ...question, hung });
    expect(both.groups.slice(-alone.groups.length).map(({ share }) => share)).toEqual(alone.groups.map(({ share }) => share));
    const below = both.groups.find(({ zone, name }) => zone === 'Gallery level, Galleries' && name.startsWith('rate'))!;
    expect(below.share).toBeGreaterThan(0);
    expect(below.share).toBeLessThan(0.9);
  });
  test('people ask for more than coverage does, and the busiest radio keeps within its airtime', async () => {
    const candidates = placedAt(upper, candidatesOn(design, upper), [dunlin], '5');
    const people = peopleOn(design, upper, scene);
    expect(people.length).toBeGreaterThan(0);
    const bare = await ask({ candidates });
    const crowded = await ask({ candidates, crowd: { people, mbpsEach: 15, airtimeShare: 0.4 } });
    expect(bare.load).toBeNull();
    expect(crowded.borne).toBe(true);
    expect(crowded.count!).toBeGreaterThan(bare.count!);
    expect(crowded.bound).toBeLessThanOrEqual(crowded.count!);
    expect(crowded.load!.busiest).toBeLessThanOrEqual(0.4 + 1e-6);
    for (const { share, owed } of crowded.groups) expect(share).toBeGreaterThanOrEqual(owed - 1e-9);
    const beyond = await ask({ candidates, crowd: { people, mbpsEach: 1000, airtimeShare: 0.05 } });
    expect(beyond.borne).toBe(false);
  }, 120_000);
  test('a directional model is tried in four ways, one at a place; of two models each spot has one', () => {
    const spots = candidatesOn(design, upper).slice(0, 3);
    const patch = { model: modelOf('gannet-d2'), txPowerDbm: 14, widthMhz: 20 as const };
    const placed = placedAt(upper, spots, [dunlin, patch], '5', 1, 10);
    expect(placed).toHaveLength(15);
    expect(placed.map(({ place }) => place)).toEqual([10, 10, 10, 10, 10, 11, 11, 11, 11, 11, 12, 12, 12, 12, 12]);
    expect(placed.slice(0, 5).map(({ pose, model }) => `${model.id} ${pose.azimuthDeg}`)).toEqual([
      'dunlin-c2 0',
      'gannet-d2 0',
      'gannet-d2 90',
      'gannet-d2 180',
      'gannet-d2 270',
    ]);
    expect(new Set(placed.slice(0, 5).map(({ kind }) => kind)).size).toBe(5);
    expect(placed.every((one) => one.scene === 1)).toBe(true);
  });
});

describe('what hangs', () => {
  test('what can go goes without anything falling below what is owed, or below what it is', async () => {
    const more = placedAt(
      upper,
      candidatesOn(design, upper).filter((_, i) => i % 25 === 0),
      [dunlin],
      '5',
    ).map((radio): HungRadio => ({ ...radio, locked: false, lossDb: [null] }));
    const all = [...hung.map((radio) => ({ ...radio, locked: true })), ...more];
    const [today, { goes, groups }] = [
      await enginePoolHere.call('met', { ...question, hung: all }),
      await enginePoolHere.call('thinOut', { ...question, hung: all, seed: 1 }),
    ];
    expect(goes.length).toBeGreaterThan(0);
    expect(goes.every((j) => j >= hung.length)).toBe(true);
    const then = await enginePoolHere.call('met', { ...question, hung: all.filter((_, j) => !goes.includes(j)) });
    expect(groups).toEqual(then.groups);
    then.groups.forEach(({ share, owed }, g) => expect(share).toBeGreaterThanOrEqual(Math.min(owed, today.groups[g]!.share) - 1e-9));
    // What one carries alone is what falls when it goes alone.
    const without = await enginePoolHere.call('met', { ...question, hung: all.slice(1) });
    today.lost[0]!.forEach((fall, g) => expect(today.groups[g]!.share - fall).toBeCloseTo(without.groups[g]!.share, 9));
  });
  test('what moves a little aside serves more, where it was said to', async () => {
    const aside = aps.flatMap((ap, of) =>
      asideOf(design, upper, ap).map(({ xM, yM, movedM }) => {
        const { lossDb: _loss, locked: _locked, ...radio } = hung[of]!;
        return { ...radio, pose: { ...poseOf(design, ap), xM, yM }, of, movedM };
      }),
    );
    expect(Math.max(...aside.map(({ movedM }) => movedM))).toBe(3);
    for (const { pose, of, movedM } of aside) expect(Math.hypot(pose.xM - aps[of]!.xM, pose.yM - aps[of]!.yM)).toBeCloseTo(movedM, 1);
    const { moves, groups } = await enginePoolHere.call('moveAside', { ...question, hung, aside });
    expect(moves.length).toBeGreaterThan(0);
    expect(new Set(moves.map((k) => aside[k]!.of)).size).toBe(moves.length);
    const moved = hung.map((radio, j) => {
      const to = moves.find((k) => aside[k]!.of === j);
      return to === undefined ? radio : { ...radio, pose: aside[to]!.pose };
    });
    const [was, then] = [await enginePoolHere.call('met', { ...question, hung }), await enginePoolHere.call('met', { ...question, hung: moved })];
    groups.forEach(({ share }, g) => expect(share).toBeCloseTo(then.groups[g]!.share, 6));
    const sum = (all: typeof was) => all.groups.reduce((total, { share }) => total + share, 0);
    expect(sum(then)).toBeGreaterThan(sum(was));
  });
});
