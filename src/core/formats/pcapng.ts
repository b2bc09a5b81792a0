import { UpperRoomError } from '../errors';

/** A packet of a capture: when it was taken, in microseconds since 1970, what kind of frame it holds, its bytes, and what was said of it. */
export type Packet = Readonly<{ timeUs: number; linkType: number; bytes: Uint8Array; comment: string | null }>;

/** IEEE 802.11 with a radiotap header before it (tcpdump.org, link-layer header types). */
export const LINK_RADIOTAP = 127;

/** Block types and options of pcapng (IETF draft-ietf-opsawg-pcapng, sections 4 and 3.5). */
const BLOCK = { section: 0x0a0d0d0a, interface: 1, simple: 3, enhanced: 6 } as const;
const OPTION = { end: 0, comment: 1, sectionApplication: 4, interfaceName: 2, interfaceResolution: 9 } as const;
const BYTE_ORDER = 0x1a2b3c4d;
/** A capture of the older format begins so, in either byte order, in micro- or nanoseconds. */
const OLDER = new Set([0xa1b2c3d4, 0xd4c3b2a1, 0xa1b23c4d, 0x4d3cb2a1]);

/** More packets than this are more than a survey holds. */
const MOST_PACKETS = 2_000_000;

const padded = (length: number): number => (length + 3) & ~3;
const text = new TextEncoder();

function option(code: number, bytes: Uint8Array): Uint8Array {
  const out = new Uint8Array(4 + padded(bytes.length));
  const view = new DataView(out.buffer);
  view.setUint16(0, code, true);
  view.setUint16(2, bytes.length, true);
  out.set(bytes, 4);
  return out;
}

function block(type: number, parts: readonly Uint8Array[]): Uint8Array {
  const body = parts.reduce((sum, part) => sum + padded(part.length), 0);
  const out = new Uint8Array(12 + body);
  const view = new DataView(out.buffer);
  view.setUint32(0, type, true);
  view.setUint32(4, out.length, true);
  let at = 8;
  for (const part of parts) {
    out.set(part, at);
    at += padded(part.length);
  }
  view.setUint32(at, out.length, true);
  return out;
}

const END = new Uint8Array(4);

/** A capture of one section and one interface, little-endian, times in microseconds. */
export function writePcapng(linkType: number, packets: readonly Omit<Packet, 'linkType'>[]): Uint8Array<ArrayBuffer> {
  const section = new Uint8Array(16);
  const sectionView = new DataView(section.buffer);
  sectionView.setUint32(0, BYTE_ORDER, true);
  sectionView.setUint16(4, 1, true);
  sectionView.setBigInt64(8, -1n, true);
  const description = new Uint8Array(8);
  new DataView(description.buffer).setUint16(0, linkType, true);
  const blocks = [
    block(BLOCK.section, [section, option(OPTION.sectionApplication, text.encode('Upper Room')), END]),
    block(BLOCK.interface, [
      description,
      option(OPTION.interfaceName, text.encode('survey')),
      option(OPTION.interfaceResolution, Uint8Array.of(6)),
      END,
    ]),
    ...packets.map(({ timeUs, bytes, comment }) => {
      const head = new Uint8Array(20);
      const view = new DataView(head.buffer);
      view.setUint32(4, Math.floor(timeUs / 2 ** 32), true);
      view.setUint32(8, timeUs % 2 ** 32, true);
      view.setUint32(12, bytes.length, true);
      view.setUint32(16, bytes.length, true);
      return block(BLOCK.enhanced, [head, bytes, ...(comment === null ? [] : [option(OPTION.comment, text.encode(comment)), END])]);
    }),
  ];
  const out = new Uint8Array(blocks.reduce((sum, one) => sum + one.length, 0));
  let at = 0;
  for (const one of blocks) {
    out.set(one, at);
    at += one.length;
  }
  return out;
}

/** Options of a block by code; of those that come twice the first. */
function optionsIn(bytes: Uint8Array, from: number, to: number, little: boolean): Map<number, Uint8Array> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const options = new Map<number, Uint8Array>();
  for (let at = from; at + 4 <= to;) {
    const [code, length] = [view.getUint16(at, little), view.getUint16(at + 2, little)];
    if (code === OPTION.end || at + 4 + length > to) break;
    if (!options.has(code)) options.set(code, bytes.subarray(at + 4, at + 4 + length));
    at += 4 + padded(length);
  }
  return options;
}

/** Microseconds of a unit of an interface's clock (section 4.2, if_tsresol): a power of ten, or of two where the highest bit is set. */
function unitUs(resolution: Uint8Array | undefined): number {
  const [value = 6] = resolution ?? [];
  return 1e6 * ((value & 0x80) === 0 ? 10 ** -value : 2 ** -(value & 0x7f));
}

/**
 * The packets of a capture in the order in which they stand there. Blocks of other kinds are passed over; a file that ends within a block gives what came before.
 * @throws UpperRoomError CAPTURE_UNREADABLE for what is no pcapng, or broken
 */
export function readPcapng(bytes: Uint8Array): Packet[] {
  const refuse = (problem: string): never => {
    throw new UpperRoomError('CAPTURE_UNREADABLE', { problem });
  };
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 28) refuse('it is too short to be a capture');
  if (OLDER.has(view.getUint32(0))) refuse('it is of the older format pcap; save it as pcapng');
  if (view.getUint32(0, true) !== BLOCK.section) refuse('it is no pcapng');
  const packets: Packet[] = [];
  let interfaces: Array<{ linkType: number; unitUs: number }> = [];
  let little = true;
  for (let at = 0; at + 12 <= bytes.length;) {
    if (view.getUint32(at, true) === BLOCK.section) {
      little = view.getUint32(at + 8, true) === BYTE_ORDER;
      if (!little && view.getUint32(at + 8) !== BYTE_ORDER) refuse('a section of it has no byte order');
      interfaces = [];
    }
    const [type, length] = [view.getUint32(at, little), view.getUint32(at + 4, little)];
    if (length < 12 || length % 4 !== 0) refuse(`a block at byte ${at} says that it is ${length} bytes long`);
    if (at + length > bytes.length) break;
    const [from, to] = [at + 8, at + length - 4];
    if (type === BLOCK.interface) {
      const options = optionsIn(bytes, from + 8, to, little);
      interfaces.push({ linkType: view.getUint16(from, little), unitUs: unitUs(options.get(OPTION.interfaceResolution)) });
    } else if (type === BLOCK.enhanced && length >= 32) {
      const source = interfaces[view.getUint32(from, little)] ?? refuse(`a packet at byte ${at} is of an interface that is not described`);
      const captured = view.getUint32(from + 12, little);
      if (from + 20 + captured > to) refuse(`a packet at byte ${at} is longer than its block`);
      const units = view.getUint32(from + 4, little) * 2 ** 32 + view.getUint32(from + 8, little);
      const said = optionsIn(bytes, from + 20 + padded(captured), to, little).get(OPTION.comment);
      packets.push({
        timeUs: units * source.unitUs,
        linkType: source.linkType,
        bytes: bytes.subarray(from + 20, from + 20 + captured),
        comment: said === undefined ? null : new TextDecoder().decode(said),
      });
      if (packets.length > MOST_PACKETS) refuse(`it holds more than ${MOST_PACKETS} packets`);
    }
    at += length;
  }
  return packets;
}
