import { UpperRoomError } from '@/core/errors';
import { LIMITS } from '@/core/design/limits';
import { scaleByWords } from '@/core/finding/written';
import { drawingTypeOf, isVectorType, pictureFacts, type VectorType } from '@/core/formats/picture';
import type { NewDrawing } from '@/core/design/drawingCommands';
import { openVectors } from './vectors/open';
import type { VectorFile, Vectors } from './vectors/vectors';

/** A picture to lay under a floor, what is known of its scale, and the vectors it was drawn from. */
export type DrawnPicture = Readonly<{
  picture: Blob;
  widthPx: number;
  heightPx: number;
  scale: NewDrawing['scale'];
  source: Readonly<{ file: Blob; type: VectorType; chosen: readonly number[] }> | null;
}>;

/** A drawing that was brought in: what there is to choose of it, and the picture of a choice. */
export type Incoming = Readonly<{
  name: string;
  choice: VectorFile['choice'];
  draw: (chosen: readonly number[]) => Promise<DrawnPicture>;
  /** Lets go what is held open for drawing: nothing is drawn after it. */
  close: () => void;
}>;

/** Reads a file by its content. @throws UpperRoomError DRAWING_UNKNOWN, DRAWING_BROKEN, DRAWING_LOCKED, DRAWING_EMPTY, DRAWING_TOO_LARGE */
export async function readDrawing(file: File): Promise<Incoming> {
  if (file.size > LIMITS.pictureBytes.max) throw new UpperRoomError('DRAWING_TOO_LARGE', { size: `${(file.size / 1024 / 1024).toFixed(0)} MB` });
  const bytes = new Uint8Array(await file.arrayBuffer());
  const name = (file.name.replace(/\.[^.]*$/, '').trim() || 'Drawing').slice(0, LIMITS.nameLength);
  const type = drawingTypeOf(bytes);
  if (type === null) throw new UpperRoomError('DRAWING_UNKNOWN');
  if (!isVectorType(type)) return { name, choice: null, draw: () => keep(bytes, file), close: () => undefined };
  // Reading a PDF takes the bytes away: it gets its own.
  const { choice, open, close } = await openVectors(bytes.slice(), type);
  const draw = async (chosen: readonly number[]): Promise<DrawnPicture> => {
    const vectors = await open(chosen);
    return { ...(await drawn(vectors)), source: { file: new Blob([bytes], { type }), type, chosen } };
  };
  return { name, choice, draw, close };
}

/** The whole sheet as a picture; a scale that its file does not say may be read from what is written on it. */
async function drawn(vectors: Vectors): Promise<Omit<DrawnPicture, 'source'>> {
  const canvas = await vectors.paint({ leftPx: 0, topPx: 0, widthPx: vectors.widthPx, heightPx: vectors.heightPx }, 1, 'all');
  const picture = await new Promise<Blob | null>((resolve) => canvas.toBlob(resolve, 'image/png'));
  if (picture === null) throw new UpperRoomError('DRAWING_BROKEN');
  return { picture, widthPx: canvas.width, heightPx: canvas.height, scale: await scaleOf(vectors) };
}

async function scaleOf({ mPerPx, read }: Vectors): Promise<NewDrawing['scale']> {
  if (mPerPx !== null) return { mPerPx, from: 'file' };
  const { words, straights } = await read();
  const byWords = scaleByWords(words, straights);
  return byWords === null ? null : { mPerPx: 1 / byWords.pxPerM, from: 'words' };
}

/** A picture is kept as it is. Its size is asked of the browser, which turns a photograph the way it was held. */
async function keep(bytes: Uint8Array, file: File): Promise<DrawnPicture> {
  const { widthPx, heightPx, type } = pictureFacts(bytes);
  checkSize(widthPx, heightPx);
  const picture = file.slice(0, file.size, type);
  try {
    const bitmap = await createImageBitmap(picture);
    const kept = { picture, widthPx: bitmap.width, heightPx: bitmap.height, scale: null, source: null };
    bitmap.close();
    return kept;
  } catch {
    throw new UpperRoomError('DRAWING_BROKEN');
  }
}

function checkSize(widthPx: number, heightPx: number): void {
  if (Math.max(widthPx, heightPx) > LIMITS.pictureSidePx.max || widthPx * heightPx > LIMITS.picturePx.max)
    throw new UpperRoomError('DRAWING_TOO_LARGE', { size: `${widthPx} × ${heightPx} pixels` });
}
