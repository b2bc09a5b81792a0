// Opens a backup in memory and prints what it holds as JSON: `node scripts/check-backup.mjs FILE`. Ends with 1 when it cannot be opened.
import { readFile } from 'node:fs/promises';
import { PGlite } from '@electric-sql/pglite';

try {
  const db = await PGlite.create({ loadDataDir: new Blob([await readFile(process.argv[2])]) });
  const count = async (sql) => (await db.query(sql)).rows[0].n;
  const contents = {
    projects: await count('SELECT count(*)::int AS n FROM project WHERE deleted_at IS NULL'),
    steps: await count('SELECT count(*)::int AS n FROM step'),
    samples: await count('SELECT count(*)::int AS n FROM sample'),
    records: await count('SELECT count(*)::int AS n FROM design_record WHERE body IS NOT NULL'),
    lastMigration: await count("SELECT max(name) AS n FROM migration WHERE name ~ '^[0-9]{3}-'"),
  };
  console.log(JSON.stringify(contents));
  process.exit(0);
} catch (error) {
  console.error(error instanceof Error ? error.message : String(error));
  process.exit(1);
}
