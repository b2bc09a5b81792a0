import { z } from 'zod';
import { ENVIRONMENTS } from '../../propagation/pathLoss';
import { LIMITS } from '../limits';
import { MATERIAL_CATALOGUE, idSchema, kind, nameSchema, polygonSchema, within } from './kind';

/**
 * One level of the building. `elevationM` is the floor's height above the ground, `ceilingM` the clear height; the slab it stands on lies under it.
 */
export const floor = kind({
  word: 'floor',
  keepOne: true,
  parents: { slabMaterialId: 'materials' },
  catalogues: { slabMaterialId: MATERIAL_CATALOGUE },
  schema: z
    .strictObject({
      id: idSchema,
      name: nameSchema,
      elevationM: within(LIMITS.elevationM),
      ceilingM: within(LIMITS.ceilingM),
      environment: z.enum(ENVIRONMENTS),
      /** The path loss exponent that was measured here; null for that of its environment. */
      exponent: within(LIMITS.exponent).nullable(),
      /** Whether walls that are met at a slant cost more. */
      slant: z.boolean(),
      outline: polygonSchema,
      /** What the slab under this floor is made of. */
      slabMaterialId: idSchema,
      /** The worst that was left between pairs of points when it was laid over the floor below; null where it never was. */
      registeredWorstM: z.number().min(0).max(LIMITS.coordinateM.max).nullable(),
    })
    .readonly(),
  migrations: [
    (v1) => ({ ...v1, slabMaterialId: 'concrete', registeredWorstM: null }),
    // Since version 3 a slant may count.
    (v2) => ({ ...v2, slant: false }),
    // Since version 4 an exponent may have been measured.
    (v3) => ({ ...v3, exponent: null }),
  ],
});
