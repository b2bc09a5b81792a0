import { announcedBy } from '@/core/design/ssids';
import { domainOf, modelsOf, projectOf, type Design } from '@/core/design/design';
import { AP_NOISE_FIGURE_DB } from '@/core/radio/receiver';
import { basicRatesOf } from '@/core/radio/beacon';
import { ISOTROPIC } from '@/core/radio/antenna';
import { BANDS, bandAt, type Band } from '@/core/radio/band';
import { radioModelOf } from '@/core/radio/catalogue';
import { centreMhz, occupied20, type Channel } from '@/core/radio/channel';
import type { Generation } from '@/core/radio/rates';
import { allowedChannels, ruleFor, type Domain } from '@/core/radio/regulation';
import { seeded, type Uniform } from '@/core/random';
import { DAYS, radioPieces, signalPieces, type AirRadio, type AirSpot, type Broadcast, type Day, type Move, type Security } from '@/core/air/radio';
import { dwell } from '@/core/air/load';
import { roundsBetween } from '@/core/air/scan';
import { burstsIn, type Frame, type Look } from '@/core/spectrum/bursts';
import { identify, type Identified } from '@/core/spectrum/identify';
import type { SignalSource } from '@/core/spectrum/signal';
import { sweep, type Received } from '@/core/spectrum/sweep';
import { UpperRoomError } from '@/core/errors';
import { bssidsOf, trueLoss, type Interferer, type Neighbour, type SiteParameters, type Transmitter } from '@/core/survey/site';
import type { AirAnswer, AirQuestion, AirWhere } from '@/contract/air';
import { trueStorey, type TrueStorey } from './truth';

/** The country that beacons of a domain tell (IEEE 802.11-2020, 9.4.2.8: two letters of ISO 3166-1); a domain of many countries tells none. */
const COUNTRY: Readonly<Record<string, string>> = { US: 'US', UK: 'GB', CA: 'CA', AU: 'AU', JP: 'JP' };

/** From this level an access point on a channel with radar detection leaves it (EN 301 893, table D.2), and for so long it stays away (47 CFR 15.407 (h)(2)(iv)). */
const RADAR_DBM = -62;
const STAYS_AWAY_MS = 30 * 60_000;
const HOUR_MS = 3_600_000;
const DAY_H = 24;

const oneOf = <T>(uniform: Uniform, list: readonly T[]): T => list[Math.floor(uniform() * list.length)]!;

/** The basic rates of a network, from the lowest up: those that are usually set. */
function basicRates(band: Band, lowestMbps: number): number[] {
  const usual = band === '2.4' ? [1, 2, 5.5, 11, 6, 12, 24] : [6, 12, 24];
  const rates = basicRatesOf(band).filter((rate) => rate >= lowestMbps && usual.includes(rate));
  // At 2.4 GHz whoever keeps the oldest rates names these alone.
  return lowestMbps < 6 && band === '2.4' ? rates.filter((rate) => [1, 2, 5.5, 11].includes(rate)) : rates;
}

/** What a neighbour's network is like besides what the site says of it: by chance of its address. */
function strange(one: Neighbour): Pick<AirRadio, 'networks' | 'busy' | 'clients' | 'day' | 'hours'> {
  const uniform = seeded(one.bssid);
  const newest: Generation =
    one.band === '6'
      ? 'Wi-Fi 6E'
      : one.widthMhz >= 160
        ? 'Wi-Fi 6'
        : oneOf(uniform, one.widthMhz >= 80 ? (['Wi-Fi 5', 'Wi-Fi 6'] as const) : (['Wi-Fi 4', 'Wi-Fi 5', 'Wi-Fi 6'] as const));
  const security: Security = one.band === '6' ? 'WPA3' : oneOf(uniform, ['WPA2', 'WPA2', 'WPA2/WPA3', 'open', 'WEP'] as const);
  const busy = 0.05 + 0.35 * uniform();
  const network: Broadcast = {
    bssid: one.bssid,
    ssid: one.ssid,
    generation: newest,
    streams: oneOf(uniform, [1, 2, 2, 4]),
    basicMbps: basicRates(one.band, one.band === '2.4' ? oneOf(uniform, [1, 1, 6]) : 6),
    security,
    country: oneOf(uniform, ['GB', 'GB', null]),
    tellsLoad: uniform() < 0.6,
  };
  return { networks: [network], busy: one.busy ?? busy, clients: Math.floor(1 + 14 * uniform()), day: oneOf(uniform, DAYS), hours: one.hours ?? [] };
}

/** What a radio of ours is like on the air, by its model, the brief and chance of its address. */
function own(design: Design, { apId, bssid, channel, ssid }: Transmitter): Pick<AirRadio, 'networks' | 'busy' | 'clients' | 'day' | 'hours'> {
  const ap = design.accessPoints[apId!];
  const project = projectOf(design)!;
  const { band } = channel;
  const uniform = seeded(bssid);
  const model = ap === undefined ? null : modelsOf(design)(ap.modelId);
  const said = ap === undefined ? null : announcedBy(design, ap, band);
  const names = said === null ? [ssid] : said.map(({ name }) => name);
  const addresses = bssidsOf(apId!, band, names.length);
  const lowest = project.network.basicMbps[band] ?? (band === '2.4' ? 1 : 6);
  const networks = names.map((name, i): Broadcast => ({
    bssid: addresses[i]!,
    ssid: name,
    generation: model?.generation ?? 'Wi-Fi 6',
    streams: (model === null ? null : radioModelOf(model, band)?.streams) ?? 2,
    basicMbps: basicRates(band, lowest),
    security: band === '6' ? 'WPA3' : /guest|visitor/i.test(name) ? 'open' : 'WPA2',
    country: COUNTRY[typeof project.domain === 'string' ? project.domain : ''] ?? null,
    tellsLoad: true,
  }));
  const most = band === '6' ? 0.12 : 0.25;
  return { networks, busy: 0.04 + most * uniform(), clients: Math.floor(2 + 20 * uniform()), day: 'visitors' satisfies Day, hours: [] };
}

/** Where an access point goes that sees radar: the first channel of its width, or of a narrower one, that needs no radar detection. */
function refuge(domain: Domain, channel: Channel): Channel | null {
  for (let widthMhz = channel.widthMhz; widthMhz >= 20; widthMhz = (widthMhz / 2) as typeof widthMhz) {
    const free = allowedChannels(domain, channel.band, widthMhz).find(({ dfs }) => !dfs);
    if (free !== undefined) return free.channel;
  }
  return null;
}

/**
 * What arrives at a spot of the simulated site, or where one of our access points hangs: every radio and every signal, whenever it is on. Only the receiver's port asks.
 * @throws UpperRoomError RECORD_UNKNOWN when the floor or the access point is gone
 */
export function airAt(design: Design, site: SiteParameters, where: AirWhere): AirSpot {
  const storey = trueStorey(design, site, where);
  const { transmitters, zM } = storey;
  let at = { xM: where.xM, yM: where.yM, zM };
  if (where.apId !== null) {
    const hung = transmitters.find(({ apId }) => apId === where.apId)?.pose;
    if (hung === undefined) throw new UpperRoomError('RECORD_UNKNOWN', { what: 'access point', table: 'accessPoints', id: where.apId });
    at = { xM: hung.xM, yM: hung.yM, zM: hung.zM };
  }
  return airOf(design, site, where.floorId, storey, BANDS)(at, where.apId);
}

/** A place in the building, in m. */
type Spot = Readonly<{ xM: number; yM: number; zM: number }>;

/** What arrives in some bands at any spot of a storey; what that is made of is worked out once. `exceptApId`: whose own radios are left out. */
export function airOf(
  design: Design,
  site: SiteParameters,
  floorId: string,
  storey: TrueStorey,
  bands: readonly Band[],
): (at: Spot, exceptApId: string | null) => AirSpot {
  const { level } = storey;
  const floor = design.floors[floorId];
  const transmitters = storey.transmitters.filter(({ channel }) => bands.includes(channel.band));
  const project = projectOf(design);
  const domain = project === undefined ? 'UK' : domainOf(project);
  const elevationM = floor?.elevationM ?? 0;
  const loss = trueLoss(storey.medium, site);
  const interferers = (site.interferers ?? []).filter((one) => bands.includes(bandAt(one.centreMhz)));
  const arriving = (one: Interferer, to: Spot): number => {
    const pose = { xM: one.xM, yM: one.yM, zM: elevationM + one.heightM, azimuthDeg: 0, tiltDeg: 0 };
    return one.eirpDbm - loss({ unit: one.id, pose, antenna: ISOTROPIC, band: bandAt(one.centreMhz), mhz: one.centreMhz }, to);
  };
  const radars = interferers.filter(({ kind }) => kind === 'radar');
  const moves = (one: Transmitter): Move[] => {
    if (one.apId === null || radars.length === 0 || ruleFor(domain, one.channel)?.dfs !== true) return [];
    const to = refuge(domain, one.channel);
    if (to === null) return [];
    const half = 10 * occupied20(one.channel).length;
    return radars
      .filter((radar) => Math.abs(radar.centreMhz - centreMhz(one.channel)) < half + 1 && arriving(radar, one.pose) >= RADAR_DBM)
      .flatMap(({ hours }) => (hours.length === 0 ? [[0, DAY_H] as const] : hours))
      .map(([from, until]) => ({ fromMs: from * HOUR_MS, toMs: Math.min(DAY_H * HOUR_MS, until * HOUR_MS + STAYS_AWAY_MS), channel: to }));
  };
  const neighbours = new Map(site.neighbours.map((one) => [one.bssid, one]));
  const radios = transmitters.map((one) => {
    const neighbour = one.apId === null ? neighbours.get(one.bssid) : undefined;
    const as: Omit<AirRadio, 'levelDbm'> = {
      apId: one.apId,
      channel: one.channel,
      moves: moves(one),
      seed: Math.floor(seeded(`${site.seed}/${one.bssid}`)() * 2 ** 31),
      ...(neighbour === undefined ? own(design, one) : strange(neighbour)),
    };
    return { one, as };
  });
  const signals = interferers.map((one) => {
    const source: SignalSource = {
      kind: one.kind,
      centreMhz: one.centreMhz,
      seed: Math.floor(seeded(`${site.seed}/${one.id}`)() * 2 ** 31),
      hours: one.hours,
      works: one.works,
    };
    return { one, source };
  });
  return (at, exceptApId) => ({
    radios: radios
      .filter(({ as: { apId } }) => apId === null || apId !== exceptApId)
      .map(({ one, as }) => ({ ...as, levelDbm: level(one, at) + site.receiverOffsetDb })),
    signals: signals.map(({ one, source }) => ({ source, levelDbm: arriving(one, at) + site.receiverOffsetDb })),
    seed: site.seed,
  });
}

/** Everything at a spot as a receiver of spectrum has it. */
const received = ({ radios, signals }: AirSpot): Received[] => [
  ...radios.map((radio): Received => ({ levelDbm: radio.levelDbm, pieces: (from, to) => radioPieces(radio, from, to) })),
  ...signals.map((signal): Received => ({ levelDbm: signal.levelDbm, pieces: (from, to) => signalPieces(signal, from, to) })),
];

/** Cells in which a look sees the spectrum. */
export const LOOK_STEPS = { stepMhz: 0.5, everyUs: 50 } as const;

/** What is looked at at once to tell kinds of signal: no more than 100 MHz, and at 5 and 6 GHz long enough for a radar's antenna to come round. */
function lookOf(startMhz: number, stopMhz: number): Look {
  return { startMhz, stopMhz, ...LOOK_STEPS, forUs: startMhz > 5000 ? 2_600_000 : 1_000_000 };
}

/** Frames that a receiver of Wi-Fi beside it decodes in a look: loud enough, and louder than what else is there just then. */
function decoded(spot: AirSpot, look: Look, fromUs: number): Frame[] {
  const toUs = fromUs + look.forUs;
  const disturbing = spot.signals.map((signal) => ({ levelDbm: signal.levelDbm, pieces: signalPieces(signal, fromUs, toUs) }));
  return spot.radios.flatMap((radio) =>
    radio.levelDbm < -174 + 73 + AP_NOISE_FIGURE_DB + 4
      ? []
      : radioPieces(radio, fromUs, toUs).flatMap(({ fromUs: from, toUs: to, fromMhz, shape }): Frame[] => {
          const half = shape.reachMhz;
          const lost = disturbing.some(
            ({ levelDbm, pieces }) =>
              levelDbm > radio.levelDbm - 4 &&
              pieces.some((piece) => piece.fromUs < from + 40 && piece.toUs > from && Math.abs(piece.fromMhz - fromMhz) < half / 3),
          );
          return lost ? [] : [{ fromUs: from, toUs: to, fromMhz: fromMhz - half, toMhz: fromMhz + half }];
        }),
  );
}

/** What is not Wi-Fi on the air at a spot, in a look from a time on. */
export function identifiedIn(spot: AirSpot, look: Look, fromMs: number): Identified[] {
  const fromUs = fromMs * 1000;
  return identify(burstsIn(look, received(spot), decoded(spot, look, fromUs), fromUs, spot.seed), look);
}

/** What the instruments measure at a spot. The same question has the same answer. @throws UpperRoomError SWEEP_REFUSED */
export function askAir(spot: AirSpot, asked: AirQuestion): AirAnswer {
  switch (asked.what) {
    case 'networks':
      return {
        what: 'networks',
        rounds: roundsBetween(spot, asked.scan, asked.fromMs, asked.toMs, asked.most).map(({ atMs, readings }) => ({
          atMs,
          readings: [...readings],
        })),
      };
    case 'load':
      return {
        what: 'load',
        loads: asked.channels.map(({ band, channel }, i) => {
          const { takers, ...load } = dwell(spot, band, channel, asked.fromMs + i * asked.dwellMs, asked.dwellMs);
          return { ...load, takers: [...takers] };
        }),
      };
    case 'sweeps': {
      const sources = received(spot);
      const { setting, fromMs, count } = asked;
      return {
        what: 'sweeps',
        sweeps: Array.from({ length: count }, (_, i) => {
          const atMs = fromMs + i * setting.sweepMs;
          return { atMs, tenthsDbm: Int16Array.from(sweep(setting, sources, atMs * 1000, spot.seed), (dbm) => Math.round(dbm * 10)) };
        }),
      };
    }
    case 'identify': {
      const look = lookOf(asked.startMhz, asked.stopMhz);
      const found = identifiedIn(spot, look, asked.fromMs);
      return { what: 'identify', found: found.map((one) => ({ ...one, evidence: [...one.evidence] })), forMs: look.forUs / 1000 };
    }
  }
}
