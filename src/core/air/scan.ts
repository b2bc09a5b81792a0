import type { Band } from '../radio/band';
import { BEACON_INTERVAL_MS } from '../radio/beacon';
import { normal, hashText, seeded } from '../random';
import { beaconHeard } from '../survey/receiver';
import type { ScanChannel } from '../survey/setting';
import { airtimeAt, channelAt, clientsAt, sendsAt, sumOf, type AirSpot, type Broadcast } from './radio';

/** A network as a round heard it: what its beacons tell, how loud, and the load that they announce. */
export type Reading = Readonly<{
  network: Broadcast;
  band: Band;
  channel: number;
  widthMhz: number;
  dbm: number;
  load: number | null;
  clients: number | null;
}>;
/** One round over a list of channels: when it began, and what was heard in it, each network once. */
export type Round = Readonly<{ atMs: number; readings: readonly Reading[] }>;

/** How a spot is scanned: which channels, how long on each, and from the beginning of one round to that of the next. */
export type ScanSetting = Readonly<{ channels: readonly ScanChannel[]; dwellMs: number; intervalMs: number }>;

/** Levels flicker by this much from beacon to beacon where one stands still, in dB. */
const FLICKER_DB = 1.5;

/** Rounds that begin between two times. A round takes as long as its channels do, and the next one begins no earlier. */
export function roundsBetween(spot: AirSpot, setting: ScanSetting, fromMs: number, toMs: number, most = Infinity): Round[] {
  const everyMs = Math.max(setting.intervalMs, setting.channels.length * setting.dwellMs, 1, (toMs - fromMs) / most);
  const visits = new Map(setting.channels.map(({ band, channel }, i) => [`${band}/${channel}`, i * setting.dwellMs]));
  const rounds: Round[] = [];
  for (let n = Math.ceil(fromMs / everyMs); n * everyMs < toMs; n++) {
    const startMs = n * everyMs;
    const readings: Reading[] = [];
    for (const radio of spot.radios) {
      const { band, primary, widthMhz } = channelAt(radio, startMs);
      const visit = visits.get(`${band}/${primary}`);
      if (visit === undefined) continue;
      const atMs = startMs + visit;
      if (!sendsAt(radio, atMs)) continue;
      const clients = clientsAt(radio, atMs);
      for (const [i, network] of radio.networks.entries()) {
        const uniform = seeded(hashText(`${spot.seed}/${network.bssid}/${startMs}`));
        // A stay that is shorter than the beacons' interval may meet none.
        if (uniform() * BEACON_INTERVAL_MS >= setting.dwellMs) continue;
        const dbm = radio.levelDbm + FLICKER_DB * normal(uniform);
        if (!beaconHeard(band, dbm, uniform())) continue;
        readings.push({
          network,
          band,
          channel: primary,
          widthMhz,
          dbm: Math.round(dbm),
          load: network.tellsLoad ? Math.round(sumOf(airtimeAt(radio, atMs)) * 255) / 255 : null,
          // Each name announces its own clients: together they are the radio's.
          clients: network.tellsLoad ? Math.floor((clients + i) / radio.networks.length) : null,
        });
      }
    }
    rounds.push({ atMs: startMs, readings });
  }
  return rounds;
}
