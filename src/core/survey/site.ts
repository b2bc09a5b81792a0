import { BANDS, bandIndex, type Band, type WidthMhz } from '../radio/band';
import { channelOf, pathMhz } from '../radio/channel';
import type { Antenna } from '../radio/antenna';
import { LOSS_UNIT_DB } from '../building/material';
import { joinPanes, panesOf } from '../building/panes';
import type { Medium } from '../propagation/medium';
import type { Pose, Spot } from '../propagation/crossing';
import { sightLinesFrom, type SightLine } from '../propagation/ray';
import type { Emitter } from '../propagation/station';
import { hashText, normal, seeded } from '../random';
import type { Hours, SignalKind } from '../spectrum/signal';

/** A network of somebody else, as the simulated site has it. */
export type Neighbour = Readonly<{
  bssid: string;
  ssid: string;
  xM: number;
  yM: number;
  heightM: number;
  band: Band;
  channel: number;
  widthMhz: WidthMhz;
  txPowerDbm: number;
  /** Share of airtime (0 to 1) that it takes at its busiest, and when of the day it is on at all; by chance, and always, where nothing is said. */
  busy?: number | undefined;
  hours?: Hours | undefined;
}>;

/** Something on the air that is not Wi-Fi: where it stands, what it sends, as EIRP over all of its spectrum, and when. Heights are above the floor. */
export type Interferer = Readonly<{
  id: string;
  kind: SignalKind;
  xM: number;
  yM: number;
  heightM: number;
  eirpDbm: number;
  centreMhz: number;
  hours: Hours;
  /** Within its hours it works for `onS` of every `everyS` seconds; all of the time where nothing is said. */
  works?: Readonly<{ onS: number; everyS: number }> | undefined;
}>;

/**
 * Something that a survey may find: an access point that sends more or less than it is set to, or on another channel, one that hangs elsewhere (places of the floor, in m), or higher or lower, one that is not plugged in, two in each other's place, a thing of
 * a material from floor to ceiling that nobody drew, a drawn wall that is not there.
 */
export type SiteFault =
  | Readonly<{ kind: 'level'; apId: string; offDb: number }>
  | Readonly<{ kind: 'elsewhere'; apId: string; xM: number; yM: number }>
  | Readonly<{ kind: 'height'; apId: string; offM: number }>
  | Readonly<{ kind: 'unplugged'; apId: string }>
  | Readonly<{ kind: 'channel'; apId: string; band: Band; channel: number; widthMhz: WidthMhz }>
  | Readonly<{ kind: 'swapped'; apIds: readonly [string, string] }>
  | Readonly<{ kind: 'obstacle'; axM: number; ayM: number; bxM: number; byM: number; materialId: string }>
  | Readonly<{ kind: 'no-wall'; wallId: string }>;

/** How the hidden building differs from the drawn one. All of it follows from the seed. */
export type SiteParameters = Readonly<{
  seed: number;
  exponentOffset: number;
  wallSigmaDb: number;
  shadowSigmaDb: number;
  correlationM: number;
  receiverOffsetDb: number;
  neighbours: readonly Neighbour[];
  /** How often the receiver's adapter drops out here; never where nothing is said. */
  dropOutsPerHour?: number;
  /** What is not as drawn, for a survey to find; none where nothing is said. */
  faults?: readonly SiteFault[];
  /** What is on the air that is not Wi-Fi; nothing where nothing is said. */
  interferers?: readonly Interferer[];
}>;

/** A transmitter on the simulated site: what a beacon tells and where it comes from. */
export type Transmitter = Emitter & Readonly<{ bssid: string; ssid: string; apId: string | null }>;

/** The neighbours' access points as transmitters: a plain antenna, and no access point of ours. Their heights are above the floor at `elevationM`. */
export function neighbourTransmitters(neighbours: readonly Neighbour[], elevationM: number): Transmitter[] {
  const antenna: Antenna = { peakDbi: 2, horizontalDb: [0], verticalDb: [-6, 0, -6] };
  return neighbours.map(({ xM, yM, heightM, bssid, ssid, txPowerDbm, ...radio }) => ({
    bssid,
    ssid,
    apId: null,
    pose: { xM, yM, zM: elevationM + heightM, azimuthDeg: 0, tiltDeg: 0 },
    antenna,
    channel: channelOf(radio),
    txPowerDbm,
  }));
}

const WAVES = 48;

/**
 * Log-normal shadowing in dB, correlated in space as exp(-d / correlationM) (Gudmundson 1991), as a sum of plane waves whose wave
 * numbers follow the spectrum of that correlation: P(k > K) = (1 + (K correlationM)^2)^(-1/2). Deterministic in the seed.
 */
export function shadowing(seed: number, sigmaDb: number, correlationM: number): (xM: number, yM: number) => number {
  const uniform = seeded(seed);
  const waves = new Float64Array(WAVES * 3);
  for (let w = 0; w < WAVES; w++) {
    const k = Math.sqrt(1 / (1 - uniform() * 0.999) ** 2 - 1) / correlationM;
    const direction = uniform() * 2 * Math.PI;
    waves.set([k * Math.cos(direction), k * Math.sin(direction), uniform() * 2 * Math.PI], w * 3);
  }
  const scale = sigmaDb * Math.sqrt(2 / WAVES);
  return (xM, yM) => {
    let sum = 0;
    for (let w = 0; w < WAVES * 3; w += 3) sum += Math.cos(waves[w]! * xM + waves[w + 1]! * yM + waves[w + 2]!);
    return sum * scale;
  };
}

/** The floor as it truly is: another exponent, and each wall's loss off by its own amount, the same in every band, never below 0. */
export function trueMedium(drawn: Medium, site: Pick<SiteParameters, 'seed' | 'wallSigmaDb' | 'exponentOffset'>): Medium {
  const { panes, propagation } = drawn;
  const lossUnits = panes.lossUnits.map((units, i) => {
    const wallId = panes.wallIds[panes.wallIndex[Math.floor(i / BANDS.length)]!]!;
    const deviationDb = site.wallSigmaDb * normal(seeded(hashText(wallId) ^ site.seed));
    return Math.max(0, units + Math.round(deviationDb / LOSS_UNIT_DB));
  });
  return { ...drawn, panes: { ...panes, lossUnits }, propagation: { ...propagation, exponent: propagation.exponent + site.exponentOffset } };
}

/** The transmitters as they truly hang and send. Faults of access points that are not among them change nothing. */
export function trueTransmitters(designed: readonly Transmitter[], faults: readonly SiteFault[]): Transmitter[] {
  const poseOf = (apId: string) => designed.find((one) => one.apId === apId)?.pose;
  const unplugged = new Set(faults.flatMap((fault) => (fault.kind === 'unplugged' ? [fault.apId] : [])));
  const plugged = designed.filter(({ apId }) => apId === null || !unplugged.has(apId));
  return plugged.map((transmitter) =>
    faults.reduce((now, fault): Transmitter => {
      const { apId } = now;
      if (fault.kind === 'level' && fault.apId === apId) return { ...now, txPowerDbm: now.txPowerDbm + fault.offDb };
      if (fault.kind === 'elsewhere' && fault.apId === apId) return { ...now, pose: { ...now.pose, xM: fault.xM, yM: fault.yM } };
      if (fault.kind === 'channel' && fault.apId === apId && fault.band === now.channel.band) return { ...now, channel: channelOf(fault) };
      if (fault.kind === 'height' && fault.apId === apId) return { ...now, pose: { ...now.pose, zM: now.pose.zM + fault.offM } };
      if (fault.kind !== 'swapped' || apId === null || !fault.apIds.includes(apId)) return now;
      return { ...now, pose: poseOf(fault.apIds.find((id) => id !== apId)!) ?? now.pose };
    }, transmitter),
  );
}

/** The medium with what nobody drew, on a storey from `baseZM` to `topZM`, and without what is not there. Materials are the catalogue's. @throws UpperRoomError MATERIAL_UNKNOWN */
export function builtMedium(drawn: Medium, faults: readonly SiteFault[], baseZM: number, topZM: number): Medium {
  const walls = faults.flatMap((fault, i) =>
    fault.kind === 'obstacle' ? [{ ...fault, id: `hidden-${i}`, floorId: '', baseM: 0, topM: topZM - baseZM }] : [],
  );
  const absent = new Set(faults.flatMap((fault) => (fault.kind === 'no-wall' ? [fault.wallId] : [])));
  if (walls.length === 0 && absent.size === 0) return drawn;
  const panes = joinPanes([drawn.panes, panesOf(walls, [], baseZM)]);
  const lossUnits = panes.lossUnits.map((units, i) => (absent.has(panes.wallIds[panes.wallIndex[Math.floor(i / BANDS.length)]!]!) ? 0 : units));
  const reach = panes.reach.map((whole, p) => (absent.has(panes.wallIds[panes.wallIndex[p]!]!) ? 0 : whole));
  return { ...drawn, panes: { ...panes, lossUnits, reach } };
}

/** Something that sends. What has one `unit` stands in the same shadows. */
export type Sender = Readonly<{ unit: string; pose: Pose; antenna: Antenna; band: Band; mhz: number }>;

/** True mean loss of something that sends to a spot, in dB, before fading and the receiver's own offset. */
export function trueLoss(
  medium: Medium,
  site: Pick<SiteParameters, 'seed' | 'shadowSigmaDb' | 'correlationM'>,
): (sender: Sender, at: Spot) => number {
  const rays = new WeakMap<Sender, (at: Spot) => SightLine>();
  const shadows = new Map<string, (xM: number, yM: number) => number>();
  return (sender, at) => {
    const { unit, pose, antenna, band, mhz } = sender;
    const rayTo = rays.get(sender) ?? sightLinesFrom(medium, pose, antenna, band, mhz);
    rays.set(sender, rayTo);
    let shadow = shadows.get(unit);
    if (shadow === undefined) {
      shadow = shadowing(hashText(unit) ^ site.seed, site.shadowSigmaDb, site.correlationM);
      shadows.set(unit, shadow);
    }
    return rayTo(at).lossDb - shadow(at.xM, at.yM);
  };
}

/** True mean level of a transmitter at a spot, in dBm, before fading and the receiver's own offset. */
export function trueLevel(medium: Medium, site: SiteParameters): (transmitter: Transmitter, at: Spot) => number {
  const loss = trueLoss(medium, site);
  const senders = new WeakMap<Transmitter, Sender>();
  return (transmitter, at) => {
    const { apId, bssid, pose, antenna, channel, txPowerDbm } = transmitter;
    // Both radios of one unit stand in the same shadows, so the band is not in the seed.
    const sender = senders.get(transmitter) ?? { unit: apId ?? bssid, pose, antenna, band: channel.band, mhz: pathMhz(channel) };
    senders.set(transmitter, sender);
    return txPowerDbm - loss(sender, at);
  };
}

/** A made-up locally administered address (IEEE 802-2014, 8.2: second bit of the first octet set), the same for the same id and band. */
export function bssidOf(apId: string, band: Band): string {
  const hash = hashText(apId);
  const octets = [0x02, 0x55, hash & 0xff, (hash >>> 8) & 0xff, (hash >>> 16) & 0xff, ((hash >>> 24) & 0xfc) | bandIndex(band)];
  return octets.map((octet) => octet.toString(16).padStart(2, '0')).join(':');
}

/**
 * The addresses of the network names that a radio sends, the first its own: the others differ from it in the upper bits of the first octet, as is usual, and stay locally administered.
 */
export const bssidsOf = (apId: string, band: Band, count: number): string[] =>
  Array.from({ length: count }, (_, i) => (0x02 + 4 * i).toString(16).padStart(2, '0') + bssidOf(apId, band).slice(2));

/** How much a building differs from its drawing, from what a beginner finds to what is rarely met. */
export const DIFFICULTIES = [
  { id: 'easy', label: 'easy', exponentOffset: 0, wallSigmaDb: 1, shadowSigmaDb: 2, correlationM: 6, receiverOffsetDb: -0.5, dropOutsPerHour: 0 },
  {
    id: 'usual',
    label: 'as usual',
    exponentOffset: 0.1,
    wallSigmaDb: 2,
    shadowSigmaDb: 3.5,
    correlationM: 5,
    receiverOffsetDb: -1.5,
    dropOutsPerHour: 6,
  },
  { id: 'hard', label: 'hard', exponentOffset: 0.3, wallSigmaDb: 4, shadowSigmaDb: 6, correlationM: 4, receiverOffsetDb: -4, dropOutsPerHour: 20 },
] as const;
export type DifficultyId = (typeof DIFFICULTIES)[number]['id'];

/** A site as it comes at a difficulty, with neighbours and faults as they are. */
export function ofDifficulty(site: SiteParameters, id: DifficultyId): SiteParameters {
  const { id: _id, label: _label, ...values } = DIFFICULTIES.find((one) => one.id === id)!;
  return { ...site, ...values };
}

/** The difficulty whose values a site has; null for one of its own. */
export const difficultyOf = (site: SiteParameters): DifficultyId | null =>
  DIFFICULTIES.find(({ id }) => {
    const preset = ofDifficulty(site, id);
    return (Object.keys(preset) as Array<keyof SiteParameters>).every((key) => preset[key] === site[key]);
  })?.id ?? null;

/** What a floor is like that nobody has described: a little off the drawing everywhere, as every building is. */
export const plainSite = (seed: number): SiteParameters =>
  ofDifficulty({ seed, exponentOffset: 0, wallSigmaDb: 0, shadowSigmaDb: 0, correlationM: 1, receiverOffsetDb: 0, neighbours: [] }, 'usual');
