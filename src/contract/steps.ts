import { z } from 'zod';
import { UpperRoomError } from '@/core/errors';
import { idSchema, type RawRecord } from '@/core/design/kinds/kind';
import { LIMITS } from '@/core/design/limits';
import { KINDS, RETIRED_TABLES, TABLES, isTable, migrateRecord, versionsOf, type AnyRecord, type Design, type Table } from '@/core/design/registry';
import type { Change, Step } from '@/core/design/step';

const rawRecordSchema = z.record(z.string(), z.unknown());
const rawChangeSchema = z
  .strictObject({ table: z.string().max(40), id: idSchema, before: rawRecordSchema.nullable(), after: rawRecordSchema.nullable() })
  .refine((change) => change.before !== null || change.after !== null, { message: 'a change needs a record before or after', path: ['after'] });

type Issue = (path: Array<string | number>, message: string) => void;

/** A change of whatever version as one of today's; what is wrong with it is said to `issue`. `before` is only compared, so it is not checked. */
function readChange(raw: z.infer<typeof rawChangeSchema>, version: number, issue: Issue): Change[] {
  const { table, id } = raw;
  if (RETIRED_TABLES.includes(table)) return [];
  if (!isTable(table)) {
    issue(['table'], `must be one of ${TABLES.join(', ')}`);
    return [];
  }
  const sides: Record<'before' | 'after', RawRecord | null> = { before: null, after: null };
  for (const side of ['before', 'after'] as const) {
    try {
      sides[side] = raw[side] === null ? null : migrateRecord(table, version, raw[side]);
    } catch (error) {
      if (error instanceof UpperRoomError) throw error;
      issue([side], 'cannot be brought up to date from its older version');
      return [];
    }
  }
  let after: AnyRecord | null = null;
  if (sides.after !== null) {
    const parsed = KINDS[table].schema.safeParse(sides.after);
    if (!parsed.success) {
      for (const problem of parsed.error.issues) issue(['after', ...(problem.path as Array<string | number>)], problem.message);
      return [];
    }
    after = parsed.data;
    if (after.id !== id) issue(['after', 'id'], 'the record must carry the id of its change');
  }
  return [{ table, id, before: sides.before, after } as unknown as Change];
}

/**
 * A step as it arrives, from the wire or from a browser's disk, of today's or an older version; the parsed one is of today's.
 * @throws UpperRoomError PROJECT_NEWER while parsing, when it comes from a newer program
 */
export const stepSchema: z.ZodType<Step> = z
  .strictObject({
    id: idSchema,
    title: z.string().trim().min(1).max(LIMITS.titleLength),
    kind: z.enum(['do', 'undo', 'redo']),
    ofStepId: idSchema.nullable(),
    author: idSchema.nullable().default(null),
    versions: z.record(z.string().max(40), z.number().int().min(1)).default({}),
    changes: z.array(rawChangeSchema).min(1).max(LIMITS.changesPerStep),
  })
  .transform(({ changes, versions, ...head }, context): Step => {
    const read = changes.flatMap((raw, i) =>
      readChange(raw, versions[raw.table] ?? 1, (path, message) =>
        context.addIssue({ code: 'custom', path: ['changes', i, ...path], message, input: raw }),
      ),
    );
    if (read.length === 0 && context.issues.length === 0)
      context.addIssue({ code: 'custom', path: ['changes'], message: 'nothing of it is kept in projects any more', input: changes });
    return { ...head, versions: versionsOf(read.map((one) => one.table)), changes: read };
  }) as unknown as z.ZodType<Step>;

/** A whole design of today's version, every record checked. */
export const designSchema: z.ZodType<Design> = z.strictObject(
  Object.fromEntries(TABLES.map((table) => [table, z.record(idSchema, KINDS[table].schema as z.ZodType)])),
) as unknown as z.ZodType<Design>;

/** A whole design by its outer shape: for answers of a server that has checked the records itself. */
export const designShapeSchema: z.ZodType<Design> = z.strictObject(
  Object.fromEntries(TABLES.map((table) => [table, z.record(idSchema, z.looseObject({ id: idSchema }))])),
) as unknown as z.ZodType<Design>;

export const tableSchema = z.enum(TABLES as [Table, ...Table[]]);
