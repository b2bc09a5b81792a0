import type { Design } from '@/core/design/design';
import type { Disturber } from '@/core/fields/disturber';
import { lossFieldInto } from '@/core/fields/lossField';
import { ISOTROPIC } from '@/core/radio/antenna';
import { BANDS, bandAt, bandIndex, type Band } from '@/core/radio/band';
import { offMiddleAtDb, pathMhz, type Channel } from '@/core/radio/channel';
import type { Receiver } from '@/core/radio/receiver';
import type { Medium } from '@/core/propagation/medium';
import type { Spot } from '@/core/propagation/crossing';
import { sightLine } from '@/core/propagation/ray';
import { meanShareIn } from '@/core/spectrum/signal';
import { outlinesFor, planeOf } from './derived';
import type { Scene, SceneEmitter } from './protocol';

/** What was found of a building that sends in a band and is not Wi-Fi, on whichever floor. */
export const sceneEmitters = ({ emitters, floors }: Pick<Design, 'emitters' | 'floors'>, bands: readonly Band[]): SceneEmitter[] =>
  Object.values(emitters)
    .filter((one) => bands.includes(bandAt(one.centreMhz)))
    .sort((a, b) => (a.id < b.id ? -1 : 1))
    .map(({ floorId, xM, yM, heightM, signal, centreMhz: mhz, eirpDbm }) => ({
      pose: { xM, yM, zM: (floors[floorId]?.elevationM ?? 0) + heightM, azimuthDeg: 0, tiltDeg: 0 },
      signal,
      centreMhz: mhz,
      eirpDbm,
    }));

/** Of each radio's channel what share of an emitter's power falls in, in dB. */
function sharesOf({ signal, centreMhz: mhz }: SceneEmitter, radios: ReadonlyArray<{ channel: Channel }>): Float64Array {
  const known = new Map<string, number>();
  return Float64Array.from(radios, ({ channel }) => {
    const [middle, half] = [pathMhz(channel), channel.widthMhz / 2];
    const key = `${middle}/${half}`;
    const share = known.get(key) ?? 10 * Math.log10(meanShareIn(signal, mhz, middle - half, middle + half));
    known.set(key, share);
    return share;
  });
}

/** Loss fields of emitters that were needed last: they stand still while everything else is moved. */
const KEPT = 16;
const fields = new Map<string, Float32Array>();

function lossOf(scene: Scene, { pose, centreMhz: mhz }: SceneEmitter): Float32Array {
  const key = [scene.key, pose.xM, pose.yM, pose.zM, mhz].join();
  const known = fields.get(key);
  if (known !== undefined) return known;
  const lane = bandIndex(bandAt(mhz));
  const outs = BANDS.map(() => new Float32Array(scene.grid.cols * scene.grid.rows));
  const inLane = <T>(value: T) => BANDS.map((_, i) => (i === lane ? value : null));
  lossFieldInto(outlinesFor(scene), { pose, antennas: inLane(ISOTROPIC), centresMhz: inLane(mhz) }, planeOf(scene), outs);
  for (const oldest of fields.keys()) if (fields.size >= KEPT) fields.delete(oldest);
  fields.set(key, outs[lane]!);
  return outs[lane]!;
}

/** Emitters as noise to some radios of a band, over the cells of a scene. */
export function disturbersOf(scene: Scene, emitters: readonly SceneEmitter[], radios: ReadonlyArray<{ channel: Channel }>): Disturber[] {
  const band = radios[0]?.channel.band;
  return emitters
    .filter((one) => bandAt(one.centreMhz) === band)
    .map((one) => ({
      lossDb: lossOf(scene, one),
      // Fields have the path at the band's middle.
      eirpDbm: one.eirpDbm - offMiddleAtDb(bandAt(one.centreMhz), one.centreMhz),
      shareDb: sharesOf(one, radios),
    }));
}

/** The same at one spot. */
export function disturbersAt(
  medium: Medium,
  emitters: readonly SceneEmitter[],
  radios: ReadonlyArray<{ channel: Channel }>,
  at: Spot,
  { gainDbi }: Receiver,
): Disturber[] {
  const band = radios[0]?.channel.band;
  return emitters
    .filter((one) => bandAt(one.centreMhz) === band)
    .map((one) => ({
      lossDb: Float32Array.of(sightLine(medium, one.pose, ISOTROPIC, bandAt(one.centreMhz), at, gainDbi, one.centreMhz).lossDb),
      eirpDbm: one.eirpDbm,
      shareDb: sharesOf(one, radios),
    }));
}
