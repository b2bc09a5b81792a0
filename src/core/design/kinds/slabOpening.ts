import { z } from 'zod';
import { idSchema, kind, nameSchema, polygonSchema } from './kind';

/** An opening in the slab under a floor: an atrium, a stair, a shaft. Nothing is lost through it. */
export const slabOpening = kind({
  word: 'slab opening',
  parents: { floorId: 'floors' },
  schema: z.strictObject({ id: idSchema, floorId: idSchema, name: nameSchema, polygon: polygonSchema }).readonly(),
});
