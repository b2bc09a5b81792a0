import { panesOf } from '@/core/building/panes';
import type { Wall } from '@/core/building/wall';
import type { Emitter } from '@/core/propagation/station';
import { mediumOf, type Medium } from '@/core/propagation/medium';
import type { Spot } from '@/core/propagation/crossing';
import { sightLine } from '@/core/propagation/ray';
import { modelOf } from '@/core/radio/catalogue';
import { centresOf, channelOf, pathMhz } from '@/core/radio/channel';
import { normal, seeded } from '@/core/random';
import { samplesBetween, scanListOf } from '@/core/survey/receiver';
import { trueLevel, trueMedium, type SiteParameters, type Transmitter } from '@/core/survey/site';
import { addTurn, straightsOf, type Leg } from '@/core/survey/walk';
import type { Sample } from '@/core/survey/sample';
import { countedOf, NOTHING_HEARD, type Visit } from '@/core/survey/heard';
import { DEFAULT_SETTING, DWELL_MS } from '@/core/survey/setting';
import { lossFields } from '@/core/fields/lossField';
import { outlinesOf } from '@/core/fields/outlines';
import { cellAt, gridOver, type Grid } from '@/core/geometry/grid';
import { EXPONENT_SD, locate } from '@/core/survey/fit/locate';
import { learnedMedium } from '@/core/survey/fit/surveyed';
import { EXPECTED_SCATTER } from '@/core/survey/fit/scatter';
import { fitReadings, type Fit } from '@/core/survey/fit/fit';
import { type Held } from '@/core/survey/fit/solve';
import { readingsOf, unheardOf, type Unheard } from '@/core/survey/fit/readings';
import { screensIn } from '@/core/survey/measured';

/** A made-up floor that was walked, and what is true there. */
export type SurveyedSite = Readonly<{
  name: string;
  /** As drawn, and the radios as designed. */
  medium: Medium;
  radios: ReadonlyArray<Emitter & { apId: string }>;
  zM: number;
  samples: readonly Sample[];
  visits: readonly Visit[];
  /** Spots that nobody walked, each with the true mean level of each radio as the receiver would show it, in dBm. */
  heldOut: ReadonlyArray<Spot & { levelsDbm: number[] }>;
  /** What a survey could know at best: the true level without its shadow, and how the shadows scatter. */
  meanDbm: (radio: number, at: Spot) => number;
  truth: Pick<SiteParameters, 'shadowSigmaDb' | 'correlationM'>;
  exponentOffset: number;
  widthM: number;
  heightM: number;
}>;

/** What a site is like, besides its seed. */
export type SiteKind = Readonly<{
  name: string;
  widthM: number;
  heightM: number;
  aps: number;
  wallSigmaDb?: number;
  shadowSigmaDb?: number;
  correlationM?: number;
  apSigmaDb?: number;
  /** What the access points send, in dBm. */
  sendsDbm?: number;
  /** Distance between walked lines, in m. */
  lineM?: number;
}>;

export const SITE_KINDS: readonly SiteKind[] = [
  { name: 'rooms', widthM: 40, heightM: 24, aps: 5 },
  { name: 'sparse walk', widthM: 40, heightM: 24, aps: 5, lineM: 8 },
  { name: 'long floor', widthM: 70, heightM: 20, aps: 8 },
  { name: 'one access point', widthM: 30, heightM: 20, aps: 1 },
  { name: 'strong shadows, 7 dB', widthM: 40, heightM: 24, aps: 5, shadowSigmaDb: 7 },
  { name: 'weak shadows, 2 dB', widthM: 40, heightM: 24, aps: 5, shadowSigmaDb: 2 },
  { name: 'short shadows, 2 m', widthM: 40, heightM: 24, aps: 5, correlationM: 2 },
  { name: 'long shadows, 9 m', widthM: 40, heightM: 24, aps: 5, correlationM: 9 },
  { name: 'access points off by 3 dB', widthM: 40, heightM: 24, aps: 5, apSigmaDb: 3 },
  { name: 'walls off by 4 dB', widthM: 40, heightM: 24, aps: 5, wallSigmaDb: 4 },
];

const MATERIALS = ['plasterboard', 'brick', 'concrete', 'glass'];

/** Rooms of about 6 m on both sides of corridors; each wall of one material. */
function roomsOf(widthM: number, heightM: number, uniform: () => number): Wall[] {
  const walls: Wall[] = [];
  const add = (axM: number, ayM: number, bxM: number, byM: number, materialId: string) =>
    walls.push({ id: `w${walls.length}`, floorId: 'f', axM, ayM, bxM, byM, baseM: 0, topM: 3, materialId });
  const pick = () => MATERIALS[Math.floor(uniform() * MATERIALS.length)]!;
  for (const [ax, ay, bx, by] of [
    [0, 0, widthM, 0],
    [widthM, 0, widthM, heightM],
    [widthM, heightM, 0, heightM],
    [0, heightM, 0, 0],
  ] as const)
    add(ax, ay, bx, by, 'brick');
  for (let x = 6; x < widthM - 4; x += 6 + uniform() * 3) for (let y = 0; y < heightM - 5; y += 8) add(x, y, x, Math.min(heightM, y + 6), pick());
  for (let y = 6; y < heightM - 3; y += 8) {
    for (let x = 0; x < widthM; x += 12) {
      add(x, y, Math.min(widthM, x + 10.5), y, pick());
      add(x, y + 2, Math.min(widthM, x + 10.5), y + 2, pick());
    }
  }
  return walls;
}

/** What is made otherwise than drawn, besides what chance does. */
export type SiteChange = (transmitters: readonly Transmitter[], medium: Medium) => { transmitters: readonly Transmitter[]; medium: Medium };

/** A site of a kind, drawn, built a little otherwise, and walked: all from the seed. */
export function surveyedSite(kind: SiteKind, seed: number, change: SiteChange = (transmitters, medium) => ({ transmitters, medium })): SurveyedSite {
  const { widthM, heightM, aps, wallSigmaDb = 2, shadowSigmaDb = 4, correlationM = 5, apSigmaDb = 0.7, lineM = 4, sendsDbm = 14, name } = kind;
  const uniform = seeded(seed * 7919 + 13);
  const medium = mediumOf(panesOf(roomsOf(widthM, heightM, uniform), []), { exponent: 2.2 });
  const model = modelOf('heron-c4');
  const antenna = model.radios.find(({ band }) => band === '5')!.antenna;
  const across = Math.ceil(Math.sqrt((aps * widthM) / heightM));
  const down = Math.ceil(aps / across);
  const radios = Array.from({ length: aps }, (_, i) => {
    const [xM, yM] = [
      ((i % across) + 0.3 + 0.4 * uniform()) * (widthM / across),
      (Math.floor(i / across) + 0.3 + 0.4 * uniform()) * (heightM / down),
    ];
    const channel = channelOf({ band: '5', channel: [36, 40, 44, 48, 52, 56][i % 6]!, widthMhz: 20 });
    return { apId: `ap${i}`, pose: { xM, yM, zM: 2.8, azimuthDeg: 0, tiltDeg: 0 }, antenna, channel, txPowerDbm: sendsDbm };
  });
  const site: SiteParameters = {
    seed: seed * 31 + 7,
    exponentOffset: 0.25 * normal(uniform),
    wallSigmaDb,
    shadowSigmaDb,
    correlationM,
    receiverOffsetDb: 2 * normal(uniform),
    neighbours: [],
  };
  const hung: Transmitter[] = radios.map((radio) => ({
    ...radio,
    bssid: `02:00:00:00:00:${radio.apId}`,
    ssid: 'x',
    txPowerDbm: radio.txPowerDbm + apSigmaDb * normal(uniform),
  }));
  const { transmitters, medium: built } = change(hung, trueMedium(medium, site));
  const level = trueLevel(built, site);
  const zM = 1.1;
  let legs: Leg[] = [];
  // Beside the walls, not along them.
  for (let y = lineM / 2 - 0.7, k = 0; y < heightM; y += lineM, k++) {
    const xs = k % 2 === 0 ? [1, widthM - 1] : [widthM - 1, 1];
    for (const xM of xs) legs = addTurn(legs, { xM, yM: y }, false);
  }
  const scan = scanListOf(transmitters, DEFAULT_SETTING);
  const samples = straightsOf(legs).flatMap((straight) =>
    samplesBetween(straight, straight.from.tMs, straight.to.tMs, scan, transmitters, (t, xM, yM) => level(t, { xM, yM, zM }), {
      seed: site.seed,
      offsetDb: site.receiverOffsetDb,
    }),
  );
  const scans = straightsOf(legs).map(({ leg, from, to }) => ({ leg, fromMs: from.tMs, toMs: to.tMs, dwellMs: DWELL_MS, channels: scan, ssid: '' }));
  const { visits } = countedOf({ legs, leftOut: [], receiver: null }, { ...NOTHING_HEARD, scans });
  const plainDbm = (t: Transmitter, at: Spot) => t.txPowerDbm - sightLine(built, t.pose, t.antenna, '5', at, 0, pathMhz(t.channel)).lossDb;
  const heldOut = Array.from({ length: 300 }, () => {
    const at = { xM: 0.5 + uniform() * (widthM - 1), yM: 0.5 + uniform() * (heightM - 1), zM };
    return { ...at, levelsDbm: transmitters.map((t) => level(t, at) + site.receiverOffsetDb) };
  });
  return {
    name,
    medium,
    radios,
    zM,
    samples,
    visits,
    heldOut,
    meanDbm: (radio, at) => plainDbm(transmitters[radio]!, at) + site.receiverOffsetDb,
    truth: { shadowSigmaDb, correlationM },
    exponentOffset: site.exponentOffset,
    widthM,
    heightM,
  };
}

/** What the walk of a site teaches. */
export const fitOfSite = ({ medium, radios, samples, zM }: SurveyedSite, held: Held = []): Fit =>
  fitReadings(
    medium,
    radios,
    readingsOf(
      samples,
      radios.map(({ apId }) => ({ apId, band: '5' as const })),
      screensIn(medium.panes, '5', zM),
    ),
    zM,
    held,
  );

/** Where its radios were listened for and not heard. */
export const unheardOn = ({ samples, visits, radios }: SurveyedSite): Unheard[] =>
  unheardOf(
    samples,
    visits,
    radios.map(({ apId }) => ({ apId, band: '5' as const })),
  );

/** A floor of 60 access points, and its cells. */
export const largeSite = (): SurveyedSite => surveyedSite({ name: 'large', widthM: 72, heightM: 46, aps: 60 }, 1);
export const cellsOf = ({ widthM, heightM }: SurveyedSite): Grid =>
  gridOver(
    [
      { xM: 0, yM: 0 },
      { xM: widthM, yM: 0 },
      { xM: widthM, yM: heightM },
      { xM: 0, yM: heightM },
    ],
    0.5,
  );

/** Where a radio of a site is found to be when nobody knows, all others being known; and whether the region holds where it is. */
export function locatedOn(site: SurveyedSite, radio: number): { awayM: number; regionM2: number; holds: boolean } | null {
  const { medium, radios, samples, visits, zM, widthM, heightM } = site;
  const others = radios.filter((_, r) => r !== radio);
  const { apId, pose, channel } = radios[radio]!;
  const whose = [{ apId, band: '5' as const }];
  const readings = readingsOf(samples, whose, screensIn(medium.panes, '5', zM));
  const fit = others.length > 0 ? fitOfSite({ ...site, radios: others }) : null;
  const outlines = outlinesOf(fit === null ? medium : learnedMedium(fit));
  const grid = gridOver(
    [
      { xM: -10, yM: -10 },
      { xM: widthM + 10, yM: -10 },
      { xM: widthM + 10, yM: heightM + 10 },
      { xM: -10, yM: heightM + 10 },
    ],
    1,
  );
  const antenna = { peakDbi: 0, horizontalDb: [0], verticalDb: [0, 0, 0] };
  const lossTo = (xM: number, yM: number) =>
    lossFields(
      outlines,
      { pose: { xM, yM, zM, azimuthDeg: 0, tiltDeg: 0 }, antennas: [null, antenna, null], centresMhz: centresOf([channel]) },
      { grid, zM: pose.zM, gainDbi: 0 },
    )[1]!;
  const mask = new Uint8Array(grid.cols * grid.rows).fill(1);
  const found = locate(
    readings,
    unheardOf(samples, visits, whose),
    grid,
    mask,
    lossTo,
    fit?.scatter ?? EXPECTED_SCATTER,
    fit?.estimates[0] ?? 0,
    fit?.sd[1] ?? EXPONENT_SD,
  );
  if (found === null) return null;
  return {
    awayM: Math.hypot(found.xM - pose.xM, found.yM - pose.yM),
    regionM2: found.regionM2,
    holds: found.region[cellAt(grid, pose.xM, pose.yM)] === 1,
  };
}
