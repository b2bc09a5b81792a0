import { v7 as uuid } from 'uuid';
import type { Walk } from '@/core/design/design';
import { addWalk } from '@/core/design/commands';
import { newWalk } from '@/core/design/kinds/walk';
import { LIMITS } from '@/core/design/limits';
import { linkedAddresses } from '@/core/design/surveyCommands';
import { UpperRoomError } from '@/core/errors';
import { csvOf } from '@/core/formats/csv';
import { samplesTable } from '@/core/formats/samplesCsv';
import type { Sample } from '@/core/survey/sample';
import { NOTHING_HEARD } from '@/core/survey/heard';
import { browserPool } from '@/engine/browser';
import type { Result } from '@/engine/protocol';
import { saveFile } from '../../kit/saveFile';
import { useDocument } from '../../state/documentStore';
import { countedWalk, heardOf, keepHeard } from '../../state/samplesStore';
import { ownersOf } from '../../state/owners';
import { placeNow, type Place } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';

const MOST_BYTES = 256 * 1024 * 1024;

/** Keeps a finished walk that came from elsewhere, with its samples. */
function keep(place: Place, projectId: string, fields: Pick<Walk, 'name' | 'startedAt' | 'legs' | 'note'>, samples: readonly Sample[]): string {
  const { run } = useDocument.getState();
  const walk = newWalk({ id: uuid(), variantId: place.variant.id, floorId: place.floor.id, finished: true, ...fields });
  run('Bring in a survey', () => addWalk(walk));
  keepHeard(projectId, walk.id, { ...NOTHING_HEARD, samples });
  return walk.id;
}

const nameOfFile = (file: File): string =>
  file.name
    .replace(/\.[^.]*$/, '')
    .trim()
    .slice(0, LIMITS.nameLength) || 'Survey';

/**
 * Brings samples in from a file: a table with places, a capture of ours with places, or any capture along the clicks of the walk in view. Says what came, and of what nothing could be made.
 */
export async function bringInSamples(file: File, along: Walk | undefined): Promise<void> {
  const place = placeNow();
  const { projectId, setNotice } = useDocument.getState();
  if (place === null || projectId === null) return;
  if (file.size > MOST_BYTES) return setNotice({ words: `“${file.name}” is larger than ${MOST_BYTES / 1024 / 1024} MB: bring it in parts.` });
  try {
    const bytes = new Uint8Array(await file.arrayBuffer());
    if (useDocument.getState().projectId !== projectId) return;
    const owners = ownersOf(useDocument.getState().design, place);
    // A pcapng begins so, in either byte order; what is called a capture is read as one, and says what is wrong.
    const capture = [0x0a, 0x0d, 0x0d, 0x0a].every((byte, i) => bytes[i] === byte) || /\.(pcapng|pcap|cap)$/i.test(file.name);
    const clicks = along === undefined ? null : { legs: along.legs, startUs: Date.parse(along.startedAt) * 1000 };
    const pool = browserPool();
    const found = capture
      ? { capture: await pool.call('readBeacons', { bytes, owners, along: clicks }, { priority: 'soon' }) }
      : { walks: await pool.call('readSamples', { bytes, owners }, { priority: 'soon' }) };
    // Another project may have been opened meanwhile.
    if (useDocument.getState().projectId !== projectId) return;
    setNotice({
      words: found.capture === undefined ? keepWalks(found.walks, file, place, projectId) : keepCapture(found.capture, file, along, place, projectId),
    });
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    setNotice({ code: error.code, details: error.details });
  }
}

function keepWalks(walks: Result<'readSamples'>, file: File, place: Place, projectId: string): string {
  const startedAt = new Date(file.lastModified).toISOString();
  const note = `From ${file.name}`.slice(0, LIMITS.textLength);
  const ids = walks.map(({ walk, legs, samples }) =>
    keep(place, projectId, { name: walk === '' ? nameOfFile(file) : walk.slice(0, LIMITS.nameLength), startedAt, legs, note }, samples),
  );
  useSession.getState().set({ walkId: ids[0]!, alsoWalkIds: ids.slice(1) });
  const count = walks.reduce((sum, { samples }) => sum + samples.length, 0);
  return `${count} samples of ${ids.length} ${ids.length === 1 ? 'walk' : 'walks'} were brought in.`;
}

function keepCapture(found: Result<'readBeacons'>, file: File, along: Walk | undefined, place: Place, projectId: string): string {
  if (found.kind === 'nowhere' || (found.kind === 'along' && along === undefined))
    return 'The capture does not say where it was taken. Choose the walk with the clicks that belong to it, or walk for a capture first, then bring it in again.';
  const { samples, startUs, others } = found;
  if (samples.length === 0) throw new UpperRoomError('CAPTURE_APART');
  const placed = found.kind === 'placed';
  const name = placed ? nameOfFile(file) : `${nameOfFile(file)} along ${along!.name}`.slice(0, LIMITS.nameLength);
  const note = `From ${file.name}`.slice(0, LIMITS.textLength);
  const legs = placed ? found.legs : along!.legs;
  const walkId = keep(place, projectId, { name, startedAt: new Date(startUs / 1000).toISOString(), legs, note }, samples);
  useSession.getState().set({ walkId, alsoWalkIds: [] });
  const passed = others > 0 ? ` ${others} packets that are no beacons were passed over.` : '';
  if (placed) return `${samples.length} beacons with their places were brought in.${passed}`;
  const left = found.outside > 0 ? ` ${found.outside} came when nobody walked and were left out.` : '';
  const how = found.byClock ? 'by the clock' : 'the first where the first click was, for the clocks do not meet';
  return `${samples.length} beacons were laid along the clicks of “${along!.name}”, ${how}.${left}${passed}`;
}

/** Keeps a walk's samples as a file. */
export async function takeOut(walk: Walk, as: 'csv' | 'pcapng'): Promise<void> {
  const { design } = useDocument.getState();
  // As they count: placed on the way as it is now, legs that are left out left out.
  const { samples } = countedWalk(walk, heardOf(walk.id), linkedAddresses(design));
  if (samples.length === 0) return useDocument.getState().setNotice({ words: 'The walk has no samples to take out.' });
  if (as === 'csv') {
    const table = samplesTable([{ walk: walk.name, samples }], (apId) => design.accessPoints[apId]?.name ?? null);
    saveFile(walk.name, 'csv', new Blob([csvOf(table)], { type: 'text/csv' }));
    return;
  }
  const bytes = await browserPool().call('writeCapture', { samples, startedAtMs: Date.parse(walk.startedAt) }, { priority: 'soon' });
  saveFile(walk.name, 'pcapng', new Blob([bytes], { type: 'application/octet-stream' }));
}
