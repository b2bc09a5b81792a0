import { accessPointsAround, modelsOf, type AccessPoint, type Design, type Floor } from '@/core/design/design';
import { BANDS, type Band } from '@/core/radio/band';
import { browserPool } from '@/engine/browser';
import { standingIn } from '@/engine/candidates';
import type { Demand, HungRadio, Result, Scene } from '@/engine/protocol';
import { poseOf } from '@/engine/scene';
import { fieldCache } from '../../../state/useLens';

/** Floors that are asked, with the points at which what is owed is looked at. */
export type AskedFloors = ReadonlyArray<Readonly<{ floor: Floor; scene: Scene }>>;

/**
 * What hangs in a building, in one band, with its losses to the points of some floors. The one that moves comes without: its fields are computed where they are
 * needed, and nobody needs them again.
 */
export async function hungOn(
  design: Design,
  floors: AskedFloors,
  variantId: string,
  band: Band,
  movingId: string | null = null,
): Promise<Array<Readonly<{ ap: AccessPoint; radio: HungRadio }>>> {
  const around = accessPointsAround(design, floors[0]!.floor.id, variantId);
  const radios = standingIn(
    design,
    around,
    band,
    floors.map(({ floor }) => floor),
  );
  return Promise.all(
    radios.map(async ({ ap, ...radio }) => {
      const lossDb = await Promise.all(
        floors.map(async ({ scene }) =>
          ap.id === movingId ? null : (await fieldCache().get(scene, modelsOf(design)(ap.modelId), poseOf(design, ap)))[BANDS.indexOf(band)]!,
        ),
      );
      return { ap, radio: { ...radio, lossDb } };
    }),
  );
}

/** What of some demands is met with what hangs. */
export async function metBy(
  design: Design,
  floors: AskedFloors,
  variantId: string,
  band: Band,
  demands: readonly Demand[],
  signal?: AbortSignal,
): Promise<Result<'met'>> {
  const hung = await hungOn(design, floors, variantId, band);
  return browserPool().call('met', { scenes: floors.map(({ scene }) => scene), band, demands, hung: hung.map(({ radio }) => radio) }, { signal });
}
