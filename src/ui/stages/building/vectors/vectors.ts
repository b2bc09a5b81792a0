import type { WrittenWord } from '@/core/finding/written';

/** Vectors are drawn with their longer side as long as this: a 100 m building then has a pixel every 2.5 cm. */
export const LONGER_PX = 4000;

/** Part of a sheet, in px of its picture. */
export type Part = Readonly<{ leftPx: number; topPx: number; widthPx: number; heightPx: number }>;

/** What is drawn of a sheet: all of it, or what may be a wall, without words and dashed lines. */
export type Shown = 'all' | 'walls';

/** A sheet of vectors, open for drawing. All places are px of its picture. */
export type Vectors = Readonly<{
  widthPx: number;
  heightPx: number;
  /** Where the file says its scale. */
  mPerPx: number | null;
  /** Draws a part, `perPx` times as large as on the picture. */
  paint: (part: Part, perPx: number, shown: Shown) => Promise<HTMLCanvasElement>;
  /** What is written on the sheet, and its straight lines as x, y of both ends in turn. */
  read: () => Promise<Readonly<{ words: readonly WrittenWord[]; straights: Float64Array }>>;
}>;

/** A file of vectors: what there is to choose of it (null for nothing; `several`: any number of the options, else one), and the sheet of a choice. */
export type VectorFile = Readonly<{
  choice: Readonly<{ word: 'page' | 'layers'; options: readonly string[]; several: boolean }> | null;
  open: (chosen: readonly number[]) => Promise<Vectors>;
  /** Lets go what is held open: nothing is drawn after it. */
  close: () => void;
}>;

/** White paper for a part of a sheet. */
export function paperFor(
  { widthPx, heightPx }: Pick<Part, 'widthPx' | 'heightPx'>,
  perPx: number,
): readonly [HTMLCanvasElement, CanvasRenderingContext2D] {
  const canvas = document.createElement('canvas');
  canvas.width = Math.max(1, Math.round(widthPx * perPx));
  canvas.height = Math.max(1, Math.round(heightPx * perPx));
  const context = canvas.getContext('2d')!;
  context.fillStyle = '#fff';
  context.fillRect(0, 0, canvas.width, canvas.height);
  return [canvas, context];
}

/** Straight lines as they are collected; those too short to have a length written beside them are left out. */
export function straightLines() {
  const ends: number[] = [];
  return {
    add: (ax: number, ay: number, bx: number, by: number) => {
      if (Math.abs(bx - ax) + Math.abs(by - ay) >= SHORTEST_PX && ends.length < MOST_ENDS) ends.push(ax, ay, bx, by);
    },
    done: () => Float64Array.from(ends),
  };
}
const SHORTEST_PX = 4;
const MOST_ENDS = 4 * 400_000;

/** Lets the page breathe in the middle of long work. */
export const breathe = (): Promise<void> => new Promise((resolve) => setTimeout(resolve));
