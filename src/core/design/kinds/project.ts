import { z } from 'zod';
import { BASIC_RATES_MBPS } from '../../radio/beacon';
import { channelExists } from '../../radio/channel';
import { DOMAINS } from '../../radio/regulation';
import { LIMITS } from '../limits';
import { bandSchema, height, idSchema, kind, nameSchema, within } from './kind';

/** The id of the one project record. */
export const PROJECT_ID = 'project';

const basicRate = z.literal([...BASIC_RATES_MBPS]).nullable();

/** Nobody has said how the network is set. */
export const UNSAID = { ssids: null, basicMbps: { '2.4': null, '5': null, '6': null }, bandSteering: null, poeW: null } as const;

const domainRuleSchema = z
  .strictObject({
    band: bandSchema,
    subBand: nameSchema,
    powerClass: nameSchema.nullable(),
    channels: z.array(z.number().int().min(1).max(233)).min(1).max(LIMITS.forbiddenChannels).readonly(),
    maxEirpDbm: within(LIMITS.eirpDbm),
    maxDensityDbmPerMhz: within(LIMITS.eirpDbm).nullable(),
    checkS: within(LIMITS.checkS).nullable(),
    weatherRadar: z.boolean().optional(),
    indoorOnly: z.boolean(),
  })
  .readonly()
  .refine(({ band, channels }) => channels.every((primary) => channelExists({ band, primary, widthMhz: 20 })), {
    message: 'the band has no such channel',
    path: ['channels'],
  });

/** Law that is not in the list: sub-bands with their rules. */
const ownDomainSchema = z.strictObject({ name: nameSchema, rules: z.array(domainRuleSchema).max(LIMITS.domainRules).readonly() }).readonly();

/** Settings of the whole project; one record, id `project`. */
export const project = kind({
  word: 'project',
  keepOne: true,
  schema: z
    .strictObject({
      id: z.literal(PROJECT_ID),
      name: nameSchema,
      units: z.enum(['metric', 'us']),
      /** The law it is under: of the list, or `own`, as it is written down in `ownDomain`, which waits while another is chosen. */
      domain: z.enum([...DOMAINS, 'own']),
      ownDomain: ownDomainSchema.nullable(),
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
    .readonly()
    .refine(({ domain, ownDomain }) => domain !== 'own' || ownDomain !== null, { message: 'no law of its own is written down', path: ['domain'] }),
  migrations: [
    (v1) => ({ ...v1, facility: '', needs: '', clientTypes: [] }),
    // Since version 3 it says how the network is set.
    (v2) => ({ ...v2, network: UNSAID }),
    // Since version 4 a project may have law of its own.
    (v3) => ({ ...v3, ownDomain: null }),
  ],
});
