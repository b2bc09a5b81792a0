import { v7 as uuid } from 'uuid';
import { create } from 'zustand';
import { UpperRoomError } from '@/core/errors';
import { floorInDxf, floorRecords, looksLikeFloor, readFloor, writeDxf, writeFloor, type FloorRecords } from '@/contract/floorFile';
import { materialsOf } from '@/core/design/design';
import { addFloorFrom } from '@/core/design/floorCommands';
import { LIMITS } from '@/core/design/limits';
import { addDrawing } from '@/core/design/drawingCommands';
import { api } from '../../state/api';
import { saveFile } from '../../kit/saveFile';
import { useDocument } from '../../state/documentStore';
import { placeNow } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';
import { readDrawing, type Incoming } from './readDrawing';

/** The drawing that is on its way in: what is being done, what of it is still to be chosen, and the floor it is for. */
type BringIn = { busy: string | null; incoming: Incoming | null; target: Target | null };
const NOTHING: BringIn = { busy: null, incoming: null, target: null };
export const useBringIn = create<BringIn>()(() => NOTHING);

/** Where something is to go: looked at again after every wait, for another project may be open or the floor gone by then. */
type Target = Readonly<{ projectId: string; floorId: string }>;

function targetNow(): Target | null {
  const { projectId } = useDocument.getState();
  const place = placeNow();
  return projectId === null || place === null ? null : { projectId, floorId: place.floor.id };
}

function stands({ projectId, floorId }: Target): boolean {
  const now = useDocument.getState();
  return now.projectId === projectId && Object.hasOwn(now.design.floors, floorId);
}

/** Gives up what is on its way in, and what was kept open for it. */
export function forgetIncoming(): void {
  useBringIn.getState().incoming?.close();
  useBringIn.setState(NOTHING);
}

async function guarded(busy: string, target: Target, work: () => Promise<void>): Promise<void> {
  useBringIn.setState({ busy, target });
  try {
    await work();
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    if (stands(target)) useDocument.getState().setNotice(error);
  } finally {
    if (useBringIn.getState().target === target) useBringIn.setState({ busy: null });
  }
}

/** Reads a file; lays it under the floor at once where there is nothing to choose. */
export async function bringIn(file: File): Promise<void> {
  const target = targetNow();
  if (target === null || useBringIn.getState().busy !== null) return;
  forgetIncoming();
  await guarded(`Reading ${file.name} …`, target, async () => {
    const records = await floorIn(file);
    if (!stands(target)) return;
    if (records !== null) return addFloorOf(records);
    const incoming = await readDrawing(file);
    if (!stands(target)) return incoming.close();
    if (incoming.choice === null) await lay(incoming, [], target);
    else useBringIn.setState({ incoming });
    if (!stands(target)) return;
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
  saveFile(place.floor.name, kind, new Blob([text], { type: kind === 'geojson' ? 'application/geo+json' : 'image/vnd.dxf' }));
}

/** Lays what was chosen of a drawing under the floor. */
export async function layChosen(incoming: Incoming, chosen: readonly number[]): Promise<void> {
  const { target } = useBringIn.getState();
  if (target !== null) await guarded('Drawing it …', target, () => lay(incoming, chosen, target));
}

async function lay(incoming: Incoming, chosen: readonly number[], target: Target): Promise<void> {
  const { picture, widthPx, heightPx, scale, source: vectors } = await incoming.draw(chosen);
  if (!stands(target)) return incoming.close();
  const { id: assetId } = await sent(target.projectId, picture);
  const source = vectors === null ? null : { assetId: (await sent(target.projectId, vectors.file)).id, type: vectors.type, chosen: vectors.chosen };
  incoming.close();
  if (!stands(target)) return;
  const id = uuid();
  const { choice, name } = incoming;
  const page = choice?.word === 'page' ? `, page ${(chosen[0] ?? 0) + 1}` : '';
  const done = useDocument
    .getState()
    .run('Bring in a drawing', (design) =>
      addDrawing(design, { id, floorId: target.floorId, name: `${name}${page}`, assetId, source, widthPx, heightPx, scale }),
    );
  useBringIn.setState({ incoming: null });
  if (done)
    useSession
      .getState()
      .set({ stage: 'building', floorId: target.floorId, selection: { table: 'drawings', ids: [id] }, view: null, panelOpen: true });
}

/** A file is not kept in the outbox as edits are: who brings it in while no server answers is told so. */
async function sent(projectId: string, file: Blob): Promise<{ id: string }> {
  try {
    return await api.postAsset(projectId, file);
  } catch (error) {
    if (error instanceof UpperRoomError && error.code === 'NETWORK_FAILED') throw new UpperRoomError('DRAWING_NOT_SENT');
    throw error;
  }
}
