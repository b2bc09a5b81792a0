import type { VectorType } from '@/core/formats/picture';
import type { VectorFile } from './vectors';

/** Opens a file of vectors. @throws UpperRoomError DRAWING_BROKEN, DRAWING_LOCKED, DRAWING_EMPTY, DRAWING_TOO_LARGE */
export async function openVectors(bytes: Uint8Array, type: VectorType): Promise<VectorFile> {
  switch (type) {
    case 'image/svg+xml':
      return (await import('./svg')).openSvg(new TextDecoder().decode(bytes));
    case 'application/pdf':
      return (await import('./pdf')).openPdf(bytes);
    case 'image/vnd.dxf':
      return (await import('./dxf')).openDxf(new TextDecoder().decode(bytes));
  }
}
