import { v7 as uuid } from 'uuid';
import { edit, remove } from '@/core/design/commands';
import { addMark, type Mark } from '@/core/design/surveyCommands';
import { LIMITS } from '@/core/design/limits';
import { UpperRoomError } from '@/core/errors';
import type { PointM } from '@/core/geometry/point';
import { drawingTypeOf } from '@/core/formats/picture';
import { api } from '../../state/api';
import { useDocument } from '../../state/documentStore';
import { placeNow } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';

/** Sets a mark at a spot of the floor in view, and takes it in hand. */
export function markAt({ xM, yM }: PointM): void {
  const place = placeNow();
  if (place === null) return;
  const id = uuid();
  useDocument.getState().run('Set a mark', () => addMark({ id, floorId: place.floor.id, xM, yM }));
  useSession.getState().set({ stage: 'survey', selection: { table: 'marks', ids: [id] }, pinned: null });
}

export function deleteMark({ id }: Mark): void {
  useDocument.getState().run('Delete a mark', (design) => remove(design, 'marks', [id]));
  useSession.getState().set({ selection: null });
}

/** Puts a photo to a mark: it is kept with the project's files. Says what is wrong with what is no photo, or too large. */
export async function addPhoto(markId: string, file: File): Promise<void> {
  const { projectId, setNotice } = useDocument.getState();
  if (projectId === null) return;
  const type = drawingTypeOf(new Uint8Array(await file.slice(0, 1024).arrayBuffer()));
  if (type !== 'image/png' && type !== 'image/jpeg') return setNotice({ words: `“${file.name}” is no photo: bring a PNG or a JPEG.` });
  if (file.size > LIMITS.pictureBytes.max)
    return setNotice({ words: `“${file.name}” is larger than ${LIMITS.pictureBytes.max / 1024 / 1024} MB: bring it smaller.` });
  try {
    const { id: assetId } = await api.postAsset(projectId, file);
    // Another project may have been opened meanwhile, or the mark be gone.
    if (useDocument.getState().projectId !== projectId) return;
    const mark = useDocument.getState().design.marks[markId];
    if (mark === undefined || mark.photos.some((photo) => photo.assetId === assetId)) return;
    const name = file.name.trim().slice(0, LIMITS.nameLength) || 'photo';
    useDocument.getState().run('Add a photo', (design) => edit(design, 'marks', markId, { photos: [...mark.photos, { assetId, name }] }));
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    setNotice({ code: error.code, details: error.details });
  }
}
