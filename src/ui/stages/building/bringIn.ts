import { v7 as uuid } from 'uuid';
import { create } from 'zustand';
import { UpperRoomError } from '@/core/errors';
import { floorInDxf, floorRecords, looksLikeFloor, readFloor, writeDxf, writeFloor, type FloorRecords } from '@/contract/floorFile';
import { materialsOf } from '@/core/design/design';
import { addFloorFrom } from '@/core/design/floorCommands';
import { LIMITS } from '@/core/design/limits';
import { addDrawing } from '@/core/design/drawingCommands';
import { api } from '../../state/api';
import { useDocument } from '../../state/documentStore';
import { placeNow } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { readDrawing, type Incoming } from './readDrawing';

/** The drawing that is on its way in: what is being done, and what of it is still to be chosen. */
export const useBringIn = create<{ busy: string | null; incoming: Incoming | null }>()(() => ({ busy: null, incoming: null }));

async function guarded(busy: string, work: () => Promise<void>): Promise<void> {
  useBringIn.setState({ busy });
  try {
    await work();
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    useDocument.getState().setNotice(error);
  } finally {
    useBringIn.setState({ busy: null });
  }
}

/** Reads a file; lays it under the floor at once where there is nothing to choose. */
export async function bringIn(file: File): Promise<void> {
  if (useBringIn.getState().busy !== null) return;
  useBringIn.setState({ incoming: null });
  await guarded(`Reading ${file.name} …`, async () => {
    const records = await floorIn(file);
    if (records !== null) return addFloorOf(records);
    const incoming = await readDrawing(file);
    if (incoming.choice === null) await lay(incoming, []);
    else useBringIn.setState({ incoming });
    useSession.getState().set({ stage: 'building', selection: incoming.choice === null ? useSession.getState().selection : null, panelOpen: true });
  });
}

/** The floor that a file of ours holds; null for a drawing. */
async function floorIn(file: File): Promise<FloorRecords | null> {
  const head = await file.slice(0, 1024).text();
  if (file.size > LIMITS.pictureBytes.max || !(looksLikeFloor(head) || head.includes('upper-room '))) return null;
  const text = await file.text();
  return looksLikeFloor(text) ? readFloor(text) : floorInDxf(text);
}

function addFloorOf(records: FloorRecords): void {
  const made: string[] = [];
  const newId = () => made[made.push(uuid()) - 1]!;
  if (useDocument.getState().run('Bring in a floor', (design) => addFloorFrom(design, records, newId)))
    useSession.getState().set({ stage: 'building', floorId: made[0]!, view: null, selection: null });
}

/** Writes the floor in view as a file that the browser keeps: GeoJSON in metres, or DXF. */
export function writeOut(kind: 'geojson' | 'dxf'): void {
  const { design } = useDocument.getState();
  const place = placeNow();
  if (place === null) return;
  const records = floorRecords(design, place.floor.id);
  const materials = materialsOf(design);
  const text = kind === 'geojson' ? writeFloor(records) : writeDxf(records, (id) => materials(id).name);
  const url = URL.createObjectURL(new Blob([text], { type: kind === 'geojson' ? 'application/geo+json' : 'image/vnd.dxf' }));
  const link = document.createElement('a');
  link.href = url;
  link.download = `${place.floor.name.replace(/[^\p{L}\p{N}]+/gu, '-')}.${kind}`;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** Lays what was chosen of a drawing under the floor. */
export const layChosen = (incoming: Incoming, chosen: readonly number[]): Promise<void> => guarded('Drawing it …', () => lay(incoming, chosen));

async function lay(incoming: Incoming, chosen: readonly number[]): Promise<void> {
  const { picture, widthPx, heightPx, mPerPx } = await incoming.draw(chosen);
  const { projectId } = useDocument.getState();
  const place = placeNow();
  if (projectId === null || place === null) return;
  const { id: assetId } = await api.postAsset(projectId, picture);
  // The answer may come when another project is open.
  if (useDocument.getState().projectId !== projectId) return;
  const id = uuid();
  const { choice, name } = incoming;
  const page = choice?.word === 'page' ? `, page ${(chosen[0] ?? 0) + 1}` : '';
  const done = useDocument
    .getState()
    .run('Bring in a drawing', (design) =>
      addDrawing(design, { id, floorId: place.floor.id, name: `${name}${page}`, assetId, widthPx, heightPx, mPerPx }),
    );
  useBringIn.setState({ incoming: null });
  if (done) useSession.getState().set({ stage: 'building', selection: { table: 'drawings', ids: [id] }, view: null, panelOpen: true });
}
