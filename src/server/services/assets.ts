import { UpperRoomError } from '@/core/errors';
import { LIMITS } from '@/core/design/limits';
import { drawingTypeOf, isVectorType, pictureFacts } from '@/core/formats/picture';
import type { StoredAsset } from '@/contract/http';
import type { Database } from '../database';
import { findAsset, hashOf, insertAsset, type AssetFacts } from '../stores/assets';
import { requireProject } from './projects';

/** What a file is, by its content. @throws UpperRoomError DRAWING_UNKNOWN, DRAWING_BROKEN */
export function assetFactsOf(bytes: Uint8Array): AssetFacts {
  const type = drawingTypeOf(bytes);
  return isVectorType(type) ? { type, widthPx: null, heightPx: null } : pictureFacts(bytes);
}

/**
 * Keeps a picture, or the vectors that one was drawn from, under the hash of its bytes, so that storing it twice stores it once.
 * @throws UpperRoomError DRAWING_UNKNOWN, DRAWING_BROKEN, DRAWING_TOO_LARGE
 */
export async function addAsset(db: Database, projectId: string, bytes: Uint8Array): Promise<StoredAsset> {
  const facts = assetFactsOf(bytes);
  const { widthPx, heightPx } = facts;
  if (widthPx !== null && heightPx !== null) checkSize(widthPx, heightPx);
  const id = hashOf(bytes);
  await requireProject(db, projectId);
  await insertAsset(db, projectId, id, bytes, facts);
  return { id, ...facts };
}

function checkSize(widthPx: number, heightPx: number): void {
  if (Math.max(widthPx, heightPx) > LIMITS.pictureSidePx.max || widthPx * heightPx > LIMITS.picturePx.max)
    throw new UpperRoomError('DRAWING_TOO_LARGE', { size: `${widthPx} × ${heightPx}` });
}

/** A file as it was stored. Its address holds its hash: it never changes. @throws UpperRoomError ASSET_UNKNOWN */
export async function getAsset(db: Database, projectId: string, id: string): Promise<Response> {
  await requireProject(db, projectId);
  const found = await findAsset(db, projectId, id);
  if (found === null) throw new UpperRoomError('ASSET_UNKNOWN', { assetId: id });
  return new Response(new Uint8Array(found.bytes), {
    headers: {
      'content-type': found.type,
      'cache-control': 'private, max-age=31536000, immutable',
      // A drawing is never a page, whatever somebody put into it.
      'content-security-policy': "default-src 'none'; sandbox",
      'content-disposition': 'attachment',
    },
  });
}
