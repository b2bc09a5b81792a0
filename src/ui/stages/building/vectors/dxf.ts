import { UpperRoomError } from '@/core/errors';
import type { DxfDrawing, DxfLayer } from '@/core/formats/dxf';
import { browserPool } from '@/engine/browser';
import { LONGER_PX, paperFor, straightLines, type VectorFile, type Vectors } from './vectors';

const MARGIN_PX = 20;
/** A letter is about so wide as it is high. */
const LETTER_WIDE = 0.6;

/** @throws UpperRoomError DRAWING_BROKEN, DRAWING_EMPTY, DRAWING_TOO_LARGE */
export async function openDxf(text: string): Promise<VectorFile> {
  const dxf = await browserPool().call('readDxf', { text }, { priority: 'now' });
  const { layers } = dxf;
  return {
    choice: layers.length === 1 ? null : { word: 'layers', options: layers.map((layer) => layer.name), several: true },
    // Layers that a file of the same name has no more are passed over.
    open: async (chosen) => sheetOf(dxf, chosen.length === 0 ? layers : chosen.flatMap((i) => layers[i] ?? [])),
    close: () => undefined,
  };
}

function sheetOf({ mPerUnit }: DxfDrawing, layers: readonly DxfLayer[]): Vectors {
  let [west, south, east, north] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { spots } of layers)
    for (let s = 0; s < spots.length; s += 2) {
      west = Math.min(west, spots[s]!);
      east = Math.max(east, spots[s]!);
      south = Math.min(south, spots[s + 1]!);
      north = Math.max(north, spots[s + 1]!);
    }
  const longer = Math.max(east - west, north - south);
  if (!(longer > 0 && Number.isFinite(longer))) throw new UpperRoomError('DRAWING_EMPTY');
  const scale = (LONGER_PX - 2 * MARGIN_PX) / longer;
  const x = (at: number): number => (at - west) * scale + MARGIN_PX;
  const y = (at: number): number => (north - at) * scale + MARGIN_PX;
  const words = layers.flatMap((layer) => layer.words);
  return {
    widthPx: Math.max(1, Math.round((east - west) * scale + 2 * MARGIN_PX)),
    heightPx: Math.max(1, Math.round((north - south) * scale + 2 * MARGIN_PX)),
    mPerPx: mPerUnit === null ? null : mPerUnit / scale,
    paint: (part, perPx, shown) => {
      const [canvas, context] = paperFor(part, perPx);
      context.setTransform(perPx, 0, 0, perPx, -part.leftPx * perPx, -part.topPx * perPx);
      // Lines of a file without weights are as thick on the screen wherever they are looked at.
      context.lineWidth = shown === 'walls' ? 2 : 2 / Math.max(1, perPx);
      for (const { spots, starts, dashed } of layers)
        for (const dashes of shown === 'walls' ? [0] : [0, 1]) {
          context.setLineDash(dashes === 1 ? [10, 6] : []);
          context.beginPath();
          for (let c = 0; c + 1 < starts.length; c++) {
            if (dashed[c] !== dashes) continue;
            context.moveTo(x(spots[starts[c]!]!), y(spots[starts[c]! + 1]!));
            for (let s = starts[c]! + 2; s < starts[c + 1]!; s += 2) context.lineTo(x(spots[s]!), y(spots[s + 1]!));
          }
          context.stroke();
        }
      if (shown === 'all') {
        context.fillStyle = '#000';
        for (const word of words) {
          context.save();
          context.translate(x(word.x), y(word.y));
          context.rotate((-word.turnDeg * Math.PI) / 180);
          context.font = `${Math.min(400, word.height * scale)}px sans-serif`;
          context.fillText(word.text, 0, 0);
          context.restore();
        }
      }
      return Promise.resolve(canvas);
    },
    read: () => {
      const lines = straightLines();
      for (const { spots, starts } of layers)
        for (let c = 0; c + 1 < starts.length; c++)
          for (let s = starts[c]!; s + 3 < starts[c + 1]!; s += 2) lines.add(x(spots[s]!), y(spots[s + 1]!), x(spots[s + 2]!), y(spots[s + 3]!));
      return Promise.resolve({
        words: words.map(({ text, x: footX, y: footY, height, turnDeg }) => {
          const turn = (turnDeg * Math.PI) / 180;
          const [along, up] = [(text.length * LETTER_WIDE * height) / 2, height / 2];
          return {
            text,
            x: x(footX + along * Math.cos(turn) - up * Math.sin(turn)),
            y: y(footY + along * Math.sin(turn) + up * Math.cos(turn)),
            heightPx: height * scale,
          };
        }),
        straights: lines.done(),
      });
    },
  };
}
