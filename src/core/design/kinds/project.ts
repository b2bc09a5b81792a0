import { z } from 'zod';
import { BASIC_RATES_MBPS } from '../../radio/beacon';
import { DOMAINS } from '../../radio/regulation';
import { LIMITS } from '../limits';
import { height, idSchema, kind, nameSchema, within } from './kind';

/** The id of the one project record. */
export const PROJECT_ID = 'project';

const basicRate = z.literal([...BASIC_RATES_MBPS]).nullable();

/** Nobody has said how the network is set. */
export const UNSAID = { ssids: null, basicMbps: { '2.4': null, '5': null, '6': null }, bandSteering: null, poeW: null } as const;

/** Settings of the whole project; one record, id `project`. */
export const project = kind({
  word: 'project',
  keepOne: true,
  schema: z
    .strictObject({
      id: z.literal(PROJECT_ID),
      name: nameSchema,
      units: z.enum(['metric', 'us']),
      domain: z.enum(DOMAINS),
      clientHeightM: height,
      cellM: within(LIMITS.cellM),
      /** What the building is, and what is asked of its network, in the customer's words. */
      facility: z.string().max(LIMITS.textLength),
      needs: z.string().max(LIMITS.textLength),
      /** Those expected, of the catalogue or the project's own. One that is gone is passed over. */
      clientTypes: z.array(idSchema).max(LIMITS.clientTypes).readonly(),
      /** How the network is set where no radio says it; null for what nobody has said. */
      network: z
        .strictObject({
          /** Network names that each radio announces. */
          ssids: z.number().int().min(1).max(16).nullable(),
          /** The lowest basic rate, in Mb/s. */
          basicMbps: z.strictObject({ '2.4': basicRate, '5': basicRate, '6': basicRate }).readonly(),
          bandSteering: z.boolean().nullable(),
          /** What the switches give at a port, in W. */
          poeW: within(LIMITS.poeW).nullable(),
        })
        .readonly(),
    })
    .readonly(),
  migrations: [
    (v1) => ({ ...v1, facility: '', needs: '', clientTypes: [] }),
    // Since version 3 it says how the network is set.
    (v2) => ({ ...v2, network: UNSAID }),
  ],
});
