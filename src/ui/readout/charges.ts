import type { Way } from '@/core/propagation/diffraction';
import type { SightLine } from '@/core/propagation/ray';

/** By which way most of what arrives comes, where it could go round. */
const wayText = (way: Way | null): string => (way === null || way === 'through' ? '' : `${way} `);

/** One loss on a way: where, at which height of the building, and what it is. */
export type Charge = Readonly<{ share: number; zM: number; lossDb: number; what: string; wallId: string | null }>;

/** What is charged on a way, where, and what it is: walls need no word. */
export const chargesOf = ({ walls, slabs, clutter }: SightLine): Charge[] => [
  ...walls.map(({ share, zM, lossDb, way, wallId }) => ({ share, zM, lossDb, what: wayText(way), wallId })),
  ...slabs.map(({ share, zM, lossDb }) => ({ share, zM, lossDb, what: 'slab ', wallId: null })),
  ...clutter.map(({ share, zM, lossDb }) => ({ share, zM, lossDb, what: 'clutter ', wallId: null })),
];
