import { deflateSync } from 'node:zlib';
import type { Sheet } from './sheet';

/** Check of a PNG chunk (W3C PNG, annex D: the CRC of ISO 3309, polynomial 0xEDB88320 reflected). */
function crc32(bytes: Uint8Array): number {
  let crc = 0xffffffff;
  for (const byte of bytes) {
    crc ^= byte;
    for (let bit = 0; bit < 8; bit++) crc = (crc >>> 1) ^ (0xedb88320 & -(crc & 1));
  }
  return ~crc >>> 0;
}

/** PNG of an 8-bit grey picture (W3C PNG, third edition: signature, IHDR, IDAT, IEND; no filter). */
export function pngOf({ widthPx, heightPx, grey }: Sheet): Uint8Array {
  const chunk = (type: string, data: Uint8Array): Buffer => {
    const body = Buffer.concat([Buffer.from(type, 'latin1'), data]);
    const head = Buffer.alloc(4);
    head.writeUInt32BE(data.length);
    const check = Buffer.alloc(4);
    check.writeUInt32BE(crc32(body));
    return Buffer.concat([head, body, check]);
  };
  const header = Buffer.alloc(13);
  header.writeUInt32BE(widthPx, 0);
  header.writeUInt32BE(heightPx, 4);
  header.set([8, 0, 0, 0, 0], 8);
  const rows = Buffer.alloc((widthPx + 1) * heightPx);
  for (let y = 0; y < heightPx; y++) rows.set(grey.subarray(y * widthPx, (y + 1) * widthPx), y * (widthPx + 1) + 1);
  return Buffer.concat([
    Buffer.from('\x89PNG\r\n\x1a\n', 'latin1'),
    chunk('IHDR', header),
    chunk('IDAT', deflateSync(rows)),
    chunk('IEND', Buffer.alloc(0)),
  ]);
}
