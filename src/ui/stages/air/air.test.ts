import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { bandSheet } from '@/core/radio/bandSheet';
import { centreMhz } from '@/core/radio/channel';
import { NOTHING_ON_AIR, withRounds, type HeardNetwork } from '@/core/air/heard';
import { broadcast } from '@/core/air/air.testing';
import type { Reading } from '@/core/air/scan';
import { optionOf, summaryOf } from '@/core/air/advice';
import { allowedChannels } from '@/core/radio/regulation';
import { otherBandWords, reasonOf } from './adviceWords';
import { clock, hourOf } from './clock';
import { channelsOf, grouped, sorted, COLUMNS, NO_CHANNEL } from './columns';
import { evidenceWords } from './evidenceWords';
import { labelShifts, labelsOf, outlineOf, partsOf, radiosOf, xOf, yOf, type Frame } from './outlines';
import { pageOf } from './saveNetworks';
import { SWEEP_LIMITS } from '@/core/spectrum/sweep';
import { packed, stopRecording, unpacked } from './recordings';
import { channelsIn } from '../../kit/channelList';
import { scanChannels } from './airStore';
import {
  addSweeps,
  changeSetting,
  forgetRecordings,
  MOST_SWEEPS,
  changeTrigger,
  clearSweeps,
  lengthMs,
  newestSweeps,
  replayTo,
  setSweeps,
  settingFor,
  useSweeps,
  type Swept,
} from './sweepStore';
import { addMarker, MOST_MARKERS, removeMarker, toPeak } from './markers';
import { levelAtMarker, waterfallRows } from './spectrumDrawing';
import { hoursOf, hoursText } from '../../site/hours';

const reading = (bssid: string, fields: Partial<Reading> = {}, ssid = 'hall'): Reading => ({
  network: broadcast({ bssid, ssid }),
  band: '2.4',
  channel: 1,
  widthMhz: 20,
  dbm: -60,
  load: null,
  clients: 2,
  ...fields,
});
const heard = (...readings: Reading[]): HeardNetwork[] => [...withRounds(NOTHING_ON_AIR, [{ atMs: 0, readings }], () => true).networks.values()];
const nobody = () => null;
const frame: Frame = { startMhz: 2400, stopMhz: 2500, left: 0, right: 1000, top: 0, bottom: 80 };

describe('outlines', () => {
  test('names of one radio are one outline at the level of the loudest; ours by the name of the access point', () => {
    const networks = heard(reading('02:55:00:00:00:01', { dbm: -62 }), reading('06:55:00:00:00:01', { dbm: -60 }), reading('02:77:10:00:00:01'));
    const radios = radiosOf(
      networks,
      '2.4',
      (bssid) => (bssid.includes(':55:') ? 'a' : null),
      () => 'Q-01',
      new Set(['06:55:00:00:00:01']),
    );
    expect(radios).toHaveLength(2);
    expect(radios.at(-1)).toMatchObject({ names: ['Q-01', 'Q-01'], dbm: -60, picked: true, apId: 'a' });
  });
  test('the flat part lies at the level over the channel, 20 dB down 10.25 MHz aside', () => {
    const channel = { band: '2.4', primary: 6, widthMhz: 20 } as const;
    const points = outlineOf({ channel, dbm: -50 }, frame);
    expect(points.filter(([, y]) => y === yOf(frame, -50)).map(([x]) => x)).toEqual([xOf(frame, 2437 - 9.75), xOf(frame, 2437 + 9.75)]);
    expect(points.find(([x]) => x === xOf(frame, 2437 + 10.25))![1]).toBeCloseTo(yOf(frame, -70), 6);
  });
  test('names never lie over each other; what has no room is left out, the loudest has it', () => {
    const networks = heard(...Array.from({ length: 60 }, (_, i) => reading(`02:77:10:00:00:${i}`, { dbm: -40 - i }, `network number ${i}`)));
    const labels = labelsOf(radiosOf(networks, '2.4', nobody, nobody, new Set()), { ...frame, bottom: 300 });
    expect(labels[0]!.text).toContain('network number 0');
    expect(labels.length).toBeLessThan(60);
    for (const [i, a] of labels.entries())
      for (const b of labels.slice(i + 1)) {
        const apart = Math.abs(a.x - b.x) >= 3 * (a.text.length + b.text.length) || Math.abs(a.y - b.y) >= 13;
        expect(apart).toBe(true);
      }
  });
  test('parts are all of a band and its sub-bands; 2.4 GHz is one', () => {
    expect(partsOf('2.4', bandSheet('UK', '2.4')).map(({ id }) => id)).toEqual(['all']);
    const five = partsOf('5', bandSheet('UK', '5'));
    expect(five.length).toBeGreaterThan(3);
    expect(five[1]).toMatchObject({ startMhz: 5160, stopMhz: 5260 });
  });
});

describe('the table of networks', () => {
  const rows = heard(
    reading('a', { dbm: -70 }, 'b'),
    reading('b', { dbm: -50 }, 'a'),
    reading('c', { dbm: -70 }, 'a'),
    reading('d', { dbm: -50, channel: 6 }, ''),
  ).map((network) => ({
    network,
    apName: network.bssid === 'b' ? 'Q-01' : null,
  }));
  const order = (...by: Array<[string, boolean]>) =>
    sorted(
      rows,
      by.map(([id, down]) => ({ id, down })),
    ).map(({ network }) => network.bssid);
  test('sorted by several columns, one after the other; equals by their address', () => {
    expect(order(['best', false])).toEqual(['b', 'd', 'a', 'c']);
    expect(order(['best', true])).toEqual(['a', 'c', 'b', 'd']);
    expect(order(['best', false], ['ssid', true])).toEqual(['b', 'd', 'a', 'c']);
    expect(order(['ssid', false], ['best', false])).toEqual(['d', 'b', 'c', 'a']);
    expect(order(['constructor', false])).toEqual(['a', 'b', 'c', 'd']);
  });
  test('put together with a line that sums up', () => {
    const lines = grouped(sorted(rows, [{ id: 'ssid', down: false }]), 'SSID');
    expect(lines.filter(({ kind }) => kind === 'sum').map((line) => line.kind === 'sum' && `${line.name}: ${line.words}`)).toEqual([
      '(hidden): 1 network on 1 channel, best −50 dBm, 2 clients announced',
      'a: 2 networks on 1 channel, best −50 dBm, 4 clients announced',
      'b: 1 network on 1 channel, best −70 dBm, 2 clients announced',
    ]);
    expect(grouped(rows, 'none')).toHaveLength(4);
  });
  test('channels to choose from are those heard, by band and number; one that is chosen stays when nobody is on it any more', () => {
    const on = (band: '2.4' | '5' | '6', channel: number) => reading(`${band} ${channel}`, { band, channel });
    const networks = heard(on('5', 100), on('6', 5), on('5', 36), on('2.4', 11), on('2.4', 6));
    const all = ['○ 6', '○ 11', '□ 36', '□ 100', '⬡ 5'];
    for (const chosen of [...Object.values(NO_CHANNEL), '□ 36']) expect(channelsOf(networks, chosen)).toEqual(all);
    expect(channelsOf(networks, '⬡ 21')).toEqual([...all, '⬡ 21']);
  });
  test('every column has a head of its own and says something of each network', () => {
    expect(new Set(COLUMNS.map(({ head }) => head)).size).toBe(COLUMNS.length);
    for (const column of COLUMNS) expect(column.text(rows[0]!)).not.toBe('');
  });
  test('a page of it is whole by itself, and what is in a name stays text', () => {
    const page = pageOf('<b>', ['SSID'], [['<script>&"']]);
    expect(page).toContain('<td>&#60;script&#62;&#38;&#34;</td>');
    expect(page).not.toContain('<script>');
    expect(page).not.toContain('http');
  });
});

describe('times', () => {
  test('end labels are moved apart, from the highest down, and no further than they must', () => {
    const levels = [-60, -61, -40, -62];
    const shifts = labelShifts(levels, 4);
    const at = levels.map((dbm, i) => -dbm * 4 + shifts[i]!).sort((a, b) => a - b);
    expect(at.slice(1).every((y, i) => y - at[i]! >= 13)).toBe(true);
    expect(shifts[2]).toBe(0);
    expect(shifts[0]).toBe(0);
    expect(shifts[1]).toBe(9);
  });
  test('a time of the day, also of a later one', () => {
    expect(clock(12.5 * 3_600_000 + 61_000)).toBe('12:31:01');
    expect(clock(86_400_000)).toBe('00:00:00');
    expect(hourOf('12:15')).toBe(12.25);
    expect(hourOf('7')).toBe(7);
    expect(hourOf('24:00')).toBeNull();
    expect(hourOf('noon')).toBeNull();
  });
  test('hours as they are typed', () => {
    expect(hoursOf('11:30-14:00, 16 to 17')).toEqual([
      [11.5, 14],
      [16, 17],
    ]);
    expect(hoursOf('')).toEqual([]);
    expect(hoursOf('11:75-14')).toBeNull();
    expect(hoursOf('lunch')).toBeNull();
    expect(hoursText([[11.5, 14]])).toBe('11:30–14:00');
    expect(hoursOf(hoursText([[10.6, 10.75]]))!.flat()[0]).toBeCloseTo(10.6, 2);
  });
});

describe('sweeps', () => {
  beforeEach(forgetRecordings);
  afterEach(forgetRecordings);
  const swept = (atMs: number, dbm: number, bins = 4): Swept => ({ atMs, tenthsDbm: Int16Array.from({ length: bins }, () => 10 * dbm) });
  const setting = () => {
    changeSetting({ startMhz: 2400, stopMhz: 2500, bins: 4, rbwKhz: 300, sweepMs: 50, detector: 'peak' });
    return useSweeps.getState().setting;
  };
  test('those of a setting that is not any more are left out, as all are while it is held', () => {
    const before = setting();
    const now = setting();
    addSweeps(before, [swept(0, -50)]);
    expect(useSweeps.getState().sweeps).toEqual([]);
    setSweeps({ hold: true });
    addSweeps(now, [swept(0, -50)]);
    expect(useSweeps.getState().sweeps).toEqual([]);
    expect(newestSweeps(0, 1000)).toBeNull();
  });
  test('with a trigger only what it lets through is taken in, from one answer to the next; changed, it waits anew', () => {
    const now = setting();
    const taken = () => useSweeps.getState().sweeps.map(({ atMs }) => atMs);
    changeTrigger({ levelDbm: -60, delayMs: 100, goesOnMs: 50 });
    expect(useSweeps.getState().waits).toBe(true);
    addSweeps(now, [swept(0, -90), swept(50, -55)]);
    addSweeps(now, [swept(100, -90), swept(150, -90)]);
    expect([taken(), useSweeps.getState().waits]).toEqual([[150], false]);
    addSweeps(now, [swept(200, -90), swept(250, -90)]);
    expect([taken(), useSweeps.getState().waits]).toEqual([[150, 200], true]);
    expect(useSweeps.getState().traces.sweeps).toBe(2);
    addSweeps(now, [swept(300, -55)]);
    changeTrigger({ delayMs: 200 });
    addSweeps(now, [swept(400, -90)]);
    expect(taken()).toEqual([150, 200]);
    clearSweeps();
    expect([taken(), useSweeps.getState().waits]).toEqual([[], true]);
    changeTrigger({}, false);
    addSweeps(now, [swept(450, -90)]);
    expect([taken(), useSweeps.getState().waits]).toEqual([[450], false]);
  });
  test('a recording is kept as it was, and what is not whole or of another make is not believed', () => {
    const { bins } = SWEEP_LIMITS;
    const now = { ...setting(), bins: bins.min };
    const sweeps = [swept(5, -50, bins.min), { atMs: 55, tenthsDbm: Int16Array.from({ length: bins.min }, (_, i) => -1 - i) }];
    const recording = { id: 'r', name: 'Kitchen', spot: 'Kitchen', setting: now, sweeps };
    const kept = packed('p', recording);
    expect([...kept.tenthsDbm.slice(bins.min - 1, bins.min + 2)]).toEqual([-500, -1, -2]);
    expect(unpacked(kept)).toEqual(recording);
    for (const broken of [{ ...kept, atMs: Float64Array.of(5) }, { ...kept, setting: { ...now, bins: 0 } }, { ...kept, tenthsDbm: [1] }, null])
      expect(unpacked(broken)).toBeNull();
  });
  test('replayed up to a time a recording has the sweeps until then, forwards step by step and backwards anew', () => {
    const now = setting();
    const recording = { id: 'r', name: 'n', spot: 's', setting: now, sweeps: [swept(100, -50), swept(150, -70), swept(200, -60)] };
    expect(lengthMs(recording)).toBe(100);
    const at = (untilMs: number) => {
      replayTo(recording, untilMs);
      const { count, traces } = useSweeps.getState().replay!;
      return [count, traces.live[0], traces.max[0]];
    };
    expect(at(0)).toEqual([1, -50, -50]);
    expect(at(99)).toEqual([2, -70, -50]);
    expect(at(100)).toEqual([3, -60, -50]);
    expect(at(49)).toEqual([1, -50, -50]);
    expect(useSweeps.getState().replay!.traces.sweeps).toBe(1);
  });
  test('the receiver goes over the channels that are chosen, of the bands that it knows; else over all', () => {
    const of = (bands: Parameters<typeof scanChannels>[0]['bands'], only: number[]) =>
      scanChannels({ bands, only }).map(({ band, channel }) => `${band}/${channel}`);
    expect(of(['2.4', '5'], [36, 6, 200])).toEqual(['2.4/6', '5/36']);
    expect(of(['2.4'], [])).toHaveLength(14);
    expect(of(['6'], [])).toHaveLength(15);
    expect(of(['6'], [1])).toEqual(['6/1']);
    expect(channelsIn('1, 6;36  40')).toEqual([1, 6, 36, 40]);
    expect(channelsIn('')).toEqual([]);
    for (const bad of ['1, x', '0', '234', '1.5', '-1']) expect(channelsIn(bad)).toBeNull();
  });
  test('a recording that is stopped without a sweep is none', () => {
    const now = setting();
    setSweeps({ recordingFromMs: 100 });
    addSweeps(now, [swept(50, -50)]);
    stopRecording('p', () => ({ name: 'n', spot: 's' }));
    expect(useSweeps.getState()).toMatchObject({ recordings: [], recordingFromMs: null });
  });
  test('no more are kept than ten minutes’, and of a stretch the newest are asked for', () => {
    const now = setting();
    addSweeps(
      now,
      Array.from({ length: 30 }, (_, i) => swept(50 * i, -90)),
    );
    expect(useSweeps.getState().traces.sweeps).toBe(30);
    expect(newestSweeps(10_000, 10_250)).toMatchObject({ fromMs: 10_000, count: 5 });
    expect(newestSweeps(0, 600_000)).toMatchObject({ fromMs: 599_000, count: 20 });
    expect(newestSweeps(10_000, 10_010)).toMatchObject({ fromMs: 9960, count: 1 });
    expect(MOST_SWEEPS).toBe(20 * 600);
  });
  test('a span comes with the finest bandwidth that leaves 20 sweeps a second', () => {
    const first = useSweeps.getState().setting;
    expect(settingFor({ startMhz: 2400, stopMhz: 2500 }, first)).toMatchObject({ rbwKhz: 100, sweepMs: 50 });
    expect(settingFor({ startMhz: 5150, stopMhz: 5900 }, first)).toMatchObject({ rbwKhz: 300, sweepMs: 50 });
    expect(settingFor({ startMhz: 2430, stopMhz: 2445 }, first)).toMatchObject({ rbwKhz: 30, sweepMs: 50 });
  });
  test('markers take the lowest number that is free, ride a trace, and say nothing outside of the span', () => {
    const now = setting();
    addSweeps(now, [{ atMs: 0, tenthsDbm: Int16Array.of(-900, -500, -900, -600) }]);
    toPeak(null, false);
    expect(useSweeps.getState().markers).toEqual([{ id: 1, mhz: 2437.5, trace: 'max' }]);
    toPeak(1, true);
    expect(useSweeps.getState().markers[0]!.mhz).toBe(2487.5);
    addMarker(2410, 'live');
    removeMarker(1);
    addMarker(2600, 'live');
    expect(useSweeps.getState().markers.map(({ id }) => id)).toEqual([1, 2]);
    const { traces } = useSweeps.getState();
    expect(levelAtMarker(traces.live, now, { mhz: 2600 })).toBeNaN();
    expect(levelAtMarker(traces.live, now, { mhz: 2430 })).toBe(-50);
    for (let i = 0; i < 20; i++) addMarker(2450, 'live');
    expect(useSweeps.getState().markers).toHaveLength(MOST_MARKERS);
  });
  test('a line of the waterfall is the strongest of its sweeps, the newest on top', () => {
    const ramp = Uint32Array.from({ length: 256 }, (_, i) => i);
    const rows = waterfallRows([swept(0, -100, 1), swept(1, -60, 1), swept(2, -80, 1), swept(3, -90, 1)], 1, 2, -100, -50, ramp);
    expect([...rows]).toEqual([Math.round((255 * 20) / 50), Math.round((255 * 40) / 50)]);
  });
});

describe('words', () => {
  test('2.4 GHz alone is thought of before 5 GHz is said', () => {
    expect(otherBandWords([{ name: 'Laptop', bands: ['2.4', '5'] }], 0.9, 20)).toContain('whoever can');
    expect(otherBandWords([{ name: 'Scanner, 2.4 GHz only', bands: ['2.4'] }], 0.9, 20)).toContain(
      'scanner of the brief knows 2.4 GHz alone and must stay',
    );
  });
  test('a reason says who takes it, that fewer networks are no less load, and what a narrower width has', () => {
    const taker = (bssid: string, channel: number, share: number) => ({
      bssid,
      ssid: bssid,
      apId: null,
      channel,
      widthMhz: 20,
      levelDbm: -55,
      share,
    });
    const loads = [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13].map((channel) =>
      summaryOf({
        band: '2.4',
        channel,
        dwells: [
          {
            band: '2.4',
            channel,
            ms: 200,
            ours: 0,
            others: 0,
            notWifi: 0,
            energyDbm: -90,
            noiseDbm: -95,
            takers: channel === 1 ? [taker('kiosk', 1, 0.6)] : channel === 11 ? [taker('yard', 11, 0.1)] : [],
          },
        ],
      }),
    );
    const of = (primary: number, widthMhz: 20 | 40, networks: number) =>
      optionOf(
        allowedChannels('UK', '2.4', widthMhz).find(({ channel }) => channel.primary === primary)!,
        loads,
        () => networks,
        null,
      )!;
    const words = reasonOf(of(11, 20, 3), of(1, 20, 1), [], () => '').join(' ');
    expect(words).toContain('1/20 now: 40 % of airtime left');
    expect(words).toContain('taken by kiosk 60 %');
    expect(words).toContain('Fewer networks stand where it is now');
    expect(reasonOf(of(7, 40, 1), null, [of(6, 20, 1)], () => '').join(' ')).toContain('At 20 MHz channel 6 has 100 % of its time');
  });
  test('evidence is for a kind within a deviation and a half, against it beyond', () => {
    const { speaksFor, against } = evidenceWords([
      { feature: 'mainsLock', value: 0.71, usual: 0.7, off: 0.1 },
      { feature: 'wander', value: 0.5, usual: 5, off: -3 },
    ]);
    expect(speaksFor).toEqual(['71 % in step with the mains']);
    expect(against).toEqual(['its frequency goes 0.5 MHz within a burst']);
  });
  test('channels are where they are', () => expect(centreMhz({ band: '2.4', primary: 6, widthMhz: 20 })).toBe(2437));
});
