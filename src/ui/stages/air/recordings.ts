import type { DBSchema, IDBPDatabase } from 'idb';
import { v7 as uuid } from 'uuid';
import { z } from 'zod';
import { sweepSettingSchema } from '@/contract/air';
import { diskStore } from '../../state/disk';
import { useDocument } from '../../state/documentStore';
import { setSweeps, useSweeps, type Recording } from './sweepStore';

/** A recording as it lies on the browser's disk: its sweeps one after the other. */
const keptSchema = z
  .object({
    projectId: z.string(),
    id: z.string(),
    name: z.string().max(200),
    spot: z.string().max(200),
    setting: sweepSettingSchema,
    atMs: z.instanceof(Float64Array),
    tenthsDbm: z.instanceof(Int16Array),
  })
  .refine(({ atMs, tenthsDbm, setting }) => tenthsDbm.length === atMs.length * setting.bins, { message: 'its sweeps are not whole' });
type Kept = z.infer<typeof keptSchema>;

interface Schema extends DBSchema {
  recordings: { key: [string, string]; value: Kept; indexes: { byProject: string } };
}

const store = diskStore<Schema>('upper-room-recordings', 1, (db) =>
  db.createObjectStore('recordings', { keyPath: ['projectId', 'id'] }).createIndex('byProject', 'projectId'),
);

export function packed(projectId: string, { id, name, spot, setting, sweeps }: Recording): Kept {
  const tenthsDbm = new Int16Array(sweeps.length * setting.bins);
  sweeps.forEach((swept, i) => tenthsDbm.set(swept.tenthsDbm, i * setting.bins));
  return { projectId, id, name, spot, setting, atMs: Float64Array.from(sweeps, ({ atMs }) => atMs), tenthsDbm };
}

/** A recording as it was kept; null for what this version cannot read. */
export function unpacked(value: unknown): Recording | null {
  const parsed = keptSchema.safeParse(value);
  if (!parsed.success) return null;
  const { id, name, spot, setting, atMs, tenthsDbm } = parsed.data;
  const { bins } = setting;
  return { id, name, spot, setting, sweeps: Array.from(atMs, (at, i) => ({ atMs: at, tenthsDbm: tenthsDbm.subarray(i * bins, (i + 1) * bins) })) };
}

/** Something that is asked of the disk; where it refuses, that is said, and the window goes on with what it has. */
async function onDisk(what: (db: IDBPDatabase<Schema>) => Promise<unknown>, refused: string): Promise<void> {
  try {
    await what(await store());
  } catch (error) {
    console.warn('The browser refuses its disk for recordings.', error);
    useDocument.getState().setNotice({ words: refused });
  }
}

const keep = (projectId: string, recording: Recording): Promise<void> =>
  onDisk(
    (db) => db.put('recordings', packed(projectId, recording)),
    `The browser’s disk did not take the recording “${recording.name}”: it stays in this window until that is closed. Save its sweeps as CSV, or delete older recordings and record again.`,
  );

/** The recordings of a project that this browser has, oldest first; what was recorded meanwhile stays. */
export async function loadRecordings(projectId: string): Promise<void> {
  await onDisk(async (db) => {
    const values: unknown[] = await db.getAllFromIndex('recordings', 'byProject', projectId);
    if (useDocument.getState().projectId !== projectId) return;
    const read = values.map(unpacked);
    const { recordings } = useSweeps.getState();
    const known = new Set(recordings.map(({ id }) => id));
    setSweeps({ recordings: [...read.filter((one) => one !== null && !known.has(one.id)), ...recordings] as Recording[] });
    const unreadable = read.filter((one) => one === null).length;
    if (unreadable > 0)
      useDocument.getState().setNotice({
        words: `${unreadable} of the recordings that this browser keeps cannot be read by this version; they were left where they are.`,
      });
  }, 'The browser’s disk cannot be read: recordings of before are not shown.');
}

/** Ends a recording that is under way and keeps it. Of one without a sweep nothing is kept. */
export function stopRecording(projectId: string, nameOf: (startMs: number) => Pick<Recording, 'name' | 'spot'>): void {
  const { recordings, recordingFromMs, sweeps, setting } = useSweeps.getState();
  const own = sweeps.filter(({ atMs }) => atMs >= (recordingFromMs ?? Infinity));
  if (own.length === 0) return setSweeps({ recordingFromMs: null });
  const recording: Recording = { id: uuid(), ...nameOf(own[0]!.atMs), setting, sweeps: own };
  setSweeps({ recordingFromMs: null, recordings: [...recordings, recording] });
  void keep(projectId, recording);
}

export function renameRecording(projectId: string, id: string, name: string): void {
  const { recordings } = useSweeps.getState();
  const renamed = recordings.map((one) => (one.id === id ? { ...one, name } : one));
  setSweeps({ recordings: renamed });
  const recording = renamed.find((one) => one.id === id);
  if (recording !== undefined) void keep(projectId, recording);
}

export function deleteRecording(projectId: string, id: string): void {
  const { recordings, playing, beside } = useSweeps.getState();
  setSweeps({
    recordings: recordings.filter((one) => one.id !== id),
    playing: playing === id ? null : playing,
    replay: null,
    beside: beside === id ? null : beside,
  });
  void onDisk((db) => db.delete('recordings', [projectId, id]), 'The browser’s disk did not delete the recording: it is there again after a reload.');
}
