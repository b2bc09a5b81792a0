import { BEACON_OCTETS, beaconShare, frameUs } from '../radio/beacon';
import { BANDS, type Band } from '../radio/band';
import { channelExists, channelLabel, type Channel } from '../radio/channel';
import { domainName, ruleFor, type Domain } from '../radio/regulation';
import { CCA_DBM, kindAt, sharingOf } from '../radio/sharing';
import { channelOfHeard, GONE_MS, levelOf, type HeardAir, type HeardNetwork } from './heard';

/** A radio as it is designed, and how loud it should be where the receiver stands, in dBm. */
export type DesignedHere = Readonly<{ apId: string; name: string; channel: Channel; predictedDbm: number }>;

/** Something that the air says otherwise than the plan. `bssids`: whose it is about. */
export type AirFinding = Readonly<{
  key: string;
  severity: 'stop' | 'mend' | 'note';
  title: string;
  reason: string;
  advice: string;
  bssids: readonly string[];
  apId: string | null;
}>;

/** A level is otherwise than predicted from so many dB on: less is shadows and the model's own error. */
export const LEVEL_OFF_DB = 10;
/** One that should arrive this loud is missed where it is not heard. */
export const SURELY_HEARD_DBM = -75;
/** Rounds after which not heard says something. */
const LEAST_ROUNDS = 2;
/** Beacons of a radio that take more than this share of the airtime. */
export const MOST_BEACONS = 0.05;

const dbm = (value: number): string => `${Math.round(value).toString().replace('-', '−')} dBm`;
const share = (value: number): string => `${(100 * value).toFixed(1)} %`;
const named = ({ newest, bssid }: HeardNetwork): string => (newest.network.ssid === '' ? `the hidden network ${bssid}` : `“${newest.network.ssid}”`);

/**
 * What was heard at a spot held against the design: wrong channels, widths and levels of ours, one under our name that is not of the design, one of the design that is not heard, others on our
 * channels with the near ones first, channels that the law forbids, and what beacons take.
 * @param listenedTo whether the receiver listens to a primary channel: who should be on another one is not missed
 * @param floorDbm louder than this a network is looked at: the one "ignore below"
 */
export function againstPlan(
  heard: HeardAir,
  designed: readonly DesignedHere[],
  ownerOf: (bssid: string) => string | null,
  ourNames: readonly string[],
  domain: Domain,
  floorDbm: number,
  listenedTo: (channel: Channel) => boolean = () => true,
): AirFinding[] {
  const networks = [...heard.networks.values()].filter((one) => levelOf(one) >= floorDbm);
  const found: AirFinding[] = [];
  const beacons: Array<
    Readonly<{ apId: string; name: string; band: Band; names: number; lowest: number; taken: number; bssids: readonly string[] }>
  > = [];
  const of = (apId: string, band: Band) => networks.filter((one) => ownerOf(one.bssid) === apId && one.newest.band === band);

  for (const { apId, name, channel, predictedDbm } of designed) {
    const { band } = channel;
    const own = of(apId, band).filter(({ lastMs }) => heard.lastMs - lastMs < GONE_MS);
    const first = own[0];
    const bssids = own.map(({ bssid }) => bssid);
    if (first === undefined) {
      const was = of(apId, band)[0];
      if (heard.rounds >= LEAST_ROUNDS && listenedTo(channel) && predictedDbm >= Math.max(SURELY_HEARD_DBM, floorDbm))
        found.push({
          key: `missing:${apId}/${band}`,
          severity: 'stop',
          title: `${name} is not heard at ${band} GHz`,
          reason: `It should arrive here at ${dbm(predictedDbm)}; ${was === undefined ? `in ${heard.rounds} rounds over the channels listened to it was never heard` : 'it was heard before, and is gone for a minute and more'}.`,
          advice: 'See whether it has power and its radio is on.',
          bssids: was === undefined ? [] : [was.bssid],
          apId,
        });
      continue;
    }
    const on = channelOfHeard(first);
    if (on.primary !== channel.primary || on.widthMhz !== channel.widthMhz)
      found.push({
        key: `channel:${apId}/${band}`,
        severity: 'mend',
        title: `${name} is on ${channelLabel(on)}, not on ${channelLabel(channel)}`,
        reason: `Designed at ${band} GHz: ${channelLabel(channel)}. Heard: ${channelLabel(on)}${first.moved.length > 0 ? '; it moved while it was listened to' : ''}.`,
        advice:
          ruleFor(domain, channel)?.dfs === true
            ? 'The designed channel needs radar detection: look into its radar log, else set it as designed.'
            : 'Set it as designed, or take the heard channel into the design.',
        bssids,
        apId,
      });
    const loudest = own.reduce((best, one) => (one.meanDbm > best.meanDbm ? one : best));
    const off = loudest.meanDbm - predictedDbm;
    if (Math.abs(off) >= LEVEL_OFF_DB)
      found.push({
        key: `level:${apId}/${band}`,
        severity: 'mend',
        title: `${name} is ${Math.round(Math.abs(off))} dB ${off < 0 ? 'quieter' : 'louder'} than designed at ${band} GHz`,
        reason: `Mean of ${loudest.times} readings here ${dbm(loudest.meanDbm)}, predicted ${dbm(predictedDbm)}.`,
        advice: 'One spot does not tell power from walls: walk past it in Survey, and let Fit say which.',
        bssids,
        apId,
      });
    const names = new Set(bssids).size;
    const lowest = Math.min(...first.newest.network.basicMbps);
    const taken = beaconShare(names, lowest, band);
    if (taken > MOST_BEACONS) beacons.push({ apId, name, band, names, lowest, taken, bssids });
  }

  for (const band of BANDS) {
    const here = beacons.filter((one) => one.band === band).sort((a, b) => b.taken - a.taken);
    const worst = here[0];
    if (worst === undefined) continue;
    const { name, names, lowest, taken } = worst;
    found.push({
      key: `beacons:${band}`,
      severity: 'mend',
      title: `Beacons take up to ${share(taken)} of the airtime of a radio at ${band} GHz`,
      reason: `${name}: ${names} ${names === 1 ? 'name' : 'names'} at ${lowest} Mb/s, ${names} x ${Math.round(frameUs(BEACON_OCTETS, lowest, band))} µs each 102.4 ms${here.length > 1 ? `; ${here.length} of ours that are heard here do alike, and add up where they share a channel` : ''}.`,
      advice: lowest < 6 ? 'Raise the lowest basic rate, and announce fewer names.' : 'Announce fewer names.',
      bssids: here.flatMap((one) => one.bssids),
      apId: here.length === 1 ? worst.apId : null,
    });
  }

  for (const one of networks) {
    const { ssid } = one.newest.network;
    if (ownerOf(one.bssid) === null && ssid !== '' && ourNames.includes(ssid))
      found.push({
        key: `stranger:${one.bssid}`,
        severity: 'stop',
        title: `${named(one)} is sent by an access point that is not in the design`,
        reason: `${one.bssid} on ${one.newest.band} GHz ${channelLabel(channelOfHeard(one))}, at best ${dbm(one.bestDbm)}.`,
        advice: 'Find it: link its address to an access point if it is ours, else have it switched off.',
        bssids: [one.bssid],
        apId: null,
      });
    const channel = channelOfHeard(one);
    if (channelExists(channel) && ruleFor(domain, channel) === null)
      found.push({
        key: `forbidden:${one.bssid}`,
        severity: ownerOf(one.bssid) === null ? 'note' : 'stop',
        title: `${named(one)} is on a channel that ${domainName(domain)} does not allow`,
        reason: `${channel.band} GHz ${channelLabel(channel)}, at best ${dbm(one.bestDbm)}.`,
        advice: ownerOf(one.bssid) === null ? 'Nothing of ours may go there; tell its owner.' : 'Set it to an allowed channel.',
        bssids: [one.bssid],
        apId: ownerOf(one.bssid),
      });
  }

  // Others on our channels, radio by radio of the design, the loudest first.
  const others = networks.filter((one) => ownerOf(one.bssid) === null && heard.lastMs - one.lastMs < GONE_MS).sort((a, b) => b.meanDbm - a.meanDbm);
  for (const other of others) {
    const on = channelOfHeard(other);
    if (!channelExists(on)) continue;
    const met = designed.filter(
      ({ channel }) => channel.band === on.band && kindAt(sharingOf(channel, on), Math.max(other.meanDbm, CCA_DBM.preamble)) === 'airtime',
    );
    if (met.length === 0 || other.meanDbm < CCA_DBM.preamble) continue;
    found.push({
      key: `neighbour:${other.bssid}`,
      severity: 'note',
      title: `${named(other)} shares ${on.band} GHz ${channelLabel(on)} with ${met.length === 1 ? met[0]!.name : `${met.length} of ours`}`,
      reason: `Heard here at ${dbm(other.meanDbm)} on average${other.newest.load === null ? '' : `, load ${share(other.newest.load)} as it announces`}: ${met
        .slice(0, 6)
        .map(({ name }) => name)
        .join(', ')}${met.length > 6 ? ' and others' : ''}.`,
      advice: 'Measure the load before anything is moved: a network that sends little takes little.',
      bssids: [other.bssid],
      apId: null,
    });
  }
  const order = { stop: 0, mend: 1, note: 2 } as const;
  return found.sort((a, b) => order[a.severity] - order[b.severity]);
}
