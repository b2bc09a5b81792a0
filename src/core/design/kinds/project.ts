import { z } from 'zod';
import { DOMAINS } from '../../radio/regulation';
import { LIMITS } from '../limits';
import { height, kind, nameSchema, within } from './kind';

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
    })
    .readonly(),
});
