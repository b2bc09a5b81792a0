import type { OwedShares } from '../fields/owed';
import type { Band, WidthMhz } from '../radio/band';
import type { Channel } from '../radio/channel';
import type { LawProblem } from '../radio/law';
import type { Domain } from '../radio/regulation';
import type { BasicRate } from '../radio/beacon';

/** A radio counts as heard from here, and as a second one to go to from here, in dBm. */
export const HEARD_FROM_DBM = -82;
export const SECOND_FROM_DBM = -75;

/** A place on a floor. */
export type FactPlace = Readonly<{ floorId: string; xM: number; yM: number }>;

/** One radio that is on, as it is set and as it is found by computing. What it serves is counted on its own floor, where service is owed. */
export type RadioFacts = Readonly<{
  apId: string;
  name: string;
  modelId: string;
  place: FactPlace;
  band: Band;
  channel: Channel;
  txPowerDbm: number;
  minPowerDbm: number;
  /** What model and law leave it on its channel. */
  highestPowerDbm: number;
  problem: LawProblem | null;
  /** Whether its channel needs radar detection. */
  dfs: boolean;
  servedM2: number;
  /** How many of the people expected in service zones stand where it serves. */
  people: number;
  /** Radios it shares airtime with, mean over what it serves, and who, each with the share of that area. NaN where it serves nothing. */
  sharers: number;
  who: ReadonlyArray<Readonly<{ name: string; share: number; ssids: number | null }>>;
  /** How many network names it announces; null where nobody has said. */
  ssids: number | null;
  /** The same counted for all of its width, and for half of it; null for 20 MHz. */
  overlap: Readonly<{ own: number; half: number; halfMhz: WidthMhz }> | null;
  /** Radios of the band whose areas touch its own: names, powers, and whether they need radar detection. */
  touching: ReadonlyArray<Readonly<{ apId: string; name: string; txPowerDbm: number; dfs: boolean }>>;
}>;

/** An access point as it hangs. Distances seen from above, in m. */
export type ApFacts = Readonly<{
  apId: string;
  name: string;
  modelName: string;
  place: FactPlace;
  heightM: number;
  outdoor: boolean;
  wallMounted: boolean;
  /** What its model draws from the cable, in W. */
  poeW: number;
  /** Clients that its maker promises for a radio. */
  clientsPerRadio: number;
  /** People expected where it serves, in the band in which it serves most of them; and its radios that are on, among which they part. */
  people: number;
  radiosOn: number;
  nearestWallM: number | null;
  nearestMetal: Readonly<{ material: string; awayM: number }> | null;
  nearestElectronics: Readonly<{ name: string; awayM: number }> | null;
  /** The keep-out zone it hangs in, by name. */
  keepOut: string | null;
  /** Clutter that it hangs in and not above: name and top in m. */
  clutter: Readonly<{ name: string; topM: number }> | null;
}>;

/** What is heard on a floor in a band, as shares of the area where service is owed. */
export type HeardFacts = Readonly<{
  floorId: string;
  floorName: string;
  band: Band;
  radios: number;
  secondShare: number;
  meanHeard: number;
  most: FactPlace;
}>;

/** A zone where a service level is owed, by band. `worst`: where it fails, the weakest spot. */
export type ZoneFacts = Readonly<{
  zoneId: string;
  name: string;
  levelName: string;
  owedShare: number;
  bands: ReadonlyArray<Readonly<{ band: Band; shares: OwedShares; asked: readonly boolean[]; worst: FactPlace | null }>>;
}>;

/** Of a band, the 20 MHz channels that the law allows and those in use, and why others may not be: see the rule. */
export type SpectrumFacts = Readonly<{
  band: Band;
  allowed: readonly number[];
  used: readonly number[];
  dfs: readonly number[];
  radios: number;
  meanSharers: number;
}>;

/** What networks of others put on a channel where somebody measured: in which share of the spots above clear channel assessment, and the mean level there. */
export type OthersFacts = Readonly<{ band: Band; channel: number; widthMhz: WidthMhz; share: number; levelDbm: number }>;

/** What the checks look at: a variant of the building. */
export type Facts = Readonly<{
  domain: Domain;
  /** The project's own words on its network; null for what nobody has said. */
  site: Readonly<{ basicMbps: Readonly<Record<Band, BasicRate | null>>; bandSteering: boolean | null; poeW: number | null }>;
  /** Kinds of clients expected: name, bands and power. */
  clients: ReadonlyArray<Readonly<{ name: string; bands: readonly Band[]; txPowerDbm: number }>>;
  /** Models in use that lack a band, by name. */
  lacking: Readonly<Record<Band, readonly string[]>>;
  radios: readonly RadioFacts[];
  aps: readonly ApFacts[];
  heard: readonly HeardFacts[];
  zones: readonly ZoneFacts[];
  spectrum: readonly SpectrumFacts[];
  /** Networks of others as measured; null where nobody has measured. */
  others: readonly OthersFacts[] | null;
}>;
