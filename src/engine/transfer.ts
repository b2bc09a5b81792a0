import { clientTypesOf, modelsOf, type Design } from '@/core/design/design';
import { radioModelOf } from '@/core/radio/catalogue';
import { adapterOf } from '@/core/survey/setting';
import type { SiteParameters } from '@/core/survey/site';
import { airtimeAt, channelAt, sumOf } from '@/core/air/radio';
import { BANDS, bandAt } from '@/core/radio/band';
import { pathMhz } from '@/core/radio/channel';
import { presenceIn } from '@/core/spectrum/signal';
import { transferAt, type Disturbing, type Served } from '@/core/survey/transfer';
import type { TransferAnswer, TransferRequest } from '@/contract/http';
import { airOf } from './air';
import { clientHeightM } from './scene';
import { trueStorey } from './truth';

/** From the beginning of one run to that of the next: load goes up and down meanwhile. */
const RUN_MS = 20_000;

/** A throughput test at a spot, with a client of a type, on the simulated site. @throws UpperRoomError RECORD_UNKNOWN when the floor is gone */
export function transferOnSite(design: Design, site: SiteParameters, asked: TransferRequest): TransferAnswer {
  const storey = trueStorey(design, site, asked);
  const { level, zM } = storey;
  const { xM, yM, runs, receiver, clientId, at } = asked;
  const client = clientTypesOf(design)(clientId);
  // By the clock of whoever tests: the air is what it is then, and who saw radar is elsewhere.
  const atMs = Date.parse(at);
  const spot = { xM, yM, zM };
  const airThere = airOf(design, site, asked.floorId, storey, BANDS);
  const { radios, signals } = airThere(spot, null);
  const transmitters = storey.transmitters.map((one, i) => ({ ...one, channel: channelAt(radios[i]!, atMs) }));
  const served = transmitters.map(({ apId, channel }): Served => {
    const ap = apId === null ? undefined : design.accessPoints[apId];
    if (ap === undefined) return null;
    const model = modelsOf(design)(ap.modelId);
    return { generation: model.generation, streams: radioModelOf(model, channel.band)?.streams ?? 1 };
  });
  const offsetDb = site.receiverOffsetDb + adapterOf(receiver.adapter).offsetDb;
  const bands = client.bands.filter((band) => receiver.bands.includes(band));
  const who = { receiver: { ...client.equipment, heightM: clientHeightM(design) }, bandRule: client.bandRule, bands, offsetDb };
  const loadOf = (i: number, run: number): number => sumOf(airtimeAt(radios[i]!, atMs + run * RUN_MS));
  const disturbingAt = (serving: number): Disturbing[] => {
    const { pose, channel } = transmitters[serving]!;
    const atAp = airThere(pose, null).signals;
    const [middle, half] = [pathMhz(channel), channel.widthMhz / 2];
    return signals.flatMap(({ source, levelDbm }, i): Disturbing[] => {
      if (bandAt(source.centreMhz) !== channel.band) return [];
      const presence = presenceIn(source, middle - half, middle + half, atMs * 1000);
      return presence.busy === 0 ? [] : [{ ...presence, atClientDbm: levelDbm, atApDbm: atAp[i]!.levelDbm }];
    });
  };
  const transfer = transferAt(transmitters, served, level, loadOf, disturbingAt, spot, who, runs, `${site.seed}/${at}/${xM}/${yM}`);
  if (transfer === null) return null;
  const { apId, bssid, channel } = transmitters[transfer.serving]!;
  const { rssiDbm, snrDb } = transfer;
  return {
    apName: design.accessPoints[apId!]!.name,
    bssid,
    band: channel.band,
    channel: channel.primary,
    widthMhz: channel.widthMhz,
    rssiDbm,
    snrDb,
    runs: transfer.runs,
  };
}
