import { expect, test } from '@jest/globals';
import { passesTrigger, SHUT, type Trigger } from './trigger';

/** Times of the sweeps that are taken, of sweeps at 0, 50, 100 ... ms. */
function taken(trigger: Partial<Trigger>, ...dbm: number[]): number[] {
  let gate = SHUT;
  return dbm.flatMap((level, i) => {
    const answer = passesTrigger({ levelDbm: -60, delayMs: 0, goesOnMs: 0, ...trigger }, gate, 50 * i, Float32Array.of(-95, level));
    gate = answer.gate;
    return answer.taken ? [50 * i] : [];
  });
}

test('a sweep at the level or above is taken, and no other', () => {
  expect(taken({}, -90, -60, -60.5, -40, -90)).toEqual([50, 150]);
});
test('it goes on for as long as it is told, from the last sweep that met the level', () => {
  expect(taken({ goesOnMs: 100 }, -90, -50, -90, -90, -90, -90)).toEqual([50, 100, 150]);
  expect(taken({ goesOnMs: 99 }, -50, -90, -90)).toEqual([0, 50]);
  expect(taken({ goesOnMs: 100 }, -50, -50, -90, -90, -90)).toEqual([0, 50, 100, 150]);
});
test('with a delay it begins that much later: what is in between is not taken, the level itself neither', () => {
  expect(taken({ delayMs: 100, goesOnMs: 50 }, -50, -90, -90, -90, -90)).toEqual([100, 150]);
  // No sweep begins at 120 ms: the next is taken.
  expect(taken({ delayMs: 120 }, -50, -90, -90, -90, -90)).toEqual([150]);
  expect(taken({ delayMs: 120, goesOnMs: 50 }, -50, -90, -90, -90, -90)).toEqual([150]);
});
test('where two delays are over at once, it goes on from the later', () => {
  const trigger = { levelDbm: -60, delayMs: 30, goesOnMs: 80 };
  let gate = SHUT;
  const at = (ms: number, dbm: number) => {
    const answer = passesTrigger(trigger, gate, ms, Float32Array.of(dbm));
    gate = answer.gate;
    return answer.taken;
  };
  expect([at(0, -50), at(20, -50), at(100, -90), at(130, -90), at(131, -90)]).toEqual([false, false, true, true, false]);
});
test('what meets the level while one is awaited is not forgotten', () => {
  expect(taken({ delayMs: 100 }, -50, -90, -50, -90, -90, -90)).toEqual([100, 200]);
});
