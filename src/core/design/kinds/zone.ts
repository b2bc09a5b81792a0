import { z } from 'zod';
import { LIMITS } from '../limits';
import { idSchema, kind, nameSchema, polygonSchema, within } from './kind';

export const ZONE_KINDS = ['room', 'service', 'keep-out'] as const;
export type ZoneKind = (typeof ZONE_KINDS)[number];

/** A named area: a room (its name), a service zone (service is owed here) or a keep-out zone. */
export const zone = kind({
  word: 'zone',
  parents: { floorId: 'floors', serviceLevelId: 'serviceLevels' },
  // A zone whose level is deleted is a zone without one.
  catalogues: { serviceLevelId: { ids: new Set(), instead: null } },
  schema: z
    .strictObject({
      id: idSchema,
      floorId: idSchema,
      kind: z.enum(ZONE_KINDS),
      name: nameSchema,
      polygon: polygonSchema,
      /** What is owed in a service zone, and how many people are expected there; null while nobody has said. */
      serviceLevelId: idSchema.nullable(),
      people: within(LIMITS.people).int().nullable(),
    })
    .readonly(),
  migrations: [(v1) => ({ ...v1, serviceLevelId: null, people: null })],
});
