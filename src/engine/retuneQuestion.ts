import { accessPointsAround, modelsOf, type Design, type Floor } from '@/core/design/design';
import type { Setting } from '@/core/planning/problem';
import { BANDS, type Band } from '@/core/radio/band';
import { radioModelOf } from '@/core/radio/catalogue';
import type { ClientType } from '@/core/radio/clientTypes';
import type { FieldCache } from './fieldCache';
import type { Params, RetuneRadio } from './protocol';
import { floorScene, poseOf, sceneOf } from './scene';

/** Which radios a retune is about: those of some access points on some floors, or all of these floors where none is named. */
export type RetuneScope = Readonly<{ floors: readonly Floor[]; variantId: string; only: ReadonlySet<string> | null }>;

/** Whether a retune may plan an access point's radios; all others stay as they are, and are counted where they are heard. */
export const isPlanned = ({ floors, only }: RetuneScope, ap: Readonly<{ id: string; floorId: string }>): boolean =>
  floors.some(({ id }) => id === ap.floorId) && (only === null || only.has(ap.id));

/** Floors and radios as planning takes them. @param keyOf names a radio in `kept`, what is settled already */
export async function retuneQuestion(
  design: Design,
  scope: RetuneScope,
  bands: readonly Band[],
  kept: ReadonlyMap<string, Setting>,
  keyOf: (radio: Readonly<{ apId: string; band: Band }>) => string,
  fields: FieldCache,
  client: ClientType,
): Promise<Pick<Params<'retune'>, 'floors' | 'radios'>> {
  const { floors, variantId } = scope;
  const scenes = floors.map((floor) => floorScene(design, floor, client));
  const radios: RetuneRadio[] = [];
  for (const ap of accessPointsAround(design, floors[0]!.id, variantId)) {
    const pose = poseOf(design, ap);
    const model = modelsOf(design)(ap.modelId);
    const wanted = ap.radios.filter(({ band, on }) => bands.includes(band) && on && radioModelOf(model, band) !== null);
    if (wanted.length === 0) continue;
    const lossDb = await Promise.all(scenes.map((scene) => fields.get(sceneOf(scene), model, pose)));
    for (const { band, on, channel, widthMhz, txPowerDbm, locked, forbidden } of wanted) {
      const settled = kept.get(keyOf({ apId: ap.id, band }));
      radios.push({
        apId: ap.id,
        name: ap.name,
        model,
        pose,
        band,
        locked: locked || ap.locked || !isPlanned(scope, ap),
        forbidden,
        before: { on, channel, widthMhz, txPowerDbm },
        ...(settled === undefined ? {} : { kept: settled }),
        home: floors.findIndex(({ id }) => id === ap.floorId),
        lossDb: lossDb.map((bandFields) => bandFields[BANDS.indexOf(band)]!),
      });
    }
  }
  return {
    floors: scenes.map((scene, f) => ({
      name: floors[f]!.name,
      scene: sceneOf(scene),
      mask: scene.mask,
      people: scene.zones.flatMap(({ zone, mask }) => (zone.people === null || zone.people === 0 ? [] : [{ mask, count: zone.people }])),
    })),
    radios,
  };
}
