import { UpperRoomError } from '../errors';
import type { CapturedBeacon } from '../survey/imported';
import type { Sample } from '../survey/sample';
import type { WidthMhz } from '../radio/band';
import { beaconFrame, beaconIn } from './beacon';
import { LINK_RADIOTAP, readPcapng, writePcapng } from './pcapng';

/** How a packet's comment says where it was heard: ours alone do. */
const PLACE = /^x (-?\d+(?:\.\d+)?) m, y (-?\d+(?:\.\d+)?) m, leg (\d+)$/;

/** A survey as a capture that other programs open: each sample a beacon frame with its level, and where it was heard as its comment. @param startedAtMs when the walk began */
export const captureOf = (samples: readonly Sample[], startedAtMs: number): Uint8Array<ArrayBuffer> =>
  writePcapng(
    LINK_RADIOTAP,
    samples.map((sample, i) => ({
      timeUs: Math.round((startedAtMs + sample.tMs) * 1000),
      bytes: beaconFrame({ ...sample, widthMhz: sample.widthMhz as WidthMhz }, i & 0xfff),
      comment: `x ${sample.xM.toFixed(3)} m, y ${sample.yM.toFixed(3)} m, leg ${sample.leg + 1}`,
    })),
  );

/** The beacons of a capture with a radiotap header, and how many packets are none. @throws UpperRoomError CAPTURE_UNREADABLE */
export function readCapture(bytes: Uint8Array): { beacons: CapturedBeacon[]; others: number } {
  const packets = readPcapng(bytes);
  if (packets.length > 0 && packets.every(({ linkType }) => linkType !== LINK_RADIOTAP))
    throw new UpperRoomError('CAPTURE_UNREADABLE', {
      problem: 'its frames have no radiotap header, so nothing says how strong they were; capture in monitor mode',
    });
  const beacons = packets.flatMap(({ timeUs, linkType, bytes: frame, comment }): CapturedBeacon[] => {
    const beacon = linkType === LINK_RADIOTAP ? beaconIn(frame) : null;
    if (beacon === null) return [];
    const place = PLACE.exec(comment ?? '');
    return [{ ...beacon, timeUs, place: place === null ? null : { xM: Number(place[1]), yM: Number(place[2]), leg: Number(place[3]) - 1 } }];
  });
  if (beacons.length === 0) throw new UpperRoomError('CAPTURE_UNREADABLE', { problem: 'there is no beacon with a level in it' });
  return { beacons, others: packets.length - beacons.length };
}
