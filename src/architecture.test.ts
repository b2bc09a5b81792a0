import { describe, expect, test } from '@jest/globals';
import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { ERROR_MESSAGES } from './core/errors';

const root = __dirname;
const files = (readdirSync(root, { recursive: true }) as string[])
  .filter((file) => /\.tsx?$/.test(file) && !/\.test\.tsx?$/.test(file))
  .map((file) => file.replaceAll('\\', '/'));
const importsOf = (file: string): string[] =>
  [...readFileSync(path.join(root, file), 'utf8').matchAll(/(?:from|import\()\s*'([^']+)'/g)].map((match) => match[1]!);

/** A file's folder among those that depend on each other, and likewise the target of an import. */
const folderOf = (file: string): string => file.split('/')[0]!;
function targetOf(file: string, specifier: string): string | null {
  if (specifier.startsWith('@/')) return specifier.slice(2);
  if (specifier.startsWith('.')) return path.posix.normalize(path.posix.join(path.posix.dirname(file), specifier));
  return null;
}

const MAY_SEE: Readonly<Record<string, readonly string[]>> = {
  core: ['core'],
  contract: ['core', 'contract'],
  engine: ['core', 'contract', 'engine'],
  server: ['core', 'contract', 'engine', 'server'],
  ui: ['core', 'contract', 'engine', 'ui'],
};
const CORE_ORDER: Readonly<Record<string, readonly string[]>> = {
  units: ['units'],
  geometry: ['geometry', 'units'],
  radio: ['radio', 'units', 'geometry'],
  building: ['building', 'radio', 'units', 'geometry'],
  finding: ['finding', 'units'],
  formats: ['formats', 'survey', 'building', 'radio', 'units', 'geometry'],
  propagation: ['propagation', 'radio', 'building', 'units', 'geometry'],
  fields: ['fields', 'propagation', 'radio', 'building', 'units', 'geometry'],
  planning: ['planning', 'fields', 'propagation', 'radio', 'building', 'units', 'geometry'],
  checks: ['checks', 'fields', 'radio', 'units', 'geometry'],
  spectrum: ['spectrum', 'radio', 'units', 'geometry'],
  survey: ['survey', 'spectrum', 'fields', 'propagation', 'radio', 'building', 'units', 'geometry'],
  air: ['air', 'survey', 'spectrum', 'fields', 'propagation', 'radio', 'building', 'units', 'geometry'],
};

/** How connections are opened is not a query of ours. */
const WITH_SQL = ['server/database.ts', 'server/postgres.ts', 'server/restore.ts', 'server/databases.testing.ts'];

describe('imports point one way', () => {
  test.each(Object.keys(MAY_SEE))('src/%s', (folder) => {
    const wrong = files
      .filter((file) => folderOf(file) === folder)
      .flatMap((file) =>
        importsOf(file).flatMap((specifier) => {
          const target = targetOf(file, specifier);
          return target !== null && !MAY_SEE[folder]!.includes(folderOf(target)) ? [`${file} -> ${specifier}`] : [];
        }),
      );
    expect(wrong).toEqual([]);
  });
  test.each(Object.keys(CORE_ORDER))('core/%s', (part) => {
    const wrong = files
      .filter((file) => file.startsWith(`core/${part}/`))
      .flatMap((file) =>
        importsOf(file).flatMap((specifier) => {
          const target = targetOf(file, specifier);
          if (target === null) return [];
          const [, inner, rest] = target.split('/');
          // errors.ts and random.ts belong to everybody.
          return rest !== undefined && !CORE_ORDER[part]!.includes(inner!) ? [`${file} -> ${specifier}`] : [];
        }),
      );
    expect(wrong).toEqual([]);
  });
  test('core knows no package but the contour tracer, the clipper of rings, zod for the schemas of records and readers for file formats; and neither clock nor chance', () => {
    const core = files.filter((file) => file.startsWith('core/'));
    expect(core.length).toBeGreaterThan(40);
    expect(
      core.flatMap((file) =>
        importsOf(file).filter(
          (specifier) =>
            !/^(\.|@\/core|d3-contour$)/.test(specifier) &&
            !(specifier === 'polyclip-ts' && file === 'core/building/slab.ts') &&
            !(specifier === 'zod' && file.startsWith('core/design/')) &&
            !((specifier === 'dxf-parser' || specifier === 'papaparse') && file.startsWith('core/formats/')),
        ),
      ),
    ).toEqual([]);
    expect(
      core.filter((file) =>
        /Math\.random|Date\.now|new Date|performance\.now|\bwindow\.\w|\bdocument\.\w/.test(readFileSync(path.join(root, file), 'utf8')),
      ),
    ).toEqual([]);
  });
  test('SQL stands in stores and migrations only', () => {
    const withSql = files.filter((file) => /\b(SELECT|INSERT INTO|DELETE FROM|UPDATE \w+ SET)\b/.test(readFileSync(path.join(root, file), 'utf8')));
    expect(withSql.filter((file) => !file.startsWith('server/stores/') && !WITH_SQL.includes(file))).toEqual([]);
  });
});

test('every error code is documented, and the documentation names no other', () => {
  const documented = [...readFileSync(path.join(root, '../docs/errors.md'), 'utf8').matchAll(/^\| `([A-Z_0-9]+)` \| (.*) \|$/gm)].map((match) => [
    match[1],
    match[2],
  ]);
  expect(Object.fromEntries(documented)).toEqual(ERROR_MESSAGES);
});
