import { LIMITS } from '@/core/design/limits';
import { captureOf, readCapture } from '@/core/formats/capture';
import { readSamplesCsv } from '@/core/formats/samplesCsv';
import { samplesAlong, samplesPlaced, wayOf } from '@/core/survey/imported';
import { endMs } from '@/core/survey/walk';
import type { Handler } from './derived';

/** The walks of a table of samples, each with its way. @throws UpperRoomError CSV_UNREADABLE */
export const readSamples: Handler<'readSamples'> = ({ bytes, owners }) =>
  readSamplesCsv(new TextDecoder().decode(bytes), (bssid) => owners.get(bssid) ?? null, LIMITS).map(({ walk, samples }) => ({
    walk,
    ...wayOf(samples, LIMITS.turnsPerLeg),
  }));

/** What a capture brings: with places of its own, or laid along clicks. @throws UpperRoomError CAPTURE_UNREADABLE */
export const readBeacons: Handler<'readBeacons'> = ({ bytes, owners, along }) => {
  const { beacons, others } = readCapture(bytes);
  const ownerOf = (bssid: string) => owners.get(bssid) ?? null;
  const placed = samplesPlaced(beacons, ownerOf);
  if (placed.samples.length > 0) return { kind: 'placed', others, startUs: placed.startUs, ...wayOf(placed.samples, LIMITS.turnsPerLeg) };
  const firstTurn = along?.legs[0]?.turns[0];
  if (along === null || firstTurn === undefined) return { kind: 'nowhere' };
  const firstUs = beacons.reduce((least, { timeUs }) => Math.min(least, timeUs), Infinity);
  const lastUs = beacons.reduce((most, { timeUs }) => Math.max(most, timeUs), 0);
  // By the clock where the times meet; else the first beacon is where the first click was.
  const byClock = lastUs >= along.startUs + firstTurn.tMs * 1000 && firstUs <= along.startUs + endMs(along.legs) * 1000;
  const startUs = byClock ? along.startUs : firstUs - firstTurn.tMs * 1000;
  return { kind: 'along', others, byClock, startUs, ...samplesAlong(beacons, along.legs, startUs, ownerOf) };
};

/** Samples as the bytes of a capture. */
export const writeCapture: Handler<'writeCapture'> = ({ samples, startedAtMs }) => captureOf(samples, startedAtMs);
