import { describe, expect, test } from '@jest/globals';
import fc from 'fast-check';
import { BANDS, WIDTHS_MHZ, type Band, type WidthMhz } from './band';
import { channelExists, occupied20, type Channel } from './channel';
import { kindAt, priceOf, sharingOf } from './sharing';

const ch = (band: Band, primary: number, widthMhz: WidthMhz = 20): Channel => ({ band, primary, widthMhz });
const kind = (serving: Channel, other: Channel, levelDbm: number) => kindAt(sharingOf(serving, other), levelDbm);
const price = (serving: Channel, other: Channel, levelDbm: number) =>
  priceOf(serving, other).reduce((sum, { dbm, more }) => sum + (levelDbm >= dbm ? more : 0), 0);

/** 10 log10(2) dB more for every doubling of the width that a signal's power is spread over. */
const DOUBLING_DB = 3.0103;

describe('the sharing model, by hand', () => {
  test.each<[string, Channel, Channel, number, string]>([
    ['the same channel, just heard', ch('5', 36), ch('5', 36), -82, 'airtime'],
    ['the same channel, just not heard', ch('5', 36), ch('5', 36), -82.1, 'noise'],
    ['the same block with another primary', ch('5', 36, 40), ch('5', 40, 40), -82 + DOUBLING_DB, 'airtime'],
    ['40 MHz spread their power: 3 dB more are needed', ch('5', 36, 40), ch('5', 40, 40), -79.1, 'noise'],
    ['80 MHz over a 20 MHz radio inside', ch('5', 44), ch('5', 36, 80), -75.9, 'airtime'],
    ['80 MHz over a 20 MHz radio inside, too weak', ch('5', 44), ch('5', 36, 80), -76.1, 'noise'],
    ['20 MHz on another channel of an 80 MHz radio', ch('5', 36, 80), ch('5', 48), -72, 'width'],
    ['the same, quieter', ch('5', 36, 80), ch('5', 48), -72.1, 'noise'],
    ['40 MHz on the upper half of an 80 MHz radio', ch('5', 36, 80), ch('5', 44, 40), -68.9, 'width'],
    ['40 MHz on the upper half, quieter', ch('5', 36, 80), ch('5', 44, 40), -69.1, 'noise'],
    ['a channel far off', ch('5', 36), ch('5', 100), -30, 'none'],
    ['another band', ch('2.4', 1), ch('5', 36), -30, 'none'],
    ['2.4 GHz channels 1 and 3: no frame can be read', ch('2.4', 1), ch('2.4', 3), -70, 'noise'],
    ['2.4 GHz channels 1 and 3: energy', ch('2.4', 1), ch('2.4', 3), -55, 'airtime'],
    ['the neighbouring channel, however near', ch('5', 36), ch('5', 40), -30, 'noise'],
  ])('%s', (_name, serving, other, levelDbm, expected) => expect(kind(serving, other, levelDbm)).toBe(expected));

  test('half of the power of channel 3 falls into channel 1, so energy is met 3 dB above -62', () => {
    const { airtimeFromDbm, noiseShare } = sharingOf(ch('2.4', 1), ch('2.4', 3));
    expect(noiseShare).toBeGreaterThan(0.45);
    expect(noiseShare).toBeLessThan(0.55);
    expect(airtimeFromDbm).toBeCloseTo(-62 - 10 * Math.log10(noiseShare), 9);
  });
  test.each<[string, Channel, Channel, number]>([
    // Left is the widest whole block round the primary: the primary alone, its pair, its four ...
    ['the far half of 80 MHz, in part', ch('5', 36, 80), ch('5', 48), 1 / 2],
    ['the far half of 80 MHz, whole', ch('5', 36, 80), ch('5', 44, 40), 1 / 2],
    ['the secondary channel of 80 MHz: the primary alone is left', ch('5', 36, 80), ch('5', 40), 3 / 4],
    ['the same from the other end', ch('5', 48, 80), ch('5', 44), 3 / 4],
    ['the far half, seen from the upper one', ch('5', 48, 80), ch('5', 36), 1 / 2],
    ['the secondary channel of 40 MHz', ch('5', 40, 40), ch('5', 36), 1 / 2],
    ['the far half of 160 MHz', ch('6', 1, 160), ch('6', 17, 80), 1 / 2],
    ['the secondary 40 MHz of 160 MHz: 40 of 160 are left', ch('6', 1, 160), ch('6', 9), 3 / 4],
    ['the secondary channel of 320 MHz: 20 of 320 are left', ch('6', 1, 320), ch('6', 5), 15 / 16],
    ['at 2.4 GHz, where numbers are one apart', ch('2.4', 1, 40), ch('2.4', 5), 1 / 2],
    ['the primary itself: airtime, no width', ch('5', 44, 80), ch('5', 44), 0],
  ])('width lost: %s', (_name, serving, other, lost) => expect(sharingOf(serving, other).widthLost).toBe(lost));
  test('prices: 1 for airtime, the lost part for width, the disturbed part for noise as strong as what would be heard', () => {
    expect(price(ch('5', 44), ch('5', 36, 80), -60)).toBeCloseTo(1, 9);
    expect(price(ch('5', 36, 80), ch('5', 48), -60)).toBeCloseTo(0.5, 9);
    expect(price(ch('5', 36, 80), ch('5', 48), -75)).toBeCloseTo(0.25, 1);
    expect(price(ch('5', 36, 80), ch('5', 48), -83)).toBe(0);
    expect(price(ch('2.4', 1), ch('2.4', 3), -70)).toBeCloseTo(0.5, 1);
    expect(price(ch('5', 36), ch('5', 36), -82.5)).toBe(0);
    expect(price(ch('5', 36), ch('5', 100), -20)).toBe(0);
  });
  test('noise counts from the level at which it is as strong, by density, as what would be heard', () => {
    // Half of channel 3's power falls into channel 1: 3 dB above -82.
    const { noiseShare } = sharingOf(ch('2.4', 1), ch('2.4', 3));
    const from = -82 - 10 * Math.log10(noiseShare);
    expect([price(ch('2.4', 1), ch('2.4', 3), from - 0.01), price(ch('2.4', 1), ch('2.4', 3), from + 0.01)]).toEqual([0, expect.closeTo(0.5, 1)]);
    // 40 MHz over half of an 80 MHz channel spread their power over two channels: 3.01 dB more, and 0.1 dB for what falls beside.
    expect([-79.1, -78.7].map((dbm) => price(ch('5', 36, 80), ch('5', 44, 40), dbm))).toEqual([0, expect.closeTo(0.5, 1)]);
    // Where airtime is taken from the same level on, noise before it has no step of its own.
    expect(priceOf(ch('5', 36, 80), ch('5', 36, 80))).toHaveLength(1);
    expect(priceOf(ch('5', 36, 80), ch('5', 48)).map(({ dbm }) => Math.round(dbm))).toEqual(
      [-82, -72].slice(0, priceOf(ch('5', 36, 80), ch('5', 48)).length),
    );
  });
});

describe('for any two channels', () => {
  const channels = BANDS.flatMap((band) =>
    WIDTHS_MHZ.flatMap((widthMhz) => Array.from({ length: 233 }, (_, i) => ch(band, i + 1, widthMhz)).filter(channelExists)),
  );
  const any = fc.constantFrom(...channels);
  const level = fc.double({ min: -100, max: -20, noNaN: true });
  test('the same block is never cheaper than the same primary', () =>
    fc.assert(
      fc.property(any, level, fc.nat(15), (serving, levelDbm, k) => {
        const block = occupied20(serving);
        const elsewhere = { ...serving, primary: block[k % block.length]! };
        if (channelExists(elsewhere) && occupied20(elsewhere).join() === block.join())
          expect(price(serving, elsewhere, levelDbm)).toBeCloseTo(price(serving, serving, levelDbm), 9);
      }),
      { seed: 3 },
    ));
  test('a louder signal never takes less, and nothing costs more than a whole radio', () =>
    fc.assert(
      fc.property(any, any, level, fc.double({ min: 0, max: 40, noNaN: true }), (serving, other, levelDbm, louderDb) => {
        const [quiet, loud] = [price(serving, other, levelDbm), price(serving, other, levelDbm + louderDb)];
        expect(quiet).toBeLessThanOrEqual(loud + 1e-12);
        expect(loud).toBeLessThanOrEqual(1 + 1e-12);
      }),
      { seed: 3 },
    ));
  test('airtime costs a whole radio, and only airtime does', () =>
    fc.assert(
      fc.property(any, any, level, (serving, other, levelDbm) => {
        const paid = price(serving, other, levelDbm);
        if (kind(serving, other, levelDbm) === 'airtime') expect(paid).toBeCloseTo(1, 9);
        else expect(paid).toBeLessThan(1);
      }),
      { seed: 5, numRuns: 400 },
    ));
});
