import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';
import { v7 as uuid } from 'uuid';
import { MAX_PROJECT_TEXT_BYTES, PROJECT_FILE_ENDING, readProjectFile, writeProjectFile, type ProjectFile } from '@/contract/projectFile';
import { projectOf } from '@/core/design/design';
import { additionsOf } from '@/core/design/step';
import { UpperRoomError } from '@/core/errors';
import { isSomething } from '@/core/survey/heard';
import type { Database } from '../database';
import { findAsset, hashOf, insertAsset } from '../stores/assets';
import { loadDesign } from '../stores/records';
import { insertHeard, listHeard } from '../stores/heard';
import { noteBatch } from '../stores/samples';
import { assetFactsOf } from './assets';
import { UNSTORABLE } from '../unstorable';
import { begin, requireProject } from './projects';

const pack = promisify(gzip);
const unpack = promisify(gunzip);

/** A project as a file. @throws UpperRoomError PROJECT_UNKNOWN, PROJECT_DELETED, PROJECT_NEWER */
export async function projectFile(db: Database, id: string): Promise<Response> {
  const { file, name } = await db.snapshot(async (q) => {
    await requireProject(q, id);
    const design = await loadDesign(q, id);
    const assets: Array<ProjectFile['assets'][number]> = [];
    const wanted = [
      ...Object.values(design.drawings).flatMap((drawing) => [drawing.assetId, ...(drawing.source === null ? [] : [drawing.source.assetId])]),
      ...Object.values(design.marks).flatMap(({ photos }) => photos.map((photo) => photo.assetId)),
    ];
    for (const assetId of new Set(wanted)) {
      const found = await findAsset(q, id, assetId);
      if (found !== null) assets.push(new Uint8Array(found.bytes));
    }
    const walks: Array<ProjectFile['walks'][number]> = [];
    for (const walkId of Object.keys(design.walks)) {
      const heard = await listHeard(q, id, walkId);
      if (isSomething(heard)) walks.push({ walkId, ...heard });
    }
    return { name: projectOf(design)?.name ?? 'Project', file: { design, assets, walks } };
  });
  const fileName = `${name.replace(/[^\p{L}\p{N} ._-]/gu, '_').slice(0, 80)}.${PROJECT_FILE_ENDING}`;
  return new Response(new Uint8Array(await pack(writeProjectFile(file))), {
    headers: {
      'content-type': 'application/gzip',
      'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(fileName)}`,
      'cache-control': 'no-store',
    },
  });
}

/** The text of a project file, packed or not. @throws UpperRoomError PROJECT_FILE_UNREADABLE */
export async function textOfProjectFile(bytes: Uint8Array): Promise<string> {
  if (bytes[0] !== 0x1f || bytes[1] !== 0x8b) return new TextDecoder().decode(bytes);
  try {
    return (await unpack(bytes, { maxOutputLength: MAX_PROJECT_TEXT_BYTES })).toString('utf8');
  } catch (error) {
    throw new UpperRoomError('PROJECT_FILE_UNREADABLE', { problem: `it cannot be unpacked: ${(error as Error).message}` });
  }
}

/** Makes a new project of a file, all or nothing; returns its id. @throws UpperRoomError PROJECT_FILE_UNREADABLE, PROJECT_NEWER, DRAWING_BROKEN, DRAWING_UNKNOWN */
export async function createFromFile(db: Database, bytes: Uint8Array): Promise<string> {
  const text = await textOfProjectFile(bytes);
  if (UNSTORABLE.test(text)) throw new UpperRoomError('PROJECT_FILE_UNREADABLE', { problem: 'a text in it holds characters that cannot be stored' });
  const { design, assets, walks } = readProjectFile(text);
  const id = uuid();
  await db.transaction(async (q) => {
    await begin(q, id, 'Bring in a project', additionsOf(design));
    for (const asset of assets) await insertAsset(q, id, hashOf(asset), asset, assetFactsOf(asset));
    for (const { walkId, ...heard } of walks) {
      if (!isSomething(heard)) continue;
      await noteBatch(q, id, walkId, 'file');
      await insertHeard(q, id, walkId, heard);
    }
  });
  return id;
}
