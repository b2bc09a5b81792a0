import { advisedOf, optionOf, ranked, summaryOf, type Option } from '@/core/air/advice';
import { NOTHING_ON_AIR, withRounds } from '@/core/air/heard';
import { dwell, trulyLeft, type ChannelLoad } from '@/core/air/load';
import { overlaps, signalPieces, type AirRadio, type AirSignal, type AirSpot } from '@/core/air/radio';
import { roundsBetween } from '@/core/air/scan';
import { hashText, seeded } from '@/core/random';
import type { WidthMhz } from '@/core/radio/band';
import { liesBetween, type Channel } from '@/core/radio/channel';
import { allowedChannels } from '@/core/radio/regulation';
import { CCA_DBM } from '@/core/radio/sharing';
import { burstsIn } from '@/core/spectrum/bursts';
import { identify } from '@/core/spectrum/identify';
import { sceneOf } from '@/core/spectrum/scenes.testing';
import { shareBetween } from '@/core/spectrum/shape';
import { SIGNAL_KINDS, type SignalKind } from '@/core/spectrum/signal';
import { sweep, type Received, type SweepSetting } from '@/core/spectrum/sweep';
import { addSweep, noTraces } from '@/core/spectrum/traces';
import { median } from './timing';

type Row = [string, string, string];
const SCENES = 20;
const SITES = 100;

/** What is told of scenes by chance: rows are what was there, columns what was told, and how often wrongly with more than 80 %. */
function confusion(): Row[] {
  const rows: Row[] = [];
  for (const kind of [...SIGNAL_KINDS, null]) {
    const told = new Map<string, number>();
    let [right, wrong, ms] = [0, 0, 0];
    for (let seed = 1; seed <= SCENES; seed++) {
      const { look, sources, frames, fromUs } = sceneOf(kind, seed);
      const started = performance.now();
      const found = identify(burstsIn(look, sources, frames, fromUs, seed), look);
      ms += performance.now() - started;
      if (kind === null ? found.length === 0 : found.some((one) => one.kind === kind && one.likelihood >= 0.5)) right++;
      wrong += found.filter((one) => one.kind !== kind && one.kind !== 'not known' && one.likelihood > 0.8).length;
      for (const name of found.length === 0 ? ['nothing'] : found.map((one) => one.kind)) told.set(name, (told.get(name) ?? 0) + 1);
    }
    const words = [...told].sort((a, b) => b[1] - a[1]).map(([name, count]) => `${count} ${name}`);
    rows.push([
      `what is it: ${kind ?? 'networks alone'}`,
      (ms / SCENES).toFixed(0),
      `right ${right} of ${SCENES}, surely wrong ${wrong}; told: ${words.join(', ')}`,
    ]);
  }
  return rows;
}

/** A spot by chance: networks on the usual channels and between, some loud and some faint, a signal that is not Wi-Fi on every third. */
function spotOf(seed: number, band: '2.4' | '5'): AirSpot {
  const uniform = seeded(hashText(`site/${band}/${seed}`));
  const pick = <T>(list: readonly T[]): T => list[Math.floor(uniform() * list.length)]!;
  const radios = Array.from({ length: 6 + Math.floor(uniform() * 16) }, (_, i): AirRadio => {
    const widthMhz: WidthMhz = band === '2.4' ? (uniform() < 0.1 ? 40 : 20) : pick([20, 40, 80] as const);
    const primary =
      band === '2.4'
        ? uniform() < 0.75
          ? pick([1, 6, 11])
          : pick([2, 3, 4, 5, 7, 8, 9, 10])
        : pick([36, 40, 44, 48, 52, 56, 60, 64, 100, 104, 108, 112]);
    const bssid = `02:77:10:00:${seed.toString(16)}:${i.toString(16).padStart(2, '0')}`;
    const network = {
      bssid,
      ssid: bssid,
      generation: 'Wi-Fi 5',
      streams: 2,
      basicMbps: [6],
      security: 'WPA2',
      country: null,
      tellsLoad: true,
    } as const;
    return {
      apId: null,
      levelDbm: -45 - 45 * uniform(),
      channel: { band, primary, widthMhz },
      networks: [network],
      busy: uniform() < 0.5 ? 0.1 * uniform() : 0.15 + 0.5 * uniform(),
      clients: 5,
      day: 'steady',
      hours: [],
      moves: [],
      seed: Math.floor(uniform() * 2 ** 31),
    };
  });
  const kind: SignalKind = band === '2.4' ? pick(['oven', 'analogue-video', 'phone', 'carrier'] as const) : 'digital-video';
  const centreMhz = band === '2.4' ? 2410 + 60 * uniform() : 5190 + 100 * uniform();
  const signals: AirSignal[] = seed % 3 === 0 ? [{ levelDbm: -62 + 22 * uniform(), source: { kind, centreMhz, seed, hours: [] } }] : [];
  return { radios, signals, seed };
}

const AT_MS = 12 * 3_600_000;
/** Share of ten seconds in which a signal's power in 20 MHz is above energy detection, by brute force. */
function dutyOf(signal: AirSignal, centreMhz: number): number {
  const [from, to] = [AT_MS * 1000, AT_MS * 1000 + 10e6];
  const taken = signalPieces(signal, from, to)
    .filter(({ fromMhz, toMhz, shape }) => {
      const off = centreMhz - (fromMhz + toMhz) / 2;
      return signal.levelDbm + 10 * Math.log10(shareBetween(shape, off - 10, off + 10)) >= CCA_DBM.energy;
    })
    .reduce((sum, { fromUs, toUs }) => sum + Math.min(toUs, to) - Math.max(fromUs, from), 0);
  return Math.min(1, taken / (to - from));
}

/** Advice after a minute's measurement against the truth, and against the channel with the fewest networks. */
function advice(band: '2.4' | '5'): Row[] {
  const allowed = allowedChannels('UK', band, 20);
  const channels = allowed.map(({ channel }) => channel.primary);
  let [near, gain, lost, ms, between] = [0, 0, 0, 0, 0];
  for (let seed = 1; seed <= SITES; seed++) {
    const spot = spotOf(seed, band);
    const started = performance.now();
    const loads = new Map<number, ChannelLoad[]>();
    let atMs = AT_MS;
    while (atMs < AT_MS + 60_000)
      for (const channel of channels) {
        loads.set(channel, [...(loads.get(channel) ?? []), dwell(spot, band, channel, atMs, 200)]);
        atMs += 200;
      }
    ms += performance.now() - started;
    const summaries = [...loads].map(([channel, dwells]) => summaryOf({ band, channel, dwells }));
    const count = (channel: Channel) => spot.radios.filter((radio) => radio.levelDbm > -88 && overlaps(radio.channel, channel)).length;
    const options: Option[] = ranked(allowed.flatMap((one) => optionOf(one, summaries, count, null) ?? []));
    // The truth of the whole minute, wave by wave.
    const truth = (channel: Channel) =>
      [10_000, 30_000, 50_000].reduce((sum, later) => sum + trulyLeft(spot, channel, AT_MS + later, null, dutyOf), 0) / 3;
    // Nobody is advised to stand between 1, 6 and 11: the best is of those.
    const best = Math.max(...allowed.flatMap(({ channel }) => (liesBetween(channel) ? [] : [truth(channel)])));
    between += Math.max(...allowed.map(({ channel }) => truth(channel))) - best;
    const advised = truth(advisedOf(options)!.channel);
    const fewest = truth(
      options.reduce((least, one) =>
        one.networks < least.networks || (one.networks === least.networks && one.channel.primary < least.channel.primary) ? one : least,
      ).channel,
    );
    if (best - advised <= 0.02) near++;
    lost += best - advised;
    gain += advised - fewest;
  }
  return [
    [
      `advice at ${band} GHz, ${SITES} sites`,
      (ms / SITES).toFixed(0),
      `within 2 % of airtime of the best in ${near}; ${(100 * (lost / SITES)).toFixed(2)} % below it on average${band === '2.4' ? ` (best of 1, 6 and 11; a channel between would have left ${(100 * (between / SITES)).toFixed(1)} % more on average, as noise to both sides)` : ''}; ${(100 * (gain / SITES)).toFixed(1)} % more airtime left than on the channel with the fewest networks`,
    ],
  ];
}

/** Rounds of 2000 networks taken into what was heard; sweeps made, and taken into the traces; and what ten minutes of both hold. */
function speed(): Row[] {
  const radios = Array.from({ length: 2000 }, (_, i): AirRadio => {
    const one = spotOf(i + 1, '2.4').radios[0]!;
    return {
      ...one,
      networks: [{ ...one.networks[0]!, bssid: `02:77:10:00:${(i >> 8).toString(16)}:${(i & 255).toString(16)}` }],
      levelDbm: -50 - (i % 40),
      channel: { band: '2.4', primary: 1 + (i % 11), widthMhz: 20 },
    };
  });
  const spot: AirSpot = { radios, signals: [], seed: 1 };
  const scan = { channels: Array.from({ length: 13 }, (_, i) => ({ band: '2.4' as const, channel: i + 1 })), dwellMs: 110, intervalMs: 0 };
  const rounds = roundsBetween(spot, scan, 0, 150_000);
  const before = process.memoryUsage().heapUsed;
  let heard = NOTHING_ON_AIR;
  const started = performance.now();
  for (const round of rounds) heard = withRounds(heard, [round], () => true);
  const each = (performance.now() - started) / rounds.length;
  const heldMb = (process.memoryUsage().heapUsed - before) / 2 ** 20;
  const setting: SweepSetting = { startMhz: 2400, stopMhz: 2500, bins: 2000, rbwKhz: 300, sweepMs: 50, detector: 'peak' };
  const sources: Received[] = spotOf(3, '2.4').signals.map((signal) => ({
    levelDbm: signal.levelDbm,
    pieces: (from, to) => signalPieces(signal, from, to),
  }));
  let traces = noTraces(setting.bins);
  const [made, taken] = [[] as number[], [] as number[]];
  for (let i = 0; i < 200; i++) {
    const begin = performance.now();
    const levels = sweep(setting, sources, i * 50_000, 1);
    const between = performance.now();
    traces = addSweep(traces, levels, -80, 20);
    made.push(between - begin);
    taken.push(performance.now() - between);
  }
  return [
    [
      '2000 networks, a round',
      each.toFixed(1),
      `${(1000 / each).toFixed(0)} updates a second; ${heard.networks.size} networks over ${rounds.length} rounds the heap grew by ${heldMb.toFixed(0)} MB meanwhile`,
    ],
    ['a sweep of 2000 bins, made', median(made).toFixed(2), `${(1000 / median(made)).toFixed(0)} a second`],
    [
      'a sweep of 2000 bins, taken into the traces',
      median(taken).toFixed(2),
      `${(1000 / median(taken)).toFixed(0)} a second; ${traces.sweeps} sweeps`,
    ],
    [
      'ten minutes of sweeps',
      '',
      `${((12_000 * setting.bins * 2) / 2 ** 20).toFixed(0)} MB of levels, ${((setting.bins * (4 * 4 + 4 + 66 * 4)) / 2 ** 20).toFixed(1)} MB of traces`,
    ],
  ];
}

export const benchAir = (): Row[] => [...confusion(), ...advice('2.4'), ...advice('5'), ...speed()];
