import { z } from 'zod';
import { SIGNAL_KINDS } from '../../spectrum/signal';
import { SWEEP_LIMITS } from '../../spectrum/sweep';
import { idSchema, kind, metres, within } from './kind';

/** A signal that is not Wi-Fi as it was told at a spot: which kind, how likely, how strong while it was on, about which frequency, and when of the day, in ms. */
export const signalReading = kind({
  word: 'signal',
  parents: { floorId: 'floors' },
  schema: z
    .strictObject({
      id: idSchema,
      floorId: idSchema,
      signal: z.enum(SIGNAL_KINDS),
      atMs: z.number().min(0).max(1e10),
      xM: metres,
      yM: metres,
      centreMhz: within(SWEEP_LIMITS.mhz),
      levelDbm: z.number().min(-130).max(30),
      likelihood: z.number().min(0).max(1),
    })
    .readonly(),
});
