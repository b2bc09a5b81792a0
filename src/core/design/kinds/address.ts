import { z } from 'zod';
import { idSchema, kind } from './kind';

/** An address that was heard and is known to be an access point's. */
export const address = kind({
  word: 'address',
  parents: { apId: 'accessPoints' },
  schema: z
    .strictObject({ id: idSchema, apId: idSchema, bssid: z.string().regex(/^[0-9a-f]{2}(:[0-9a-f]{2}){5}$/, 'must be six octets') })
    .readonly(),
});
