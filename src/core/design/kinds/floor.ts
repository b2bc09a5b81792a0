import { z } from 'zod';
import { ENVIRONMENTS } from '../../propagation/pathLoss';
import { LIMITS } from '../limits';
import { idSchema, kind, nameSchema, polygonSchema, within } from './kind';

/** One level of the building. `elevationM` is the floor's height above the ground, `ceilingM` the clear height. */
export const floor = kind({
  word: 'floor',
  keepOne: true,
  schema: z
    .strictObject({
      id: idSchema,
      name: nameSchema,
      elevationM: within(LIMITS.elevationM),
      ceilingM: within(LIMITS.ceilingM),
      environment: z.enum(ENVIRONMENTS),
      outline: polygonSchema,
    })
    .readonly(),
});
