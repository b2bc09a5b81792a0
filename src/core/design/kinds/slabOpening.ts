import { z } from 'zod';
import { idSchema, kind, nameSchema, polygonSchema, holesSchema } from './kind';

/** An opening in the slab under a floor: an atrium, a stair, a shaft. Nothing is lost through it; a hole of it is slab again. */
export const slabOpening = kind({
  word: 'slab opening',
  parents: { floorId: 'floors' },
  schema: z.strictObject({ id: idSchema, floorId: idSchema, name: nameSchema, polygon: polygonSchema, holes: holesSchema }).readonly(),
  migrations: [(v1) => ({ ...v1, holes: [] })],
});
