import { z } from 'zod';
import { idSchema, kind, nameSchema, polygonSchema } from './kind';

export const ZONE_KINDS = ['room', 'service', 'keep-out'] as const;
export type ZoneKind = (typeof ZONE_KINDS)[number];

/** A named area: a room (its name), a service zone (service is owed here) or a keep-out zone. */
export const zone = kind({
  word: 'zone',
  parents: { floorId: 'floors' },
  schema: z.strictObject({ id: idSchema, floorId: idSchema, kind: z.enum(ZONE_KINDS), name: nameSchema, polygon: polygonSchema }).readonly(),
});
