import { v7 as uuid } from 'uuid';
import { accessPointsAround, type Design, type Walk } from '@/core/design/design';
import { addWalk } from '@/core/design/commands';
import { newWalk } from '@/core/design/kinds/walk';
import { LIMITS } from '@/core/design/limits';
import { linkedAddresses } from '@/core/design/surveyCommands';
import { UpperRoomError } from '@/core/errors';
import { csvOf } from '@/core/formats/csv';
import { captureOf, readCapture } from '@/core/formats/capture';
import { readSamplesCsv, samplesTable } from '@/core/formats/samplesCsv';
import { BANDS } from '@/core/radio/band';
import { samplesAlong, samplesPlaced, wayOf, type OwnerOf } from '@/core/survey/imported';
import type { Sample } from '@/core/survey/sample';
import { bssidOf } from '@/core/survey/site';
import { endMs } from '@/core/survey/walk';
import { saveFile } from '../../kit/saveFile';
import { useDocument } from '../../state/documentStore';
import { appendHeard, countedWalk, heardOf } from '../../state/samplesStore';
import { placeNow, type Place } from '../../state/selectors';
import { useSession } from '../../state/sessionStore';

/** Samples go to the server in batches of this many. */
const BATCH = 4000;
const MOST_BYTES = 256 * 1024 * 1024;

/** Whose addresses are: those that were linked, and those under which the simulated access points of a variant send. */
function ownersIn(design: Design, place: Place): OwnerOf {
  const linked = linkedAddresses(design);
  const simulated = new Map(
    accessPointsAround(design, place.floor.id, place.variant.id).flatMap(({ id }) => BANDS.map((band) => [bssidOf(id, band), id] as const)),
  );
  return (bssid) => linked.get(bssid) ?? simulated.get(bssid) ?? null;
}

/** Keeps a finished walk that came from elsewhere, with its samples. */
function keep(place: Place, projectId: string, fields: Pick<Walk, 'name' | 'startedAt' | 'legs' | 'note'>, samples: readonly Sample[]): string {
  const { run, dispatch } = useDocument.getState();
  const walk = newWalk({ id: uuid(), variantId: place.variant.id, floorId: place.floor.id, finished: true, ...fields });
  run('Bring in a survey', () => addWalk(walk));
  appendHeard(walk.id, { samples, scans: [] });
  for (let at = 0; at < samples.length; at += BATCH)
    void dispatch({ kind: 'samples', projectId, walkId: walk.id, batch: { batchId: uuid(), samples: samples.slice(at, at + BATCH), scans: [] } });
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
    const ownerOf = ownersIn(useDocument.getState().design, place);
    // A pcapng begins so, in either byte order; what is called a capture is read as one, and says what is wrong.
    const capture = [0x0a, 0x0d, 0x0d, 0x0a].every((byte, i) => bytes[i] === byte) || /\.(pcapng|pcap|cap)$/i.test(file.name);
    const words = capture ? fromCapture(bytes, file, along, place, projectId, ownerOf) : fromCsv(bytes, file, place, projectId, ownerOf);
    setNotice({ words });
  } catch (error) {
    if (!(error instanceof UpperRoomError)) throw error;
    setNotice({ code: error.code, details: error.details });
  }
}

function fromCsv(bytes: Uint8Array, file: File, place: Place, projectId: string, ownerOf: OwnerOf): string {
  const walks = readSamplesCsv(new TextDecoder().decode(bytes), ownerOf, LIMITS);
  const startedAt = new Date(file.lastModified).toISOString();
  const ids = walks.map(({ walk, samples: own }) => {
    const { legs, samples } = wayOf(own, LIMITS.turnsPerLeg);
    return keep(
      place,
      projectId,
      { name: walk === '' ? nameOfFile(file) : walk.slice(0, LIMITS.nameLength), startedAt, legs, note: `From ${file.name}` },
      samples,
    );
  });
  useSession.getState().set({ walkId: ids[0]!, alsoWalkIds: ids.slice(1) });
  const count = walks.reduce((sum, { samples }) => sum + samples.length, 0);
  return `${count} samples of ${ids.length} ${ids.length === 1 ? 'walk' : 'walks'} were brought in.`;
}

function fromCapture(bytes: Uint8Array, file: File, along: Walk | undefined, place: Place, projectId: string, ownerOf: OwnerOf): string {
  const { beacons, others } = readCapture(bytes);
  const passed = others > 0 ? ` ${others} packets that are no beacons were passed over.` : '';
  const placed = samplesPlaced(beacons, ownerOf);
  if (placed.samples.length > 0) {
    const { legs, samples } = wayOf(placed.samples, LIMITS.turnsPerLeg);
    const startedAt = new Date(placed.startUs / 1000).toISOString();
    useSession
      .getState()
      .set({ walkId: keep(place, projectId, { name: nameOfFile(file), startedAt, legs, note: `From ${file.name}` }, samples), alsoWalkIds: [] });
    return `${samples.length} beacons with their places were brought in.${passed}`;
  }
  if (along === undefined || along.legs.length === 0)
    return 'The capture does not say where it was taken. Choose the walk with the clicks that belong to it, or walk for a capture first, then bring it in again.';
  const clickedUs = Date.parse(along.startedAt) * 1000;
  const firstUs = beacons.reduce((least, { timeUs }) => Math.min(least, timeUs), Infinity);
  const lastUs = beacons.reduce((most, { timeUs }) => Math.max(most, timeUs), 0);
  // By the clock where the times meet; else the first beacon is where the walk began.
  const byClock = lastUs >= clickedUs && firstUs <= clickedUs + endMs(along.legs) * 1000;
  const { samples, outside } = samplesAlong(beacons, along.legs, byClock ? clickedUs : firstUs, ownerOf);
  if (samples.length === 0) throw new UpperRoomError('CAPTURE_APART');
  const startedAt = byClock ? along.startedAt : new Date(firstUs / 1000).toISOString();
  const id = keep(
    place,
    projectId,
    { name: `${nameOfFile(file)} along ${along.name}`.slice(0, LIMITS.nameLength), startedAt, legs: along.legs, note: `From ${file.name}` },
    samples,
  );
  useSession.getState().set({ walkId: id, alsoWalkIds: [] });
  const left = outside > 0 ? ` ${outside} came when nobody walked and were left out.` : '';
  return `${samples.length} beacons were laid along the clicks of “${along.name}”, ${byClock ? 'by the clock' : 'the first where the walk began, for the clocks do not meet'}.${left}${passed}`;
}

/** Keeps a walk's samples as a file. */
export function takeOut(walk: Walk, as: 'csv' | 'pcapng'): void {
  const { design } = useDocument.getState();
  // As they count: placed on the way as it is now, legs that are left out left out.
  const { samples } = countedWalk(walk, heardOf(walk.id), linkedAddresses(design));
  if (samples.length === 0) return useDocument.getState().setNotice({ words: 'The walk has no samples to take out.' });
  if (as === 'csv') {
    const table = samplesTable([{ walk: walk.name, samples }], (apId) => design.accessPoints[apId]?.name ?? null);
    saveFile(walk.name, 'csv', new Blob([csvOf(table)], { type: 'text/csv' }));
  } else saveFile(walk.name, 'pcapng', new Blob([captureOf(samples, Date.parse(walk.startedAt))], { type: 'application/octet-stream' }));
}
