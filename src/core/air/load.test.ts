import { describe, expect, test } from '@jest/globals';
import { allowedChannels } from '../radio/regulation';
import { noiseDbm } from '../radio/noise';
import type { WidthMhz } from '../radio/band';
import { advisedOf, optionOf, ranked, summaryOf, type LoadSummary } from './advice';
import { dwell, trulyLeft, type ChannelLoad } from './load';
import { airtimeAt, sumOf } from './radio';
import { radio } from './air.testing';

const spotOf = (radios: ReturnType<typeof radio>[], signals: Parameters<typeof dwell>[0]['signals'] = []) => ({ radios, signals, seed: 1 });
const NOON = 12 * 3_600_000;
const near = (value: number, wanted: number, within: number) => expect(Math.abs(value - wanted)).toBeLessThan(within);

describe('a channel dwelt on', () => {
  test('nobody there: nothing is taken, and the energy is the noise', () => {
    const load = dwell(spotOf([]), '2.4', 6, NOON, 200);
    expect(load).toMatchObject({ ours: 0, others: 0, notWifi: 0, takers: [] });
    expect(load.energyDbm).toBeCloseTo(noiseDbm('2.4', 20), 6);
  });
  test('ours and others each take their time; what is taken at once counts once', () => {
    const [mine, theirs] = [radio({ apId: 'a', seed: 3 }), radio({ seed: 4 })];
    const load = dwell(spotOf([mine, theirs]), '2.4', 6, NOON, 15_000);
    const share = sumOf(airtimeAt(mine, NOON));
    near(load.ours, share, 0.02);
    // Frames are energy and no noise.
    expect(load.energyDbm).toBeGreaterThan(load.noiseDbm + 20);
    expect(load.noiseDbm).toBeCloseTo(noiseDbm('2.4', 20), 9);
    near(load.others, sumOf(airtimeAt(theirs, NOON)) * (1 - share), 0.03);
    near(
      load.takers.reduce((sum, one) => sum + one.share, 0),
      share + sumOf(airtimeAt(theirs, NOON)),
      0.03,
    );
    expect(dwell(spotOf([mine, theirs]), '2.4', 6, NOON, 15_000, 'a').ours).toBe(0);
  });
  test('below -82 dBm it is not waited for; in part over the channel only from -62 dBm of what falls in', () => {
    expect(dwell(spotOf([radio({ levelDbm: -83 })]), '2.4', 6, NOON, 1000).others).toBe(0);
    expect(dwell(spotOf([radio({ levelDbm: -81 })]), '2.4', 6, NOON, 1000).others).toBeGreaterThan(0.1);
    expect(dwell(spotOf([radio({ levelDbm: -64 })]), '2.4', 4, NOON, 1000).others).toBe(0);
    const loud = dwell(spotOf([radio({ levelDbm: -50 })]), '2.4', 4, NOON, 1000);
    expect(loud.others).toBeGreaterThan(0.1);
    // Waited for, and not read.
    expect(loud.takers).toEqual([]);
  });
  test('a radio on 80 MHz is found on each of its channels', () => {
    const wide = radio({ channel: { band: '5', primary: 36, widthMhz: 80 }, levelDbm: -55 });
    for (const channel of [36, 40, 44, 48]) expect(dwell(spotOf([wide]), '5', channel, NOON, 1000).others).toBeGreaterThan(0.1);
    expect(dwell(spotOf([wide]), '5', 52, NOON, 1000).others).toBe(0);
  });
  test('what is not Wi-Fi counts from -62 dBm in the channel on, and is energy below', () => {
    const carrier = (levelDbm: number) => [{ levelDbm, source: { kind: 'carrier', centreMhz: 2437, seed: 1, hours: [] } as const }];
    const loud = dwell(spotOf([], carrier(-61)), '2.4', 6, NOON, 200);
    expect(loud.notWifi).toBeCloseTo(1, 6);
    expect(loud.energyDbm).toBeCloseTo(-61, 0);
    expect(loud.noiseDbm).toBe(loud.energyDbm);
    const faint = dwell(spotOf([], carrier(-63)), '2.4', 6, NOON, 200);
    expect(faint.notWifi).toBe(0);
    expect(faint.energyDbm).toBeCloseTo(-63, 0);
    expect(dwell(spotOf([], carrier(-40)), '2.4', 11, NOON, 200).energyDbm).toBeCloseTo(noiseDbm('2.4', 20), 1);
  });
});

const load = (channel: number, fields: Partial<ChannelLoad> = {}): ChannelLoad => ({
  band: '2.4',
  channel,
  ms: 200,
  ours: 0,
  others: 0,
  notWifi: 0,
  energyDbm: -94,
  noiseDbm: -94,
  takers: [],
  ...fields,
});
const taker = (bssid: string, channel: number, share: number, levelDbm = -60, apId: string | null = null, widthMhz = 20) => ({
  bssid,
  ssid: bssid,
  apId,
  channel,
  widthMhz,
  levelDbm,
  share,
});
const summary = (channel: number, fields: Partial<ChannelLoad> = {}): LoadSummary =>
  summaryOf({ band: '2.4', channel, dwells: [load(channel, fields)] });

describe('a measurement', () => {
  test('is the mean of its looks, energies as powers, with the spread of what was busy', () => {
    const all = summaryOf({
      band: '2.4',
      channel: 6,
      dwells: [
        load(6, { others: 0.2, energyDbm: -60, takers: [taker('x', 6, 0.2)] }),
        load(6, { others: 0.4, notWifi: 0.1, energyDbm: -70, takers: [taker('x', 6, 0.4)] }),
      ],
    });
    expect(all.others).toBeCloseTo(0.3, 9);
    expect(all.busy).toBeCloseTo(0.35, 9);
    expect(all.spread).toBeCloseTo(Math.SQRT2 * 0.15, 9);
    expect(all.energyDbm).toBeCloseTo(10 * Math.log10((1e-6 + 1e-7) / 2), 6);
    expect(all.takers[0]!.share).toBeCloseTo(0.3, 9);
    expect(summary(6).spread).toBeNull();
  });
});

describe('what can be taken', () => {
  const uk = (widthMhz: WidthMhz) => allowedChannels('UK', '2.4', widthMhz);
  const option = (primary: number, loads: readonly LoadSummary[], widthMhz: WidthMhz = 20, apId: string | null = null) =>
    optionOf(
      uk(widthMhz).find(({ channel }) => channel.primary === primary)!,
      loads,
      () => 3,
      apId,
    );
  const band = (fields: Readonly<Record<number, Partial<ChannelLoad>>>) => Array.from({ length: 13 }, (_, i) => summary(i + 1, fields[i + 1]));

  test('what is left is what each leaves of the rest: (1 - 0.5) (1 - 0.2), and of that what is not Wi-Fi leaves', () => {
    const loads = band({ 6: { others: 0.6, notWifi: 0.1, takers: [taker('x', 6, 0.5), taker('y', 6, 0.2)] } });
    // Of 40 % that Wi-Fi leaves a quarter is taken by what is not Wi-Fi.
    expect(option(6, loads)!.left).toBeCloseTo(0.5 * 0.8 * 0.75, 9);
    expect(option(6, loads)!.networks).toBe(3);
    expect(option(1, loads)!.left).toBeCloseTo(1, 9);
  });
  test('a radio one channel aside is no free air: it disturbs as much as it lies over', () => {
    const loads = band({ 1: { others: 0.4, takers: [taker('x', 1, 0.4, -60)] } });
    expect(option(1, loads)!.left).toBeCloseTo(0.6, 9);
    expect(option(2, loads)!.left).toBeLessThan(0.8);
    expect(option(6, loads)!.left).toBeCloseTo(1, 9);
  });
  test('the access point’s own frames and energy do not count', () => {
    const loads = band({ 6: { ours: 0.5, energyDbm: -43, takers: [taker('m', 6, 0.5, -40, 'me')] } });
    expect(option(6, loads)!.left).toBeCloseTo(0.5, 9);
    expect(option(6, loads, 20, 'me')!.left).toBeCloseTo(1, 9);
    expect(option(6, loads, 20, 'me')!.energyDbm).toBeLessThan(-55);
    expect(option(6, loads)!.energyDbm).toBeCloseTo(-43, 6);
  });
  test('a channel of which a part was not dwelt on is not judged', () => {
    expect(
      option(
        6,
        band({}).filter(({ channel }) => channel !== 6),
      ),
    ).toBeNull();
    expect(option(3, [summary(3)], 40)).toBeNull();
  });
  test('a network on 80 MHz that is read on four channels counts once', () => {
    const of = (channel: number) =>
      summaryOf({ band: '5', channel, dwells: [{ ...load(channel), band: '5', others: 0.4, takers: [taker('w', 36, 0.4, -55, null, 80)] }] });
    const allowed = allowedChannels('UK', '5', 80).find(({ channel }) => channel.primary === 36)!;
    expect(optionOf(allowed, [36, 40, 44, 48].map(of), () => 1, null)!.left).toBeCloseTo(0.6, 9);
  });
  test('the order: airtime left, of equals the one with less energy; advised is the first that does not lie between others', () => {
    const loads = band({ 1: { others: 0.4, takers: [taker('x', 1, 0.4)] }, 6: { energyDbm: -80 }, 11: { energyDbm: -70 }, 9: { energyDbm: -93 } });
    const options = ranked(uk(20).flatMap((allowed) => option(allowed.channel.primary, loads) ?? []));
    const order = options.map(({ channel }) => channel.primary);
    expect(order.indexOf(9)).toBeLessThan(order.indexOf(6));
    expect(order.indexOf(6)).toBeLessThan(order.indexOf(11));
    expect(order.indexOf(1)).toBeGreaterThan(order.indexOf(13));
    expect(advisedOf(options)!.channel.primary).toBe(6);
    expect(advisedOf(uk(40).flatMap((allowed) => option(allowed.channel.primary, loads, 40) ?? []))).toBeUndefined();
  });
});

test('what is truly left: each radio at the price of sharing, each signal its share of the time', () => {
  const spot = spotOf([radio({ levelDbm: -60 }), radio({ levelDbm: -60, seed: 5, apId: 'me' }), radio({ levelDbm: -95, seed: 6 })]);
  const [first, own] = spot.radios.map((one) => sumOf(airtimeAt(one, NOON)));
  const on = { band: '2.4', primary: 6, widthMhz: 20 } as const;
  expect(trulyLeft(spot, on, NOON, null, () => 0)).toBeCloseTo((1 - first!) * (1 - own!), 9);
  expect(trulyLeft(spot, on, NOON, 'me', () => 0)).toBeCloseTo(1 - first!, 9);
  const carrier = { levelDbm: -40, source: { kind: 'carrier', centreMhz: 2437, seed: 1, hours: [] } as const };
  expect(trulyLeft({ ...spot, radios: [], signals: [carrier] }, on, NOON, null, () => 0.25)).toBeCloseTo(0.75, 9);
});
