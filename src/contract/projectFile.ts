import { z } from 'zod';
import { UpperRoomError } from '@/core/errors';
import { LIMITS } from '@/core/design/limits';
import { brokenReferences, factsOf, questionsOf } from '@/core/design/references';
import { EMPTY_DESIGN, TABLES, isTable, readRecord, versionsOf, type AnyRecord, type Design } from '@/core/design/registry';
import { additionsOf } from '@/core/design/step';
import type { Heard } from '@/core/survey/heard';
import { sampleSchema, scanSchema, sweptSchema } from './http';

/** What a project file is called by its end. */
export const PROJECT_FILE_ENDING = 'upperroom';
const FORMAT = 'upper-room project';
const VERSION = 1;
/** Larger ones are none of ours: of the file, and of what it holds. */
export const MAX_PROJECT_FILE_BYTES = 96 * 1024 * 1024;
export const MAX_PROJECT_TEXT_BYTES = 400 * 1024 * 1024;

/**
 * A project as a file: JSON, packed with gzip (RFC 1952). `records` hold the document by table, of the versions told; `assets` the drawings as base64; `walks` the samples
 * of each walk. The log and the simulated site stay where they are. docs/formats.md has the fields.
 */
const fileSchema = z.object({
  format: z.literal(FORMAT),
  version: z.number().int().min(1),
  versions: z.record(z.string(), z.number().int()),
  records: z.record(z.string(), z.array(z.looseObject({ id: z.string() }))),
  assets: z.array(z.string()).max(500),
  walks: z
    .array(
      z.object({
        walkId: z.string(),
        samples: z.array(sampleSchema).max(2_000_000),
        scans: z.array(scanSchema).max(200_000).default([]),
        swept: z.array(sweptSchema).max(200_000).default([]),
      }),
    )
    .max(LIMITS.walksInFile),
});

/** What a project file holds. */
export type ProjectFile = Readonly<{
  design: Design;
  assets: ReadonlyArray<Uint8Array<ArrayBuffer>>;
  walks: ReadonlyArray<Readonly<{ walkId: string }> & Heard>;
}>;

export function writeProjectFile({ design, assets, walks }: ProjectFile): string {
  return JSON.stringify({
    format: FORMAT,
    version: VERSION,
    versions: versionsOf(TABLES),
    records: Object.fromEntries(TABLES.map((table) => [table, Object.values(design[table])])),
    assets: assets.map(toBase64),
    walks,
  });
}

/**
 * Reads a project file that was unpacked. Every record is brought to today's version and checked, and so is what it points at.
 * @throws UpperRoomError PROJECT_FILE_UNREADABLE with what is wrong and where; PROJECT_NEWER
 */
export function readProjectFile(text: string): ProjectFile {
  const refuse = (problem: string): never => {
    throw new UpperRoomError('PROJECT_FILE_UNREADABLE', { problem });
  };
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return refuse(`it is no JSON: ${(error as Error).message.slice(0, 100)}`);
  }
  const newer = z
    .object({
      format: z.literal(FORMAT),
      version: z
        .number()
        .int()
        .min(VERSION + 1),
    })
    .safeParse(json);
  if (newer.success) throw new UpperRoomError('PROJECT_NEWER', { version: newer.data.version, knownVersion: VERSION });
  const parsed = fileSchema.safeParse(json);
  if (!parsed.success) return refuse(`${parsed.error.issues[0]?.path.join('.')}: ${parsed.error.issues[0]?.message}`);
  const { versions, records, assets, walks } = parsed.data;
  const tables: Record<string, Record<string, AnyRecord>> = {};
  for (const [table, list] of Object.entries(records)) {
    // A table of a newer program, or none at all.
    if (!isTable(table)) return refuse(`there is no table ${table}`);
    const read: Record<string, AnyRecord> = (tables[table] = {});
    for (const record of list) {
      try {
        const known = readRecord(table, versions[table] ?? 1, record);
        read[known.id] = known;
      } catch (error) {
        if (!(error instanceof UpperRoomError) || error.code !== 'RECORD_UNREADABLE') throw error;
        return refuse(`${table} ${record.id}: ${String(error.details.problem)}`);
      }
    }
  }
  const design = { ...EMPTY_DESIGN, ...(tables as unknown as Design) };
  for (const table of ['project', 'floors', 'variants'] as const)
    if (Object.keys(design[table]).length === 0) return refuse(`there is nothing in ${table}`);
  const changes = additionsOf(design);
  const [broken] = brokenReferences(changes, factsOf(design, questionsOf(changes)));
  if (broken !== undefined) return refuse(`${broken.table} ${broken.id}: its ${broken.field} is not in the file`);
  for (const { walkId } of walks) if (!Object.hasOwn(design.walks, walkId)) return refuse(`samples of a walk that is not in the file: ${walkId}`);
  return { design, assets: assets.map((asset, i) => fromBase64(asset) ?? refuse(`drawing ${i + 1} is no base64`)), walks };
}

function toBase64(bytes: Uint8Array): string {
  let text = '';
  for (let at = 0; at < bytes.length; at += 0x8000) text += String.fromCharCode(...bytes.subarray(at, at + 0x8000));
  return btoa(text);
}

function fromBase64(text: string): Uint8Array<ArrayBuffer> | null {
  if (!/^[A-Za-z0-9+/]*={0,2}$/.test(text)) return null;
  try {
    const plain = atob(text);
    const bytes = new Uint8Array(plain.length);
    for (let i = 0; i < plain.length; i++) bytes[i] = plain.charCodeAt(i);
    return bytes;
  } catch {
    return null;
  }
}
