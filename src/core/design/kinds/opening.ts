import { z } from 'zod';
import { OPENING_KINDS } from '../../building/wall';
import { LIMITS } from '../limits';
import { MATERIAL_CATALOGUE, height, idSchema, kind, within } from './kind';

/** An opening in a wall; `atM` is measured from the wall's end A. */
export const opening = kind({
  word: 'opening',
  parents: { wallId: 'walls', materialId: 'materials' },
  catalogues: { materialId: MATERIAL_CATALOGUE },
  schema: z
    .strictObject({
      id: idSchema,
      wallId: idSchema,
      kind: z.enum(OPENING_KINDS),
      atM: z.number().min(0).max(LIMITS.coordinateM.max),
      widthM: within(LIMITS.openingWidthM),
      sillM: height,
      headM: height,
      materialId: idSchema,
      /** The end of the opening, nearer A or B of the wall, at which a door hangs, and the side to which it opens as seen from A to B. */
      hinge: z.enum(['a', 'b']),
      swing: z.enum(['left', 'right']),
    })
    .readonly()
    .refine((o) => o.headM > o.sillM, { message: 'the head must be above the sill', path: ['headM'] }),
  migrations: [(v1) => ({ ...v1, hinge: 'a', swing: 'left' })],
});
