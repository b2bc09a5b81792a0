import { clientTypesOf, modelsOf, type Design } from '@/core/design/design';
import { radioModelOf } from '@/core/radio/catalogue';
import { adapterOf } from '@/core/survey/setting';
import type { SiteParameters } from '@/core/survey/site';
import { transferAt, type Served } from '@/core/survey/transfer';
import type { TransferAnswer, TransferRequest } from '@/contract/http';
import { clientHeightM } from './scene';
import { trueStorey } from './truth';

/** A throughput test at a spot, with a client of a type, on the simulated site. @throws UpperRoomError RECORD_UNKNOWN when the floor is gone */
export function transferOnSite(design: Design, site: SiteParameters, asked: TransferRequest): TransferAnswer {
  const { transmitters, level, zM } = trueStorey(design, site, asked);
  const { xM, yM, runs, receiver, clientId, at } = asked;
  const client = clientTypesOf(design)(clientId);
  const served = transmitters.map(({ apId, channel }): Served => {
    const ap = apId === null ? undefined : design.accessPoints[apId];
    if (ap === undefined) return null;
    const model = modelsOf(design)(ap.modelId);
    return { generation: model.generation, streams: radioModelOf(model, channel.band)?.streams ?? 1 };
  });
  const offsetDb = site.receiverOffsetDb + adapterOf(receiver.adapter).offsetDb;
  const bands = client.bands.filter((band) => receiver.bands.includes(band));
  const who = { receiver: { ...client.equipment, heightM: clientHeightM(design) }, bandRule: client.bandRule, bands, offsetDb };
  const transfer = transferAt(transmitters, served, level, { xM, yM, zM }, who, runs, `${site.seed}/${at}/${xM}/${yM}`);
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
