import { describe, expect, test } from '@jest/globals';
import { burstsIn, type Burst, type Frame, type Look } from './bursts';
import { identify } from './identify';
import { dutyOf, lockOf, timeLockOf } from './profiles';
import { LOOK_24, sceneOf } from './scenes.testing';
import { bell, block } from './shape';
import { SIGNAL_KINDS } from './signal';
import type { Received } from './sweep';

const look: Look = { startMhz: 2400, stopMhz: 2500, stepMhz: 0.5, everyUs: 50, forUs: 200_000 };
/** A block of 4 MHz, 2 ms of every 20. */
const train = (levelDbm: number): Received => ({
  levelDbm,
  pieces: () =>
    Array.from({ length: 10 }, (_, n) => ({ fromUs: 5000 + 20_000 * n, toUs: 7000 + 20_000 * n, fromMhz: 2440, toMhz: 2440, shape: block(4) })),
});

describe('bursts', () => {
  test('as many as there were, as long, as wide, as strong and where they were', () => {
    const bursts = burstsIn(look, [train(-50)], [], 0, 1).filter(({ levelDbm }) => levelDbm > -70);
    expect(bursts).toHaveLength(10);
    for (const burst of bursts) {
      expect(burst.lengthUs).toBe(2000);
      // Its steep sides fall by 10 dB within a cell of 0.5 MHz at each end.
      expect(burst.widthMhz).toBeGreaterThanOrEqual(4);
      expect(burst.widthMhz).toBeLessThanOrEqual(5);
      expect(burst.centreMhz).toBeCloseTo(2440, 0);
      expect(burst.levelDbm).toBeCloseTo(-50, 0);
      expect(burst.cut).toBe(false);
    }
    expect(dutyOf(bursts, look)).toBeCloseTo(0.1, 2);
  });
  test('what a decoded frame hides is unknown: a burst beside it is cut, one behind it goes on', () => {
    const over: Frame = { fromUs: 5500, toUs: 6500, fromMhz: 2430, toMhz: 2450 };
    const [first] = burstsIn(look, [train(-50)], [over], 0, 1).filter(({ levelDbm }) => levelDbm > -70);
    expect(first!.lengthUs).toBe(2000);
    const hidden = burstsIn(look, [train(-50)], [{ fromUs: 0, toUs: 200_000, fromMhz: 2400, toMhz: 2500 }], 0, 1);
    expect(hidden).toEqual([]);
    const [cut] = burstsIn(look, [train(-50)], [{ fromUs: 6000, toUs: 9000, fromMhz: 2430, toMhz: 2450 }], 0, 1).filter(
      ({ levelDbm }) => levelDbm > -70,
    );
    expect(cut!.cut).toBe(true);
  });
  test('a drifting one says how far it went', () => {
    const drifting: Received = { levelDbm: -50, pieces: () => [{ fromUs: 50_000, toUs: 60_000, fromMhz: 2440, toMhz: 2450, shape: bell(3) }] };
    const [one] = burstsIn(look, [drifting], [], 0, 1).filter(({ levelDbm }) => levelDbm > -70);
    expect(one!.wentMhz).toBeGreaterThan(7);
    expect(one!.wentMhz).toBeLessThan(10.5);
  });
  test('noise alone is nothing', () => expect(burstsIn(look, [], [], 0, 1)).toEqual([]));
});

describe('rhythm', () => {
  test('1 on one place of a cycle, 0 on all', () => {
    expect(lockOf([5, 20_005, 40_005], 20_000)).toBeCloseTo(1, 9);
    expect(lockOf([0, 5000, 10_000, 15_000], 20_000)).toBeCloseTo(0, 9);
  });
  test('what is on for a share s of each cycle comes to sin(pi s) / (pi s)', () => {
    const bursts = [0, 1, 2].map((n) => ({ fromUs: 20_000 * n + 1234, lengthUs: 8800 }) as never);
    expect(timeLockOf(bursts, 20_000)).toBeCloseTo(Math.sin(Math.PI * 0.44) / (Math.PI * 0.44), 6);
  });
});

describe('what is it?', () => {
  test.each(SIGNAL_KINDS)(
    '%s is told beside networks, and nothing else is',
    (kind) => {
      for (const seed of [1, 2, 3]) {
        const scene = sceneOf(kind, seed);
        const found = identify(burstsIn(scene.look, scene.sources, scene.frames, scene.fromUs, seed), scene.look);
        expect(found.map((one) => one.kind)).toContain(kind);
        expect(found.filter((one) => one.kind !== kind && one.kind !== 'not known' && one.likelihood > 0.8)).toEqual([]);
      }
    },
    60_000,
  );
  test('networks alone are no interferer', () => {
    for (const seed of [1, 2, 4]) {
      const scene = sceneOf(null, seed);
      expect(identify(burstsIn(scene.look, scene.sources, scene.frames, scene.fromUs, seed), scene.look)).toEqual([]);
    }
  });
  test('what no kind shows is said to be not known', () => {
    // 9 MHz wide, 20 ms of every 70, without drift.
    const strange: Received = {
      levelDbm: -45,
      pieces: () =>
        Array.from({ length: 14 }, (_, n) => ({ fromUs: 70_000 * n, toUs: 70_000 * n + 20_000, fromMhz: 2440, toMhz: 2440, shape: block(9) })),
    };
    const found = identify(burstsIn(LOOK_24, [strange], [], 0, 1), LOOK_24);
    expect(found.map(({ kind }) => kind)).toEqual(['not known']);
    expect(found[0]!.duty).toBeCloseTo(0.28, 1);
    expect(found[0]!.centreMhz).toBeCloseTo(2440, 0);
  });
  test('what is far weaker among the frequencies of a signal is its edge, whichever of the two was told first', () => {
    const burst = (fields: Partial<Burst>): Burst => ({
      fromUs: 0,
      lengthUs: 6000,
      centreMhz: 2455,
      wentMhz: 6,
      widthMhz: 8,
      flat: 0.4,
      levelDbm: -58,
      cut: false,
      ...fields,
    });
    // In step with the mains, but for some: less sure than what is without a fault.
    const oven = Array.from({ length: 40 }, (_, n) => burst({ fromUs: 20_000 * n + (n % 3) * 4500 }));
    const told = (levelDbm: number, centreMhz = 2455) => {
      const faint = [3100, 190_300, 333_900, 570_700, 811_200].map((fromUs) =>
        burst({ fromUs, lengthUs: 2000, centreMhz, wentMhz: 0, widthMhz: 2.4, levelDbm }),
      );
      return identify([...oven, ...faint], LOOK_24).map(({ kind }) => kind);
    };
    expect(told(-87)).toEqual(['oven']);
    // As strong as that, or elsewhere, it is something of its own.
    expect(told(-70)).toEqual(['sensor', 'oven']);
    expect(told(-87, 2480)).toEqual(['sensor', 'oven']);
  });
});
