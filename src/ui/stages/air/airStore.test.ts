import { afterEach, beforeEach, describe, expect, test } from '@jest/globals';
import { cottageBuilding } from '@demo/cottage';
import type { AirAnswer, AirRequest } from '@/contract/air';
import { api } from '../../state/api';
import { useDocument } from '../../state/documentStore';
import { useSession } from '../../state/sessionStore';
import { UpperRoomError } from '@/core/errors';
import { rememberAir } from './airMemory';
import { forgetAir, jumpTo, measureLoad, OPENING_MS, putReceiver, setAir, tick, useAir } from './airStore';

type Question = Readonly<{ asked: AirRequest['asked']; answer: (answer: AirAnswer) => void; fail: (error: UpperRoomError) => void }>;
const asked: Question[] = [];
const before = api.air;

beforeEach(() => {
  asked.length = 0;
  Object.assign(api, {
    air: (_id: string, { asked: what }: AirRequest) => new Promise<AirAnswer>((answer, fail) => asked.push({ asked: what, answer, fail })),
  });
  const { design } = cottageBuilding();
  useDocument.setState({ projectId: 'cottage', design });
  useSession.setState({ stage: 'air', floorId: Object.keys(design.floors)[0]!, variantId: Object.keys(design.variants)[0]! });
});
afterEach(() => {
  Object.assign(api, { air: before });
  forgetAir();
  useDocument.setState({ projectId: null });
});
const settled = () => new Promise((resolve) => setTimeout(resolve, 0));
const reading = {
  network: {
    bssid: '02:77:10:00:00:01',
    ssid: 'x',
    generation: 'Wi-Fi 5',
    streams: 2,
    basicMbps: [6],
    security: 'WPA2',
    country: null,
    tellsLoad: false,
  },
  band: '2.4',
  channel: 1,
  widthMhz: 20,
  dbm: -60,
  load: null,
  clients: null,
} as const;
const round = (atMs: number): AirAnswer => ({
  what: 'networks',
  rounds: [{ atMs, readings: [{ ...reading, network: { ...reading.network, basicMbps: [6] } }] }],
});
const loads = (question: AirRequest['asked']): AirAnswer => ({
  what: 'load',
  loads:
    question.what === 'load'
      ? question.channels.map(({ band, channel }) => ({
          band,
          channel,
          ms: 200,
          ours: 0,
          others: 0.2,
          notWifi: 0,
          energyDbm: -80,
          noiseDbm: -95,
          takers: [],
        }))
      : [],
});

test('the clock goes on with the answer, and stands while there is none', async () => {
  const { clockMs } = useAir.getState();
  const ticking = tick(250);
  await tick(250);
  expect(asked).toHaveLength(1);
  expect(useAir.getState().clockMs).toBe(clockMs);
  asked[0]!.answer(round(clockMs));
  await ticking;
  expect(useAir.getState().clockMs).toBe(clockMs + 250);
  expect(useAir.getState().heard.networks.size).toBe(1);
  const failing = tick(250);
  asked[1]!.fail(new UpperRoomError('NETWORK_FAILED'));
  await failing;
  expect(useAir.getState().clockMs).toBe(clockMs + 250);
  expect(useAir.getState().problem).toContain('does not answer');
});

test('what was asked for another spot or time is let go', async () => {
  const { clockMs } = useAir.getState();
  let ticking = tick(250);
  putReceiver({ spot: { xM: 1, yM: 1 }, apId: null });
  asked[0]!.answer(round(clockMs));
  await ticking;
  expect(useAir.getState().heard.networks.size).toBe(0);
  ticking = tick(250);
  jumpTo(3_600_000);
  asked[1]!.answer(round(clockMs));
  await ticking;
  expect(useAir.getState()).toMatchObject({ clockMs: 3_600_000 });
  expect(useAir.getState().heard.networks.size).toBe(0);
});

test('on another floor what was heard begins anew', async () => {
  let ticking = tick(250);
  asked[0]!.answer(round(useAir.getState().clockMs));
  await ticking;
  const { design } = useDocument.getState();
  const [floor] = Object.values(design.floors);
  useDocument.setState({ design: { ...design, floors: { ...design.floors, above: { ...floor!, id: 'above', elevationM: 3 } } } });
  useSession.setState({ floorId: 'above' });
  ticking = tick(250);
  asked[1]!.answer({ what: 'networks', rounds: [] });
  await ticking;
  expect(useAir.getState().heard.networks.size).toBe(0);
});

test('of another project nothing comes in', async () => {
  const ticking = tick(250);
  forgetAir();
  useDocument.setState({ projectId: 'another' });
  asked[0]!.answer(round(0));
  await ticking;
  expect(useAir.getState().heard.networks.size).toBe(0);
});

test('a measurement takes the clock over from an answer that is still on its way', async () => {
  const { clockMs } = useAir.getState();
  const ticking = tick(250);
  const measuring = measureLoad([1, 6], 0.8);
  asked[0]!.answer(round(clockMs));
  await ticking;
  expect(useAir.getState().clockMs).toBe(clockMs);
  for (let i = 1; i <= 2; i++) {
    await settled();
    asked[i]!.answer(loads(asked[i]!.asked));
  }
  await measuring;
  const { load, busy } = useAir.getState();
  expect(busy).toBeNull();
  expect(load['2.4']).toMatchObject({ done: true, atMs: clockMs });
  expect(load['2.4']!.loads).toHaveLength(4);
  expect(useAir.getState().clockMs).toBe(clockMs + 800);
});

test('measured again, the one before stands beside it; one that brings nothing leaves what was known', async () => {
  const measure = async () => {
    const from = asked.length;
    const measuring = measureLoad([1], 0.4);
    for (let i = from; i < from + 2; i++) {
      await settled();
      asked[i]!.answer(loads(asked[i]!.asked));
    }
    await measuring;
  };
  await measure();
  const first = useAir.getState().load['2.4'];
  await measure();
  expect(useAir.getState().before['2.4']).toBe(first);
  const second = useAir.getState().load['2.4'];
  const failing = measureLoad([1], 0.4);
  await settled();
  asked.at(-1)!.fail(new UpperRoomError('NETWORK_FAILED'));
  await failing;
  expect(useAir.getState().load['2.4']).toBe(second);
  expect(useAir.getState().busy).toBeNull();
});

test('elsewhere than in Air, or paused, nothing is asked', async () => {
  setAir({ running: false });
  await tick(250);
  setAir({ running: true });
  useSession.setState({ stage: 'design' });
  await tick(250);
  expect(asked).toEqual([]);
});

test('set back, the clock says so; set on, or before anything was heard, it need not', async () => {
  const { clockMs } = useAir.getState();
  useDocument.setState({ notice: null });
  jumpTo(clockMs - 1000);
  expect(useDocument.getState().notice).toBeNull();
  const ticking = tick(250);
  asked[0]!.answer(round(clockMs));
  await ticking;
  jumpTo(useAir.getState().clockMs - 60_000);
  expect(useDocument.getState().notice).toMatchObject({ words: expect.stringContaining('set back') });
});

describe('remembered', () => {
  const kept = new Map<string, string>();
  beforeEach(() => {
    kept.clear();
    Object.defineProperty(globalThis, 'localStorage', {
      configurable: true,
      value: { getItem: (key: string) => kept.get(key) ?? null, setItem: (key: string, text: string) => void kept.set(key, text) },
    });
  });
  afterEach(() => void Reflect.deleteProperty(globalThis, 'localStorage'));

  test('where the receiver stood, and when; not what it heard', () => {
    const stop = rememberAir('cottage');
    setAir({ spot: { xM: 3, yM: 4 }, clockMs: 4.5e7, tab: 'load', picked: ['x'] });
    stop();
    forgetAir();
    rememberAir('another')();
    expect(useAir.getState().tab).toBe('networks');
    rememberAir('cottage')();
    expect(useAir.getState()).toMatchObject({ spot: { xM: 3, yM: 4 }, clockMs: 4.5e7, tab: 'load', picked: [] });
  });
  test('what cannot be read, or is of no such thing, begins at the beginning', () => {
    for (const text of ['{', '{"tab":"constructor"}', '{"clockMs":-1}', '{"scan":{"bands":["7"],"dwellMs":110,"intervalS":0}}']) {
      kept.set('upper-room.air.cottage', text);
      rememberAir('cottage')();
      expect(useAir.getState()).toMatchObject({ tab: 'networks', clockMs: OPENING_MS });
    }
  });
});
