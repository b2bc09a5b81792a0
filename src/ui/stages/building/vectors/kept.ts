import type { Drawing } from '@/core/design/design';
import { UpperRoomError } from '@/core/errors';
import { assetUrl } from '../../../state/api';
import { openVectors } from './open';
import type { VectorFile, Vectors } from './vectors';

type Source = NonNullable<Drawing['source']>;
type Opened = Readonly<{ file: VectorFile; vectors: Vectors }>;

/** Sheets of vectors that are open, the latest used last: a PDF holds a worker. */
const opened = new Map<string, Promise<Opened>>();
const MOST_OPEN = 2;

/** The vectors of a drawing, opened once. @throws UpperRoomError DRAWING_NOT_SHOWN */
export async function vectorsOf(projectId: string, source: Source): Promise<Vectors> {
  const key = JSON.stringify([projectId, source.assetId, source.chosen]);
  const known = opened.get(key) ?? open(projectId, source);
  opened.delete(key);
  opened.set(key, known);
  known.catch(() => opened.delete(key));
  for (const [oldest, gone] of opened) {
    if (opened.size <= MOST_OPEN) break;
    opened.delete(oldest);
    void gone.then(({ file }) => file.close());
  }
  return (await known).vectors;
}

async function open(projectId: string, { assetId, type, chosen }: Source): Promise<Opened> {
  const response = await fetch(assetUrl(projectId, assetId)).catch((error: Error) => {
    throw new UpperRoomError('DRAWING_NOT_SHOWN', { problem: error.message });
  });
  if (!response.ok) throw new UpperRoomError('DRAWING_NOT_SHOWN', { problem: `the server answered ${response.status}` });
  const file = await openVectors(new Uint8Array(await response.arrayBuffer()), type);
  return { file, vectors: await file.open(chosen) };
}
