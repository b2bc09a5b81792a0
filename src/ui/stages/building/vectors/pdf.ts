import type { PDFDocumentProxy, PDFPageProxy } from 'pdfjs-dist/legacy/build/pdf.mjs';
import { UpperRoomError } from '@/core/errors';
import type { WrittenWord } from '@/core/finding/written';
import { LONGER_PX, paperFor, straightLines, type VectorFile, type Vectors } from './vectors';

type Pdfjs = typeof import('pdfjs-dist/legacy/build/pdf.mjs');
type Matrix = readonly number[];

/** @throws UpperRoomError DRAWING_BROKEN, DRAWING_LOCKED */
export async function openPdf(bytes: Uint8Array): Promise<VectorFile> {
  const pdfjs = await import('pdfjs-dist/legacy/build/pdf.mjs');
  const port = new Worker(new URL('../pdf.worker.ts', import.meta.url), { type: 'module' });
  const worker = pdfjs.PDFWorker.create({ port });
  let pdf: PDFDocumentProxy;
  try {
    pdf = await pdfjs.getDocument({ data: bytes, worker, isEvalSupported: false, useWasm: false, stopAtErrors: false }).promise;
  } catch (error) {
    port.terminate();
    throw new UpperRoomError((error as Error).name === 'PasswordException' ? 'DRAWING_LOCKED' : 'DRAWING_BROKEN');
  }
  const options = Array.from({ length: pdf.numPages }, (_, i) => `${i + 1} of ${pdf.numPages}`);
  return {
    choice: pdf.numPages === 1 ? null : { word: 'page', options, several: false },
    open: ([chosen = 0]) => unbroken(async () => sheetOf(pdfjs, await pdf.getPage(chosen + 1))),
    close: () => port.terminate(),
  };
}

async function unbroken<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    throw error instanceof UpperRoomError ? error : new UpperRoomError('DRAWING_BROKEN');
  }
}

function sheetOf(pdfjs: Pdfjs, page: PDFPageProxy): Vectors {
  const { width, height } = page.getViewport({ scale: 1 });
  const scale = LONGER_PX / Math.max(width, height);
  const whole = page.getViewport({ scale });
  let skipped: Promise<ReadonlySet<number>> | null = null;
  return {
    widthPx: Math.round(whole.width),
    heightPx: Math.round(whole.height),
    mPerPx: null,
    paint: (part, perPx, shown) =>
      unbroken(async () => {
        const viewport = page.getViewport({ scale: scale * perPx, offsetX: -part.leftPx * perPx, offsetY: -part.topPx * perPx });
        const [canvas] = paperFor(part, perPx);
        const skip = shown === 'walls' ? await (skipped ??= page.getOperatorList().then((list) => wordsAndDashes(pdfjs, list))) : null;
        await page.render({
          canvas,
          viewport,
          background: '#fff',
          ...(skip === null ? {} : { operationsFilter: (index: number) => !skip.has(index) }),
        }).promise;
        return canvas;
      }),
    read: () =>
      unbroken(async () => {
        const { items } = await page.getTextContent();
        const words = items.flatMap((item): WrittenWord[] => {
          if (!('str' in item) || item.str.trim() === '') return [];
          const [a, b, , , e, f] = item.transform as number[];
          const along = Math.hypot(a!, b!) || 1;
          const [x, y] = whole.convertToViewportPoint(e! + ((a! / along) * item.width) / 2, f! + ((b! / along) * item.width) / 2) as [number, number];
          return [{ text: item.str, x, y, heightPx: (item.height || along) * scale }];
        });
        return { words, straights: straightsOf(pdfjs, await page.getOperatorList(), whole.transform as Matrix) };
      }),
  };
}

type Operators = Awaited<ReturnType<PDFPageProxy['getOperatorList']>>;

/** Walks what a page draws, with the place and the dashes that hold at each operator (ISO 32000-1, 8.4). */
function walk(
  { OPS, Util }: Pdfjs,
  { fnArray, argsArray }: Operators,
  begin: Matrix,
  each: (index: number, place: Matrix, dashed: boolean) => void,
): void {
  let state: { place: Matrix; dashed: boolean } = { place: begin, dashed: false };
  const saved: (typeof state)[] = [];
  const isDashed = (dashes: unknown): boolean => Array.isArray(dashes) && dashes.some((length) => Number(length) > 0);
  fnArray.forEach((operator, index) => {
    const args = argsArray[index] as unknown[] | null;
    switch (operator) {
      case OPS.save:
        saved.push(state);
        break;
      case OPS.restore:
      case OPS.paintFormXObjectEnd:
        state = saved.pop() ?? state;
        break;
      case OPS.transform:
        state = { ...state, place: Util.transform(state.place as number[], args as number[]) as Matrix };
        break;
      case OPS.paintFormXObjectBegin:
        saved.push(state);
        if (Array.isArray(args?.[0])) state = { ...state, place: Util.transform(state.place as number[], args[0] as number[]) as Matrix };
        break;
      case OPS.setDash:
        state = { ...state, dashed: isDashed(args?.[0]) };
        break;
      case OPS.setGState:
        for (const [key, value] of (args?.[0] ?? []) as Array<[string, unknown]>)
          if (key === 'D') state = { ...state, dashed: isDashed((value as unknown[])?.[0]) };
        break;
      default:
        each(index, state.place, state.dashed);
    }
  });
}

function wordsAndDashes(pdfjs: Pdfjs, list: Operators): ReadonlySet<number> {
  const { OPS } = pdfjs;
  const written = new Set<number>([OPS.showText, OPS.showSpacedText, OPS.nextLineShowText, OPS.nextLineSetSpacingShowText]);
  const stroked = new Set<number>([OPS.stroke, OPS.closeStroke]);
  const skip = new Set<number>();
  walk(pdfjs, list, [1, 0, 0, 1, 0, 0], (index, _place, dashed) => {
    const operator = list.fnArray[index]!;
    if (written.has(operator) || (dashed && operator === OPS.constructPath && stroked.has((list.argsArray[index] as number[])[0]!))) skip.add(index);
  });
  return skip;
}

/** How many numbers follow each way of drawing on, in the paths of the reader: move, line, cubic, quadratic, close. */
const NUMBERS = [2, 2, 6, 4, 0];

function straightsOf(pdfjs: Pdfjs, list: Operators, begin: Matrix): Float64Array {
  const lines = straightLines();
  walk(pdfjs, list, begin, (index, place) => {
    if (list.fnArray[index] !== pdfjs.OPS.constructPath) return;
    const path = ((list.argsArray[index] as unknown[])[1] as Array<Float32Array | null>)[0];
    if (!(path instanceof Float32Array)) return;
    const [a, b, c, d, e, f] = place as [number, number, number, number, number, number];
    let [x, y, startX, startY] = [0, 0, 0, 0];
    for (let i = 0; i < path.length;) {
      const way = path[i++]!;
      const count = NUMBERS[way] ?? 0;
      const px = count === 0 ? startX : a * path[i + count - 2]! + c * path[i + count - 1]! + e;
      const py = count === 0 ? startY : b * path[i + count - 2]! + d * path[i + count - 1]! + f;
      if (way === 0) [startX, startY] = [px, py];
      else if (way === 1 || way === 4) lines.add(x, y, px, py);
      [x, y] = [px, py];
      i += count;
    }
  });
  return lines.done();
}
