import { z } from 'zod';
import { LIMITS } from '../limits';
import { bandSchema, idSchema, kind, metres, nameSchema, widthSchema } from './kind';

const mbps = z.number().min(0).max(100_000);

/** A throughput test at a spot, as it came out: who served, how it was heard, and each run. */
export const transferTest = kind({
  word: 'throughput test',
  parents: { variantId: 'variants', floorId: 'floors' },
  schema: z
    .strictObject({
      id: idSchema,
      variantId: idSchema,
      floorId: idSchema,
      name: nameSchema,
      at: z.iso.datetime(),
      xM: metres,
      yM: metres,
      apName: nameSchema,
      bssid: z.string().max(17),
      band: bandSchema,
      channel: z.number().int().min(1).max(233),
      widthMhz: widthSchema,
      rssiDbm: z.number().min(-120).max(0),
      snrDb: z.number().min(-50).max(150),
      runs: z
        .array(z.strictObject({ downMbps: mbps, upMbps: mbps, retries: z.number().min(0).max(1) }).readonly())
        .min(1)
        .max(LIMITS.transferRuns.max)
        .readonly(),
    })
    .readonly(),
});
