import { expect, test } from '@jest/globals';
import fc from 'fast-check';
import { dbmFromMw, mwFromDbm, sumDbm } from './decibel';
import { formatArea, formatLength, ftFromM, mFromFt, parseLength } from './length';

test.each([
  // definition of the dBm: 10 log10(P / 1 mW)
  { dbm: 0, mw: 1 },
  { dbm: 20, mw: 100 },
  { dbm: 30, mw: 1000 },
  { dbm: -30, mw: 0.001 },
  { dbm: 3.0103, mw: 2 },
])('$dbm dBm is $mw mW', ({ dbm, mw }) => {
  expect(mwFromDbm(dbm)).toBeCloseTo(mw, 4);
  expect(dbmFromMw(mw)).toBeCloseTo(dbm, 4);
});

test('levels add as powers', () => {
  expect(sumDbm([-60, -60])).toBeCloseTo(-56.99, 2);
  expect(sumDbm([-60, -90])).toBeCloseTo(-59.996, 3);
  expect(sumDbm([])).toBe(-Infinity);
});

test('conversions are inverses', () => {
  fc.assert(
    fc.property(fc.double({ min: -150, max: 50, noNaN: true }), (dbm) => Math.abs(dbmFromMw(mwFromDbm(dbm)) - dbm) < 1e-9),
    { seed: 1 },
  );
  fc.assert(
    fc.property(fc.double({ min: -1e4, max: 1e4, noNaN: true }), (m) => Math.abs(mFromFt(ftFromM(m)) - m) < 1e-9),
    { seed: 1 },
  );
});

test('lengths and areas carry their unit', () => {
  expect(formatLength(3.048, 'us')).toBe('10.0 ft');
  expect(formatLength(3.048, 'metric')).toBe('3.05 m');
  expect(formatArea(3312, 'metric')).toBe('3\u2009312 m²');
  expect(formatArea(9.290304, 'us')).toBe('100 sq ft');
});

test.each([
  ['12.5', 'metric', 12.5],
  ['12,5', 'metric', 12.5],
  ['12.5', 'us', 3.81],
  ['320 cm', 'us', 3.2],
  ['4500mm', 'us', 4.5],
  ['3.2 m', 'us', 3.2],
  ['10\' 6"', 'metric', 3.2004],
  ['10 ft 6 in', 'us', 3.2004],
  ['10\'-6 1/2"', 'us', 3.2131],
  ['7 in', 'us', 0.1778],
  ['1/2 ft', 'us', 0.1524],
  ['', 'metric', null],
  ['about 3', 'metric', null],
  ['3 m 20', 'metric', null],
  ['-3', 'metric', null],
] as const)('a length written as "%s" (%s) is %s m', (text, units, expected) => {
  const parsed = parseLength(text, units);
  if (expected === null) expect(parsed).toBeNull();
  else expect(parsed).toBeCloseTo(expected, 9);
});
