import { deflateSync } from 'node:zlib';
import { materialOf, thicknessM } from '@/core/building/material';
import { segmentOf, wallLengthM, type Wall } from '@/core/building/wall';
import { onFloor, openingsOf, type Design } from '@/core/design/design';
import { spotAlong } from '@/core/geometry/segment';
import { boundsOf } from '@/core/geometry/polygon';

/** A sheet of paper in shades of grey. */
type Sheet = Readonly<{ widthPx: number; heightPx: number; grey: Uint8Array }>;

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

/** Draws a bar of ink from a to b, in px. */
function bar({ widthPx, heightPx, grey }: Sheet, ax: number, ay: number, bx: number, by: number, thickPx: number, shade: number): void {
  const length = Math.hypot(bx - ax, by - ay) || 1;
  const [ux, uy] = [(bx - ax) / length, (by - ay) / length];
  const half = Math.max(0.6, thickPx / 2);
  const reach = half + 1;
  for (let y = Math.max(0, Math.floor(Math.min(ay, by) - reach)); y <= Math.min(heightPx - 1, Math.max(ay, by) + reach); y++) {
    for (let x = Math.max(0, Math.floor(Math.min(ax, bx) - reach)); x <= Math.min(widthPx - 1, Math.max(ax, bx) + reach); x++) {
      const along = (x - ax) * ux + (y - ay) * uy;
      const aside = Math.abs((x - ax) * uy - (y - ay) * ux);
      if (along >= -half && along <= length + half && aside <= half) grey[y * widthPx + x] = shade;
    }
  }
}

const INK = 20;
const PAPER = 255;

/** What is left around the outline on the sheet, in m. */
export const MARGIN_M = 2;

/**
 * An architect's drawing of a floor: walls filled to their thickness, doors with their leaves and arcs, windows as thin lines. One metre is `pxPerM` px; the
 * outline's corner lies `MARGIN_M` inside the sheet. Nothing on it tells its scale.
 */
export function planImage(design: Design, floorId: string, pxPerM: number): Uint8Array {
  const { westM, northM, eastM, southM } = boundsOf(design.floors[floorId]!.outline)!;
  const widthPx = Math.round((eastM - westM + 2 * MARGIN_M) * pxPerM);
  const heightPx = Math.round((southM - northM + 2 * MARGIN_M) * pxPerM);
  const sheet: Sheet = { widthPx, heightPx, grey: new Uint8Array(widthPx * heightPx).fill(PAPER) };
  const x = (m: number): number => (m - westM + MARGIN_M) * pxPerM;
  const y = (m: number): number => (m - northM + MARGIN_M) * pxPerM;
  const line = (ax: number, ay: number, bx: number, by: number, thickM: number, shade = INK) =>
    bar(sheet, x(ax), y(ay), x(bx), y(by), thickM * pxPerM, shade);
  const openings = openingsOf(design, floorId);
  const thickOf = (wall: Wall): number => Math.max(0.1, thicknessM(materialOf(wall.materialId)));
  for (const wall of onFloor(design, 'walls', floorId)) line(wall.axM, wall.ayM, wall.bxM, wall.byM, thickOf(wall));
  for (const { wallId, atM, widthM, kind } of openings) {
    const wall = design.walls[wallId]!;
    const segment = segmentOf(wall);
    const [a, b] = [spotAlong(segment, atM), spotAlong(segment, atM + widthM)];
    const lengthM = wallLengthM(wall);
    const [ux, uy] = [(wall.bxM - wall.axM) / lengthM, (wall.byM - wall.ayM) / lengthM];
    const half = thickOf(wall) / 2;
    // The gap, without the round ends of a bar.
    line(a.xM + ux * half, a.yM + uy * half, b.xM - ux * half, b.yM - uy * half, thickOf(wall) + 0.05, PAPER);
    if (kind === 'window')
      for (const aside of [-half, 0, half]) line(a.xM - uy * aside, a.yM + ux * aside, b.xM - uy * aside, b.yM + ux * aside, 0.02);
    if (kind === 'door') {
      line(a.xM, a.yM, a.xM + uy * widthM, a.yM - ux * widthM, 0.03);
      for (let s = 0; s < 24; s++) {
        const at = (turn: number) => ({
          xM: a.xM + widthM * (ux * Math.sin(turn) + uy * Math.cos(turn)),
          yM: a.yM + widthM * (uy * Math.sin(turn) - ux * Math.cos(turn)),
        });
        const [p, q] = [at((s * Math.PI) / 48), at(((s + 1) * Math.PI) / 48)];
        line(p.xM, p.yM, q.xM, q.yM, 0.02);
      }
    }
  }
  return pngOf(sheet);
}
