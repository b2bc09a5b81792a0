import type { PDFDocumentProxy } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { UpperRoomError } from '@/core/errors';
import { LIMITS } from '@/core/design/limits';
import type { DxfDrawing } from '@/core/formats/dxf';
import { drawingTypeOf, pictureFacts } from '@/core/formats/picture';
import { browserPool } from '@/engine/browser';

/** A picture to lay under a floor; `mPerPx` where the file says its scale. */
export type DrawnPicture = Readonly<{ picture: Blob; widthPx: number; heightPx: number; mPerPx: number | null }>;

/** A drawing that was brought in: what there is to choose of it, and the picture of a choice. */
export type Incoming = Readonly<{
  name: string;
  /** Null where there is nothing to choose. `several`: any number of the options, else one. */
  choice: Readonly<{ word: 'page' | 'layers'; options: readonly string[]; several: boolean }> | null;
  draw: (chosen: readonly number[]) => Promise<DrawnPicture>;
  /** Lets go what is held open for drawing: nothing is drawn after it. */
  close: () => void;
}>;

const nothingOpen = (): void => undefined;

/** Vectors are drawn with their longer side as long as this: a 100 m building then has a pixel every 2.5 cm. */
const LONGER_PX = 4000;

/** Reads a file by its content. @throws UpperRoomError DRAWING_UNKNOWN, DRAWING_BROKEN, DRAWING_LOCKED, DRAWING_EMPTY, DRAWING_TOO_LARGE */
export async function readDrawing(file: File): Promise<Incoming> {
  if (file.size > LIMITS.pictureBytes.max) throw new UpperRoomError('DRAWING_TOO_LARGE', { size: `${(file.size / 1024 / 1024).toFixed(0)} MB` });
  const bytes = new Uint8Array(await file.arrayBuffer());
  const name = (file.name.replace(/\.[^.]*$/, '').trim() || 'Drawing').slice(0, LIMITS.nameLength);
  switch (drawingTypeOf(bytes)) {
    case null:
      throw new UpperRoomError('DRAWING_UNKNOWN');
    case 'image/svg+xml':
      return { name, choice: null, draw: () => drawSvg(new TextDecoder().decode(bytes)), close: nothingOpen };
    case 'application/pdf':
      return incomingPdf(name, bytes);
    case 'image/vnd.dxf':
      return incomingDxf(name, new TextDecoder().decode(bytes));
    default:
      return { name, choice: null, draw: () => keep(bytes, file), close: nothingOpen };
  }
}

/** A picture is kept as it is. Its size is asked of the browser, which turns a photograph the way it was held. */
async function keep(bytes: Uint8Array, file: File): Promise<DrawnPicture> {
  const { widthPx, heightPx, type } = pictureFacts(bytes);
  checkSize(widthPx, heightPx);
  const picture = file.slice(0, file.size, type);
  try {
    const bitmap = await createImageBitmap(picture);
    const drawn = { picture, widthPx: bitmap.width, heightPx: bitmap.height, mPerPx: null };
    bitmap.close();
    return drawn;
  } catch {
    throw new UpperRoomError('DRAWING_BROKEN');
  }
}

function checkSize(widthPx: number, heightPx: number): void {
  if (Math.max(widthPx, heightPx) > LIMITS.pictureSidePx.max || widthPx * heightPx > LIMITS.picturePx.max)
    throw new UpperRoomError('DRAWING_TOO_LARGE', { size: `${widthPx} × ${heightPx} pixels` });
}

async function pngOf(canvas: HTMLCanvasElement, mPerPx: number | null): Promise<DrawnPicture> {
  const picture = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  if (picture === null) throw new UpperRoomError('DRAWING_BROKEN');
  return { picture, widthPx: canvas.width, heightPx: canvas.height, mPerPx };
}

function sheet(widthPx: number, heightPx: number): readonly [HTMLCanvasElement, CanvasRenderingContext2D] {
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(widthPx));
  canvas.height = Math.max(1, Math.round(heightPx));
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#fff';
  context.fillRect(0, 0, canvas.width, canvas.height);
  return [canvas, context];
}

/** What an SVG may not bring along: code, foreign content, and links to anywhere but itself. */
export function harmlessSvg(text: string): SVGSVGElement {
  const parsed = new DOMParser().parseFromString(text, 'image/svg+xml');
  const root = parsed.documentElement;
  if (parsed.querySelector('parsererror') !== null || root.localName !== 'svg') throw new UpperRoomError('DRAWING_BROKEN');
  for (const element of [...root.querySelectorAll('*')]) {
    if (['script', 'foreignObject', 'iframe', 'audio', 'video', 'a', 'animate', 'set'].includes(element.localName)) element.remove();
  }
  for (const element of [root, ...root.querySelectorAll('*')]) {
    for (const { name, value } of [...element.attributes]) {
      const outside = /href$/i.test(name) && !/^(#|data:image\/(png|jpeg|webp))/i.test(value.trim());
      if (/^on/i.test(name) || outside || /url\(\s*['"]?(?!#)/i.test(value)) element.removeAttribute(name);
    }
    if (element.localName === 'style' && /@import|url\(\s*['"]?(?!#)/i.test(element.textContent ?? '')) element.remove();
  }
  return root as unknown as SVGSVGElement;
}

async function drawSvg(text: string): Promise<DrawnPicture> {
  const svg = harmlessSvg(text);
  const box = (svg.getAttribute('viewBox') ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number);
  const side = (name: 'width' | 'height', fallback: number | undefined) => {
    const px = Number.parseFloat(svg.getAttribute(name) ?? '');
    return Number.isFinite(px) && px > 0 && !svg.getAttribute(name)!.endsWith('%') ? px : (fallback ?? 0);
  };
  const [width, height] = [side('width', box[2]), side('height', box[3])];
  if (!(width > 0 && height > 0)) throw new UpperRoomError('DRAWING_BROKEN', { problem: 'the SVG has no size' });
  if (box.length !== 4) svg.setAttribute('viewBox', `0 0 ${width} ${height}`);
  const scale = LONGER_PX / Math.max(width, height);
  svg.setAttribute('width', String(width * scale));
  svg.setAttribute('height', String(height * scale));
  const url = URL.createObjectURL(new Blob([new XMLSerializer().serializeToString(svg)], { type: 'image/svg+xml' }));
  try {
    const image = new Image();
    image.src = url;
    await image.decode().catch(() => {
      throw new UpperRoomError('DRAWING_BROKEN');
    });
    const [canvas, context] = sheet(width * scale, height * scale);
    context.drawImage(image, 0, 0, canvas.width, canvas.height);
    return await pngOf(canvas, null);
  } finally {
    URL.revokeObjectURL(url);
  }
}

async function incomingPdf(name: string, bytes: Uint8Array): Promise<Incoming> {
  const pdfjs = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const port = new Worker(new URL('./pdf.worker.ts', import.meta.url), { type: 'module' });
  const worker = pdfjs.PDFWorker.create({ port });
  let pdf: PDFDocumentProxy;
  try {
    pdf = await pdfjs.getDocument({ data: bytes, worker, isEvalSupported: false, useWasm: false, stopAtErrors: false }).promise;
  } catch (error) {
    port.terminate();
    throw new UpperRoomError((error as Error).name === 'PasswordException' ? 'DRAWING_LOCKED' : 'DRAWING_BROKEN');
  }
  const draw = async ([chosen = 0]: readonly number[]): Promise<DrawnPicture> => {
    try {
      const page = await pdf.getPage(chosen + 1);
      const { width, height } = page.getViewport({ scale: 1 });
      const viewport = page.getViewport({ scale: LONGER_PX / Math.max(width, height) });
      const [canvas] = sheet(viewport.width, viewport.height);
      await page.render({ canvas, viewport, background: '#fff' }).promise;
      return await pngOf(canvas, null);
    } catch (error) {
      throw error instanceof UpperRoomError ? error : new UpperRoomError('DRAWING_BROKEN');
    }
  };
  const options = Array.from({ length: pdf.numPages }, (_, i) => `${i + 1} of ${pdf.numPages}`);
  return { name, choice: pdf.numPages === 1 ? null : { word: 'page', options, several: false }, draw, close: () => port.terminate() };
}

async function incomingDxf(name: string, text: string): Promise<Incoming> {
  const dxf = await browserPool().call('readDxf', { text }, { priority: 'now' });
  const { layers } = dxf;
  return {
    name,
    choice: layers.length === 1 ? null : { word: 'layers', options: layers.map((layer) => layer.name), several: true },
    draw: (chosen) => drawDxf(dxf, chosen.length === 0 ? layers.map((_, i) => i) : chosen),
    close: nothingOpen,
  };
}

const MARGIN_PX = 20;

async function drawDxf({ layers, mPerUnit }: DxfDrawing, chosen: readonly number[]): Promise<DrawnPicture> {
  let [west, south, east, north] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const i of chosen) {
    const { spots } = layers[i]!;
    for (let s = 0; s < spots.length; s += 2) {
      west = Math.min(west, spots[s]!);
      east = Math.max(east, spots[s]!);
      south = Math.min(south, spots[s + 1]!);
      north = Math.max(north, spots[s + 1]!);
    }
  }
  const longer = Math.max(east - west, north - south);
  if (!(longer > 0 && Number.isFinite(longer))) throw new UpperRoomError('DRAWING_EMPTY');
  const scale = (LONGER_PX - 2 * MARGIN_PX) / longer;
  const [canvas, context] = sheet((east - west) * scale + 2 * MARGIN_PX, (north - south) * scale + 2 * MARGIN_PX);
  context.lineWidth = 2;
  for (const i of chosen) {
    const { spots, starts } = layers[i]!;
    context.beginPath();
    for (let c = 0; c + 1 < starts.length; c++) {
      for (let s = starts[c]!; s < starts[c + 1]!; s += 2) {
        const [x, y] = [(spots[s]! - west) * scale + MARGIN_PX, (north - spots[s + 1]!) * scale + MARGIN_PX];
        if (s === starts[c]!) context.moveTo(x, y);
        else context.lineTo(x, y);
      }
    }
    context.stroke();
  }
  return pngOf(canvas, mPerUnit === null ? null : mPerUnit / scale);
}
