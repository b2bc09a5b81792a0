import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { moved, residualsOf, similarityOf, type Pair } from './similarity';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const p = (xM: number, yM: number) => ({ xM, yM });

describe('bringing pairs together', () => {
  test('a turn, a shift and a scale are found again', () => {
    fc.assert(
      fc.property(number(0.2, 5), number(-179, 179), number(-100, 100), number(-100, 100), (scale, turnDeg, dxM, dyM) => {
        const to = { scale, turnDeg, dxM, dyM };
        const pairs = [p(0, 0), p(10, 1), p(3, 8)].map((from) => ({ from, to: moved(to, from) }));
        const found = similarityOf(pairs, true);
        expect(found.scale).toBeCloseTo(scale, 9);
        expect(Math.cos(((found.turnDeg - turnDeg) * Math.PI) / 180)).toBeCloseTo(1, 12);
        expect(Math.max(...residualsOf(found, pairs))).toBeLessThan(1e-9);
      }),
    );
  });
  test('clockwise as the plan is seen', () => {
    const found = similarityOf(
      [
        { from: p(0, 0), to: p(5, 5) },
        { from: p(2, 0), to: p(5, 7) },
      ],
      false,
    );
    expect(found.turnDeg).toBeCloseTo(90, 9);
    expect(found).toMatchObject({ scale: 1, dxM: expect.closeTo(5, 9), dyM: expect.closeTo(5, 9) });
  });
  test('without a scale what does not fit is shared out and told', () => {
    // 10 m here, 10.4 m there: each end is 0.2 m off.
    const pairs: Pair[] = [
      { from: p(0, 0), to: p(0, 0) },
      { from: p(10, 0), to: p(10.4, 0) },
    ];
    expect(residualsOf(similarityOf(pairs, false), pairs)).toEqual([expect.closeTo(0.2, 9), expect.closeTo(0.2, 9)]);
    expect(similarityOf(pairs, true).scale).toBeCloseTo(1.04, 9);
  });
  test('three points in a line do as well as two', () => {
    const pairs = [p(0, 0), p(5, 0), p(9, 0)].map((from) => ({ from, to: p(from.xM + 1, 3) }));
    expect(similarityOf(pairs, false)).toMatchObject({ turnDeg: expect.closeTo(0, 9), dxM: expect.closeTo(1, 9), dyM: expect.closeTo(3, 9) });
  });
  test.each([
    ['one pair', [{ from: p(1, 1), to: p(2, 2) }]],
    [
      'two pairs on one spot',
      [
        { from: p(1, 1), to: p(2, 2) },
        { from: p(1.01, 1), to: p(5, 2) },
      ],
    ],
    [
      'two pairs that go to one spot',
      [
        { from: p(1, 1), to: p(2, 2) },
        { from: p(7, 1), to: p(2, 2) },
      ],
    ],
  ])('%s is too few', (_what, pairs) => {
    expect(() => similarityOf(pairs, true)).toThrow(expect.objectContaining({ code: 'PAIRS_TOO_FEW' }));
  });
});
