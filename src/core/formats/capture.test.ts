import { describe, expect, test } from '@jest/globals';
import { Readable } from 'node:stream';
import PCAPNGParser from 'pcap-ng-parser';
import type { Sample } from '../survey/sample';
import { samplesAlong, samplesPlaced, wayOf, type HeardBeacon } from '../survey/imported';
import { countedOf, NOTHING_HEARD } from '../survey/heard';
import { beaconFrame, beaconIn } from './beacon';
import { captureOf, readCapture } from './capture';
import { LINK_RADIOTAP, readPcapng, writePcapng } from './pcapng';

const code = (run: () => unknown): string => {
  try {
    run();
  } catch (error) {
    return `${(error as { code: string }).code} ${String((error as { details: { problem?: string } }).details.problem)}`;
  }
  return 'none';
};
const sample = (fields: Partial<Sample>): Sample => ({
  leg: 0,
  tMs: 0,
  xM: 1,
  yM: 2,
  bssid: '02:55:aa:00:01:02',
  ssid: 'museum',
  apId: 'ap',
  band: '5',
  channel: 36,
  widthMhz: 80,
  rssiDbm: -61,
  ...fields,
});
const started = Date.parse('2026-11-30T10:00:00.000Z');
const samples = [
  sample({}),
  sample({ tMs: 110.25, xM: 1.11, channel: 6, band: '2.4', widthMhz: 20, rssiDbm: -90, bssid: '02:55:aa:00:01:03', ssid: 'Küche' }),
  sample({ tMs: 900, xM: -3.5, leg: 1, band: '6', channel: 37, widthMhz: 320, rssiDbm: -12, ssid: '' }),
];

describe('a capture', () => {
  test('every channel of every band and width goes into a beacon and comes back', () => {
    const all: Array<Pick<HeardBeacon, 'band' | 'channel' | 'widthMhz'>> = [
      { band: '2.4', channel: 1, widthMhz: 20 },
      { band: '2.4', channel: 14, widthMhz: 20 },
      { band: '2.4', channel: 3, widthMhz: 40 },
      { band: '2.4', channel: 11, widthMhz: 40 },
      { band: '5', channel: 40, widthMhz: 40 },
      { band: '5', channel: 36, widthMhz: 40 },
      { band: '5', channel: 161, widthMhz: 80 },
      { band: '5', channel: 108, widthMhz: 160 },
      { band: '6', channel: 1, widthMhz: 20 },
      { band: '6', channel: 233, widthMhz: 20 },
      { band: '6', channel: 9, widthMhz: 40 },
      { band: '6', channel: 37, widthMhz: 80 },
      { band: '6', channel: 93, widthMhz: 160 },
      { band: '6', channel: 5, widthMhz: 320 },
    ];
    for (const radio of all) {
      const beacon: HeardBeacon = { ...radio, bssid: '02:00:00:00:00:ff', ssid: 'a', rssiDbm: -77 };
      expect(beaconIn(beaconFrame(beacon, 5))).toEqual(beacon);
    }
  });
  test('the second half of 40 MHz lies on its side of the primary (IEEE 802.11-2020, 9.4.2.56: 1 above, 3 below)', () => {
    const side = (band: '2.4' | '5', channel: number): number => {
      const frame = [...beaconFrame({ bssid: '02:00:00:00:00:01', ssid: 'x', band, channel, widthMhz: 40, rssiDbm: -50 }, 0)];
      const at = frame.findIndex((byte, i) => i > 50 && byte === 61 && frame[i + 1] === 22);
      expect(frame[at + 2]).toBe(channel);
      return frame[at + 3]! & 3;
    };
    expect([side('5', 36), side('5', 40), side('2.4', 3), side('2.4', 11)]).toEqual([1, 3, 1, 3]);
  });
  test('what may stand before the channel of 6 GHz is passed over: three bytes of an older layer, one of neighbours', () => {
    const beacon: HeardBeacon = { bssid: '02:00:00:00:00:01', ssid: 'x', band: '6', channel: 93, widthMhz: 160, rssiDbm: -50 };
    const frame = [...beaconFrame(beacon, 0)];
    const at = frame.findIndex((byte, i) => i > 50 && byte === 255 && frame[i + 2] === 36);
    // Its identity, parameters, colour and rates: then what is present besides.
    const longer = (bits: number, more: number[]): Uint8Array => {
      const body = frame.slice(at + 2, at + 2 + frame[at + 1]!);
      body[2] = body[2]! | bits;
      body.splice(7, 0, ...more);
      return Uint8Array.from([...frame.slice(0, at), 255, body.length, ...body, ...frame.slice(at + 2 + frame[at + 1]!)]);
    };
    expect(beaconIn(longer(0x40, [9, 9, 9]))).toEqual(beacon);
    expect(beaconIn(longer(0x80, [9]))).toEqual(beacon);
    expect(beaconIn(longer(0xc0, [9, 9, 9, 9]))).toEqual(beacon);
  });
  test('of a survey it brings back every beacon, its time to the microsecond and its place to the millimetre', () => {
    const { beacons, others } = readCapture(captureOf(samples, started));
    expect(others).toBe(0);
    expect(beacons.map(({ timeUs }) => timeUs)).toEqual([0, 110.25, 900].map((ms) => (started + ms) * 1000));
    const placed = samplesPlaced(beacons, () => 'ap');
    expect(placed.startUs).toBe(started * 1000);
    expect(placed.samples).toEqual(samples);
  });
  test('another program reads it: so many packets of radiotap, with the same times and bytes', async () => {
    const parser = new PCAPNGParser();
    const packets: Array<{ data: Buffer; timestampHigh: number; timestampLow: number }> = [];
    const interfaces: Array<{ linkType: number; name?: string }> = [];
    parser.on('interface', (one: { linkType: number }) => interfaces.push(one));
    await new Promise<void>((resolve, reject) => {
      parser.on('data', (packet: (typeof packets)[number]) => packets.push(packet));
      parser.on('close', resolve);
      parser.on('error', reject);
      Readable.from([Buffer.from(captureOf(samples, started))]).pipe(parser);
    });
    expect(interfaces.map(({ linkType }) => linkType)).toEqual([127]);
    expect(packets.map(({ timestampHigh, timestampLow }) => timestampHigh * 2 ** 32 + timestampLow)).toEqual(
      [0, 110.25, 900].map((ms) => (started + ms) * 1000),
    );
    const [first] = packets;
    // By the bytes of radiotap.org: length, what is present, frequency, level; then the frame of IEEE 802.11, 9.3.3.2.
    const bytes = [...first!.data];
    expect(bytes.slice(0, 8)).toEqual([0, 0, 15, 0, 0x2a, 0, 0, 0]);
    expect(bytes[10]! + 256 * bytes[11]!).toBe(5180);
    expect(bytes[14]! - 256).toBe(-61);
    const frame = bytes.slice(15);
    expect(frame[0]).toBe(0x80);
    expect(frame.slice(16, 22)).toEqual([0x02, 0x55, 0xaa, 0, 1, 2]);
    expect(String.fromCharCode(...frame.slice(38, 38 + frame[37]!))).toBe('museum');
    // VHT operation: 80 MHz round channel 42.
    const at = frame.findIndex((byte, i) => i > 44 && byte === 192 && frame[i + 1] === 5);
    expect(frame.slice(at + 2, at + 5)).toEqual([1, 42, 0]);
  });
  test('what others write is read: big-endian, nanoseconds, other blocks, a trailing checksum, an end within a block', () => {
    const frame = beaconFrame({ bssid: '02:00:00:00:00:01', ssid: 'x', band: '2.4', channel: 6, widthMhz: 20, rssiDbm: -50 }, 1);
    const withFcs = Uint8Array.of(...frame, 1, 2, 3, 4);
    withFcs[8] = 0x10;
    const body = (length: number, fill: (view: DataView) => void): DataView => {
      const view = new DataView(new ArrayBuffer(length));
      fill(view);
      return view;
    };
    const block = (type: number, content: DataView): number[] => {
      const length = 12 + content.byteLength;
      const out = body(length, (view) => {
        view.setUint32(0, type);
        view.setUint32(4, length);
        for (let i = 0; i < content.byteLength; i++) view.setUint8(8 + i, content.getUint8(i));
        view.setUint32(length - 4, length);
      });
      return [...new Uint8Array(out.buffer)];
    };
    const padded = Math.ceil(withFcs.length / 4) * 4;
    const timeNs = 1_700_000_000_123_456_000n;
    const file = Uint8Array.from([
      ...block(
        0x0a0d0d0a,
        body(16, (v) => [v.setUint32(0, 0x1a2b3c4d), v.setUint16(4, 1)]),
      ),
      ...block(
        1,
        body(16, (v) => [v.setUint16(0, 127), v.setUint16(8, 9), v.setUint16(10, 1), v.setUint8(12, 9)]),
      ),
      ...block(
        5,
        body(8, () => {}),
      ),
      ...block(
        6,
        body(20 + padded, (v) => {
          v.setUint32(4, Number(timeNs >> 32n));
          v.setUint32(8, Number(timeNs & 0xffffffffn));
          v.setUint32(12, withFcs.length);
          v.setUint32(16, withFcs.length);
          withFcs.forEach((byte, i) => v.setUint8(20 + i, byte));
        }),
      ),
      0,
      0,
      0,
      6,
      0,
      0,
      1,
      0,
      0,
      0,
      0,
      0,
    ]);
    const { beacons } = readCapture(file);
    expect(beacons).toHaveLength(1);
    expect(beacons[0]).toMatchObject({ bssid: '02:00:00:00:00:01', channel: 6, rssiDbm: -50, place: null });
    expect(Math.abs(beacons[0]!.timeUs - 1_700_000_000_123_456)).toBeLessThan(1);
  });
  test('what is none is refused with what to do', () => {
    expect(code(() => readCapture(new Uint8Array(4)))).toMatch(/CAPTURE_UNREADABLE it is too short/);
    expect(code(() => readCapture(new Uint8Array(100)))).toMatch(/no pcapng/);
    expect(code(() => readCapture(Uint8Array.of(0xd4, 0xc3, 0xb2, 0xa1, ...new Array<number>(40).fill(0))))).toMatch(/older format/);
    const plain = { timeUs: 0, bytes: Uint8Array.of(1, 2, 3), comment: null };
    expect(code(() => readCapture(writePcapng(105, [plain])))).toMatch(/radiotap/);
    expect(code(() => readCapture(writePcapng(LINK_RADIOTAP, [plain])))).toMatch(/no beacon/);
    expect(code(() => readCapture(writePcapng(LINK_RADIOTAP, [])))).toMatch(/no beacon/);
    const broken = captureOf(samples, started);
    broken.set([7, 0, 0, 0], 4);
    expect(code(() => readCapture(broken))).toMatch(/a block at byte 0/);
    // Cut anywhere it gives what came before, or says what is wrong: never anything else.
    const whole = captureOf(samples, started);
    for (let length = 0; length < whole.length; length += 7)
      expect(code(() => readCapture(whole.slice(0, length)))).toMatch(/^(none|CAPTURE_UNREADABLE)/);
    for (let i = 0; i < whole.length; i += 3) {
      const bent = whole.slice();
      bent[i] = bent[i]! ^ 0xff;
      expect(code(() => readCapture(bent))).toMatch(/^(none|CAPTURE_UNREADABLE)/);
    }
    expect(readPcapng(whole)).toHaveLength(3);
  });
});

describe('what comes without a receiver of ours', () => {
  const turn = (xM: number, tMs: number) => ({ xM, yM: 0, tMs });
  const legs = [{ turns: [turn(0, 0), turn(10, 10_000)] }, { turns: [turn(50, 20_000), turn(60, 25_000)] }];
  const beacon = (ms: number) => ({
    bssid: '02:00:00:00:00:01',
    ssid: 's',
    band: '5' as const,
    channel: 36,
    widthMhz: 20 as const,
    rssiDbm: -50,
    timeUs: (started + ms) * 1000,
    place: null,
  });
  test('a capture lies along the clicks by its time; what came in a gap, before or after is counted', () => {
    const { samples: along, outside } = samplesAlong(
      [beacon(22_500), beacon(4000), beacon(15_000), beacon(-1), beacon(25_001)],
      legs,
      started * 1000,
      () => null,
    );
    expect(along.map(({ leg, tMs, xM }) => [leg, tMs, xM])).toEqual([
      [0, 4000, 4],
      [1, 22_500, 55],
    ]);
    expect(outside).toBe(3);
  });
  test('the way of samples with places of their own passes within 5 cm of each at its time, with few turns', () => {
    const walked = Array.from({ length: 400 }, (_, i) => {
      const s = i * 0.1;
      return sample({ leg: 7, tMs: i * 100, xM: s < 20 ? s : 20, yM: s < 20 ? 3 : 3 + (s - 20) });
    });
    const alone = sample({ leg: 9, tMs: 99_000, xM: 5, yM: 5 });
    const { legs: way, samples: numbered } = wayOf([alone, ...walked], 2000);
    expect(way[0]!.turns.map(({ xM, yM }) => [xM, yM])).toEqual([
      [0, 3],
      [20, 3],
      [20, expect.closeTo(22.9, 6)],
    ]);
    expect(way[1]!.turns).toHaveLength(2);
    const { samples: placed } = countedOf({ legs: way, leftOut: [], receiver: null }, { ...NOTHING_HEARD, samples: numbered });
    expect(placed).toHaveLength(401);
    placed.forEach((one, i) => expect(Math.hypot(one.xM - numbered[i]!.xM, one.yM - numbered[i]!.yM)).toBeLessThan(0.051));
    expect(placed.at(-1)).toMatchObject({ leg: 1, xM: 5, yM: 5 });
    // Of a winding way so many turns are kept as may be.
    const winding = Array.from({ length: 300 }, (_, i) => sample({ tMs: i * 100, xM: i * 0.1, yM: i % 2 }));
    expect(wayOf(winding, 1000).legs[0]!.turns.length).toBe(300);
    expect(wayOf(winding, 20).legs[0]!.turns.length).toBeLessThanOrEqual(20);
  });
});
