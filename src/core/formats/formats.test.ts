import { describe, expect, test } from '@jest/globals';
import { csvOf } from './csv';
import { readDxf } from './dxf';
import { drawingTypeOf, pictureFacts } from './picture';

const latin = (text: string) => Uint8Array.from(text, (char) => char.charCodeAt(0));
const png = (width: number, height: number) => {
  const bytes = new Uint8Array(33);
  bytes.set(latin('\x89PNG\r\n\x1a\n'));
  new DataView(bytes.buffer).setUint32(16, width);
  new DataView(bytes.buffer).setUint32(20, height);
  return bytes;
};
const jpeg = (width: number, height: number) =>
  Uint8Array.from([
    0xff,
    0xd8,
    0xff,
    0xe0,
    0,
    4,
    1,
    2,
    0xff,
    0xc4,
    0,
    3,
    9,
    0xff,
    0xff,
    0xc2,
    0,
    11,
    8,
    height >> 8,
    height & 255,
    width >> 8,
    width & 255,
  ]);
const webp = (chunk: string, body: readonly number[]) => {
  const bytes = new Uint8Array(40);
  bytes.set(latin('RIFF....WEBP'));
  bytes.set(latin(chunk), 12);
  bytes.set(body, 20);
  return bytes;
};

describe('what a file is, by its content', () => {
  test.each([
    ['image/png', png(3, 4)],
    ['image/jpeg', jpeg(3, 4)],
    ['image/webp', webp('VP8X', [])],
    ['application/pdf', latin('junk\n%PDF-1.7\n')],
    ['image/svg+xml', latin('<?xml version="1.0"?>\n<!DOCTYPE svg PUBLIC "x">\n<svg xmlns="y">')],
    ['image/svg+xml', latin('\xef\xbb\xbf<svg width="3">')],
    ['image/vnd.dxf', latin('999\r\nmade by hand\r\n  0\r\nSECTION\r\n  2\r\nHEADER\r\n')],
    [null, latin('<html><body>')],
    [null, latin('PK\x03\x04')],
    [null, new Uint8Array(0)],
  ])('%s', (type, bytes) => expect(drawingTypeOf(bytes)).toBe(type));
  test('size from the head', () => {
    expect(pictureFacts(png(640, 480))).toEqual({ type: 'image/png', widthPx: 640, heightPx: 480 });
    // The second frame marker C2 counts; C4 before it is a table.
    expect(pictureFacts(jpeg(640, 480))).toEqual({ type: 'image/jpeg', widthPx: 640, heightPx: 480 });
    expect(pictureFacts(webp('VP8X', [0, 0, 0, 0, 0x7f, 2, 0, 0xdf, 1, 0]))).toMatchObject({ widthPx: 640, heightPx: 480 });
    expect(pictureFacts(webp('VP8L', [0x2f, 0x7f, 0xc2, 0x77, 0]))).toMatchObject({ widthPx: 640, heightPx: 480 });
    expect(pictureFacts(webp('VP8 ', [0, 0, 0, 0x9d, 1, 0x2a, 0x80, 2, 0xe0, 1]))).toMatchObject({ widthPx: 640, heightPx: 480 });
  });
  test.each([
    ['cut off', png(3, 4).subarray(0, 18), 'DRAWING_BROKEN'],
    ['without size', png(0, 4), 'DRAWING_BROKEN'],
    ['a JPEG without a frame', jpeg(3, 4).subarray(0, 12), 'DRAWING_BROKEN'],
    ['a JPEG of nonsense', Uint8Array.from([0xff, 0xd8, 0xff, 0xe0, 0, 2, 7, 7, 7]), 'DRAWING_BROKEN'],
    ['a PDF, which is no picture', latin('%PDF-1.7'), 'DRAWING_UNKNOWN'],
  ])('refused: %s', (_what, bytes, code) => expect(() => pictureFacts(bytes)).toThrow(expect.objectContaining({ code })));
});

const dxf = (unit: number | null, entities: string, blocks = '') =>
  `0\nSECTION\n2\nHEADER\n${unit === null ? '' : `9\n$INSUNITS\n70\n${unit}\n`}0\nENDSEC\n${blocks}0\nSECTION\n2\nENTITIES\n${entities}0\nENDSEC\n0\nEOF\n`;
const line = (layer: string, ax: number, ay: number, bx: number, by: number) => `0\nLINE\n8\n${layer}\n10\n${ax}\n20\n${ay}\n11\n${bx}\n21\n${by}\n`;

describe('DXF', () => {
  test('lines by layer, in the units it says', () => {
    const { layers, mPerUnit } = readDxf(dxf(4, line('WALLS', 0, 0, 14000, 0) + line('TEXT', 1, 1, 2, 2) + line('WALLS', 14000, 0, 14000, 9000)));
    expect(mPerUnit).toBe(0.001);
    expect(layers.map(({ name, spots, starts }) => [name, [...spots], [...starts]])).toEqual([
      ['WALLS', [0, 0, 14000, 0, 14000, 0, 14000, 9000], [0, 4, 8]],
      ['TEXT', [1, 1, 2, 2], [0, 4]],
    ]);
  });
  test.each([
    [1, 0.0254],
    [2, 0.3048],
    [6, 1],
    [0, null],
    [null, null],
  ])('unit %s', (unit, mPerUnit) => expect(readDxf(dxf(unit, line('0', 0, 0, 1, 1))).mPerUnit).toBe(mPerUnit));
  test('a bulge of 1 is a half circle to the right of its way', () => {
    const { spots } = readDxf(dxf(6, '0\nLWPOLYLINE\n8\n0\n90\n2\n70\n0\n10\n0\n20\n0\n42\n1\n10\n2\n20\n0\n')).layers[0]!;
    const ys = [...spots].filter((_, i) => i % 2 === 1);
    expect(Math.min(...ys)).toBeCloseTo(-1, 9);
    expect(Math.max(...ys)).toBeCloseTo(0, 9);
    for (let i = 0; i < spots.length; i += 2) expect(Math.hypot(spots[i]! - 1, spots[i + 1]!)).toBeCloseTo(1, 9);
  });
  test('a block is drawn where it is inserted, scaled and turned', () => {
    const block = `0\nSECTION\n2\nBLOCKS\n0\nBLOCK\n8\n0\n2\nDOOR\n10\n0\n20\n0\n${line('DOORS', 0, 0, 1, 0)}0\nENDBLK\n0\nENDSEC\n`;
    const { layers } = readDxf(dxf(6, '0\nINSERT\n8\n0\n2\nDOOR\n10\n5\n20\n7\n41\n2\n42\n2\n50\n90\n', block));
    expect([...layers[0]!.spots]).toEqual([5, 7, expect.closeTo(5, 9), expect.closeTo(9, 9)]);
    expect(layers[0]!.name).toBe('DOORS');
  });
  test('words are read where they stand, of a dimension as its block holds them, and dashed lines are told apart', () => {
    const tables =
      '0\nSECTION\n2\nTABLES\n0\nTABLE\n2\nLTYPE\n70\n1\n0\nLTYPE\n2\nCENTER\n3\nlong short\n72\n65\n73\n4\n40\n2\n49\n1.25\n49\n-0.25\n49\n0.25\n49\n-0.25\n0\nENDTAB\n0\nENDSEC\n';
    const block = `0\nSECTION\n2\nBLOCKS\n0\nBLOCK\n8\n0\n2\n*D1\n10\n0\n20\n0\n${line('0', 0, 10, 5, 10)}0\nMTEXT\n8\n0\n10\n2.5\n20\n10.5\n40\n0.2\n71\n5\n1\n{\\fSans|b0;5000}\n0\nENDBLK\n0\nENDSEC\n`;
    const text = '0\nTEXT\n8\nROOMS\n10\n3\n20\n4\n40\n0.25\n1\nstore\n50\n90\n';
    const dashed = '0\nLINE\n8\nGRID\n6\nCENTER\n10\n0\n20\n0\n11\n9\n21\n0\n';
    const { layers } = readDxf(dxf(6, text + dashed + line('GRID', 0, 1, 9, 1) + '0\nDIMENSION\n8\nSIZES\n2\n*D1\n', tables + block));
    const of = (name: string) => layers.find((layer) => layer.name === name)!;
    expect(of('ROOMS').words).toEqual([{ text: 'store', x: 3, y: 4, height: 0.25, turnDeg: 90 }]);
    expect([...of('GRID').dashed]).toEqual([1, 0]);
    expect([...of('SIZES').spots]).toEqual([0, 10, 5, 10]);
    // Attached by its middle: four letters of 0.12 begin 0.24 to the left, the foot 0.1 below.
    expect(of('SIZES').words).toEqual([{ text: '5000', x: expect.closeTo(2.26, 9), y: expect.closeTo(10.4, 9), height: 0.2, turnDeg: 0 }]);
  });
  test('a word in a block goes where the block goes, and grows with it', () => {
    const block = `0\nSECTION\n2\nBLOCKS\n0\nBLOCK\n8\n0\n2\nTAG\n10\n0\n20\n0\n0\nTEXT\n8\nT\n10\n1\n20\n0\n40\n0.5\n1\nA\n${line('T', 0, 0, 1, 0)}0\nENDBLK\n0\nENDSEC\n`;
    const { layers } = readDxf(dxf(6, '0\nINSERT\n8\n0\n2\nTAG\n10\n5\n20\n7\n41\n2\n42\n2\n50\n90\n', block));
    expect(layers[0]!.words).toEqual([{ text: 'A', x: expect.closeTo(5, 9), y: expect.closeTo(9, 9), height: 1, turnDeg: expect.closeTo(90, 9) }]);
  });
  test.each([
    ['nothing to draw', dxf(6, ''), 'DRAWING_EMPTY'],
    ['cut off', '0\nSECTION\n2\nENTITIES\n0\nLINE\n8', 'DRAWING_BROKEN'],
  ])('refused: %s', (_what, text, code) => expect(() => readDxf(text)).toThrow(expect.objectContaining({ code })));
});

describe('tables as comma-separated values', () => {
  test('what would break a row or be run as a formula is made harmless; what has no value is empty', () => {
    const text = csvOf({
      head: ['name', 'level [dBm]'],
      rows: [
        ['hall, "old"', -67.5],
        ['=1+1', null],
        ['-dash', Number.NaN],
        ['two\nlines', Infinity],
        ['Café', 0],
      ],
    });
    // RFC 4180: rows end in CR LF, quotes are doubled; the mark of UTF-8 comes first.
    expect(text).toBe(`\uFEFFname,level [dBm]\r\n"hall, ""old""",-67.5\r\n'=1+1,\r\n'-dash,\r\n"two\nlines",\r\nCafé,0\r\n`);
  });
});
