import { z } from 'zod';
import { CLIENT_TYPES } from '../../radio/clientTypes';
import { DOMAINS } from '../../radio/regulation';
import { LIMITS } from '../limits';
import { height, kind, nameSchema, oneOf, within } from './kind';

/** The id of the one project record. */
export const PROJECT_ID = 'project';

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
      /** Kinds of clients that are expected. */
      clientTypes: z.array(oneOf(CLIENT_TYPES)).max(CLIENT_TYPES.length).readonly(),
    })
    .readonly(),
  migrations: [(v1) => ({ ...v1, facility: '', needs: '', clientTypes: [] })],
});
