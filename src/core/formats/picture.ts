import { UpperRoomError } from '../errors';

/** Pictures that are kept as they are. */
export const PICTURE_TYPES = ['image/png', 'image/jpeg', 'image/webp'] as const;
export type PictureType = (typeof PICTURE_TYPES)[number];
export type PictureFacts = Readonly<{ type: PictureType; widthPx: number; heightPx: number }>;

/** Drawings made of vectors: a picture is drawn of them when they come in, and they are kept beside it. */
export const VECTOR_TYPES = ['image/svg+xml', 'application/pdf', 'image/vnd.dxf'] as const;
export type VectorType = (typeof VECTOR_TYPES)[number];
export type DrawingType = PictureType | VectorType;

export const isVectorType = (type: DrawingType | null): type is VectorType => VECTOR_TYPES.some((one) => one === type);

const text = (bytes: Uint8Array, from: number, to: number): string => String.fromCharCode(...bytes.subarray(from, to));

/** What a file is, found from its content and never from its name; null for anything that cannot be drawn. */
export function drawingTypeOf(bytes: Uint8Array): DrawingType | null {
  if (text(bytes, 0, 8) === '\x89PNG\r\n\x1a\n') return 'image/png';
  if (bytes[0] === 0xff && bytes[1] === 0xd8 && bytes[2] === 0xff) return 'image/jpeg';
  if (text(bytes, 0, 4) === 'RIFF' && text(bytes, 8, 12) === 'WEBP') return 'image/webp';
  // A PDF may have some bytes of another envelope before its head (ISO 32000-1, Annex H.3.4.1: within the first 1024).
  const head = text(bytes, 0, 1024);
  if (head.includes('%PDF-')) return 'application/pdf';
  if (/<svg[\s>]/.test(head) || (/^\s*(<\?xml|<!--|<!DOCTYPE svg)/.test(head.replace(/^\u00ef\u00bb\u00bf/, '')) && head.includes('svg')))
    return 'image/svg+xml';
  // Group codes and values line by line: the first group of a DXF begins a section, comments (999) may come before.
  if (/^(\u00ef\u00bb\u00bf)?(\s*999\r?\n[^\n]*\n)*\s*0\r?\n\s*SECTION\s*\r?\n/.test(head)) return 'image/vnd.dxf';
  return null;
}

/**
 * Type and size of a PNG, JPEG or WebP, read from its head.
 * @throws UpperRoomError DRAWING_UNKNOWN for anything else, DRAWING_BROKEN where the head is cut off or says nonsense
 */
export function pictureFacts(bytes: Uint8Array): PictureFacts {
  const type = drawingTypeOf(bytes);
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  try {
    if (type === 'image/png') return checked(type, view.getUint32(16), view.getUint32(20));
    if (type === 'image/jpeg') return checked(type, ...jpegSize(view));
    if (type === 'image/webp') return checked(type, ...webpSize(view, text(bytes, 12, 16)));
  } catch (error) {
    if (error instanceof RangeError) throw new UpperRoomError('DRAWING_BROKEN', { problem: 'its head is cut off' });
    throw error;
  }
  throw new UpperRoomError('DRAWING_UNKNOWN');
}

function checked(type: PictureType, widthPx: number, heightPx: number): PictureFacts {
  if (!(widthPx > 0 && heightPx > 0)) throw new UpperRoomError('DRAWING_BROKEN', { problem: 'it has no size' });
  return { type, widthPx, heightPx };
}

/** The first frame header (ITU-T T.81, B.2.2): markers C0 to CF but DHT (C4), JPG (C8) and DAC (CC). */
function jpegSize(view: DataView): [number, number] {
  let at = 2;
  for (;;) {
    while (view.getUint8(at) === 0xff && view.getUint8(at + 1) === 0xff) at++;
    if (view.getUint8(at) !== 0xff) throw new UpperRoomError('DRAWING_BROKEN', { problem: 'a marker is missing' });
    const marker = view.getUint8(at + 1);
    if (marker >= 0xc0 && marker <= 0xcf && marker !== 0xc4 && marker !== 0xc8 && marker !== 0xcc)
      return [view.getUint16(at + 7), view.getUint16(at + 5)];
    at += 2 + view.getUint16(at + 2);
  }
}

/** The three kinds of WebP (RFC 9649): lossy, lossless and extended. */
function webpSize(view: DataView, chunk: string): [number, number] {
  if (chunk === 'VP8 ') return [view.getUint16(26, true) & 0x3fff, view.getUint16(28, true) & 0x3fff];
  if (chunk === 'VP8L') {
    const bits = view.getUint32(21, true);
    return [(bits & 0x3fff) + 1, ((bits >>> 14) & 0x3fff) + 1];
  }
  if (chunk === 'VP8X') return [(view.getUint32(24, true) & 0xffffff) + 1, (view.getUint32(26, true) >>> 8) + 1];
  throw new UpperRoomError('DRAWING_BROKEN', { problem: 'its first chunk is unknown' });
}
