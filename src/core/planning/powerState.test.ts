import { modelOf } from '../radio/catalogue';
import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { seeded } from '../random';
import { BANDS } from '../radio/band';
import { channelOf, offMiddleDb } from '../radio/channel';
import { allowedChannels, allowedWidths } from '../radio/regulation';
import { exposureOf, pairPrices, takenFrom, total } from './exposure';
import { DEFAULT_RULES, type PlanRadio, type Setting } from './problem';
import { OFF_DBM, PowerState } from './powerState';

/** Radios on a square of 12 x 12 points, on channels of any width, some of them alike. */
function randomFloor(seed: number, n: number): PlanRadio[] {
  const uniform = seeded(seed);
  const band = BANDS[Math.floor(uniform() * 3)]!;
  const widths = allowedWidths('US', band);
  const places = Array.from({ length: n }, () => [uniform() * 12, uniform() * 12] as const);
  const lossAt = (x: number, y: number, u: number, v: number) => Math.round(50 + 6 * Math.hypot(x - u, y - v));
  return places.map(([x, y], r) => {
    const list = allowedChannels('US', band, widths[Math.floor(uniform() * widths.length)]!).slice(0, 8);
    const { primary, widthMhz } = list[Math.floor(uniform() * list.length)]!.channel;
    const lossDb = Float32Array.from({ length: 144 }, (_, c) => lossAt(x, y, (c % 12) + 0.5, Math.floor(c / 12) + 0.5));
    return {
      apId: `ap${r}`,
      name: `AP-${r}`,
      model: modelOf('kittiwake-t6'),
      band,
      locked: false,
      forbidden: [],
      before: { on: true, channel: primary, widthMhz, txPowerDbm: Math.floor(uniform() * 20) },
      lossDb,
      cellLossDb: lossDb,
      lossToRadioDb: Float32Array.from(places, ([u, v]) => (u === x && v === y ? 0 : lossAt(x, y, u, v))),
    };
  });
}

describe('powers changed one by one', () => {
  test('after any changes, on and off, cost, areas and coverage are those of the exposure taken afresh; taken back, nothing is left', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 1e6 }),
        fc.constantFrom(-90, -70, -60),
        fc.constantFrom(-67, -80, -95),
        (seed, leastServiceDbm, thresholdDbm) => {
          const uniform = seeded(seed + 1);
          const n = 2 + Math.floor(uniform() * 7);
          const radios = randomFloor(seed, n);
          const service = { leastServiceDbm, thresholdDbm };
          const settings: Setting[] = radios.map((radio) => radio.before);
          const prices = pairPrices(radios, settings);
          const state = new PowerState(
            radios,
            settings.map(({ txPowerDbm }) => txPowerDbm),
            settings.map(() => 25),
            prices,
            service,
            radios.map(({ band }, r) => offMiddleDb(channelOf({ band, ...settings[r]! }))),
          );
          const agree = () => {
            const exposure = exposureOf(radios, settings, service, prices);
            expect(state.cost).toBeCloseTo(total(takenFrom(exposure, exposure.price)), 9);
            expect(state.coveredShare).toBeCloseTo(exposure.covered, 9);
            for (let r = 0; r < n; r++) {
              expect(state.served[r]! / 144).toBeCloseTo(exposure.served[r]!, 9);
              expect(state.paidBy(r)).toBeCloseTo(takenFrom(exposure, exposure.price)[r]!, 9);
            }
          };
          agree();
          for (let k = 0; k < 30; k++) {
            const r = Math.floor(uniform() * n);
            const off = uniform() < 0.2;
            const dbm = off ? OFF_DBM : Math.floor(uniform() * 26);
            const was = state.powers[r]!;
            const [cost, covered] = [state.cost, state.coveredShare];
            state.set(r, dbm);
            if (uniform() < 0.4) {
              state.set(r, was);
              expect([state.cost, state.coveredShare]).toEqual([expect.closeTo(cost, 9), covered]);
            } else settings[r] = { ...settings[r]!, on: !off, txPowerDbm: off ? 0 : dbm };
            agree();
          }
        },
      ),
      { numRuns: 60, seed: 21 },
    );
  });
  test('by hand: two radios, one point each, the second turned up until the first hears it', () => {
    const radio = (lossDb: number[], to: number[]): PlanRadio => ({
      apId: '',
      name: '',
      model: modelOf('heron-c4'),
      band: '5',
      locked: false,
      forbidden: [],
      before: { on: true, channel: 36, widthMhz: 20, txPowerDbm: 10 },
      lossDb: Float32Array.from(lossDb),
      cellLossDb: Float32Array.from(lossDb),
      lossToRadioDb: Float32Array.from(to),
    });
    // At 10 dBm the second is heard at the first's point at -90 dBm, and not by its antenna.
    const radios = [radio([60, 100], [0, 120]), radio([100, 60], [120, 0])];
    const settings = radios.map(({ before }) => before);
    const state = new PowerState(radios, [10, 10], [20, 20], pairPrices(radios, settings), { ...DEFAULT_RULES, leastServiceDbm: -95 }, [0, 0]);
    expect([state.cost, state.coveredShare]).toEqual([0, 1]);
    state.set(1, 17.9);
    expect(state.cost).toBe(0);
    // -82 dBm: airtime on one of two points.
    state.set(1, 18);
    expect(state.cost).toBe(0.5);
    state.set(0, 18);
    expect(state.cost).toBe(1);
    state.set(1, OFF_DBM);
    // The first serves both points now, the far one at -82 dBm, below the threshold.
    expect([state.cost, state.coveredShare, ...state.served]).toEqual([0, 0.5, 2, 0]);
  });
});
