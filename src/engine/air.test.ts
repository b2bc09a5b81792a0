import { describe, expect, test } from '@jest/globals';
import { floorsOf, variantsOf, type Design } from '@/core/design/design';
import { museumBuilding } from '@demo/museum';
import type { AirQuestion } from '@/contract/air';
import { airAt, askAir } from './air';
import { audible } from './listen';

const { design, sites } = museumBuilding();
const quay = floorsOf(design)[0]!;
const [asFound, proposed] = variantsOf(design);
const KITCHEN = { xM: 66, yM: 17 };
const LUNCH = 12.3 * 3_600_000;
const where = (fields: Partial<Parameters<typeof airAt>[2]> = {}) => ({
  floorId: quay.id,
  variantId: asFound!.id,
  ...KITCHEN,
  apId: null,
  ...fields,
});
const spotAt = (fields: Partial<Parameters<typeof airAt>[2]> = {}, of: Design = design) =>
  airAt(audible(of, where(fields)), sites[quay.id]!, where(fields));
const ask = <W extends AirQuestion['what']>(asked: Extract<AirQuestion, { what: W }>, fields = {}) => askAir(spotAt(fields), asked);
const named = (name: string) => Object.values(design.accessPoints).find((ap) => ap.name === name)!;

describe('what arrives at a spot', () => {
  test('every radio of ours with the names that it announces, and each neighbour; what is off is not there', () => {
    const { radios } = spotAt();
    expect(radios.filter(({ apId }) => apId !== null)).toHaveLength(12);
    expect(radios.filter(({ apId }) => apId === null)).toHaveLength(5);
    const old5 = radios.find(({ apId, channel }) => apId === named('Old-5').id && channel.band === '2.4')!;
    expect(new Set(old5.networks.map(({ bssid }) => bssid)).size).toBe(old5.networks.length);
    expect(old5.networks.map(({ ssid }) => ssid)).toContain('Tickets');
    expect(old5.channel).toEqual({ band: '2.4', primary: 6, widthMhz: 40 });
  });
  test('an access point does not hear itself, and hears the others where it hangs', () => {
    const { id, xM, yM } = named('Old-5');
    const there = spotAt({ apId: id });
    expect(there.radios.some(({ apId }) => apId === id)).toBe(false);
    const other = (spot: typeof there) => spot.radios.find(({ apId, channel }) => apId === named('Old-6').id && channel.band === '2.4')!.levelDbm;
    expect(Math.abs(other(there) - other(spotAt({ xM, yM })))).toBeLessThan(6);
    expect(() => spotAt({ apId: 'gone' })).toThrow(expect.objectContaining({ code: 'RECORD_UNKNOWN' }));
  });
  test('it falls with the distance from the oven', () => {
    const oven = (fields: object) => spotAt(fields).signals.find(({ source }) => source.kind === 'oven')!.levelDbm;
    expect(oven({})).toBeGreaterThan(oven({ xM: 40, yM: 30 }) + 15);
  });
  test('a radio whose channel needs radar detection is elsewhere while the radar is on and half an hour longer', () => {
    const outdoor = named('Q-09');
    const { moves, channel } = spotAt({ variantId: proposed!.id }).radios.find(({ apId, channel: on }) => apId === outdoor.id && on.band === '5')!;
    expect(channel.primary).toBe(100);
    expect(moves).toHaveLength(2);
    expect(moves[0]!.channel).toEqual({ band: '5', primary: 36, widthMhz: 20 });
    expect(moves[0]!.fromMs).toBeCloseTo(10.6 * 3_600_000, 3);
    expect(moves[0]!.toMs).toBeCloseTo(11.25 * 3_600_000, 3);
    expect(spotAt({ variantId: proposed!.id }).radios.filter(({ moves: any }) => any.length > 0)).toHaveLength(1);
  });
  test('one that runs on another channel than it is set to is heard there', () => {
    const site = { ...sites[quay.id]!, faults: [{ kind: 'channel', apId: named('Old-6').id, band: '2.4', channel: 1, widthMhz: 20 } as const] };
    const { radios } = airAt(audible(design, where()), site, where());
    expect(radios.find(({ apId, channel }) => apId === named('Old-6').id && channel.band === '2.4')!.channel.primary).toBe(1);
  });
});

describe('the instruments in the kitchen', () => {
  test('tell the oven at lunch, and nothing of it in the morning', () => {
    const kinds = (hour: number) => {
      const answer = ask({ what: 'identify', startMhz: 2400, stopMhz: 2500, fromMs: hour * 3_600_000 });
      return answer.what === 'identify' ? answer.found.filter(({ likelihood }) => likelihood > 0.8).map(({ kind }) => kind) : [];
    };
    expect(kinds(12.3)).toContain('oven');
    expect(kinds(9)).not.toContain('oven');
  });
  test('find channels 8 to 13 taken by it, and 1 not', () => {
    const channels = [1, 10].map((channel) => ({ band: '2.4' as const, channel }));
    const answer = ask({ what: 'load', channels, dwellMs: 1000, fromMs: LUNCH });
    const [one, ten] = answer.what === 'load' ? answer.loads : [];
    expect(one!.notWifi).toBe(0);
    expect(ten!.notWifi).toBeGreaterThan(0.05);
  });
  test('sweeps come in order, as long after one another as each takes; the same question has the same answer', () => {
    const setting = { startMhz: 2400, stopMhz: 2500, bins: 200, rbwKhz: 300, sweepMs: 50, detector: 'peak' as const };
    const asked = { what: 'sweeps', setting, fromMs: LUNCH, count: 3 } as const;
    const answer = ask(asked);
    expect(answer).toEqual(ask(asked));
    expect(answer.what === 'sweeps' && answer.sweeps.map(({ atMs }) => atMs - LUNCH)).toEqual([0, 50, 100]);
    expect(answer.what === 'sweeps' && answer.sweeps[0]!.tenthsDbm.length).toBe(200);
  });
});
