import { z } from 'zod';
import { MATERIALS } from '../../building/material';
import { BANDS, WIDTHS_MHZ } from '../../radio/band';
import { AP_MODELS } from '../../radio/catalogue';
import { CLIENT_TYPES, COMMON_TYPE } from '../../radio/clientTypes';
import { LIMITS } from '../limits';

/** A stored record of whatever version, before it is migrated and parsed. */
export type RawRecord = Readonly<Record<string, unknown>>;

/**
 * All that is known of one kind of record, in one place. Types, the empty design, reference checks, cascades of deletions, the server's
 * and the files' checks follow from it.
 */
export type Kind<S extends z.ZodType = z.ZodType> = Readonly<{
  /** What one is called in a message. */
  word: string;
  schema: S;
  /** Fields that hold the id of a record of another kind: the record goes when that one goes. Its floor follows from them too. */
  parents: Readonly<Record<string, string>>;
  /**
   * Fields of `parents` that may instead name something of a catalogue, which is always there. When what such a field names is deleted, the record
   * stays and names the catalogue's stand-in.
   */
  catalogues: Readonly<Record<string, Catalogue>>;
  /** The last one cannot be deleted. */
  keepOne: boolean;
  /** `migrations[v - 1]` takes a record of version v to v + 1; the version of today is one more than their number. */
  migrations: ReadonlyArray<(record: RawRecord) => RawRecord>;
}>;

/** The ids of a catalogue, and the one that stands in for what is gone; null where a field may name nothing. */
export type Catalogue = Readonly<{ ids: ReadonlySet<string>; instead: string | null }>;

/** Describes a kind of record. Never edit a migration that has shipped: add the next one. */
export function kind<S extends z.ZodType>(described: {
  word: string;
  schema: S;
  parents?: Kind['parents'];
  catalogues?: Kind['catalogues'];
  keepOne?: boolean;
  migrations?: Kind['migrations'];
}): Kind<S> {
  return { parents: {}, catalogues: {}, keepOne: false, migrations: [], ...described };
}

/** A range from LIMITS as a number's schema. */
export const within = ({ min, max }: { min: number; max: number }) => z.number().min(min).max(max);

/** Names that every object answers to stand for no record. */
export const idSchema = z
  .string()
  .regex(/^[A-Za-z0-9_-]{1,64}$/, 'must be 1 to 64 letters, digits, - or _')
  .refine((id) => !(id in Object.prototype), { message: 'is a reserved word' });
export const nameSchema = z.string().trim().min(1, 'needs a name').max(LIMITS.nameLength);
export const metres = within(LIMITS.coordinateM);
export const height = within(LIMITS.heightM);
export const pointSchema = z.strictObject({ xM: metres, yM: metres }).readonly();
export const polygonSchema = z.array(pointSchema).min(3).max(LIMITS.polygonPoints).readonly();
export const holesSchema = z.array(polygonSchema).max(LIMITS.holes).readonly();
/** A file among the project's assets, by the hash of its bytes. */
export const assetIdSchema = z.string().regex(/^[0-9a-f]{64}$/, 'must be the hash of a file');
export const bandSchema = z.enum(BANDS);
export const widthSchema = z.literal([...WIDTHS_MHZ]);
/** The materials that every project has; plasterboard stands in, for it claims the least. */
export const MATERIAL_CATALOGUE: Catalogue & { instead: string } = { ids: new Set(MATERIALS.map(({ id }) => id)), instead: 'plasterboard' };

/** The access point models that every project has; the first stands in. */
export const MODEL_CATALOGUE: Catalogue & { instead: string } = { ids: new Set(AP_MODELS.map(({ id }) => id)), instead: AP_MODELS[0]!.id };

/** The client types that every project has. */
export const CLIENT_CATALOGUE: Pick<Catalogue, 'ids'> = { ids: new Set([...CLIENT_TYPES, COMMON_TYPE].map(({ id }) => id)) };

/** An id out of a catalogue. */
export const oneOf = (catalogue: ReadonlyArray<{ id: string }>) => z.enum(catalogue.map(({ id }) => id) as [string, ...string[]]);
