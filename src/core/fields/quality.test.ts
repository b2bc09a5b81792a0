import { describe, expect, test } from '@jest/globals';
import { COMMON_CLIENT } from '../radio/receiver';
import { noiseDbm } from '../radio/noise';
import type { WidthMhz } from '../radio/band';
import { snrInto, topThree, type LitRadio } from './combine';
import { NO_INTERFERER_DBM, interferersAt, noiseInto, severityInto, sinrInto, strongestOtherInto } from './interference';
import { OWED, owedInto, owedShares, type Requirements } from './owed';
import { middlePowerDbm, type Channel } from '../radio/channel';
import { balanceInto, heardCountInto, linkOf, ratesInto, snrOf, type Direction } from './quality';

/** A radio that arrives at these levels, in dBm. */
const arriving = (primary: number, levels: readonly number[], fields: Partial<LitRadio> & { widthMhz?: WidthMhz } = {}): LitRadio => {
  const { widthMhz = 20, txPowerDbm = 12, ...rest } = fields;
  const channel: Channel = { band: '5', primary, widthMhz };
  return {
    key: String(primary),
    name: String(primary),
    channel,
    streams: 2,
    generation: 'Wi-Fi 6',
    txPowerDbm,
    lossDb: Float32Array.from(levels, (level) => middlePowerDbm({ txPowerDbm, channel }) - level),
    ...rest,
  };
};
const mw = (dbm: number) => 10 ** (dbm / 10);
const silent = (n: number) => new Float32Array(n * n).fill(-200);

describe('noise, SINR and interference, by hand', () => {
  // -174 + 73.01 + 7 + 1 = -92.99 dBm in 20 MHz.
  const floorDbm = -92.99;
  // A serves; B is on its channel, heard at -70 in the first cell and at -85, below -82, in the second; C is elsewhere.
  const radios = [arriving(36, [-50, -60, -70]), arriving(36, [-70, -85, -120]), arriving(149, [-55, -65, -71])];
  const top = topThree(radios, 3);
  const out = new Float32Array(3);
  test('what is waited for is no noise, what is not is', () => {
    noiseInto(top, radios, silent(3), 7, -90, out);
    expect(out[0]).toBeCloseTo(floorDbm, 2);
    // B's mask keeps 98.7 % of its power in the channel: -85.06; with the floor -84.41.
    expect(out[1]).toBeCloseTo(10 * Math.log10(mw(floorDbm) + mw(-85) * 0.987), 1);
    expect(out[2]).toBeCloseTo(floorDbm, 1);
    sinrInto(top, radios, silent(3), 7, -90, out);
    expect(out[0]).toBeCloseTo(42.99, 2);
    expect(out[1]).toBeCloseTo(-60 - 10 * Math.log10(mw(floorDbm) + mw(-85) * 0.987), 1);
  });
  test('heard at -82 it is waited for, a tenth below it is noise', () => {
    // At the band's middle, where levels are what power less loss is to the bit.
    const two = [arriving(100, [-50, -50]), arriving(100, [-82, -82.1])];
    const both = new Float32Array(2);
    noiseInto(topThree(two, 2), two, silent(2), 7, -90, both);
    expect(both[0]).toBeCloseTo(floorDbm, 2);
    expect(both[1]).toBeCloseTo(10 * Math.log10(mw(floorDbm) + mw(-82.1) * 0.987), 1);
  });
  test('what is not Wi-Fi counts with its mean share, in noise, SINR and SNR alike', () => {
    const alone = [arriving(100, [-50, -60])];
    const shares = Float64Array.of(-3);
    // -85 dBm of which half falls in: -88; the second cell is 20 dB further.
    const disturbers = [{ lossDb: Float32Array.of(105, 125), eirpDbm: 20, shareDb: shares }];
    const both = new Float32Array(2);
    noiseInto(topThree(alone, 2), alone, silent(1), 7, -90, both, disturbers);
    const by = (dbm: number) => 10 * Math.log10(mw(floorDbm) + mw(dbm));
    expect(both[0]).toBeCloseTo(by(-88), 3);
    expect(both[1]).toBeCloseTo(by(-108), 3);
    sinrInto(topThree(alone, 2), alone, silent(1), 7, -90, both, disturbers);
    expect(both[0]).toBeCloseTo(-50 - by(-88), 3);
    snrInto(topThree(alone, 2), alone, 7, -90, both, disturbers);
    expect(both[0]).toBeCloseTo(-50 - by(-88), 3);
    snrInto(topThree(alone, 2), alone, 7, -55, both, disturbers);
    expect(both[1]).toBeNaN();
    noiseInto(topThree(alone, 2), alone, silent(1), 7, -90, both, [{ ...disturbers[0]!, shareDb: Float64Array.of(-Infinity) }]);
    expect(both[0]).toBeCloseTo(floorDbm, 2);
  });
  test('an antenna that hears the other waits for it everywhere', () => {
    const levels = silent(3);
    levels[0 * 3 + 1] = -82;
    noiseInto(top, radios, levels, 7, -90, out);
    expect(out[1]).toBeCloseTo(floorDbm, 2);
    levels[0 * 3 + 1] = -82.1;
    noiseInto(top, radios, levels, 7, -90, out);
    expect(out[1]).toBeGreaterThan(floorDbm + 5);
  });
  test('two at once add up; the next channel leaks a little', () => {
    const three = [arriving(36, [-60]), arriving(36, [-86]), arriving(36, [-86]), arriving(40, [-64])];
    const one = new Float32Array(1);
    noiseInto(topThree(three, 1), three, silent(4), 7, -90, one);
    const leaks = 10 * Math.log10(mw(one[0]!) - mw(floorDbm) - 2 * mw(-86) * 0.987);
    // Through the skirts of the mask: 20 dB down and more.
    expect(leaks).toBeGreaterThan(-95);
    expect(leaks).toBeLessThan(-80);
  });
  test('Interference is the strongest other one inside the channel, waited for or not', () => {
    strongestOtherInto(top, radios, -90, out);
    expect(out[0]).toBeCloseTo(-70.06, 1);
    expect(out[1]).toBeCloseTo(-85.06, 1);
    // Who it is: the strongest first, whose level the map shows, and nobody who sends elsewhere.
    for (const cell of [0, 1]) {
      const who = interferersAt(top, radios, cell);
      expect(who[0]!.dbm).toBeCloseTo(out[cell]!, 4);
      expect(who.map(({ dbm }) => dbm)).toEqual(who.map(({ dbm }) => dbm).sort((a, b) => b - a));
      expect(who.map(({ radio }) => radio)).not.toContain(top.radio[cell]);
    }
    const beside = [arriving(36, [-50]), arriving(149, [-40]), arriving(36, [-70]), arriving(36, [-60])];
    const served = topThree([beside[0]!, beside[2]!, beside[3]!], 1);
    expect(interferersAt(served, [beside[0]!, beside[2]!, beside[3]!], 0).map(({ radio }) => radio)).toEqual([2, 1]);
    expect(interferersAt(topThree([beside[1]!, beside[2]!], 1), [beside[1]!, beside[2]!], 0)).toEqual([]);
    const alone = [arriving(36, [-50]), arriving(149, [-55])];
    const one = new Float32Array(1);
    strongestOtherInto(topThree(alone, 1), alone, -90, one);
    expect(one[0]).toBe(NO_INTERFERER_DBM);
  });
  test('its severity is the share of the SNR that it takes: by hand, none, all, and not claimed', () => {
    const of = (...lit: LitRadio[]) => {
      const one = new Float32Array(1);
      severityInto(topThree(lit, 1), lit, 7, -95, one);
      return one[0]!;
    };
    // Noise -93 dBm, SNR 33 dB; 98.7 % of -70 dBm inside the channel rise it by 22.96 dB.
    expect(noiseDbm('5', 20, 7)).toBeCloseTo(-93, 1);
    expect(of(arriving(36, [-60]), arriving(36, [-70]))).toBeCloseTo((100 * 22.96) / 33, 0);
    // As strong as the noise it doubles it, but for the 1.3 % outside: 2.98 dB of 33.
    expect(of(arriving(36, [-60]), arriving(36, [-93]))).toBeCloseTo((100 * 2.98) / 33, 1);
    // As loud as the one that serves: the SINR is a little below 0 dB.
    expect(of(arriving(36, [-60]), arriving(36, [-60.001]))).toBeGreaterThan(99);
    expect(of(arriving(36, [-60]), arriving(36, [-60.001]))).toBeLessThanOrEqual(100);
    expect(of(arriving(36, [-60]), arriving(149, [-61]))).toBe(0);
    expect(of(arriving(36, [-94]), arriving(36, [-95]))).toBeNaN();
    // The farther away the other, the less.
    const [near, far] = [-75, -85].map((level) => of(arriving(36, [-60]), arriving(36, [level])));
    expect(near).toBeGreaterThan(far! + 20);
  });
  test('where nobody serves nothing is claimed', () => {
    const faint = [arriving(36, [-91])];
    for (const fill of [
      (values: Float32Array) => noiseInto(topThree(faint, 1), faint, silent(1), 7, -90, values),
      (values: Float32Array) => sinrInto(topThree(faint, 1), faint, silent(1), 7, -90, values),
      (values: Float32Array) => strongestOtherInto(topThree(faint, 1), faint, -90, values),
      (values: Float32Array) => ratesInto(topThree(faint, 1), faint, COMMON_CLIENT, 'down', 'mbps', -90, values),
      (values: Float32Array) => balanceInto(topThree(faint, 1), faint, COMMON_CLIENT, -90, values),
    ]) {
      const one = Float32Array.of(1);
      fill(one);
      expect(one[0]).toBeNaN();
    }
  });
});

describe('rates', () => {
  const rate = (radio: LitRadio, direction: Direction = 'down', what: 'mbps' | 'mcs' = 'mbps') => {
    const out = new Float32Array(radio.lossDb.length);
    ratesInto(topThree([radio], out.length), [radio], COMMON_CLIENT, direction, what, -95, out);
    return [...out];
  };
  test('by hand: HE, 80 MHz, two streams', () => {
    // Noise in 80 MHz: -174 + 79.03 + 7 + 1 = -86.97. At -40 dBm the SNR is 46.97: MCS 11 on two streams needs 33.99 + 3.01.
    // At -60 it is 26.97: MCS 8 on one stream needs 26.99, MCS 7 on two 25.0: 2 x 360.3.
    // At -83.1 it is 3.87: nothing. At -82.9 4.07: MCS 0 on one stream, 36.0.
    const values = rate(arriving(36, [-40, -60, -83.1, -82.9], { widthMhz: 80 }));
    expect(values).toEqual([expect.closeTo(1201, 0), expect.closeTo(720.6, 0), NaN, expect.closeTo(36, 0)]);
    expect(rate(arriving(36, [-40, -60], { widthMhz: 80 }), 'down', 'mcs')).toEqual([11, 7]);
  });
  test('the older end decides the language, the narrower the width, the one with fewer streams the streams', () => {
    expect(linkOf(arriving(36, [], { widthMhz: 80, generation: 'Wi-Fi 5' }), COMMON_CLIENT)).toMatchObject({ phy: 'VHT', widthMhz: 80 });
    expect(linkOf(arriving(36, [], { widthMhz: 80, generation: 'Wi-Fi 4' }), COMMON_CLIENT)).toMatchObject({ phy: 'HT', widthMhz: 40 });
    const narrow = linkOf(arriving(36, [], { widthMhz: 160 }), { ...COMMON_CLIENT, maxWidthMhz: 20 });
    expect([narrow.widthMhz, narrow.noiseDownDbm]).toEqual([20, noiseDbm('5', 20, 7)]);
    expect(Math.max(...linkOf(arriving(36, [], { streams: 4 }), COMMON_CLIENT).steps.map(({ streams }) => streams))).toBe(2);
    expect(Math.max(...linkOf(arriving(36, [], { streams: 1 }), COMMON_CLIENT).steps.map(({ streams }) => streams))).toBe(1);
  });
  test('from the client its own power counts: 8 dB less arrives, and both is the worse', () => {
    const loud = arriving(36, [-60], { widthMhz: 80, txPowerDbm: 23 });
    // SNR 26.97 down, 18.97 up: MCS 4 on two streams needs 15.99 + 3.01 = 19.0, on one MCS 5 needs 19.99; MCS 3 on two 11.99 + 3.01: 2 x 144.1.
    expect(rate(loud)).toEqual([expect.closeTo(720.6, 0)]);
    expect(rate(loud, 'up')).toEqual([expect.closeTo(288.2, 0)]);
    expect(rate(loud, 'both')).toEqual(rate(loud, 'up'));
    const quiet = arriving(36, [-60], { widthMhz: 80, txPowerDbm: 8 });
    expect(rate(quiet, 'both')).toEqual(rate(quiet, 'down'));
    const out = new Float32Array(1);
    balanceInto(topThree([loud], 1), [loud], COMMON_CLIENT, -90, out);
    expect(out[0]).toBe(-8);
  });
  test('a worse receiver of the client costs down, not up', () => {
    const radio = arriving(36, [-60], { widthMhz: 80, txPowerDbm: 15 });
    const deaf = linkOf(radio, { ...COMMON_CLIENT, noiseFigureDb: 12 });
    const snr = (direction: Direction) => snrOf(deaf, 15, COMMON_CLIENT, -60, direction);
    expect([snr('down'), snr('up'), snr('both')]).toEqual([21.97, 26.97, 21.97].map((value) => expect.closeTo(value, 2)));
  });
  test('radios are counted at the limit and above', () => {
    const out = new Float32Array(2);
    heardCountInto([arriving(100, [-70, -71]), arriving(100, [-90, -70]), arriving(100, [-60, -95])], -70, out);
    expect([...out]).toEqual([2, 1]);
  });
});

describe('service levels', () => {
  const level: Requirements = { signalDbm: -67, secondDbm: -75, snrDb: 20, rateMbps: 50, sharersMost: 1 };
  const radios = [arriving(36, [-60, -60, -60, -60, -60, -68]), arriving(40, [-74, -76, -74, -74, -74, -74])];
  const top = topThree(radios, 6);
  const values = {
    snrDb: Float32Array.of(20, 30, 19.9, 30, NaN, 30),
    rateMbps: Float32Array.of(50, 90, 90, 49, 90, 90),
    sharers: Float32Array.of(1, 0, 0, 0, 0, 0),
  };
  const all = Uint8Array.of(1, 1, 1, 1, 1, 1);
  test('each cell says what fails first, at the limit all is met, what has no value fails', () => {
    const out = new Float32Array(6);
    owedInto([{ mask: all, level }], top, values, out);
    expect([...out]).toEqual([0, 2, 3, 4, 3, 1]);
    owedInto([{ mask: all, level: { ...level, sharersMost: 0 } }], top, values, out);
    expect(out[0]).toBe(1 + OWED.indexOf('radios sharing'));
  });
  test('what is not asked for cannot fail, outside of zones nothing is owed, the first zone decides', () => {
    const plain = { signalDbm: -67, secondDbm: null, snrDb: null, rateMbps: null, sharersMost: null };
    const out = new Float32Array(6);
    owedInto([{ mask: Uint8Array.of(0, 1, 1, 1, 1, 1), level: plain }], top, values, out);
    expect([...out]).toEqual([NaN, 0, 0, 0, 0, 1]);
    owedInto(
      [
        { mask: Uint8Array.of(0, 1, 0, 0, 0, 0), level },
        { mask: all, level: plain },
      ],
      top,
      values,
      out,
    );
    expect([...out]).toEqual([0, 2, 0, 0, 0, 1]);
  });
  test('shares of a zone, each and all', () => {
    const { each, all: met } = owedShares({ mask: Uint8Array.of(1, 1, 1, 1, 1, 0), level }, top, values);
    expect(each).toEqual([1, 0.8, 0.6, 0.8, 1]);
    expect(met).toBeCloseTo(0.2, 12);
    expect(owedShares({ mask: new Uint8Array(6), level }, top, values)).toEqual({ each: [0, 0, 0, 0, 0], all: 0 });
  });
});
