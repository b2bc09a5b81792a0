import { z } from 'zod';
import { BANDS } from '../../radio/band';
import { BASIC_RATES_MBPS } from '../../radio/beacon';
import { channelExists } from '../../radio/channel';
import { DOMAINS } from '../../radio/regulation';
import { LIMITS } from '../limits';
import { bandSchema, height, idSchema, kind, nameSchema, within, type RawRecord } from './kind';

/** The id of the one project record. */
export const PROJECT_ID = 'project';

/** Octets of an SSID (IEEE 802.11-2020, 9.4.2.2). */
export const SSID_OCTETS = 32;

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

/** A network name (SSID) that the network's radios announce, in the bands said. */
const ssidSchema = z
  .strictObject({
    id: idSchema,
    /** Up to 32 octets (IEEE 802.11-2020, 9.4.2.2). */
    name: nameSchema.refine((name) => new TextEncoder().encode(name).length <= SSID_OCTETS, {
      message: `a network name has at most ${SSID_OCTETS} octets`,
    }),
    bands: z
      .array(bandSchema)
      .min(1)
      .refine((bands) => new Set(bands).size === bands.length, { message: 'each band once' })
      .readonly(),
  })
  .readonly();

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
          /** The network names. A radio announces those of its band, but for what its access point withholds: see `announcedBy`. */
          ssids: z
            .array(ssidSchema)
            .min(1)
            .max(LIMITS.ssids)
            .refine((ssids) => [ssids.map(({ id }) => id), ssids.map(({ name }) => name)].every((all) => new Set(all).size === all.length), {
              message: 'each network name once',
            })
            .readonly()
            .nullable(),
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
    // Up to version 4 it was known only how many network names there are.
    (v4) => {
      const network = v4.network as RawRecord;
      const ssids =
        network.ssids === null
          ? null
          : Array.from({ length: network.ssids as number }, (_, i) => ({ id: `ssid-${i + 1}`, name: `Network ${i + 1}`, bands: [...BANDS] }));
      return { ...v4, network: { ...network, ssids } };
    },
  ],
});
