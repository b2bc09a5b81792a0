import { z } from 'zod';
import { UpperRoomError } from '@/core/errors';
import type { Equipment } from '@/core/design/equipmentCommands';
import { antennaSchema, apModelSchema } from '@/core/design/kinds/apModel';
import { clientTypeSchema } from '@/core/design/kinds/clientType';
import { nameSchema } from '@/core/design/kinds/kind';
import { COMMON_RULE } from '@/core/radio/bandRule';
import type { Antenna } from '@/core/radio/antenna';

const EQUIPMENT = { format: 'upper-room equipment', version: 2 } as const;
const ANTENNA = { format: 'upper-room antenna', version: 1 } as const;

/** Larger ones are none of ours. */
export const MAX_EQUIPMENT_BYTES = 8 * 1024 * 1024;
const MOST = 500;

/** Access point models and client types as JSON. docs/formats.md has the fields. */
const equipmentSchema = z.strictObject({
  format: z.literal(EQUIPMENT.format),
  version: z.literal(EQUIPMENT.version),
  models: z.array(apModelSchema).max(MOST),
  clientTypes: z.array(clientTypeSchema).max(MOST),
});

/** Files of version 1 say nothing of the band that a client takes. */
const firstVersion = z.looseObject({ format: z.literal(EQUIPMENT.format), version: z.literal(1), clientTypes: z.array(z.looseObject({})) });

/** One antenna as JSON: its peak gain and its two cuts, evenly spaced. */
const antennaFileSchema = z.strictObject({
  format: z.literal(ANTENNA.format),
  version: z.literal(ANTENNA.version),
  name: nameSchema,
  antenna: antennaSchema,
});

export const writeEquipment = ({ models, clientTypes }: Equipment): string => JSON.stringify({ ...EQUIPMENT, models, clientTypes }, null, 1);

export const writeAntenna = (name: string, antenna: Antenna): string => JSON.stringify({ ...ANTENNA, name, antenna }, null, 1);

/** @throws UpperRoomError EQUIPMENT_FILE_UNREADABLE with what is wrong and where; PROJECT_NEWER for a file of a newer program */
export function readEquipment(text: string): Equipment {
  const { models, clientTypes } = read(text, equipmentSchema, EQUIPMENT.version);
  return { models, clientTypes };
}

/** @throws UpperRoomError EQUIPMENT_FILE_UNREADABLE, PROJECT_NEWER */
export function readAntenna(text: string): Readonly<{ name: string; antenna: Antenna }> {
  const { name, antenna } = read(text, antennaFileSchema, ANTENNA.version);
  return { name, antenna };
}

function read<T>(text: string, schema: z.ZodType<T>, knownVersion: number): T {
  const refuse = (problem: string): never => {
    throw new UpperRoomError('EQUIPMENT_FILE_UNREADABLE', { problem });
  };
  if (text.length > MAX_EQUIPMENT_BYTES) refuse(`it is larger than ${MAX_EQUIPMENT_BYTES / 1024 / 1024} MB`);
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return refuse(`it is no JSON: ${(error as Error).message.slice(0, 100)}`);
  }
  const newer = z.object({ format: z.enum([EQUIPMENT.format, ANTENNA.format]), version: z.number().int().gt(knownVersion) }).safeParse(json);
  if (newer.success) throw new UpperRoomError('PROJECT_NEWER', { version: newer.data.version, knownVersion });
  const first = firstVersion.safeParse(json);
  if (first.success)
    json = {
      ...first.data,
      version: EQUIPMENT.version,
      clientTypes: first.data.clientTypes.map((type) => ({ bandRule: COMMON_RULE, ...type })),
    };
  const parsed = schema.safeParse(json);
  const [issue] = parsed.error?.issues ?? [];
  return parsed.success ? parsed.data : refuse(`${issue?.path.join('.')}: ${issue?.message}`);
}
