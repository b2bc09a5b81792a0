import { describe, expect, test } from '@jest/globals';
import { SITE_KINDS, fitOfSite, surveyedSite, unheardOn } from '../../../../bench/sites';
import { normal, seeded } from '../../random';
import type { Visit } from '../heard';
import { halfLostDbm } from '../receiver';
import { normalShare } from './normal';
import { unheardOf } from './readings';
import { estimatesAt } from './estimates';
import { ownGainDb, learnedMedium } from './surveyed';
import { predictorOf } from './trend';
import { saidByUnheard, withUnheard } from './unheard';

describe('where a radio was listened for and not heard', () => {
  const sample = { leg: 0, tMs: 0, xM: 0.5, yM: 0.5, bssid: 'b', ssid: 's', apId: 'a', band: '5' as const, channel: 36, widthMhz: 20, rssiDbm: -80 };
  const visit = (fields: Partial<Visit>): Visit => ({
    leg: 0,
    tMs: 0,
    xM: 5.2,
    yM: 0.5,
    band: '5',
    channel: 36,
    ssid: '',
    hearsFromDbm: -90,
    ...fields,
  });
  const radios = [
    { apId: 'a', band: '5' as const },
    { apId: 'never', band: '5' as const },
  ];
  test('squares in which it was listened for on its channel, at their mean place; of who was never heard nothing follows', () => {
    expect(unheardOf([sample], [visit({}), visit({ xM: 5.6, hearsFromDbm: -88 })], radios)).toEqual([
      { radio: 0, xM: expect.closeTo(5.4, 9), yM: 0.5, hearsFromDbm: -89 },
    ]);
  });
  test('not on another channel, nor another network, nor where half of its beacons came', () => {
    const spots = (visits: Visit[], samples = [sample]) => unheardOf(samples, visits, radios).length;
    expect(spots([visit({ channel: 40 })])).toBe(0);
    expect(spots([visit({ band: '2.4' })])).toBe(0);
    expect(spots([visit({ ssid: 'other' })])).toBe(0);
    expect(spots([visit({ ssid: 's' })])).toBe(1);
    const there = visit({ xM: 0.5 });
    expect(spots([there, there])).toBe(0);
    expect(spots([there, there, there])).toBe(1);
    expect(spots([there, there], [])).toBe(0);
    // Each leg is one of its own: heard on the first, not on the second; and not heard at one spot on two legs is told twice.
    expect(spots([there, visit({ xM: 0.5, leg: 1 })])).toBe(1);
    expect(spots([visit({}), visit({ leg: 1 })])).toBe(2);
  });
  test('looks for a network by its name count together where they were taken in one square', () => {
    const looks = [0.1, 0.4, 0.8].map((more) => visit({ xM: 0.1 + more, ssid: 's' }));
    // One beacon of three is less than half; of two it is half.
    expect(unheardOf([sample], looks, radios)).toEqual([{ radio: 0, xM: expect.closeTo((0.2 + 0.5 + 0.9) / 3, 12), yM: 0.5, hearsFromDbm: -90 }]);
    expect(unheardOf([sample], looks.slice(1), radios)).toEqual([]);
  });
  test('of a radio that was heard on two channels only on legs on which it was heard', () => {
    const samples = [sample, { ...sample, leg: 1, channel: 44 }];
    const at = (leg: number, channel: number) => unheardOf(samples, [visit({ leg, channel })], radios).length;
    expect([at(0, 36), at(0, 44), at(1, 44), at(1, 36), at(2, 36), at(2, 44)]).toEqual([1, 0, 1, 0, 0, 0]);
  });
});

describe('what not hearing says', () => {
  test('with nothing expected more than that half is lost: the moments of a normal cut off softly', () => {
    // Expected at the very level: a = 0, r = 2 phi(0) = 0.7979; spread 2.9, v 16: D^2 = 24.41.
    const said = saidByUnheard(-90, -90.5, 16)!;
    const d = Math.sqrt(24.41);
    const mean = -90.5 - (16 / d) * 0.797885;
    const variance = 16 - (256 / 24.41) * 0.797885 ** 2;
    // Taken with what was expected it gives that mean and variance.
    const together = 1 / (1 / 16 + 1 / said.noiseDb2);
    expect(together).toBeCloseTo(variance, 4);
    expect(together * (-90.5 / 16 + said.dbm / said.noiseDb2)).toBeCloseTo(mean, 4);
  });
  test('it agrees with brute force: levels drawn as expected, those that were not heard kept', () => {
    const uniform = seeded(4);
    const [f, v, from] = [-86, 25, -90];
    let [weights, sum, squares] = [0, 0, 0];
    for (let i = 0; i < 200_000; i++) {
      const level = f + 5 * normal(uniform);
      // Lost with the chance that a normal threshold half a dB below lies above it.
      const lost = normalShare((from - 0.5 - level) / 2.9);
      weights += lost;
      sum += lost * level;
      squares += lost * level * level;
    }
    const mean = sum / weights;
    const said = saidByUnheard(from, f, v)!;
    const variance = 1 / (1 / v + 1 / said.noiseDb2);
    expect(variance * (f / v + said.dbm / said.noiseDb2)).toBeCloseTo(mean, 1);
    expect(variance).toBeCloseTo(squares / weights - mean * mean, 0);
  });
  test('far below it is no news, far above it is a lost beacon', () => {
    expect(saidByUnheard(-90, -130, 16)).toBeNull();
    expect(saidByUnheard(-90, -60, 16)).toBeNull();
  });
});

test('knowing where a radio was not heard corrects the map below what the receiver hears', () => {
  let [without, withIt, count] = [0, 0, 0];
  for (const seed of [3, 4]) {
    const site = surveyedSite({ ...SITE_KINDS[2]!, name: 'long and quiet', sendsDbm: 2 }, seed);
    const heardOnly = fitOfSite(site);
    const fit = withUnheard(heardOnly, unheardOn(site));
    expect(fit.readings.length).toBeGreaterThan(fit.heard);
    expect(fit.heard).toBe(heardOnly.readings.length);
    site.radios.forEach((radio, r) => {
      const offDb = ([heardOnly, fit] as const).map((of) => {
        const [medium, gainDb, { leftDb }] = [learnedMedium(of), ownGainDb(of, r), estimatesAt(of, r, site.heldOut)];
        return site.heldOut.map((at, i) => predictorOf(medium, radio)(at) + gainDb + leftDb[i]! - at.levelsDbm[r]!);
      });
      site.heldOut.forEach(({ levelsDbm }, i) => {
        const below = halfLostDbm('5') - levelsDbm[r]!;
        if (below < 0 || below > 12) return;
        without += offDb[0]![i]! ** 2;
        withIt += offDb[1]![i]! ** 2;
        count++;
      });
    });
  }
  expect(count).toBeGreaterThan(100);
  expect(Math.sqrt(withIt / count)).toBeLessThan(0.85 * Math.sqrt(without / count));
});

test('left out is only what says nothing', () => {
  const site = surveyedSite({ ...SITE_KINDS[2]!, name: 'long and quiet', sendsDbm: 2 }, 3);
  // Fewer than are ever taken.
  const unheard = unheardOn(site).filter((_, i) => i % 6 === 0);
  expect(unheard.length).toBeLessThan(3000);
  const fit = withUnheard(fitOfSite(site), unheard);
  const keyOf = ({ radio, xM, yM }: { radio: number; xM: number; yM: number }) => `${radio}/${xM}/${yM}`;
  const taken = new Set(fit.readings.slice(fit.heard).map(keyOf));
  const left = unheard.filter((spot) => !taken.has(keyOf(spot)));
  expect(left.length).toBeGreaterThan(100);
  for (const { radio, xM, yM, hearsFromDbm } of left) {
    const { leftDb, varianceDb2 } = estimatesAt(fit, radio, [{ xM, yM }]);
    const levelDbm = predictorOf(learnedMedium(fit), site.radios[radio]!)({ xM, yM, zM: fit.zM }) + ownGainDb(fit, radio) + leftDb[0]!;
    expect(saidByUnheard(hearsFromDbm, levelDbm, varianceDb2[0]!)).toBeNull();
  }
});

test('a spot does not vouch for itself: alone it says in the end what it said at first', () => {
  const site = surveyedSite({ ...SITE_KINDS[2]!, name: 'long and quiet', sendsDbm: 2 }, 3);
  const heardOnly = fitOfSite(site);
  const saidAtFirst = (spot: ReturnType<typeof unheardOn>[number]) => {
    const { radio, xM, yM, hearsFromDbm } = spot;
    const { leftDb, varianceDb2 } = estimatesAt(heardOnly, radio, [{ xM, yM }]);
    const row = heardOnly.trend.rowAt(radio, { xM, yM, zM: heardOnly.zM });
    const levelDbm = row.columns.reduce((sum, c, k) => sum + heardOnly.estimates[c]! * row.slopes[k]!, row.baseDbm) + leftDb[0]!;
    return saidByUnheard(hearsFromDbm, levelDbm, varianceDb2[0]!);
  };
  // Such as say much: their own reading would count for most.
  const telling = unheardOn(site).filter((spot) => (saidAtFirst(spot)?.noiseDb2 ?? Infinity) < 25);
  expect(telling.length).toBeGreaterThan(3);
  for (const spot of telling.slice(0, 4)) {
    const { dbm, noiseDb2 } = saidAtFirst(spot)!;
    const fit = withUnheard(heardOnly, [spot]);
    expect(fit.readings.length).toBe(fit.heard + 1);
    // But for what it taught of the building, which is little.
    expect(Math.abs(fit.readings[fit.heard]!.dbm - dbm)).toBeLessThan(0.5);
    expect(Math.abs(fit.noise[fit.heard]! / noiseDb2 - 1)).toBeLessThan(0.1);
  }
});
