import { z } from 'zod';
import { LIMITS } from '../limits';
import { holesSchema, idSchema, kind, nameSchema, polygonSchema, within } from './kind';

export const ZONE_KINDS = ['room', 'service', 'keep-out', 'clutter', 'electronics'] as const;
export type ZoneKind = (typeof ZONE_KINDS)[number];

/** What a keep-out zone keeps out: access points, the service that is owed, or both. */
export const KEPT_OUT = ['access points', 'service', 'both'] as const;
export type KeptOut = (typeof KEPT_OUT)[number];

/** How high it stands over the floor, and what a metre of way through it loses, by band. */
const clutterSchema = z
  .strictObject({
    topM: within(LIMITS.clutterTopM),
    dbPerM: z.strictObject({ '2.4': within(LIMITS.clutterDbPerM), '5': within(LIMITS.clutterDbPerM), '6': within(LIMITS.clutterDbPerM) }).readonly(),
  })
  .readonly();

/** A named area: a room (its name), a service zone (service is owed here), a keep-out zone (no access point, or no service owed, or both), clutter, or electronics that radiate or take it ill. */
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
      holes: holesSchema,
      /** What is owed in a service zone, and how many people are expected there; null while nobody has said. */
      serviceLevelId: idSchema.nullable(),
      people: within(LIMITS.people).int().nullable(),
      /** What stands in a zone of clutter. */
      clutter: clutterSchema.nullable(),
      /** What a keep-out zone keeps out; it waits while the zone is of another kind. */
      keepsOut: z.enum(KEPT_OUT),
    })
    .readonly()
    .refine(({ kind: of, clutter }) => of !== 'clutter' || clutter !== null, { message: 'clutter needs a height and a loss', path: ['clutter'] }),
  migrations: [
    (v1) => ({ ...v1, serviceLevelId: null, people: null }),
    (v2) => ({ ...v2, holes: [], clutter: null }),
    (v3) => ({ ...v3, keepsOut: 'access points' }),
    // Since version 5 a zone may be one of electronics.
    (v4) => v4,
  ],
});
