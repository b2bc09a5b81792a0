// Lists the backups of the data folder, or restores one: `npm run restore`, `npm run restore -- NAME`.
import path from 'node:path';
import { UpperRoomError } from '@/core/errors';
import { backupsOf, restoreBackup } from '@/server/restore';

const folder = path.resolve(process.env.UPPER_ROOM_DATA ?? 'data');
const name = process.argv[3];

if (process.env.DATABASE_URL) {
  console.error('The data is in PostgreSQL (DATABASE_URL): back it up and restore it with pg_dump and pg_restore.');
  process.exit(1);
}
try {
  if (name === undefined) {
    const backups = await backupsOf(folder);
    console.log(backups.length === 0 ? `No backups in ${folder}/backups yet.` : `Backups in ${folder}/backups, newest first:\n`);
    for (const { name: file, contents } of backups)
      console.log(
        contents instanceof UpperRoomError
          ? `  ${file}  cannot be opened: ${String(contents.details.problem)}`
          : `  ${file}  ${contents.projects} projects, ${contents.steps} steps, ${contents.samples} samples`,
      );
    if (backups.length > 0) console.log(`\nStop Upper Room, then restore one: npm run restore -- ${backups[0]!.name}`);
  } else {
    const { contents, setAside } = await restoreBackup(folder, name, new Date());
    console.log(`Restored ${name}: ${contents.projects} projects, ${contents.steps} steps, ${contents.samples} samples.`);
    console.log(`What was there before lies in ${setAside}; delete it when you do not need it any more.`);
  }
} catch (error) {
  console.error(error instanceof UpperRoomError ? error.message : error);
  process.exit(1);
}
