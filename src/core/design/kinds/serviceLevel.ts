import { z } from 'zod';
import { LIMITS } from '../limits';
import { idSchema, kind, nameSchema, within } from './kind';

/** A named set of requirements: what is owed where the level is. What is null is not asked for. `share`: of the area in which all of it is owed. */
export const serviceLevel = kind({
  word: 'service level',
  schema: z
    .strictObject({
      id: idSchema,
      name: nameSchema,
      signalDbm: within(LIMITS.owedDbm),
      /** Of the second strongest access point. */
      secondDbm: within(LIMITS.owedDbm).nullable(),
      snrDb: within(LIMITS.owedSnrDb).nullable(),
      rateMbps: within(LIMITS.owedMbps).nullable(),
      /** Radios with which the serving one may share airtime, at most. */
      sharersMost: within(LIMITS.owedSharers).nullable(),
      share: within(LIMITS.owedShare),
    })
    .readonly(),
});
