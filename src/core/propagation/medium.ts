import type { Clutter } from '../building/clutter';
import type { Panes } from '../building/panes';
import type { Slab } from '../building/slab';

/** How level falls with distance on a floor, apart from what stands in the way; and whether what is met at a slant costs more. */
export type Propagation = Readonly<{ exponent: number; slant?: boolean }>;

/** All that a ray can meet, at heights of the building: upright panes, level slabs, bodies of clutter, and the way itself. */
export type Medium = Readonly<{ panes: Panes; slabs: readonly Slab[]; clutter: readonly Clutter[]; propagation: Propagation }>;

export const mediumOf = (panes: Panes, propagation: Propagation, slabs: readonly Slab[] = [], clutter: readonly Clutter[] = []): Medium => ({
  panes,
  slabs,
  clutter,
  propagation,
});
