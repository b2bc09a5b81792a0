import { describe, expect, test } from '@jest/globals';
import { planOf } from '@demo/drawing/plan';
import { vectorSheet, wordsOf } from '@demo/drawing/vectors';
import { museum } from '@demo/museum';
import { floorsOf } from '@/core/design/design';
import { scaleByWords, writtenLengthM, type WrittenWord } from './written';

describe('lengths as they are written on plans', () => {
  test.each([
    ['4250', 4.25],
    ['12 400', 12.4],
    ['12,400', 12.4],
    ['850', 0.85],
    ['3.20', 3.2],
    ['3,20', 3.2],
    ['7.5', 7.5],
    ['3.20 m', 3.2],
    ['320 cm', 3.2],
    ['10\'-6"', 3.2004],
    ["12'", 3.6576],
  ])('%s is %f m', (text, lengthM) => expect(writtenLengthM(text)).toBeCloseTo(lengthM, 6));

  test.each(['12', '1234567', 'A-104', 'office', '0850', '', '1:100', '0.05', '45 m2', '2026-11'])('%s is none', (text) =>
    expect(writtenLengthM(text)).toBeNull(),
  );
});

describe('the scale by what is written', () => {
  const word = (text: string, x: number, y: number): WrittenWord => ({ text, x, y, heightPx: 10 });
  const lines = (...ends: number[][]): Float64Array => Float64Array.from(ends.flat());

  test('two lengths that agree tell it, whatever else is written and drawn', () => {
    const scale = scaleByWords(
      // 40 px a metre: 200 px are 5 m, 100 px are 2.5 m. A room's number and a length of something else do not agree.
      [word('5000', 100, 92), word('2500', 250, 92), word('104', 60, 60), word('9.99', 300, 300)],
      lines([0, 100, 200, 100], [200, 100, 300, 100], [280, 310, 320, 310], [0, 0, 0, 200]),
    );
    expect(scale).toEqual({ pxPerM: expect.closeTo(40, 9), count: 2 });
  });

  test('one length agrees with some line by chance, and tells nothing', () => {
    expect(scaleByWords([word('5000', 100, 92)], lines([0, 100, 200, 100], [95, 80, 105, 80]))).toBeNull();
    // Nor does one word that agrees twice.
    expect(scaleByWords([word('5000', 100, 92)], lines([0, 100, 200, 100], [0, 104, 200, 104]))).toBeNull();
  });

  test('what is further than four letters away is not what the word measures', () => {
    const far = [word('5000', 100, 59), word('2500', 250, 59)];
    const near = far.map((one) => ({ ...one, y: 61 }));
    const straights = lines([0, 100, 200, 100], [200, 100, 300, 100]);
    expect(scaleByWords(far, straights)).toBeNull();
    expect(scaleByWords(near, straights)?.pxPerM).toBeCloseTo(40, 9);
  });

  test('of two scales that of more words is taken', () => {
    const detail = [word('1000', 500, 492), word('500', 575, 492)];
    const plan = [word('5000', 100, 92), word('2500', 250, 92), word('7500', 150, 392)];
    const straights = lines(
      [0, 100, 200, 100],
      [200, 100, 300, 100],
      [0, 400, 300, 400],
      [400, 500, 600, 500],
      [550, 500, 650, 500].map((v, i) => (i % 2 ? v : v - 25)),
    );
    expect(scaleByWords([...detail, ...plan], straights)).toEqual({ pxPerM: expect.closeTo(40, 9), count: 3 });
  });
});

test('on a busy drawing of each floor of the museum the lengths written along its sides tell the scale', () => {
  const design = museum();
  for (const { id } of floorsOf(design)) {
    const sheet = vectorSheet(planOf(design, id), { style: 'filled', pxPerM: 37, busy: true });
    const straights = Float64Array.from(sheet.strokes.flatMap(({ ax, ay, bx, by }) => [ax, ay, bx, by]));
    const scale = scaleByWords(wordsOf(sheet), straights)!;
    expect(scale.count).toBeGreaterThan(5);
    expect(Math.abs(scale.pxPerM / 37 - 1)).toBeLessThan(0.01);
  }
});
