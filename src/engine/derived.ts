import { perBand } from '@/core/radio/band';
import { modelKey, radioModelOf, type ApModel } from '@/core/radio/catalogue';
import type { Antenna } from '@/core/radio/antenna';
import { centresOf, type Channel } from '@/core/radio/channel';
import type { Plane } from '@/core/fields/lossField';
import { outlinesOf, type Outlines } from '@/core/fields/outlines';
import type { Pose } from '@/core/propagation/crossing';
import type { Station } from '@/core/propagation/station';
import type { CallName, Params, Progress, Result, Scene } from './protocol';

/** A handler computes; one that takes long is a generator whose yields are progress and the points
 * where it can be cancelled, or, sent true, end with the best it has. */
export type Handler<K extends CallName> = (params: Params<K>) => Result<K> | Generator<Progress<K> | undefined, Result<K>, boolean | undefined>;

/** Derived from the newest two plans: they change one after the other, and two may be compared. */
let newest: ReadonlyArray<Readonly<{ key: string; outlines: Outlines }>> = [];

export function outlinesFor(scene: Scene): Outlines {
  const known = newest.find(({ key }) => key === scene.mediumKey) ?? { key: scene.mediumKey, outlines: outlinesOf(scene.medium) };
  if (newest[0] !== known) newest = [known, ...newest.filter((one) => one !== known)].slice(0, 2);
  return known.outlines;
}

/** Shared memory where the page may have it: results then go to other workers without copying. */
export function floats(length: number): Float32Array {
  return typeof SharedArrayBuffer === 'undefined' ? new Float32Array(length) : new Float32Array(new SharedArrayBuffer(length * 4));
}

const antennasKnown = new Map<string, Array<Antenna | null>>();

/**
 * A model's antenna in each band, null where it has no radio. Models that are alike give the same arrays, also where each message brought its own copy: what
 * is remembered by antenna stays known.
 */
export function antennasOf(model: ApModel): Array<Antenna | null> {
  const key = modelKey(model);
  const known = antennasKnown.get(key);
  if (known !== undefined) return known;
  if (antennasKnown.size >= 200) antennasKnown.clear();
  const antennas = perBand((band) => radioModelOf(model, band)?.antenna ?? null);
  antennasKnown.set(key, antennas);
  return antennas;
}

export const planeOf = ({ grid, planeZM, receiver }: Scene): Plane => ({ grid, zM: planeZM, gainDbi: receiver.gainDbi });

/** An access point of a model, its walls met at the frequencies of these channels and elsewhere at the bands' middle. */
export const stationOf = (model: ApModel, pose: Pose, channels: readonly Channel[]): Station => ({
  pose,
  antennas: antennasOf(model),
  centresMhz: centresOf(channels),
});

/** The radios' access points, each with that radio's channel. */
export const stationsOf = (radios: ReadonlyArray<{ pose: Pose; model: ApModel; channel: Channel }>): Station[] =>
  radios.map(({ pose, model, channel }) => stationOf(model, pose, [channel]));
