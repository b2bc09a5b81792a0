import { z } from 'zod';
import { SIGNAL_KINDS } from '../../spectrum/signal';
import { SWEEP_LIMITS } from '../../spectrum/sweep';
import { LIMITS } from '../limits';
import { height, idSchema, kind, metres, within } from './kind';

/** Something on the site that sends and is not Wi-Fi, as it was found: what it is, where, how strong while it is on (EIRP), and about which frequency. `heightM` is above the floor. */
export const emitter = kind({
  word: 'emitter',
  parents: { floorId: 'floors' },
  schema: z
    .strictObject({
      id: idSchema,
      floorId: idSchema,
      signal: z.enum(SIGNAL_KINDS),
      xM: metres,
      yM: metres,
      heightM: height,
      centreMhz: within(SWEEP_LIMITS.mhz),
      eirpDbm: z.number().min(-60).max(80),
      note: z.string().max(LIMITS.textLength),
    })
    .readonly(),
});
