import { modelsOf, type AccessPoint, type Design } from '@/core/design/design';
import { bandIndex, type Band } from '@/core/radio/band';
import { radioModelOf } from '@/core/radio/catalogue';
import { channelOf } from '@/core/radio/channel';
import type { FieldCache } from './fieldCache';
import type { SceneRadio } from './protocol';
import { poseOf, type FloorScene } from './scene';

/**
 * The radios of access points that are on in a band, with their loss fields on a floor. The one that is being dragged comes without: its field changes with
 * every frame. A band that the model lacks has none.
 */
export async function litRadios(
  design: Design,
  scene: FloorScene,
  aps: readonly AccessPoint[],
  band: Band,
  fields: FieldCache,
  movingApId: string | null = null,
): Promise<Array<SceneRadio & { ap: AccessPoint }>> {
  const lane = bandIndex(band);
  const models = modelsOf(design);
  const found = await Promise.all(
    aps.map(async (ap) => {
      const radio = ap.radios.find((candidate) => candidate.band === band && candidate.on);
      const model = models(ap.modelId);
      if (radio === undefined || radioModelOf(model, band) === null) return null;
      const pose = poseOf(design, ap);
      const lossDb = ap.id === movingApId ? null : (await fields.get(scene, model, pose, ap.radios.map(channelOf)))[lane]!;
      return { ap, apId: ap.id, name: ap.name, model, pose, channel: channelOf(radio), txPowerDbm: radio.txPowerDbm, lossDb };
    }),
  );
  return found.filter((radio) => radio !== null);
}
