import { BANDS, numberingOf, type Band, type WidthMhz } from '../radio/band';
import type { HeardBeacon } from '../survey/imported';
import { centreMhz, channelExists, channelOf, type Channel } from '../radio/channel';

/** Radiotap fields by bit, up to the level: size and alignment in bytes (radiotap.org, defined fields). */
const FIELDS = [
  [8, 8],
  [1, 1],
  [1, 1],
  [4, 2],
  [2, 2],
  [1, 1],
] as const;
const FIELD = { flags: 1, channel: 3, levelDbm: 5 } as const;
/** Channel flags of radiotap. */
const CHANNEL_FLAG = { cck: 0x20, ofdm: 0x40, below3Ghz: 0x80, above4Ghz: 0x100 } as const;

/** Elements of a beacon (IEEE 802.11-2020, 9.4.2; extended ones 802.11ax-2021, 9.4.2.249 and 802.11be-2024, 9.4.2.321). */
const ELEMENT = { ssid: 0, rates: 1, primary: 3, htOperation: 61, vhtOperation: 192, extended: 255 } as const;
const EXTENDED = { heOperation: 36, ehtOperation: 106 } as const;
const HEADER = 24;
const FIXED = 12;
/** Type management, subtype beacon (9.2.4.1.3). */
const BEACON = 0x80;
const RATES: Readonly<Record<Band, readonly number[]>> = {
  '2.4': [0x82, 0x84, 0x8b, 0x96, 0x0c, 0x12, 0x18, 0x24],
  '5': [0x8c, 0x12, 0x98, 0x24, 0xb0, 0x48, 0x60, 0x6c],
  '6': [0x8c, 0x12, 0x98, 0x24, 0xb0, 0x48, 0x60, 0x6c],
};

const text = new TextEncoder();
const element = (id: number, body: readonly number[] | Uint8Array): number[] => [id, body.length, ...body];

/** The channel number of a centre frequency in its band's own count. */
const numberAt = (band: Band, mhz: number): number => (mhz - numberingOf(band).zeroMhz) / 5;
/** The centre of the block of a width round a primary channel, as a number; 0 for none. */
const centreNumber = (channel: Channel, widthMhz: WidthMhz): number => {
  const block = { ...channel, widthMhz };
  return channelExists(block) ? numberAt(channel.band, centreMhz(block)) : 0;
};

/** The elements that say which channel a network has: primary, and how far it reaches. */
function operationOf(channel: Channel): number[] {
  const { band, primary, widthMhz } = channel;
  const [of80, of160] = [centreNumber(channel, 80), centreNumber(channel, 160)];
  const eht =
    widthMhz === 320 ? element(ELEMENT.extended, [EXTENDED.ehtOperation, 1, 0x44, 0x44, 0x44, 0x44, 4, of160, centreNumber(channel, 320)]) : [];
  if (band === '6') {
    const he = { 20: [0, primary, 0], 40: [1, centreNumber(channel, 40), 0], 80: [2, of80, 0], 160: [3, of80, of160], 320: [3, of80, of160] }[
      widthMhz
    ];
    return [...element(ELEMENT.extended, [EXTENDED.heOperation, 0, 0, 0x02, 1, 0xfc, 0xff, primary, ...he, 6]), ...eht];
  }
  // The secondary channel lies above or below the primary.
  const side = widthMhz === 20 ? 0 : centreNumber(channel, 40) > primary ? 1 : 3;
  const ht = element(ELEMENT.htOperation, [primary, side | (widthMhz === 20 ? 0 : 4), ...new Array<number>(20).fill(0)]);
  if (widthMhz < 80) return ht;
  return [...ht, ...element(ELEMENT.vhtOperation, [1, of80, widthMhz === 80 ? 0 : of160, 0xfc, 0xff])];
}

/** A beacon as a frame with its radiotap header. @param sequence of the frame, counted on */
export function beaconFrame({ bssid, ssid, rssiDbm, ...radio }: HeardBeacon, sequence: number): Uint8Array {
  const channel = channelOf(radio);
  const address = bssid.split(':').map((octet) => parseInt(octet, 16));
  const mhz = centreMhz({ ...channel, widthMhz: 20 });
  const flags = radio.band === '2.4' ? CHANNEL_FLAG.below3Ghz | CHANNEL_FLAG.cck : CHANNEL_FLAG.above4Ghz | CHANNEL_FLAG.ofdm;
  const present = (1 << FIELD.flags) | (1 << FIELD.channel) | (1 << FIELD.levelDbm);
  const radiotap = [0, 0, 15, 0, present, 0, 0, 0, 0, 0, mhz & 0xff, mhz >> 8, flags & 0xff, flags >> 8, rssiDbm & 0xff];
  const head = [BEACON, 0, 0, 0, ...new Array<number>(6).fill(0xff), ...address, ...address, (sequence << 4) & 0xff, (sequence >> 4) & 0xff];
  // A clock that is not kept, 100 time units between beacons, an access point with privacy.
  const fixed = [0, 0, 0, 0, 0, 0, 0, 0, 100, 0, 0x11, 0x00];
  const primary = radio.band === '2.4' ? element(ELEMENT.primary, [radio.channel]) : [];
  return Uint8Array.from([
    ...radiotap,
    ...head,
    ...fixed,
    ...element(ELEMENT.ssid, text.encode(ssid)),
    ...element(ELEMENT.rates, RATES[radio.band]),
    ...primary,
    ...operationOf(channel),
  ]);
}

/** The 20 MHz channel that a frequency is the centre of; null for none. */
function channelAtMhz(mhz: number): { band: Band; channel: number } | null {
  for (const band of BANDS) {
    const numbering = numberingOf(band);
    const apart = numbering.kind === 'overlapping' ? Object.entries(numbering.apart).find(([, at]) => at === mhz) : undefined;
    const channel = apart === undefined ? numberAt(band, mhz) : Number(apart[0]);
    if (channelExists({ band, primary: channel, widthMhz: 20 })) return { band, channel };
  }
  return null;
}

/** Frequency and level of a radiotap header, and where the frame begins; null where it does not say both. */
function radiotapOf(bytes: Uint8Array): { mhz: number; rssiDbm: number; from: number; fcs: boolean } | null {
  if (bytes.length < 8 || bytes[0] !== 0) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const from = view.getUint16(2, true);
  if (from > bytes.length) return null;
  const present = view.getUint32(4, true);
  let at = 8;
  // Further words of presence, as long as their last bit says that one follows.
  for (let word = present; (word & 0x80000000) !== 0 && at + 4 <= from; at += 4) word = view.getUint32(at, true);
  let [mhz, rssiDbm, fcs] = [NaN, NaN, false];
  for (let bit = 0; bit < FIELDS.length; bit++) {
    if ((present & (1 << bit)) === 0) continue;
    const [size, align] = FIELDS[bit]!;
    at = Math.ceil(at / align) * align;
    if (at + size > from) return null;
    if (bit === FIELD.flags) fcs = (bytes[at]! & 0x10) !== 0;
    if (bit === FIELD.channel) mhz = view.getUint16(at, true);
    if (bit === FIELD.levelDbm) rssiDbm = view.getInt8(at);
    at += size;
  }
  return Number.isNaN(mhz) || Number.isNaN(rssiDbm) ? null : { mhz, rssiDbm, from, fcs };
}

/** What a beacon's elements say of its channel: primary and width, as far as they say it. */
function saidChannel(
  elements: ReadonlyMap<number, Uint8Array>,
  extended: ReadonlyMap<number, Uint8Array>,
): { primary: number | null; widthMhz: WidthMhz } {
  let primary: number | null = elements.get(ELEMENT.primary)?.[0] ?? null;
  let widthMhz: WidthMhz = 20;
  const ht = elements.get(ELEMENT.htOperation);
  if (ht !== undefined && ht.length >= 2) {
    primary = ht[0]!;
    if ((ht[1]! & 4) !== 0 && (ht[1]! & 3) !== 0) widthMhz = 40;
  }
  const vht = elements.get(ELEMENT.vhtOperation);
  // Width 2 and 3 are the older way to say 160 and 80+80 (9.4.2.158); today a second centre 8 numbers away says 160.
  if (vht !== undefined && vht.length >= 3 && vht[0]! > 0) widthMhz = vht[0] === 2 || (vht[2]! > 0 && Math.abs(vht[2]! - vht[1]!) === 8) ? 160 : 80;
  const he = extended.get(EXTENDED.heOperation);
  // Parameters, colour, rates: 6 bytes; what VHT says may stand between, 3 bytes, and the number of its neighbours, 1.
  if (he !== undefined && he.length >= 6 && (he[2]! & 0x02) !== 0) {
    const at = 6 + ((he[1]! & 0x40) !== 0 ? 3 : 0) + ((he[1]! & 0x80) !== 0 ? 1 : 0);
    if (he.length >= at + 5) {
      primary = he[at]!;
      widthMhz = ([20, 40, 80, 160] as const)[he[at + 1]! & 3]!;
    }
  }
  const eht = extended.get(EXTENDED.ehtOperation);
  if (eht !== undefined && eht.length >= 8 && (eht[0]! & 1) !== 0) widthMhz = ([20, 40, 80, 160, 320] as const)[eht[5]! & 7] ?? widthMhz;
  return { primary, widthMhz };
}

/** A beacon out of a frame with its radiotap header; null for any other frame, and for one without a level or a channel that is known. */
export function beaconIn(bytes: Uint8Array): HeardBeacon | null {
  const radio = radiotapOf(bytes);
  if (radio === null) return null;
  const frame = bytes.subarray(radio.from, bytes.length - (radio.fcs ? 4 : 0));
  if (frame.length < HEADER + FIXED || frame[0] !== BEACON) return null;
  const heardOn = channelAtMhz(radio.mhz);
  if (heardOn === null) return null;
  const elements = new Map<number, Uint8Array>();
  const extended = new Map<number, Uint8Array>();
  for (let at = HEADER + FIXED; at + 2 <= frame.length;) {
    const [id, length] = [frame[at]!, frame[at + 1]!];
    if (at + 2 + length > frame.length) break;
    const body = frame.subarray(at + 2, at + 2 + length);
    const [into, key] = id === ELEMENT.extended && length > 0 ? [extended, body[0]!] : [elements, id];
    if (!into.has(key)) into.set(key, id === ELEMENT.extended ? body.subarray(1) : body);
    at += 2 + length;
  }
  const { primary, widthMhz } = saidChannel(elements, extended);
  const { band } = heardOn;
  const channel = primary !== null && channelExists({ band, primary, widthMhz: 20 }) ? primary : heardOn.channel;
  return {
    bssid: [...frame.subarray(16, 22)].map((octet) => octet.toString(16).padStart(2, '0')).join(':'),
    ssid: new TextDecoder().decode(elements.get(ELEMENT.ssid) ?? new Uint8Array()).replaceAll('\0', ''),
    band,
    channel,
    widthMhz: channelExists({ band, primary: channel, widthMhz }) ? widthMhz : 20,
    rssiDbm: radio.rssiDbm,
  };
}
